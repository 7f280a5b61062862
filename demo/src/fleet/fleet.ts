import type { Pack } from '@crosspeen/contract';
import {
  DAYS_PER_YEAR,
  dayFromIso,
  type Certainty,
  type Condition,
  type DistanceUnit,
  type Grade,
  type Source,
} from '@crosspeen/core';
import { between, chosen, evenNumbers, happens, type Even } from './even.ts';
import { drawLife, drawTasks, drawTold, type DrawnPoint, type DrawnTask, rate, yearChance } from './lives.ts';

type Family = Pack['families'][number];

/** A generated vehicle with all that is on record of it. Days are day numbers, distances km. */
export interface FleetVehicle {
  readonly plate: string;
  readonly model: string;
  readonly engine: string;
  readonly variant: string;
  readonly registeredDay: number;
  readonly firstSeenDay: number;
  readonly unit: DistanceUnit;
  /** Contact; null where nobody wrote it down. */
  readonly contact: string | null;
  readonly note: string | null;
  readonly readings: readonly { readonly day: number; readonly km: number }[];
  readonly services: readonly {
    readonly point: string;
    readonly certainty: Certainty;
    readonly day: number | null;
    readonly km: number | null;
    readonly grade: Grade;
    readonly part: string | null;
    readonly revision: string | null;
    readonly source: Source | null;
    readonly cameOut: Condition | null;
  }[];
  readonly findings: readonly {
    readonly point: string;
    readonly day: number;
    readonly result: Condition;
    readonly broughtIn: boolean;
    readonly sinceDay: number | null;
  }[];
  readonly upkeep: readonly { readonly task: string; readonly day: number; readonly km: number }[];
  readonly visits: readonly {
    readonly day: number;
    readonly km: number;
    readonly done: boolean;
    readonly jobs: readonly { readonly point: string; readonly action: 'renew' | 'look' }[];
  }[];
}

/**
 * How far a vehicle runs in a year, by what its engine drives; km, machines in hours at the average speed that turns
 * them into km.
 */
const USE: Readonly<Record<string, { readonly km: number; readonly unit: DistanceUnit }>> = {
  br67d: { km: 60_000, unit: 'km' },
  br92l: { km: 120_000, unit: 'km' },
  'tarn-hollis': { km: 4500, unit: 'km' },
  br36m: { km: 32_000, unit: 'h' },
};
const ORDINARY = { km: 15_000, unit: 'km' } as const;
/** Days that the workshop's own records go back at most; what came before is hearsay and papers. */
const MEMORY_DAYS = 2600;
/** How often a customer of ours says yes, at any visit, to what is near its end. */
const RENEWS_IN_TIME = 0.6;
/** Part of an interval from which on a task is done at the next visit, and how often it is not forgotten. */
const [KEPT_FROM, KEPT_UP] = [0.7, 0.85];
const PLATE_LETTERS = 'BCDFGHJKLMNPRSTVWXZ';

const monthDay = (month: string): number => dayFromIso(`${month}-15`)!;

/**
 * A plate of the harbour town, told from the number of the vehicle: no two are the same, and none is one of those
 * written by hand.
 */
function plateOf(n: number): string {
  const letters = `${PLATE_LETTERS[n % PLATE_LETTERS.length]!}${PLATE_LETTERS[(n * 7 + 3) % PLATE_LETTERS.length]!}`;
  return `PN ${String(100 + ((n * 37) % 900))} ${letters}`;
}

const GIVEN = ['Edda', 'Joss', 'Ilva', 'Tam', 'Orla', 'Brannoc', 'Sunniva', 'Perrin', 'Maud', 'Aldis'];
const FAMILY_NAMES = [
  'Venn',
  'Brask',
  'Quillon',
  'Sorrin',
  'Holmarsh',
  'Tregowan',
  'Ostray',
  'Fenwarden',
  'Larkhill',
  'Dunmoor',
  'Askerby',
];

/** Contact: a made-up name and a number of the harbour town's own exchange; every ninth has none on file. */
const contactOf = (n: number): string | null =>
  n % 9 === 4
    ? null
    : `${GIVEN[n % GIVEN.length]!} ${FAMILY_NAMES[(n * 3 + 1) % FAMILY_NAMES.length]!}, Harbour ${2000 + ((n * 613) % 7000)}`;

/** One vehicle's whole life as it really went, and from it what this workshop has on record. */
function tellVehicle(
  n: number,
  {
    family,
    points,
    tasks,
  }: { readonly family: Family; readonly points: readonly DrawnPoint[]; readonly tasks: readonly DrawnTask[] },
  today: number,
  even: Even,
): FleetVehicle {
  const variants = family.variants.filter((variant) => monthDay(variant.producedFrom ?? '2005-01') < today - 500);
  const variant = chosen(even, variants.length > 0 ? variants : family.variants);
  const from = monthDay(variant.producedFrom ?? '2005-01');
  const to = Math.min(variant.producedTo ? monthDay(variant.producedTo) : today, today - 400);
  const registeredDay = Math.round(between(even, from + 20, Math.max(from + 40, to)));
  const { km: usual, unit: own } = USE[family.key] ?? USE[family.maker] ?? ORDINARY;
  const perDay = (usual / DAYS_PER_YEAR) * Math.exp(between(even, -0.5, 0.45));
  const kmOn = (day: number): number => Math.round(((day - registeredDay) * perDay) / 10) * 10;
  const firstSeenDay = Math.max(registeredDay + 120, Math.round(today - between(even, 30, MEMORY_DAYS)));
  const unit = own === 'km' && happens(even, 0.06) ? 'mi' : own;

  const services: FleetVehicle['services'][number][] = [];
  const findings: FleetVehicle['findings'][number][] = [];
  const readingDays = new Set<number>();
  const visits = new Map<number, Map<string, 'renew' | 'look'>>();
  const job = (day: number, point: string, action: 'renew' | 'look'): void => {
    readingDays.add(day);
    const jobs = visits.get(day) ?? new Map<string, 'renew' | 'look'>();
    if (jobs.get(point) !== 'renew') jobs.set(point, action);
    visits.set(day, jobs);
  };
  const service = (
    { key, part }: DrawnPoint,
    certainty: Certainty,
    day: number | null,
    { source, cameOut }: { readonly source: Source | null; readonly cameOut: Condition | null },
  ): void => {
    services.push({
      point: key,
      certainty,
      day,
      km: day === null ? null : kmOn(day),
      grade: 'original',
      part: day !== null && source === 'own' ? (part?.number ?? null) : null,
      revision: day !== null && source === 'own' ? (part?.revision ?? null) : null,
      source,
      cameOut,
    });
  };
  /** Days on which it stood here anyway: about every ten months from the first on. */
  const stood: number[] = [];
  for (let day = firstSeenDay; day <= today - 3; day += Math.round(between(even, 210, 380))) stood.push(day);
  stood.forEach((day) => readingDays.add(day));
  // Somebody reads the meter of those that still run as well: else only what broke would be known of the last months.
  readingDays.add(Math.max(firstSeenDay, today - 3 - (n % 40)));

  for (const drawn of points) {
    if (drawn.variants !== null && !drawn.variants.includes(variant.key)) continue;
    const susceptible = happens(even, drawn.share);
    const kept = drawn.custom.length > 0 && happens(even, 0.6);
    const customDays = Math.min(...drawn.custom.map(({ clock, at }) => at / rate(clock, perDay)));
    let install = registeredDay;
    let revised = false;
    /** Renewals before this workshop knew the vehicle. */
    const unseen: number[] = [];
    for (let parts = 0; parts < 12; parts += 1) {
      const failsOn = susceptible && !revised ? Math.round(drawLife(drawn, install, perDay, even)) : Infinity;
      const renewedOn = kept ? Math.round(install + customDays * between(even, 0.8, 1.2)) : Infinity;
      // A workshop of years renews in time what it knows to be near its end, now and then too late.
      const renewedHere =
        stood.find(
          (day) =>
            day > Math.max(install, firstSeenDay) &&
            day < today - 30 &&
            yearChance(drawn, day - install, perDay) >= drawn.limit &&
            happens(even, RENEWS_IN_TIME),
        ) ?? Infinity;
      const next = Math.min(failsOn, renewedOn, renewedHere);
      // A look that comes before the end says what there is to see; what is found worn does not wait.
      const looks =
        drawn.look === null
          ? []
          : stood.filter(
              (day) => day > Math.max(install, firstSeenDay) && day < Math.min(next, today) && happens(even, 0.45),
            );
      const worn = looks.find(
        (day) => failsOn - day < drawn.look!.warnsDays(perDay) && happens(even, drawn.look!.detects),
      );
      for (const day of looks.filter((day) => worn === undefined || day < worn)) {
        findings.push({ point: drawn.key, day, result: 'sound', broughtIn: false, sinceDay: null });
        job(day, drawn.key, 'look');
      }
      const ends = worn ?? next;
      if (ends > today - 2) break;
      if (ends < firstSeenDay) {
        unseen.push(ends);
      } else if (worn !== undefined) {
        findings.push({ point: drawn.key, day: worn, result: 'worn', broughtIn: false, sinceDay: null });
        job(worn, drawn.key, 'look');
        service(drawn, 'done', worn, { source: 'own', cameOut: 'worn' });
        job(worn, drawn.key, 'renew');
        revised = drawn.part?.revision !== undefined && drawn.part.revision === drawn.endedBy;
      } else if (ends === failsOn) {
        const known = happens(even, 0.75);
        findings.push({
          point: drawn.key,
          day: ends,
          result: 'failed',
          broughtIn: ends <= firstSeenDay + 14,
          sinceDay: known || ends - 60 <= install ? null : ends - 60,
        });
        service(drawn, 'done', ends, { source: 'own', cameOut: 'failed' });
        job(ends, drawn.key, 'renew');
        revised = drawn.part?.revision !== undefined && drawn.part.revision === drawn.endedBy;
      } else {
        service(drawn, 'done', ends, { source: 'own', cameOut: 'sound' });
        job(ends, drawn.key, 'renew');
      }
      install = ends;
    }
    // What is left of the time before is papers for all of it, somebody's word for the last, or nobody knows: never an
    // old paper that hides a younger part.
    const papers = even();
    if (unseen.length > 0 && papers < 0.45)
      for (const day of unseen)
        service(drawn, 'done', day, { source: papers < 0.25 ? 'invoice' : 'stamp', cameOut: null });
    else if (unseen.length > 0 && papers < 0.65)
      service(drawn, 'believed', unseen.at(-1)!, { source: papers < 0.57 ? 'owner' : 'seller', cameOut: null });
    else if (unseen.length > 0) service(drawn, 'unknown', null, { source: null, cameOut: null });
  }
  // What is done again and again is done when it stood here and its time had nearly come, now and then forgotten.
  const upkeep: FleetVehicle['upkeep'][number][] = [];
  const keeps = evenNumbers(31 + 104_729 * (n + 1));
  for (const { key, everyDays } of tasks) {
    const every = everyDays(perDay);
    let last = firstSeenDay - between(keeps, 0, every);
    for (const day of stood) {
      if (day - last < KEPT_FROM * every || !happens(keeps, KEPT_UP)) continue;
      upkeep.push({ task: key, day, km: kmOn(day) });
      last = day;
    }
  }
  const planned =
    n % 9 === 0 && points.length > 2
      ? [
          {
            day: today + 3 + (n % 50),
            km: kmOn(today + 3 + (n % 50)),
            done: false,
            jobs: [{ point: points[n % points.length]!.key, action: 'look' as const }],
          },
        ]
      : [];
  const open = planned.filter(({ jobs }) => {
    const drawn = points.find(({ key }) => key === jobs[0]!.point)!;
    return drawn.variants === null || drawn.variants.includes(variant.key);
  });
  return {
    plate: plateOf(n),
    model: variant.models.length > 0 ? chosen(even, variant.models).model : family.name,
    engine: family.code,
    variant: variant.key,
    registeredDay,
    firstSeenDay,
    unit,
    contact: contactOf(n),
    note: null,
    readings: [...readingDays].sort((a, b) => a - b).map((day) => ({ day, km: kmOn(day) })),
    services,
    findings,
    upkeep,
    visits: [
      ...[...visits]
        .sort(([a], [b]) => a - b)
        .map(([day, jobs]) => ({
          day,
          km: kmOn(day),
          done: true,
          jobs: [...jobs].map(([point, action]) => ({ point, action })),
        })),
      ...open,
    ],
  };
}

/**
 * The workshop's vehicles beside those written by hand: each lives through the library's own lives, part by part, and
 * what of it came before this workshop's eyes is what is on record. The same for the same packs, day and seed.
 */
export function demoFleet(packs: readonly Pack[], count: number, today: number, seed = 20_261): FleetVehicle[] {
  const told = packs.flatMap((pack) =>
    pack.families.map((family) => ({ family, points: drawTold(pack, family), tasks: drawTasks(family) })),
  );
  return Array.from({ length: count }, (_, n) => {
    // Cars make up most of a harbour garage's file; each engine comes again and again, so that its parts can be
    // compared.
    const engine = told[(n * 5 + Math.floor(n / told.length)) % told.length]!;
    return tellVehicle(n, engine, today, evenNumbers(seed + 7919 * (n + 1)));
  });
}
