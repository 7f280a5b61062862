import type { PackInput } from '@crosspeen/contract';

type Task = NonNullable<PackInput['families'][number]['upkeep']>[number];

/** How an engine is looked after, by its build. */
export type Care = 'belt' | 'chain' | 'belt-in-oil' | 'diesel' | 'truck' | 'machine' | 'twin';

/**
 * A recurring task as many engines of one build have it. `keeps` names weak points by the end of their key, with how
 * many times as fast they wear while it is overdue.
 */
interface CareTask {
  readonly key: string;
  readonly kind: Task['kind'];
  readonly place?: Task['place'];
  readonly spot?: Task['spot'];
  readonly title: string;
  readonly how: string;
  readonly minutes: number;
  readonly ownerCan?: true;
  readonly season?: Task['season'];
  readonly book?: string;
  readonly specialist?: string;
  readonly keeps?: Readonly<Record<string, number>>;
  readonly cautions?: readonly string[];
}

const USED_OIL = ['used-oil', 'on-lift', 'hot-exhaust'] as const;
const COOLANT = ['hot-coolant', 'coolant-waste'] as const;

const oil = (told: Pick<CareTask, 'book' | 'specialist' | 'keeps' | 'how'> & Partial<CareTask>): CareTask => ({
  key: 'oil',
  kind: 'fluid',
  title: 'Engine oil and filter',
  minutes: 35,
  cautions: USED_OIL,
  ...told,
});
const coolant = (keeps: CareTask['keeps'], told: Partial<CareTask> = {}): CareTask => ({
  key: 'coolant',
  kind: 'fluid',
  title: 'Coolant renewed and bled',
  how: 'Drain cold, fill by vacuum, run warm with the heater open, check the level cold.',
  minutes: 60,
  book: '5y',
  specialist: '4y',
  cautions: COOLANT,
  ...(keeps ? { keeps } : {}),
  ...told,
});
const plugs = (book: string, specialist: string, keeps: CareTask['keeps'] = { coil: 1.6 }): CareTask => ({
  key: 'plugs',
  kind: 'renew',
  title: 'Spark plugs',
  how: 'Cold engine. Look at each electrode and for oil in the wells.',
  minutes: 45,
  book,
  specialist,
  ...(keeps ? { keeps } : {}),
});
const OIL_LEVEL: CareTask = {
  key: 'oil-level',
  kind: 'look',
  place: 'top',
  spot: 'block',
  title: 'Oil level',
  how: 'Level ground, five minutes after it stopped: between the marks. Top up, and write down how much.',
  minutes: 2,
  ownerCan: true,
  specialist: '1k km',
  keeps: { chain: 1.4 },
};
const BREATHER: CareTask = {
  key: 'breather',
  kind: 'look',
  place: 'top',
  spot: 'head',
  title: 'Crankcase breather',
  how: 'At idle the filler cap is drawn down lightly. Strong suction or none: the breather is blocked or torn.',
  minutes: 10,
  specialist: '60k km',
  keeps: { seal: 1.3, 'rear-seal': 1.3 },
  cautions: ['running-engine'],
};

const BELT: readonly CareTask[] = [
  oil({
    how: 'Warm, filter with it, drain washer new. Oil to the maker’s specification.',
    book: '15k km | 1y',
    specialist: '10k km | 1y',
    keeps: { 'cam-seal': 1.2, 'rear-seal': 1.2, 'front-seals': 1.2 },
  }),
  coolant({ pump: 1.4, 'belt-pump': 1.4, thermostat: 1.2, radiator: 1.3 }),
  {
    key: 'drive-belt',
    kind: 'look',
    place: 'front',
    spot: 'timing_end',
    title: 'Drive belt',
    how: 'Key out. Ribs matt and whole: good. Cracks across or threads: renew.',
    minutes: 10,
    ownerCan: true,
    book: '30k km',
    cautions: ['rotating'],
  },
  plugs('60k km', '45k km'),
  {
    key: 'valve-clearance',
    kind: 'adjust',
    title: 'Valve clearance',
    how: 'Stone cold. Measure all, write all down, change only what is outside.',
    minutes: 120,
    book: '90k km',
  },
  BREATHER,
  {
    key: 'gearbox-oil',
    kind: 'fluid',
    title: 'Gearbox oil',
    how: 'Warm; check the filler opens before the drain does.',
    minutes: 45,
    specialist: '80k km',
    cautions: ['on-lift'],
  },
];

const CHAIN: readonly CareTask[] = [
  oil({
    how: 'Warm, filter with it. A chain lives on its oil: keep to the short interval.',
    book: '20k km | 2y',
    specialist: '10k km | 1y',
    keeps: { chain: 1.8, tensioner: 1.5, guide: 1.3 },
  }),
  OIL_LEVEL,
  coolant({ pump: 1.4, thermostat: 1.2 }),
  plugs('60k km', '60k km'),
  BREATHER,
  {
    key: 'cam-offset',
    kind: 'measure',
    place: 'inside',
    title: 'Camshaft offset read',
    how: 'Warm, at idle: read cam against crank and write it down; what counts is how it moves from year to year.',
    minutes: 15,
    specialist: '1y',
    cautions: ['running-engine'],
  },
];

const BELT_IN_OIL: readonly CareTask[] = [
  oil({
    title: 'Engine oil of the exact grade, and filter',
    how: 'Only the grade the maker names: another dissolves the belt. Cut the old filter open and look for fibres.',
    book: '20k km | 1y',
    specialist: '10k km | 1y',
    keeps: { 'belt-a': 2, 'belt-c': 2, pickup: 1.8, 'turbo-feed': 1.6 },
  }),
  {
    key: 'width-gauge',
    kind: 'measure',
    place: 'top',
    spot: 'timing_end',
    title: 'Belt width gauge',
    how: 'Through the filler neck, engine off. Gauge slides over: good. It sticks: the belt has swollen, renew.',
    minutes: 10,
    specialist: '10k km | 1y',
    cautions: ['rotating'],
  },
  coolant({ thermostat: 1.3 }),
  {
    key: 'degas-joint',
    kind: 'look',
    place: 'top',
    spot: 'radiator',
    title: 'Degas joint',
    how: 'Cold, no pressure: no pink edge, no movement by hand.',
    minutes: 5,
    ownerCan: true,
    specialist: '1y',
    keeps: { degas: 1.2 },
    cautions: ['hot-coolant'],
  },
  plugs('60k km', '45k km', {}),
];

const DIESEL: readonly CareTask[] = [
  oil({
    how: 'Warm, filter with it. Look at the drain plug magnet.',
    book: '25k km | 2y',
    specialist: '12k km | 1y',
    keeps: { 'turbo-seal': 1.8, 'turbo-return': 1.8, chain: 1.8 },
  }),
  {
    key: 'fuel-filter',
    kind: 'renew',
    title: 'Fuel filter',
    how: 'Pressure down first. Drain the water, fill the new one, bleed as the maker says.',
    minutes: 30,
    book: '60k km',
    specialist: '30k km',
    keeps: { 'injector-seal': 1.5, 'injector-seals': 1.5 },
    cautions: ['fuel-pressure'],
  },
  {
    key: 'air-filter',
    kind: 'renew',
    title: 'Air filter',
    how: 'Wipe the housing out; look for dust behind the filter.',
    minutes: 10,
    ownerCan: true,
    book: '30k km',
    keeps: { 'turbo-seal': 1.3 },
  },
  coolant({ 'egr-cooler': 1.5, pump: 1.4, rail: 1.3 }),
  {
    key: 'long-run',
    kind: 'clean',
    title: 'A long warm run',
    how: 'Half an hour on the road at working temperature, so that the EGR valve burns clean.',
    minutes: 30,
    ownerCan: true,
    specialist: '1m',
    keeps: { egr: 1.7 },
  },
  {
    key: 'injector-foot',
    kind: 'look',
    place: 'top',
    spot: 'head',
    title: 'Injector feet',
    how: 'Cover off, engine off: clean is good, a soot ring is worn, tar has failed.',
    minutes: 15,
    specialist: '15k km',
    cautions: ['fuel-spray'],
  },
];

const TRUCK: readonly CareTask[] = [
  oil({
    how: 'Warm, both filters. Take a sample while it runs out.',
    book: '80k km | 1y',
    specialist: '60k km | 1y',
    minutes: 70,
    keeps: { 'turbo-seal': 1.8, 'gear-train': 1.3, 'liner-seal': 1.2 },
    cautions: ['cab-lock', 'used-oil'],
  }),
  {
    key: 'dryer',
    kind: 'renew',
    title: 'Air dryer cartridge',
    how: 'Tanks emptied first. Look for oil in what comes out: that is the compressor.',
    minutes: 30,
    book: '1y',
    keeps: { compressor: 1.3 },
    cautions: ['stored-air'],
  },
  {
    key: 'valve-clearance',
    kind: 'adjust',
    title: 'Valve clearance',
    how: 'Stone cold, cab locked. Measure all, write all down.',
    minutes: 180,
    book: '120k km',
    cautions: ['cab-lock'],
  },
  coolant({ pump: 1.4, 'liner-seal': 1.6 }, { book: '4y', specialist: '3y', minutes: 90 }),
];

const MACHINE: readonly CareTask[] = [
  {
    key: 'daily',
    kind: 'look',
    place: 'top',
    title: 'Levels and hoses',
    how: 'Before the day: oil, coolant, hydraulic oil; hoses dry and not soft.',
    minutes: 8,
    ownerCan: true,
    book: '10h',
    cautions: ['boom-down'],
  },
  {
    key: 'core',
    kind: 'clean',
    title: 'Cooler core blown out',
    how: 'From behind, low pressure, goggles on. A lamp through the core: light all over is good.',
    minutes: 30,
    ownerCan: true,
    season: 'spring',
    book: '250h | 1y',
    specialist: '250h | 1y',
    keeps: { 'fin-block': 2, pump: 1.2 },
    cautions: ['boom-down', 'hot-coolant'],
  },
  oil({
    how: 'Warm, filter with it, sample taken.',
    book: '500h | 1y',
    specialist: '250h | 1y',
    keeps: { 'turbo-seal': 1.8, 'gear-train': 1.3 },
    cautions: ['boom-down', 'used-oil'],
  }),
  {
    key: 'air-filter',
    kind: 'renew',
    title: 'Air filter',
    how: 'By the gauge; outer first, the inner one never blown out.',
    minutes: 15,
    ownerCan: true,
    book: '500h | 1y',
    keeps: { 'turbo-seal': 1.6 },
  },
  coolant(
    { pump: 1.4, 'liner-seal': 1.6 },
    { book: '2000h | 2y', specialist: '2000h | 2y', cautions: ['boom-down', ...COOLANT] },
  ),
  {
    key: 'mount-bolts',
    kind: 'look',
    place: 'underneath',
    spot: 'block',
    title: 'Engine mounts and their bolts',
    how: 'Boom down. Rubber whole, no gap, bolts marked and not turned.',
    minutes: 25,
    book: '3000h | 2y',
    specialist: '3000h | 2y',
    keeps: { 'coupling-seal': 1.4 },
    cautions: ['boom-down', 'vehicle-moves'],
  },
  {
    key: 'hydraulic-oil',
    kind: 'fluid',
    title: 'Hydraulic oil',
    how: 'Pressure off as the maker says, breather with it.',
    minutes: 120,
    book: '1000h',
    cautions: ['boom-down', 'hydraulic-pressure'],
  },
];

const TWIN: readonly CareTask[] = [
  oil({
    how: 'Warm, upright, filter with it.',
    book: '10k km | 1y',
    specialist: '6k km | 1y',
    ownerCan: true,
    keeps: { 'cam-chain-tensioner': 1.5 },
    cautions: ['used-oil', 'hot-exhaust'],
  }),
  {
    key: 'valve-clearance',
    kind: 'adjust',
    title: 'Valve clearance',
    how: 'Stone cold. A tight outlet valve burns: measure all, write all down.',
    minutes: 180,
    book: '24k km',
    specialist: '20k km',
  },
  coolant({ 'bike-pump': 1.5, radiator: 1.3 }, { book: '2y', specialist: '2y', minutes: 45 }),
  {
    key: 'drive-chain',
    kind: 'adjust',
    title: 'Drive chain slack and grease',
    how: 'On the stand, at the tightest place, engine off.',
    minutes: 15,
    ownerCan: true,
    book: '1k km',
    cautions: ['rotating'],
  },
  plugs('20k km', '20k km'),
  {
    key: 'charge-volts',
    kind: 'measure',
    place: 'inside',
    title: 'Charging voltage',
    how: 'Warm, at 4,000 revs: 13.8 to 14.8 volts. Over 15 is the regulator; under 13, measure the stator first.',
    minutes: 10,
    ownerCan: true,
    season: 'spring',
    specialist: '1y',
    keeps: { regulator: 1.3, stator: 1.3 },
  },
];

const CARE: Readonly<Record<Care, readonly CareTask[]>> = {
  belt: BELT,
  chain: CHAIN,
  'belt-in-oil': BELT_IN_OIL,
  diesel: DIESEL,
  truck: TRUCK,
  machine: MACHINE,
  twin: TWIN,
};

const BOOK_WORDS = 'By the service table.';
const SPECIALIST_WORDS: Readonly<Partial<Record<Task['kind'], string>>> = {
  fluid: 'Shorter than the book: it is the cheapest repair there is.',
  look: 'A minute that saves a tow.',
  measure: 'Written down each time: the change tells more than the figure.',
};

/**
 * What is done again and again on one engine of the demo: the tasks of its build, keeping those of its weak points that
 * they can keep.
 */
export function upkeepOf(
  care: Care,
  family: { readonly key: string; readonly weakPoints: readonly { readonly key: string }[] },
  { book, specialist }: { readonly book: string; readonly specialist: string },
): Task[] {
  const has = new Set(family.weakPoints.map(({ key }) => key));
  return CARE[care].map((task) => {
    const protects = Object.entries(task.keeps ?? {})
      .map(([end, factor]) => ({ weakPoint: `${family.key}-${end}`, factor }))
      .filter(({ weakPoint }) => has.has(weakPoint));
    return {
      key: `${family.key}-care-${task.key}`,
      kind: task.kind,
      title: task.title,
      how: task.how,
      minutes: task.minutes,
      ...(task.place ? { place: task.place } : {}),
      ...(task.spot ? { spot: task.spot } : {}),
      ...(task.ownerCan ? { ownerCan: true } : {}),
      ...(task.season ? { season: task.season } : {}),
      ...(protects.length > 0 ? { protects } : {}),
      ...(task.cautions ? { cautions: [...task.cautions] } : {}),
      statements: [
        ...(task.book ? [{ authority: book, edition: '2016', words: BOOK_WORDS, interval: task.book }] : []),
        ...(task.specialist
          ? [
              {
                authority: specialist,
                words: SPECIALIST_WORDS[task.kind] ?? 'How those who repair them do it.',
                interval: task.specialist,
              },
            ]
          : []),
      ],
    };
  });
}
