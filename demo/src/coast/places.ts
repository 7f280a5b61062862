import type { PackInput } from '@crosspeen/contract';
import type { CoastFamily } from './family.ts';
import type { SlotName } from './slots.ts';

type Family = PackInput['families'][number];
type Look = NonNullable<NonNullable<NonNullable<Family['weakPoints']>[number]['look']>>;
type Layout = NonNullable<Family['layout']>;

/** Where on the engine each build's weak point is looked at. */
const SPOTS: Partial<Record<SlotName, NonNullable<Look['spot']>>> = {
  belt: 'timing_end',
  idler: 'timing_end',
  chain: 'timing_end',
  chainTensioner: 'timing_end',
  guide: 'timing_end',
  gearTrain: 'timing_end',
  beltPump: 'timing_end',
  pump: 'timing_end',
  thermostat: 'gearbox_end',
  radiator: 'radiator',
  hose: 'radiator',
  tank: 'radiator',
  fanClutch: 'radiator',
  finBlock: 'radiator',
  oilCooler: 'block',
  camSeal: 'timing_end',
  rearSeal: 'gearbox_end',
  couplingSeal: 'gearbox_end',
  coverGasket: 'head',
  sumpGasket: 'pan',
  injectorSeal: 'head',
  linerSeal: 'block',
  egr: 'intake_side',
  wastegate: 'exhaust_side',
  turboSeal: 'exhaust_side',
  damper: 'timing_end',
  mount: 'timing_end',
  compressor: 'block',
  camChainTensioner: 'head',
  regulator: 'block',
  stator: 'block',
  baseGasket: 'block',
  bikePump: 'block',
};

/** What is measured there, with made-up limits; and what may be found, where a little is nothing and a lot is. */
const FINDINGS: Partial<Record<SlotName, Pick<Look, 'measure' | 'grades'>>> = {
  chain: {
    measure: { what: 'Camshaft offset, warm', unit: '°', limit: 3, fresh: 0, worse: 'higher', sense: [-10, 20] },
  },
  damper: { measure: { what: 'Chalk marks apart', unit: 'mm', limit: 2, fresh: 0, worse: 'higher', sense: [0, 60] } },
  regulator: {
    measure: { what: 'Volts at 4,000/min', unit: 'V', limit: 15, fresh: 14.2, worse: 'higher', sense: [0, 30] },
  },
  turboSeal: {
    grades: [
      { words: 'pipe dry', means: 'sound' },
      { words: 'a little oil is normal', means: 'sound' },
      { words: 'oil runs together', means: 'worn' },
      { words: 'a puddle: the turbo', means: 'failed' },
    ],
  },
};

/** What the place of a look adds to it. */
export const placeOf = (name: SlotName): Pick<Look, 'spot' | 'measure' | 'grades'> => {
  const spot = SPOTS[name];
  return { ...(spot ? { spot } : {}), ...FINDINGS[name] };
};

const across = (cylinders: number, timingEnd: 'left' | 'right' = 'right'): Layout => ({
  shape: 'inline',
  cylinders,
  timingEnd,
  intake: 'front',
});
const lengthwise = (cylinders: number): Layout => ({ shape: 'inline', cylinders, timingEnd: 'front', intake: 'right' });

/** How each engine lies in its bay. */
const LAYOUTS: Readonly<Record<string, Layout>> = {
  qv09s: across(3),
  qv30t: { shape: 'vee', cylinders: 6, timingEnd: 'front', intake: 'rear' },
  op18n: across(4, 'left'),
  od164c: across(4, 'left'),
  db16p: across(4),
  dc22r: across(4),
  k318b: lengthwise(4),
  br67d: lengthwise(6),
  br92l: lengthwise(6),
  br36m: lengthwise(4),
  tn700: { shape: 'vee', cylinders: 2, timingEnd: 'right', intake: 'rear' },
  tn1100: { shape: 'vee', cylinders: 2, timingEnd: 'right', intake: 'rear' },
};

export const layoutOf = ({ key }: Pick<CoastFamily, 'key'>): Layout => LAYOUTS[key] ?? across(4);
