import type { PackInput } from '@crosspeen/contract';
import type { SlotName } from './slots.ts';

type Point = NonNullable<PackInput['families'][number]['weakPoints']>[number];
type Look = NonNullable<Point['look']>;
type Operation = NonNullable<PackInput['families'][number]['operations']>[number];

/** What practitioners say of a build beside its life. Weak points of the same engine are named by their slot. */
export interface More {
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
export const MORE: Readonly<Partial<Record<SlotName, More>>> = {
  belt: {
    look: BELT_LOOK,
    shows: { 'spins-fast': 0.9 },
    harms: VALVES,
    failure: LOST,
    hastens: [...TOW(1.2)],
    renewWith: ['idler', 'beltPump', 'camSeal'],
    oneTime: ['crankshaft pulley bolt'],
  },
  idler: {
    look: ['opened', 'spin', 'quiet, drags lightly', 'spins long and loud', 'play, or it has seized'],
    shows: { 'howl-revs': 0.6 },
    harms: VALVES,
    failure: LOST,
  },
  chain: {
    look: ['inside', 'codes', 'offset within 2 degrees', '2 to 4 degrees', 'more than 4 degrees'],
    shows: { 'rattle-first-start': 0.5, 'cam-timing-off': 0.7 },
    harms: VALVES,
    failure: LOST,
    hastens: [{ use: 'shortTrips', clock: 'distance', factor: 1.4 }],
    renewWith: ['chainTensioner', 'guide'],
    oneTime: ['crankshaft pulley bolt', 'camshaft bolts', 'cover sealant'],
  },
  chainTensioner: {
    look: ['opened', 'look', 'five teeth show', 'two teeth show', 'the ratchet slips back'],
    shows: { 'rattle-first-start': 0.75 },
    harms: VALVES,
    failure: LOST,
    hastens: [{ use: 'standing', clock: 'distance', factor: 1.3 }],
    oneTime: ['tensioner gasket'],
  },
  guide: {
    look: ['underneath', 'look', 'clean filter', 'splinters in the filter', 'a piece in the strainer'],
    shows: { 'rattle-first-start': 0.3 },
    harms: [['oil pickup, by splinters', 0.3], ...VALVES],
    failure: LOST,
    oneTime: ['cover sealant'],
  },
  gearTrain: {
    look: ['opened', 'feel', 'no play', 'play to be felt', 'noise, metal in the oil'],
    failure: [680_000, 3000],
  },
  beltPump: {
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
    look: PUMP_LOOK,
    shows: { crust: 0.75 },
    harms: [['head gasket, driven on', 0.35]],
    failure: [65_000, 840],
    oneTime: ['drain washer'],
  },
  thermostat: {
    look: ['underneath', 'look', 'dry seam', 'crust along it', 'drops under pressure'],
    shows: { crust: 0.6, 'runs-cold': 0.2 },
    harms: [['head gasket, driven on', 0.35]],
    failure: [65_000, 840],
  },
  radiator: { look: ['front', 'look', 'dry crimp', 'white bloom', 'drops under pressure'], shows: { crust: 0.4 } },
  hose: {
    look: ['top', 'squeeze', 'firm, springs back', 'soft or swollen', 'wet, or a bulge when warm'],
    harms: [['head gasket, driven on', 0.35]],
    failure: [65_000, 840],
  },
  tank: { look: ['top', 'look', 'dry weld', 'a hair crack', 'drops under pressure'], shows: { crust: 0.4 } },
  fanClutch: {
    look: ['front', 'spin', 'drags when hot', 'turns easily', 'spins freely'],
    shows: { 'gauge-load': 0.7, 'gauge-idle': 0.5 },
  },
  oilCooler: { look: ['top', 'look', 'clear tank', 'a film', 'brown film in the tank'], shows: { 'brown-film': 0.8 } },
  camSeal: {
    look: ['opened', 'look', 'dry', 'a film after a run', 'oil on the belt'],
    harms: [[{ slot: 'belt' }, 0.3]],
    failure: [13_900, 180],
  },
  rearSeal: {
    look: ['underneath', 'look', 'dry', 'a film', 'drops at the bell housing'],
    shows: { 'oil-bell': 0.85 },
    oneTime: ['flywheel bolts'],
  },
  coverGasket: {
    look: ['top', 'look', 'dry edge', 'a film', 'runs down towards the exhaust'],
    shows: { 'hot-oil-smell': 0.7 },
    oneTime: ['cover gasket'],
  },
  sumpGasket: { oneTime: ['pan sealant', 'drain washer'] },
  injectorSeal: {
    look: ['top', 'look', 'clean foot', 'a soot ring', 'tar around the foot'],
    shows: { chuff: 0.8 },
    harms: [['injector, seized', 0.3]],
    failure: [42_000, 240],
    oneTime: ['injector seals', 'clamp bolts'],
  },
  linerSeal: {
    look: ['underneath', 'look', 'clear oil', 'coolant in the sample', 'milky oil'],
    shows: { 'level-falls': 0.7, 'oil-rises': 0.6 },
    harms: [['crankshaft bearings', 0.5]],
    failure: [680_000, 3000],
    oneTime: ['head bolts'],
  },
  coil: { shows: { misfire: 0.8, 'shake-idle': 0.5 }, harms: [['catalyst', 0.2]], failure: [78_000, 120] },
  glow: { shows: { 'hard-cold-start': 0.8 } },
  egr: {
    look: ['inside', 'codes', 'actual follows commanded', 'lags', 'stands still'],
    shows: { 'black-smoke': 0.6 },
    hastens: [{ use: 'shortTrips', clock: 'distance', factor: 1.8 }],
    oneTime: ['intake gasket'],
  },
  wastegate: {
    look: ['underneath', 'feel', 'no play', 'play at the rod', 'rattles; it stops when a hand rests on it'],
    shows: { 'rattle-lift-off': 0.8, 'late-boost': 0.7 },
  },
  turboSeal: {
    look: ['underneath', 'look', 'pipe dry', 'a film', 'a puddle in the pipe'],
    shows: { 'blue-smoke': 0.7 },
    harms: [
      ['particle filter', 0.3],
      ['the engine, running away', 0.03],
    ],
    failure: [140_000, 400],
    hastens: [...TOW(1.4)],
    oneTime: ['turbo gaskets'],
  },
  damper: {
    look: ['front', 'look', 'chalk marks in line', '2 mm apart', 'wobbles'],
    shows: { 'ring-wobbles': 0.7 },
    harms: [['timing belt, by the drive belt', 0.1]],
    failure: [16_000, 65],
    oneTime: ['damper bolt'],
  },
  mount: { look: ['top', 'look', 'gap as new', 'gap half', 'metal on metal'], shows: { 'shake-idle': 0.7 } },
  compressor: {
    look: ['top', 'look', 'clear tank', 'a bubble now and then', 'bubbles all the time'],
    shows: { 'bubbles-slow-air': 0.75 },
    harms: [['air valves', 0.4]],
    failure: [90_000, 300],
  },
  finBlock: {
    look: ['front', 'look', 'light all over', 'dark patches', 'no light'],
    shows: { 'gauge-load': 0.85 },
    harms: [['head gasket, driven on', 0.25]],
    failure: [140_000, 900],
    hastens: [{ use: 'heat', factor: 1.3 }],
  },
  couplingSeal: { look: ['underneath', 'look', 'dry', 'a film', 'oil level rises'], shows: { 'oil-rises': 0.7 } },
  camChainTensioner: {
    look: ['opened', 'look', 'teeth as new', 'last teeth', 'it slips back'],
    shows: { 'rattle-part-throttle': 0.7 },
    harms: VALVES,
    failure: LOST,
  },
  regulator: {
    look: ['top', 'measure', '13.8 to 14.8 volts', 'over 15, or falling', 'under 13'],
    shows: { volts: 0.6 },
    harms: [
      ['battery', 0.5],
      [{ slot: 'stator' }, 0.3],
    ],
    failure: [36_000, 140],
  },
  stator: { shows: { volts: 0.7 } },
  baseGasket: {
    look: ['underneath', 'look', 'dry', 'a film', 'drops: do not ride'],
    shows: { 'oil-rear-tyre': 0.8 },
    oneTime: ['head bolts', 'base gasket'],
  },
  bikePump: {
    look: ['underneath', 'look', 'tell-tale dry', 'a drop', 'runs: do not ride'],
    shows: { crust: 0.5 },
    hastens: [{ use: 'standing', factor: 1.3 }],
  },
};
