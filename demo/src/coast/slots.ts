import type { PackInput } from '@crosspeen/contract';

type PackPoint = PackInput['families'][number]['weakPoints'] extends readonly (infer Point)[] | undefined ? Point : never;
type PackComponent = PackInput['components'][number];

/** Where the work is reached from; each engine has these operations, as far as its build has them. */
export type Access = 'shields' | 'drain' | 'covers' | 'timing' | 'intake' | 'sump';

/** A weak point as many engines of one build have it, before it is told for one of them. Windows in thousands of km, years, or engine hours. */
export interface Slot {
  readonly component: string;
  readonly class: PackComponent['class'];
  readonly group: PackComponent['group'];
  readonly fittedTo?: 'vehicle';
  readonly title: string;
  readonly consequence: PackPoint['consequence'];
  readonly safety?: true;
  readonly effect: string;
  readonly signs: string;
  readonly share: PackPoint['share'];
  readonly km?: readonly [number, number];
  readonly years?: readonly [number, number];
  readonly hours?: readonly [number, number];
  /** One cause told both ways ("whichever first") rather than two causes. */
  readonly whicheverFirst?: true;
  readonly look?: { readonly how: string; readonly minutes: number; readonly detects: number; readonly warns: string; readonly cautions?: readonly string[] };
  /** A safety item where the engine has a turbo to set alight what drips on it. */
  readonly safetyWithTurbo?: true;
  readonly minutes: number;
  readonly access: readonly Access[];
  readonly price: number;
  readonly tools?: readonly string[];
  readonly cautions?: readonly string[];
  /** The interval in thousands of km or years that a cautious authority gives. */
  readonly renewAt?: { readonly km?: number; readonly years?: number; readonly hours?: number };
  /** A later part ends it. */
  readonly revision?: string;
}

const PUMP_LOOK = { how: 'Lamp on the weep hole; pressure up cold, wait ten minutes.', minutes: 15, detects: 0.8, warns: '9k km', cautions: ['hot-coolant', 'rotating'] } as const;

/** Weak points by the build they belong to, written by hand. */
export const SLOTS = {
  belt: {
    component: 'Timing belt', class: 'rubber', group: 'timing', title: 'Timing belt wears out', consequence: 'engine', share: 'nearly all', km: [105, 200], years: [8, 15], whicheverFirst: true,
    effect: 'The cams stop while the crank turns on; pistons meet valves.', signs: 'Glazed back, frayed edge, cracks across the teeth, oil on it.', minutes: 175, access: ['timing'], price: 13900, renewAt: { km: 100, years: 8 },
    look: { how: 'Upper cover off: back, edges and tooth roots under a lamp.', minutes: 20, detects: 0.55, warns: '15k km', cautions: ['rotating'] }, cautions: ['spring-load', 'lost-timing'],
  },
  idler: {
    component: 'Belt idler', class: 'bearing', group: 'timing', title: 'Belt idler runs dry', consequence: 'engine', share: 'many', km: [115, 230],
    effect: 'The idler seizes and takes the belt with it.', signs: 'A howl that follows the revs; spins long and loud by hand.', minutes: 178, access: ['timing'], price: 5900, renewAt: { km: 100 },
    look: { how: 'Covers off, belt off its back: spin it at the ear, feel for play.', minutes: 35, detects: 0.7, warns: '12k km', cautions: ['rotating', 'spring-load'] },
  },
  chain: {
    component: 'Timing chain', class: 'chain', group: 'timing', title: 'Timing chain stretches', consequence: 'engine', share: 'some', km: [160, 310],
    effect: 'The cams lag; in the end the chain jumps and valves meet pistons.', signs: 'Rattle at the cold start, cam timing code, offset beyond 4 degrees.', minutes: 480, access: ['covers'], price: 18900,
    look: { how: 'Read cam against crank offset at idle, warm; listen at the first start.', minutes: 20, detects: 0.75, warns: '20k km', cautions: ['rotating'] }, tools: ['cam-lock', 'crank-pin', 'counter-holder'], cautions: ['spring-load', 'lost-timing'],
  },
  chainTensioner: {
    component: 'Chain tensioner', class: 'chain', group: 'timing', title: 'Chain tensioner bleeds down overnight', consequence: 'engine', share: 'many', km: [90, 190], years: [8, 15],
    effect: 'The chain is slack for the first seconds of every start and beats its guides.', signs: 'Two seconds of rattle, gone as oil comes up; stops with a hand on the plug.', minutes: 150, access: ['shields'], price: 8900, revision: 'D',
    look: { how: 'Cold start with a rod at the ear; plug out, count the teeth.', minutes: 25, detects: 0.7, warns: '10k km', cautions: ['rotating', 'hot-exhaust'] }, tools: ['cam-lock', 'crank-pin'], cautions: ['spring-load', 'lost-timing'],
  },
  guide: {
    component: 'Chain guide', class: 'plastic', group: 'timing', title: 'Chain guide cracks', consequence: 'engine', share: 'few', km: [140, 270], years: [11, 19],
    effect: 'Pieces fall into the pan and the chain whips.', signs: 'Brown plastic in the oil pan; a dull knock from the front.', minutes: 430, access: ['covers'], price: 6400,
    look: { how: 'Pan plug or filter: plastic crumbs; borescope through the filler.', minutes: 30, detects: 0.5, warns: '15k km', cautions: ['on-lift', 'used-oil'] }, tools: ['borescope', 'cam-lock', 'crank-pin', 'counter-holder'], cautions: ['spring-load', 'lost-timing'],
  },
  gearTrain: {
    component: 'Timing gear idler', class: 'bearing', group: 'timing', title: 'Idler gear bush wears', consequence: 'engine', share: 'few', km: [600, 1200], hours: [9000, 18000],
    effect: 'The mesh opens; teeth go and the pump drive with them.', signs: 'A growl that changes when the compressor is unloaded; brass in the oil.', minutes: 900, access: ['covers'], price: 41000,
    look: { how: 'Oil sample for brass; backlash by gauge at the cover port.', minutes: 60, detects: 0.7, warns: '60k km' },
  },
  beltPump: {
    component: 'Water pump', class: 'bearing', group: 'cooling', title: 'Water pump weeps behind the belt', consequence: 'damage', share: 'many', km: [110, 220],
    effect: 'Coolant on the belt; the bearing follows.', signs: 'White or pink crust under the weep hole.', minutes: 195, access: ['timing', 'drain'], price: 7900, look: PUMP_LOOK, renewAt: { km: 100 }, tools: ['pressure-pump'], cautions: ['hot-coolant', 'coolant-waste'],
  },
  pump: {
    component: 'Water pump', class: 'bearing', group: 'cooling', title: 'Water pump shaft seal leaks', consequence: 'stranded', share: 'many', km: [100, 210],
    effect: 'It loses water faster than the driver tops up; it boils on the next hill.', signs: 'A crusty trail from the weep hole, a wet shield.', minutes: 120, access: ['drain'], price: 9900, look: PUMP_LOOK, tools: ['pressure-pump'], cautions: ['hot-coolant', 'coolant-waste'],
  },
  thermostat: {
    component: 'Thermostat', class: 'plastic', group: 'cooling', title: 'Thermostat housing cracks at the seam', consequence: 'stranded', share: 'many', km: [80, 180], years: [7, 14],
    effect: 'The seam opens on the motorway and the coolant is gone in minutes.', signs: 'A dried crust along the seam; sprays only under pressure.', minutes: 85, access: ['drain'], price: 5400, revision: 'B', renewAt: { years: 8 },
    look: { how: 'Pressure up to the cap’s figure and look along the seam with a mirror.', minutes: 15, detects: 0.75, warns: '8k km' }, tools: ['pressure-pump'], cautions: ['hot-coolant'],
  },
  radiator: {
    component: 'Radiator', class: 'plastic', group: 'cooling', fittedTo: 'vehicle', title: 'Radiator end tank splits', consequence: 'stranded', share: 'some', years: [10, 18],
    effect: 'It empties itself over the road.', signs: 'Damp crimp, green or white fur in the corner.', minutes: 130, access: ['drain'], price: 14900,
    look: { how: 'Grille side and corners under a lamp, then under pressure.', minutes: 15, detects: 0.7, warns: '1y' }, cautions: ['hot-coolant', 'rotating'],
  },
  hose: {
    component: 'Coolant hoses', class: 'rubber', group: 'cooling', title: 'Upper coolant hose softens and swells', consequence: 'stranded', share: 'many', years: [9, 17],
    effect: 'It bursts hot.', signs: 'Soft as bread at the clip, a bulge, oil on it.', minutes: 50, access: ['drain'], price: 3200, safety: true, renewAt: { years: 10 },
    look: { how: 'Squeeze cold, both ends; look for a bulge when warm.', minutes: 8, detects: 0.8, warns: '1y' }, cautions: ['hot-coolant'],
  },
  tank: {
    component: 'Expansion tank', class: 'plastic', group: 'cooling', fittedTo: 'vehicle', title: 'Expansion tank cracks along its weld', consequence: 'leak', share: 'some', years: [8, 15],
    effect: 'It loses a little each warm-up until the lamp comes on.', signs: 'Fine lines in yellowed plastic, a dry crust along the weld.', minutes: 30, access: [], price: 3900,
    look: { how: 'Lamp behind it, cold; then under pressure.', minutes: 5, detects: 0.8, warns: '1y' }, cautions: ['hot-coolant'],
  },
  fanClutch: {
    component: 'Fan clutch', class: 'bearing', group: 'cooling', title: 'Fan clutch slips when hot', consequence: 'damage', share: 'some', km: [280, 620], hours: [5000, 11000],
    effect: 'It overheats at low speed under load.', signs: 'Spins free hot; oil streaks from its middle.', minutes: 90, access: [], price: 26900,
    look: { how: 'Hot and stopped: turn by hand, it must drag.', minutes: 10, detects: 0.75, warns: '30k km' }, cautions: ['rotating'],
  },
  oilCooler: {
    component: 'Oil cooler', class: 'gasket', group: 'cooling', title: 'Oil cooler gasket lets go', consequence: 'damage', share: 'some', km: [130, 270], years: [10, 18],
    effect: 'Oil in the coolant, or the other way round.', signs: 'A brown film in the tank, a wet cooler foot.', minutes: 160, access: ['drain', 'intake'], price: 5600, cautions: ['hot-coolant', 'used-oil'],
    look: { how: 'Cold: tank and filler cap for a brown film; cooler foot with a mirror.', minutes: 10, detects: 0.65, warns: '8k km', cautions: ['hot-coolant'] },
  },
  camSeal: {
    component: 'Camshaft seal', class: 'rubber', group: 'seals', title: 'Camshaft seal weeps', consequence: 'leak', share: 'many', km: [120, 240], years: [9, 17],
    effect: 'Oil runs down inside the cover.', signs: 'A dark fan of oil below the cam wheel.', minutes: 182, access: ['timing'], price: 900, tools: ['seal-driver'],
    look: { how: 'Upper cover off, lamp behind the wheel.', minutes: 20, detects: 0.75, warns: '20k km', cautions: ['rotating'] },
  },
  rearSeal: {
    component: 'Rear crankshaft seal', class: 'rubber', group: 'seals', title: 'Rear crankshaft seal leaks', consequence: 'leak', share: 'some', km: [150, 290], years: [11, 19],
    effect: 'Oil on the floor, in the end on the clutch.', signs: 'A drop at the joint of engine and gearbox.', minutes: 390, access: ['shields'], price: 3900, tools: ['seal-driver'],
    look: { how: 'On the lift: clean, drive ten minutes, look again.', minutes: 20, detects: 0.7, warns: '25k km', cautions: ['on-lift', 'hot-exhaust'] }, cautions: ['on-lift', 'carried'],
  },
  coverGasket: {
    component: 'Valve cover gasket', class: 'gasket', group: 'seals', title: 'Valve cover gasket hardens', consequence: 'leak', safetyWithTurbo: true, share: 'most', km: [110, 230], years: [9, 16],
    effect: 'Oil in the plug wells and on the exhaust.', signs: 'Smell of hot oil, wet plugs.', minutes: 70, access: [], price: 2900,
    look: { how: 'Mirror along the back edge; plugs out, look into the wells.', minutes: 15, detects: 0.85, warns: '20k km', cautions: ['hot-exhaust'] }, cautions: ['hot-exhaust'],
  },
  sumpGasket: {
    component: 'Oil pan seal', class: 'gasket', group: 'seals', title: 'Oil pan seal sweats', consequence: 'cosmetic', share: 'many', km: [120, 260], years: [10, 18],
    effect: 'A stain under the car, rarely more.', signs: 'A film all round the flange.', minutes: 150, access: ['sump'], price: 1900, cautions: ['on-lift', 'used-oil'],
  },
  injectorSeal: {
    component: 'Injector seals', class: 'gasket', group: 'seals', title: 'Injector seal blows by', consequence: 'damage', share: 'many', km: [110, 220],
    effect: 'Tar builds up round the injector until it cannot be pulled.', signs: 'A chuff at idle, black crust in the well, smell in the cabin.', minutes: 140, access: [], price: 1800, tools: ['injector-puller'], cautions: ['fuel-pressure', 'fuel-spray'],
    look: { how: 'Cover off, leak spray round each injector at idle: hands stay away.', minutes: 15, detects: 0.8, warns: '10k km', cautions: ['fuel-spray', 'rotating'] },
  },
  linerSeal: {
    component: 'Cylinder liner seals', class: 'rubber', group: 'seals', title: 'Liner seal lets coolant into the pan', consequence: 'engine', share: 'few', km: [700, 1300], years: [12, 20], hours: [10000, 20000],
    effect: 'Coolant in the oil; the bearings go.', signs: 'Level falls, the oil rises and turns grey.', minutes: 1800, access: ['sump', 'drain'], price: 39000,
    look: { how: 'Pan plug cracked after a night: water first?', minutes: 15, detects: 0.7, warns: '20k km', cautions: ['used-oil', 'stop-at-once'] },
  },
  coil: {
    component: 'Ignition coils', class: 'electronics', group: 'other', title: 'Ignition coil breaks down', consequence: 'drivability', share: 'many', km: [60, 210],
    effect: 'It misfires under load; the catalyst suffers.', signs: 'Misfire code, a hairline in the boot.', minutes: 20, access: [], price: 4600,
  },
  glow: {
    component: 'Glow plugs', class: 'electronics', group: 'other', title: 'Glow plug burns out', consequence: 'drivability', share: 'most', km: [80, 220],
    effect: 'Hard starting, white smoke in the cold.', signs: 'Code for one plug; more than 1.5 ohm.', minutes: 60, access: [], price: 2400,
  },
  egr: {
    component: 'EGR valve', class: 'sensor', group: 'other', title: 'EGR valve sticks', consequence: 'emissions', share: 'many', km: [70, 220],
    effect: 'Soot, limp mode, a failed emissions test.', signs: 'Hesitates from low revs; flow code.', minutes: 80, access: ['intake'], price: 16900, cautions: ['hot-exhaust'],
    look: { how: 'Scan tool: commanded against actual position.', minutes: 10, detects: 0.7, warns: '8k km' },
  },
  wastegate: {
    component: 'Turbo wastegate', class: 'bearing', group: 'other', title: 'Wastegate bush wears', consequence: 'emissions', share: 'some', km: [100, 220],
    effect: 'Boost comes late; code and limp mode.', signs: 'A rattle on lift-off that stops with a rod on the arm.', minutes: 170, access: ['shields'], price: 22900, cautions: ['hot-exhaust'],
    look: { how: 'Cold: move the arm by hand, feel for play.', minutes: 10, detects: 0.8, warns: '15k km', cautions: ['hot-exhaust'] },
  },
  turboSeal: {
    component: 'Turbo oil seal', class: 'bearing', group: 'other', title: 'Turbo passes oil', consequence: 'damage', share: 'some', km: [140, 300], hours: [4500, 9500],
    effect: 'Oil in the charge pipes; a runaway in the worst case.', signs: 'More than a film in the intake pipe, blue smoke after idling.', minutes: 210, access: ['shields'], price: 68000, safety: true, cautions: ['hot-exhaust', 'runaway'],
    look: { how: 'Pipe off the compressor: a little film is fine, a puddle is not; shaft play.', minutes: 20, detects: 0.7, warns: '10k km', cautions: ['hot-exhaust', 'runaway'] },
  },
  damper: {
    component: 'Crankshaft damper', class: 'rubber', group: 'other', title: 'Crankshaft damper separates', consequence: 'stranded', safety: true, share: 'some', km: [130, 260], years: [10, 18],
    effect: 'The outer ring walks off and takes the drive belt along: charge and steering help go with it.', signs: 'The ring wobbles against its hub; rubber proud of the face.', minutes: 65, access: ['shields'], price: 15900, tools: ['hub-puller'],
    look: { how: 'Chalk across ring and hub, ten minutes’ drive, look again.', minutes: 12, detects: 0.8, warns: '12k km', cautions: ['rotating'] }, cautions: ['rotating'],
  },
  mount: {
    component: 'Engine mount', class: 'rubber', group: 'other', fittedTo: 'vehicle', title: 'Engine mount sags', consequence: 'drivability', share: 'many', km: [110, 220], years: [9, 17],
    effect: 'It thumps into gear and shakes at idle.', signs: 'Gap closed on one side; oil from a hydraulic mount.', minutes: 50, access: [], price: 8900,
    look: { how: 'Watch the engine from the side while a helper takes up drive against the brake.', minutes: 8, detects: 0.8, warns: '20k km', cautions: ['vehicle-moves', 'rotating'] }, cautions: ['carried'],
  },
  compressor: {
    component: 'Air compressor head', class: 'gasket', group: 'other', title: 'Air compressor head gasket passes coolant', consequence: 'stranded', share: 'some', km: [350, 800], hours: [6000, 13000],
    effect: 'Coolant in the air system; brakes that will not build.', signs: 'Bubbles in the tank as the compressor pumps; water at the dryer.', minutes: 180, access: ['drain'], price: 19900, safety: true,
    look: { how: 'Tank open, engine idling, compressor loaded: bubbles?', minutes: 15, detects: 0.75, warns: '25k km', cautions: ['hot-coolant', 'rotating', 'open-compressor'] }, cautions: ['hot-coolant', 'stored-air', 'open-compressor'],
  },
  finBlock: {
    component: 'Radiator core', class: 'early', group: 'cooling', fittedTo: 'vehicle', title: 'Radiator core clogs with dust and oil', consequence: 'damage', safety: true, share: 'most', hours: [900, 2600],
    effect: 'It overheats under load on a hot day; dust soaked in oil can catch fire.', signs: 'A felt of dust between cooler and core; the gauge climbs only under load.', minutes: 120, access: [], price: 1500, renewAt: { hours: 1000 },
    look: { how: 'Lamp through the core from the fan side.', minutes: 10, detects: 0.85, warns: '300h', cautions: ['boom-down', 'rotating'] },
  },
  couplingSeal: {
    component: 'Pump drive seal', class: 'rubber', group: 'seals', title: 'Hydraulic pump drive seal leaks into the bell', consequence: 'damage', safety: true, share: 'some', hours: [4000, 9000], years: [8, 16],
    effect: 'Hydraulic oil in the engine, or none in the tank: then the steering is gone.', signs: 'The engine oil rises; a wet bell plug.', minutes: 320, access: ['shields'], price: 4200, tools: ['seal-driver'], cautions: ['boom-down', 'hydraulic-pressure', 'carried'],
    look: { how: 'Bell plug out, engine oil level against the log.', minutes: 10, detects: 0.7, warns: '400h', cautions: ['boom-down'] },
  },
  camChainTensioner: {
    component: 'Cam chain tensioner', class: 'chain', group: 'timing', title: 'Cam chain tensioner backs off', consequence: 'engine', share: 'many', km: [25, 70], years: [8, 16],
    effect: 'The chain saws at its guide and may jump.', signs: 'A rattle at part throttle that changes with the clutch in.', minutes: 60, access: [], price: 7900, revision: 'M',
    look: { how: 'Tensioner out: teeth shown, spring free?', minutes: 25, detects: 0.75, warns: '6k km', cautions: ['spring-load', 'lost-timing'] }, tools: ['cam-lock'], cautions: ['spring-load', 'lost-timing'],
  },
  regulator: {
    component: 'Voltage regulator', class: 'electronics', group: 'other', fittedTo: 'vehicle', title: 'Voltage regulator cooks itself', consequence: 'stranded', safety: true, share: 'many', km: [15, 70],
    effect: 'It boils the battery, or stops charging: light and engine die on the road.', signs: 'Above 15 volts warm, or under 13; a brown plug.', minutes: 30, access: [], price: 11900,
    look: { how: 'Volts at the battery at 4000/min, warm; look at the plug.', minutes: 8, detects: 0.6, warns: '3k km', cautions: ['hot-exhaust', 'battery'] }, cautions: ['battery'],
  },
  stator: {
    component: 'Stator', class: 'electronics', group: 'other', title: 'Stator winding burns', consequence: 'stranded', safety: true, share: 'some', km: [30, 90],
    effect: 'The battery runs flat on the road: light and engine die.', signs: 'Brown varnish, uneven AC volts between the three wires.', minutes: 90, access: [], price: 21900, cautions: ['hot-exhaust'],
  },
  baseGasket: {
    component: 'Cylinder base gasket', class: 'gasket', group: 'seals', title: 'Base gasket weeps between the cylinders', consequence: 'leak', safety: true, share: 'many', km: [25, 80], years: [10, 20],
    effect: 'Oil on the boots and on the rear tyre: do not ride it so.', signs: 'A wet line at the barrel’s foot.', minutes: 420, access: [], price: 3900,
    look: { how: 'Clean, chalk, run it on the stand until warm, look.', minutes: 15, detects: 0.8, warns: '6k km', cautions: ['hot-exhaust'] },
  },
  bikePump: {
    component: 'Water pump seals', class: 'rubber', group: 'cooling', title: 'Water pump seal drips from its tell-tale', consequence: 'leak', safety: true, share: 'many', km: [20, 60], years: [7, 14],
    effect: 'Coolant first on the floor and the rear tyre, then in the oil.', signs: 'A drop at the hole under the pump.', minutes: 90, access: [], price: 2900,
    look: { how: 'Cold, the morning after a ride: dry paper under the hole.', minutes: 5, detects: 0.8, warns: '4k km', cautions: ['hot-coolant'] }, cautions: ['hot-coolant'],
  },
} as const satisfies Record<string, Slot>;
export type SlotName = keyof typeof SLOTS;
