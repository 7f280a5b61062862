import type { PackInput } from '@crosspeen/contract';
import type { SlotName } from './slots.ts';

type Point = NonNullable<PackInput['families'][number]['weakPoints']>[number];
type Look = NonNullable<Point['look']>;
type Operation = NonNullable<PackInput['families'][number]['operations']>[number];

/** What practitioners say of a build beside its life. Weak points of the same engine are named by their slot. */
export interface More {
  /** What those who repair them say. */
  readonly says: string;
  /** How each result of the look looks, where and how it is made: place, method, good, worn, failed. */
  readonly look?: readonly [
    place: NonNullable<Look['place']>,
    method: NonNullable<Look['method']>,
    good: string,
    worn: string,
    failed: string,
  ];
  readonly shows?: Readonly<Record<string, number>>;
  /** What a failure harms, in words, or a slot of the same engine. */
  readonly harms?: readonly (readonly [what: string | { readonly slot: SlotName }, chance: number])[];
  /** Repair after a failure: parts in minor units, minutes. */
  readonly failure?: readonly [partsMinor: number, minutes: number];
  readonly hastens?: NonNullable<Point['hastens']>;
  readonly renewWith?: readonly SlotName[];
  readonly oneTime?: NonNullable<Operation['oneTime']>;
}

/** Pistons and valves, where they meet. */
const VALVES = [
  ['valves', 0.9],
  ['pistons', 0.3],
] as const;
const LOST: readonly [number, number] = [185_000, 1500];
const BELT_LOOK = ['opened', 'look', 'matt back, whole edges', 'cracks across, threads', 'teeth gone'] as const;
const PUMP_LOOK = ['underneath', 'look', 'weep hole dry', 'crust under it', 'drops'] as const;
const TOW = (factor: number) => [{ use: 'load', clock: 'distance', factor }] as const;

/** Told by the hand that told the slots; weak points of the timing harm nothing where valves clear the pistons. */
export const MORE: Readonly<Record<SlotName, More>> = {
  belt: {
    says: 'Never belt alone: idler, pump and seals are of one age.',
    look: BELT_LOOK,
    shows: { 'spins-fast': 0.9 },
    harms: VALVES,
    failure: LOST,
    hastens: [...TOW(1.2)],
    renewWith: ['idler', 'beltPump', 'camSeal'],
    oneTime: ['crankshaft pulley bolt'],
  },
  idler: {
    says: 'Spin it at the ear; the quiet one is the good one.',
    look: ['opened', 'spin', 'quiet, drags lightly', 'spins long and loud', 'play, or it has seized'],
    shows: { 'howl-revs': 0.6 },
    harms: VALVES,
    failure: LOST,
  },
  chain: {
    says: 'Read the offset every year; what counts is how it moves.',
    look: ['inside', 'codes', 'offset within 2 degrees', '2 to 4 degrees', 'more than 4 degrees'],
    shows: { 'rattle-first-start': 0.5, 'cam-timing-off': 0.7 },
    harms: VALVES,
    failure: LOST,
    hastens: [{ use: 'shortTrips', clock: 'distance', factor: 1.4 }],
    renewWith: ['chainTensioner', 'guide'],
    oneTime: ['crankshaft pulley bolt', 'camshaft bolts', 'cover sealant'],
  },
  chainTensioner: {
    says: 'Count the teeth before you order a chain.',
    look: ['opened', 'look', 'two teeth show', 'five teeth show', 'the ratchet slips back'],
    shows: { 'rattle-first-start': 0.75 },
    harms: VALVES,
    failure: LOST,
    hastens: [{ use: 'standing', clock: 'distance', factor: 1.3 }],
    oneTime: ['tensioner gasket'],
  },
  guide: {
    says: 'Cut the filter open: splinters come before the noise.',
    look: ['underneath', 'look', 'clean filter', 'splinters in the filter', 'a piece in the strainer'],
    shows: { 'rattle-first-start': 0.3 },
    harms: [['oil pickup, by splinters', 0.3], ...VALVES],
    failure: LOST,
    oneTime: ['cover sealant'],
  },
  gearTrain: {
    says: 'Listen with a rod at the cover; metal in the oil decides.',
    look: ['opened', 'feel', 'no play', 'play to be felt', 'noise, metal in the oil'],
    failure: [680_000, 3000],
  },
  beltPump: {
    says: 'With the belt, always: the access is the same.',
    look: ['opened', 'look', 'weep hole dry', 'crust under it', 'drops'],
    shows: { crust: 0.75, 'howl-revs': 0.5 },
    harms: [
      [{ slot: 'belt' }, 0.3],
      ['valves', 0.4],
    ],
    failure: LOST,
    oneTime: ['drain washer'],
  },
  pump: {
    says: 'Weep hole first; a dry crust is months, a drop is weeks.',
    look: PUMP_LOOK,
    shows: { crust: 0.75 },
    harms: [['head gasket, driven on', 0.35]],
    failure: [23_000, 300],
    oneTime: ['drain washer'],
  },
  thermostat: {
    says: 'The crack opens under pressure only: press it up cold.',
    look: ['underneath', 'look', 'dry seam', 'crust along it', 'drops under pressure'],
    shows: { crust: 0.6, 'runs-cold': 0.2 },
    harms: [['head gasket, driven on', 0.35]],
    failure: [23_000, 300],
  },
  radiator: {
    says: 'Look at the crimp from the grille side.',
    look: ['front', 'look', 'dry crimp', 'white bloom', 'drops under pressure'],
    shows: { crust: 0.4 },
  },
  hose: {
    says: 'Squeeze it cold: age tells, not distance.',
    look: ['top', 'squeeze', 'firm, springs back', 'soft or swollen', 'wet, or a bulge when warm'],
    harms: [['head gasket, driven on', 0.35]],
    failure: [23_000, 300],
  },
  tank: {
    says: 'Cold, with a lamp behind it.',
    look: ['top', 'look', 'dry weld', 'a hair crack', 'drops under pressure'],
    shows: { crust: 0.4 },
  },
  fanClutch: {
    says: 'Hot, engine off, key out, fan at rest: turn it by hand, and it must drag.',
    look: ['front', 'spin', 'drags when hot', 'turns easily', 'spins freely'],
    shows: { 'gauge-load': 0.7, 'gauge-idle': 0.5 },
  },
  oilCooler: {
    says: 'Look at the gearbox oil as well before you blame it.',
    look: ['top', 'look', 'clear tank', 'a film', 'brown film in the tank'],
    shows: { 'brown-film': 0.8 },
  },
  camSeal: {
    says: 'Oil on a belt halves its life: seal first.',
    look: ['opened', 'look', 'dry', 'a film after a run', 'oil on the belt'],
    harms: [[{ slot: 'belt' }, 0.3]],
    failure: [13_900, 180],
  },
  rearSeal: {
    says: 'Trace it from above; half of them are a cover gasket.',
    look: ['underneath', 'look', 'dry', 'a film', 'drops at the bell housing'],
    shows: { 'oil-bell': 0.85 },
    oneTime: ['flywheel bolts'],
  },
  coverGasket: {
    says: 'Cheap now, a smell in the cabin later.',
    look: ['top', 'look', 'dry edge', 'a film', 'runs down towards the exhaust'],
    shows: { 'hot-oil-smell': 0.7 },
    oneTime: ['cover gasket'],
  },
  sumpGasket: { says: 'Wipe, drive, look again.', oneTime: ['pan sealant', 'drain washer'] },
  injectorSeal: {
    says: 'New seal and bolt whenever it was loosened.',
    look: ['top', 'look', 'clean foot', 'a soot ring', 'tar around the foot'],
    shows: { chuff: 0.8 },
    harms: [['injector, seized', 0.3]],
    failure: [12_600, 80],
    oneTime: ['injector seals', 'clamp bolts'],
  },
  linerSeal: {
    says: 'Oil sample every year.',
    look: ['underneath', 'look', 'clear oil', 'coolant in the sample', 'milky oil'],
    shows: { 'level-falls': 0.7, 'oil-rises': 0.6 },
    harms: [['crankshaft bearings', 0.5]],
    failure: [680_000, 3000],
    oneTime: ['head bolts'],
  },
  coil: {
    says: 'Swap it: does the code move?',
    shows: { misfire: 0.8, 'shake-idle': 0.5 },
    harms: [['catalyst', 0.2]],
    failure: [15_600, 30],
  },
  glow: { says: 'Measure each; change the set when two are gone.', shows: { 'hard-cold-start': 0.8 } },
  egr: {
    says: 'A long warm run each month does more than cleaning.',
    look: ['inside', 'codes', 'actual follows commanded', 'lags', 'stands still'],
    shows: { 'black-smoke': 0.6 },
    hastens: [{ use: 'shortTrips', clock: 'distance', factor: 1.8 }],
    oneTime: ['intake gasket'],
  },
  wastegate: {
    says: 'A hand on the rod stops the rattle.',
    look: ['underneath', 'feel', 'no play', 'play at the rod', 'rattles; it stops when a hand rests on it'],
    shows: { 'rattle-lift-off': 0.8, 'late-boost': 0.7 },
  },
  turboSeal: {
    says: 'A puddle in the pipe is the turbo; blue after idling may be valve seals.',
    look: ['underneath', 'look', 'pipe dry', 'a film', 'a puddle in the pipe'],
    shows: { 'blue-smoke': 0.7 },
    harms: [
      ['particle filter', 0.3],
      ['the engine, running away', 0.03],
    ],
    failure: [42_000, 120],
    hastens: [...TOW(1.4)],
    oneTime: ['turbo gaskets'],
  },
  damper: {
    says: 'Chalk both rings.',
    look: ['front', 'look', 'chalk marks in line', '2 mm apart', 'wobbles'],
    shows: { 'ring-wobbles': 0.7 },
    harms: [['timing belt, by the drive belt', 0.1]],
    failure: [16_000, 65],
    oneTime: ['damper bolt'],
  },
  mount: {
    says: 'Brake on, in drive: see how far it lifts.',
    look: ['top', 'look', 'gap as new', 'gap half', 'metal on metal'],
    shows: { 'shake-idle': 0.7 },
  },
  compressor: {
    says: 'Gone when it is unloaded? Then it is the head.',
    look: ['top', 'look', 'clear tank', 'a bubble now and then', 'bubbles all the time'],
    shows: { 'bubbles-slow-air': 0.75 },
    harms: [['air valves', 0.4]],
    failure: [90_000, 300],
  },
  finBlock: {
    says: 'Clean first; renew only when cleaning no longer helps.',
    look: ['front', 'look', 'light all over', 'dark patches', 'no light'],
    shows: { 'gauge-load': 0.85 },
    harms: [['head gasket, driven on', 0.25]],
    failure: [35_000, 240],
    hastens: [{ use: 'heat', factor: 1.3 }],
  },
  couplingSeal: {
    says: 'Engine oil that rises is not always fuel.',
    look: ['underneath', 'look', 'dry', 'a film', 'oil level rises'],
    shows: { 'oil-rises': 0.7 },
  },
  camChainTensioner: {
    says: 'Pull the lever first: it may be the clutch basket.',
    look: ['opened', 'look', 'few teeth show', 'nearly all teeth show', 'it slips back'],
    shows: { 'rattle-part-throttle': 0.7 },
    harms: VALVES,
    failure: LOST,
  },
  regulator: {
    says: 'Measure the stator first.',
    look: ['top', 'measure', '13.8 to 14.8 volts', 'over 15, or falling', 'under 13'],
    shows: { volts: 0.6 },
    harms: [
      ['battery', 0.5],
      [{ slot: 'stator' }, 0.3],
    ],
    failure: [36_000, 140],
  },
  stator: {
    says: 'Measure before you buy a regulator.',
    look: ['top', 'measure', 'the same on all three', 'one a fifth lower', 'one near none, or a path to earth'],
    shows: { volts: 0.7 },
  },
  baseGasket: {
    says: 'Chalk the joint, and do not ride meanwhile.',
    look: ['underneath', 'look', 'dry', 'a film', 'drops: do not ride'],
    shows: { 'oil-rear-tyre': 0.8 },
    oneTime: ['head bolts', 'base gasket'],
  },
  bikePump: {
    says: 'A drop at the tell-tale is the seal, not the gasket.',
    look: ['underneath', 'look', 'tell-tale dry', 'a drop', 'runs: do not ride'],
    shows: { crust: 0.5 },
    hastens: [{ use: 'standing', factor: 1.3 }],
  },
};
