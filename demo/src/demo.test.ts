import { compactKey } from '@crosspeen/core';
import { DEMO_ACCOUNTS, DEMO_VEHICLES, harbourPack } from './index.ts';

const pack = harbourPack();
const family = (code: string) => pack.families.find((candidate) => candidate.code === code)!;

test('25 vehicles, each with a plate or a name of its own', () => {
  const names = DEMO_VEHICLES.map(({ plate, name }) => compactKey(plate ?? name ?? ''));
  expect(DEMO_VEHICLES).toHaveLength(25);
  expect(new Set(names).size).toBe(25);
  expect(names).not.toContain('');
});

test.each(DEMO_VEHICLES.map((vehicle) => [vehicle.plate ?? vehicle.name!, vehicle] as const))(
  '%s fits the library: engine, variant, model, weak points, parts',
  (_name, vehicle) => {
    const engine = family(vehicle.engine);
    const points = new Map(engine.weakPoints.map((point) => [point.key, point]));
    const models = engine.variants.flatMap((variant) => variant.models.map(({ model }) => model));
    expect(models).toContain(vehicle.model);
    if (vehicle.variant) expect(engine.variants.map(({ key }) => key)).toContain(vehicle.variant);
    const jobs = (vehicle.visits ?? []).flatMap((visit) => visit.jobs);
    for (const { point } of [...(vehicle.services ?? []), ...(vehicle.findings ?? []), ...jobs])
      expect([...points.keys()]).toContain(point);
    for (const { point, part, revision } of [...(vehicle.services ?? []), ...jobs]) {
      const parts = pack.components.find(({ key }) => key === points.get(point)!.component)!.parts;
      if (part) expect(parts.map(({ number }) => number)).toContain(part);
      if (revision) expect(parts.find(({ number }) => number === part)?.revision).toBe(revision);
    }
  },
);

test('a variant’s vehicle was registered when that variant was made, within half a year', () => {
  const year = (ago: number): number => Date.now() / 86_400_000 / 365.25 + 1970 - ago;
  for (const { variant, engine, ageYears, plate } of DEMO_VEHICLES) {
    const made = family(engine).variants.find(({ key }) => key === variant);
    if (!made || ageYears === null) continue;
    const from = made.producedFrom ? Number(made.producedFrom.slice(0, 4)) : 0;
    const to = made.producedTo ? Number(made.producedTo.slice(0, 4)) + 2 : 3000;
    // The demo is made relative to today; the library's years are fixed, so this holds for the years the demo is meant
    // for.
    if (new Date().getUTCFullYear() <= 2027)
      expect({ plate, fits: year(ageYears) >= from - 0.5 && year(ageYears) <= to + 0.5 }).toEqual({
        plate,
        fits: true,
      });
  }
});

test('the stories are there: an unknown history, a believed one, a cheap part, a reading that runs backwards, one in miles, a hard life, a visit to come', () => {
  const services = DEMO_VEHICLES.flatMap((vehicle) => vehicle.services ?? []);
  expect(services.some(({ certainty }) => certainty === 'unknown')).toBe(true);
  expect(services.some(({ certainty }) => certainty === 'believed')).toBe(true);
  expect(services.some(({ grade }) => grade === 'cheap')).toBe(true);
  expect(DEMO_VEHICLES.some(({ readings }) => readings.some(([, km], i) => i > 0 && km < readings[i - 1]![1]))).toBe(
    true,
  );
  expect(DEMO_VEHICLES.some(({ unit }) => unit === 'mi')).toBe(true);
  expect(DEMO_VEHICLES.some(({ severity = 1 }) => severity > 1)).toBe(true);
  expect(DEMO_VEHICLES.some(({ visits }) => visits && visits.length > 0)).toBe(true);
});

test('an account for every role, told apart by name', () => {
  expect(DEMO_ACCOUNTS.map(({ role }) => role).sort()).toEqual(['adviser', 'mechanic', 'owner']);
  expect(new Set(DEMO_ACCOUNTS.map(({ name }) => name)).size).toBe(3);
});
