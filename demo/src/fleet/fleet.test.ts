import { dayFromIso } from '@crosspeen/core';
import { DEMO_VEHICLES, demoFleet, demoPacks } from '../index.ts';
import { evenNumbers } from './even.ts';
import { drawLife, drawTold } from './lives.ts';

const TODAY = dayFromIso('2026-11-24')!;
const packs = demoPacks();
const fleet = demoFleet(packs, 225, TODAY);

test('the world is as large as it is meant to be', () => {
  const families = packs.flatMap((pack) => pack.families);
  expect(new Set(packs.flatMap(({ makers }) => makers.map(({ key }) => key))).size).toBe(6);
  expect(families).toHaveLength(18);
  expect(families.reduce((sum, { weakPoints }) => sum + weakPoints.length, 0)).toBeGreaterThanOrEqual(160);
  expect(families.reduce((sum, { operations }) => sum + operations.length, 0)).toBeGreaterThanOrEqual(140);
  expect(fleet.length + DEMO_VEHICLES.length).toBeGreaterThanOrEqual(250);
});

test('every weak point but what is only watched has an operation that renews it, whose minutes with all it needs are the minutes told', () => {
  for (const { operations, weakPoints } of packs.flatMap((pack) => pack.families)) {
    const byKey = new Map(operations.map((operation) => [operation.key, operation]));
    const all = (key: string, seen: Set<string>): number => {
      if (seen.has(key)) return 0;
      seen.add(key);
      const { minutes, needs } = byKey.get(key)!;
      return minutes + needs.reduce((sum, need) => sum + all(need, seen), 0);
    };
    for (const { key, operation, renewMinutes } of weakPoints.filter(({ watch }) => watch === undefined))
      expect({ key, minutes: all(operation!, new Set()) }).toEqual({ key, minutes: renewMinutes });
  }
});

test('the same packs, day and seed make the same vehicles; another seed others', () => {
  expect(demoFleet(packs, 225, TODAY)).toEqual(fleet);
  expect(demoFleet(packs, 225, TODAY, 7)).not.toEqual(fleet);
});

test('plates are each one’s own, and none is one of those written by hand', () => {
  const plates = [
    ...fleet.map(({ plate }) => plate),
    ...DEMO_VEHICLES.flatMap(({ plate }) => (plate === null ? [] : [plate])),
  ];
  expect(new Set(plates).size).toBe(plates.length);
});

test('nothing recorded lies in the future or before the vehicle was there, meters run forward, and own records begin with the first visit', () => {
  for (const { registeredDay, firstSeenDay, readings, services, findings, visits } of fleet) {
    const past = [
      ...readings.map(({ day }) => day),
      ...services.flatMap(({ day }) => (day === null ? [] : [day])),
      ...findings.map(({ day }) => day),
      ...visits.filter(({ done }) => done).map(({ day }) => day),
    ];
    for (const day of past) expect(day >= registeredDay && day < TODAY).toBe(true);
    for (const { day } of findings) expect(day).toBeGreaterThanOrEqual(firstSeenDay);
    for (const { day } of services.filter(({ source }) => source === 'own'))
      expect(day).toBeGreaterThanOrEqual(firstSeenDay);
    expect(readings.every(({ km }, i) => i === 0 || km >= readings[i - 1]!.km)).toBe(true);
    for (const { day, done } of visits) expect(done).toBe(day < TODAY);
  }
});

test('the records hold what a workshop meets: the unknown, the believed, failures with and without a day, looks sound and worn, miles, hours, visits to come', () => {
  const services = fleet.flatMap((vehicle) => vehicle.services);
  const findings = fleet.flatMap((vehicle) => vehicle.findings);
  for (const certainty of ['done', 'believed', 'unknown'] as const)
    expect(services.filter((service) => service.certainty === certainty).length).toBeGreaterThan(20);
  for (const result of ['sound', 'worn', 'failed'] as const)
    expect(findings.filter((finding) => finding.result === result).length).toBeGreaterThan(3);
  expect(findings.some(({ sinceDay }) => sinceDay !== null)).toBe(true);
  expect(new Set(fleet.map(({ unit }) => unit))).toEqual(new Set(['km', 'mi', 'h']));
  expect(fleet.some(({ visits }) => visits.some(({ done }) => !done))).toBe(true);
  expect(fleet.some(({ visits }) => visits.some(({ done, day }) => done && day > TODAY - 548))).toBe(true);
});

test('lives are drawn as they are told: of a coil that wears, half as many as are told have failed by the ends of its window', () => {
  const pack = packs[0]!;
  // 60-220 k km, "many" (0.5): 5 % of all by 60,000 and 45 % by 220,000, and in the end every one.
  const coil = drawTold(
    pack,
    pack.families.find(({ key }) => key === 'qv20t')!,
  ).find(({ key }) => key === 'qv20t-coil')!;
  expect(coil.share).toBe(1);
  const even = evenNumbers(11);
  const drawn = Array.from({ length: 4000 }, () => drawLife(coil, 0, 40, even) * 40);
  const failedBy = (km: number): number => drawn.filter((life) => life <= km).length / drawn.length;
  expect(Math.abs(failedBy(60_000) - 0.05)).toBeLessThan(0.012);
  expect(Math.abs(failedBy(220_000) - 0.45)).toBeLessThan(0.025);
  expect(failedBy(2_000_000)).toBeGreaterThan(0.99);
});
