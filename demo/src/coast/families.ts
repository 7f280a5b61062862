import type { More } from './more.ts';
import type { Access, Slot } from './slot.ts';
import { RUNNING_WARM } from './slot-looks.ts';
import { SLOTS, type SlotName } from './slots.ts';

const PETROL_BELT = [
  'belt',
  'idler',
  'beltPump',
  'thermostat',
  'hose',
  'camSeal',
  'coverGasket',
  'rearSeal',
  'coil',
  'mount',
] as const;
const PETROL_CHAIN = [
  'sumpGasket',
  'chainTensioner',
  'chain',
  'guide',
  'pump',
  'thermostat',
  'tank',
  'coverGasket',
  'rearSeal',
  'coil',
  'wastegate',
] as const;
const DIESEL_BELT = [
  'belt',
  'idler',
  'beltPump',
  'thermostat',
  'radiator',
  'injectorSeal',
  'camSeal',
  'glow',
  'egr',
  'damper',
] as const;
const DIESEL_CHAIN = [
  'chain',
  'chainTensioner',
  'pump',
  'thermostat',
  'oilCooler',
  'injectorSeal',
  'rearSeal',
  'egr',
  'turboSeal',
  'damper',
] as const;
const TRUCK = [
  'gearTrain',
  'linerSeal',
  'pump',
  'thermostat',
  'fanClutch',
  'hose',
  'rearSeal',
  'compressor',
  'turboSeal',
  'injectorSeal',
] as const;
const MACHINE = [
  'gearTrain',
  'finBlock',
  'pump',
  'hose',
  'fanClutch',
  'couplingSeal',
  'rearSeal',
  'turboSeal',
  'glow',
] as const;
const TWIN = [
  'camChainTensioner',
  'bikePump',
  'radiator',
  'baseGasket',
  'coverGasket',
  'regulator',
  'stator',
  'coil',
] as const;

/** One engine of the coast pack: a build, told for a maker, longer- or shorter-lived than the usual. */
export interface CoastFamily {
  readonly key: string;
  readonly maker: 'vellmar' | 'osterlin' | 'dunmarrow' | 'kestrane' | 'brandreth' | 'tarn-hollis';
  readonly code: string;
  readonly name: string;
  readonly displacementL: number;
  readonly fuel: 'petrol' | 'diesel';
  readonly aspiration: 'natural' | 'turbo';
  readonly drive: 'belt' | 'chain' | 'gears';
  readonly interference: boolean;
  readonly slots: readonly SlotName[];
  /** Factor on every distance of the usual windows; on years its root. */
  readonly lives: number;
  /** Prefix of the maker's part numbers of this engine. */
  readonly number: string;
  readonly variants: readonly {
    readonly key: string;
    readonly name: string;
    readonly from: string;
    readonly to?: string;
    readonly howToTell: string;
    readonly models: readonly string[];
  }[];
  /** What is told otherwise of this engine than of others of its build. */
  readonly told?: Partial<Record<SlotName, Partial<Slot>>>;
  /** The same for what practitioners say of it. */
  readonly said?: Partial<Record<SlotName, Partial<More>>>;
  /** Where the way in takes other minutes than on engines of its build. */
  readonly minutes?: Partial<Record<Access, number>>;
  /** The later variant left the works with the revised part of this weak point. */
  readonly revisedInLater?: SlotName;
  readonly note?: string;
}

/** A truck does in a year what a car does in five. */
const TRUCK_WINDOWS: CoastFamily['told'] = {
  pump: { km: [350, 700], years: [9, 17], look: { ...SLOTS.pump.look, warns: '25k km' } },
  thermostat: {
    km: [300, 650],
    years: [8, 15],
    title: 'Thermostat opens late',
    consequence: 'damage',
    effect: 'It runs hot on the hill and the fan never rests.',
    signs: 'Gauge high under load, lower hose cool for long.',
    look: {
      how: 'Warm it up at idle and read gauge and lower hose with an infrared thermometer, hands away from the fan.',
      minutes: 20,
      detects: 0.7,
      warns: '20k km',
      cautions: ['running-engine', 'hot-coolant'],
      needs: RUNNING_WARM,
    },
  },
  rearSeal: { km: [500, 950] },
  injectorSeal: { km: [350, 700] },
  turboSeal: { km: [450, 900] },
  hose: { years: [7, 13] },
};

/** A thermostat that opens late wets nothing. */
const TRUCK_SAID: CoastFamily['said'] = {
  thermostat: {
    says: 'Lower hose cool while the gauge climbs: it is this.',
    look: ['front', 'measure', 'hose warms before the gauge is high', 'hose warms late', 'hose stays cool'],
    shows: { 'gauge-load': 0.6 },
    harms: [['head gasket, driven on', 0.1]],
    failure: [20_000, 120],
  },
};

/** A motorcycle does in a year what a car does in a season. */
const TWIN_WINDOWS: CoastFamily['told'] = { coverGasket: { km: [30, 80], years: [9, 16] }, coil: { km: [30, 90] } };

/** Where the valves clear the pistons a chain that slips stops the engine, and bends nothing. */
const CLEAR_OF_THE_PISTONS: CoastFamily['told'] = {
  thermostat: {
    title: 'Thermostat cover seal leaks',
    consequence: 'leak',
    effect: 'Coolant runs down the block and the level falls slowly.',
    signs: 'A pink track below the cover.',
    look: { ...SLOTS.thermostat.look, how: 'Cold: press it up and look below the cover with a mirror.' },
  },
  chain: {
    consequence: 'stranded',
    effect: 'The cams lag; in the end the chain jumps and the engine stops. Nothing bends.',
  },
  chainTensioner: {
    consequence: 'stranded',
    share: 'some',
    effect: 'The chain is slack at every start; it may jump, and the engine stops. Nothing bends.',
  },
  guide: { consequence: 'damage', effect: 'Pieces of the guide lie in the oil pan and block the strainer.' },
};

/** A cover seal drips long before anything runs hot. */
const COVER_SEAL_SAID: CoastFamily['said'] = {
  thermostat: {
    says: 'A pink track below the cover: the seal, not the housing.',
    look: ['underneath', 'look', 'dry below the cover', 'a pink track', 'drops under pressure'],
    shows: { crust: 0.6 },
    harms: [['head gasket, driven on', 0.05]],
    failure: [4000, 45],
  },
};

/** Twelve engines beside those of the harbour pack. */
export const COAST_FAMILIES: readonly CoastFamily[] = [
  {
    key: 'qv09s',
    maker: 'vellmar',
    code: 'QV09S',
    name: '0.9 petrol',
    displacementL: 0.9,
    fuel: 'petrol',
    aspiration: 'natural',
    drive: 'belt',
    interference: true,
    slots: PETROL_BELT,
    lives: 0.85,
    number: 'VL-09',
    revisedInLater: 'thermostat',
    variants: [
      {
        key: 'grey-cover',
        name: 'grey belt cover',
        from: '2008-03',
        to: '2013-06',
        howToTell: 'belt cover of grey plastic',
        models: ['Pip'],
      },
      {
        key: 'black-cover',
        name: 'black belt cover',
        from: '2013-07',
        to: '2021-05',
        howToTell: 'belt cover of black plastic, two clips more',
        models: ['Pip', 'Tillet Mini'],
      },
    ],
  },
  {
    key: 'qv30t',
    maker: 'vellmar',
    code: 'QV30T',
    name: '3.0 V6 turbo petrol',
    displacementL: 3,
    fuel: 'petrol',
    aspiration: 'turbo',
    drive: 'chain',
    interference: true,
    slots: PETROL_CHAIN,
    lives: 1.1,
    number: 'VL-30',
    minutes: { covers: 280, intake: 70 },
    told: {
      chain: { minutes: 900 },
      guide: { minutes: 840 },
      coverGasket: { minutes: 240, access: ['intake'] },
      coil: { minutes: 100, access: ['intake'] },
    },
    revisedInLater: 'chainTensioner',
    variants: [
      {
        key: 'single-port',
        name: 'single-port tensioner',
        from: '2010-01',
        to: '2015-08',
        howToTell: 'one oil port in the tensioner plug',
        models: ['Saltmere'],
      },
      {
        key: 'twin-port',
        name: 'twin-port tensioner',
        from: '2015-09',
        howToTell: 'two oil ports in the tensioner plug',
        models: ['Saltmere', 'Grand Corrow'],
      },
    ],
  },
  {
    key: 'od164c',
    maker: 'osterlin',
    code: 'OD164C',
    name: '1.6 turbo diesel',
    displacementL: 1.6,
    fuel: 'diesel',
    aspiration: 'turbo',
    drive: 'belt',
    interference: true,
    slots: DIESEL_BELT,
    lives: 1.15,
    number: 'OS 16-',
    revisedInLater: 'thermostat',
    variants: [
      {
        key: 'short-filter',
        name: 'short fuel filter',
        from: '2011-02',
        to: '2015-03',
        howToTell: 'the fuel filter ends above the hose',
        models: ['Fennick', 'Lindal'],
      },
      {
        key: 'long-filter',
        name: 'long fuel filter',
        from: '2015-04',
        to: '2021-12',
        howToTell: 'the fuel filter reaches below the hose',
        models: ['Lindal', 'Ardholm'],
      },
    ],
  },
  {
    key: 'op18n',
    maker: 'osterlin',
    code: 'OP18N',
    name: '1.8 petrol',
    displacementL: 1.8,
    fuel: 'petrol',
    aspiration: 'natural',
    drive: 'chain',
    interference: false,
    slots: PETROL_CHAIN.filter((slot) => slot !== 'wastegate'),
    lives: 1.25,
    told: CLEAR_OF_THE_PISTONS,
    said: COVER_SEAL_SAID,
    number: 'OS 18-',
    variants: [
      {
        key: 'alloy-cover',
        name: 'alloy front cover',
        from: '2004-05',
        to: '2012-11',
        howToTell: 'front cover of bare alloy',
        models: ['Fennick', 'Lindal'],
      },
    ],
  },
  {
    key: 'db16p',
    maker: 'dunmarrow',
    code: 'DB16P',
    name: '1.6 petrol',
    displacementL: 1.6,
    fuel: 'petrol',
    aspiration: 'natural',
    drive: 'belt',
    interference: true,
    slots: PETROL_BELT,
    lives: 1,
    number: 'D/16',
    revisedInLater: 'thermostat',
    told: {
      thermostat: {
        title: 'Thermostat sticks open',
        consequence: 'drivability',
        effect: 'It never gets warm: little heat, more fuel, more wear.',
        signs: 'Gauge low on the motorway, heater lukewarm.',
        look: {
          how: 'On the road, after twenty minutes: the gauge stands where it should and stays there downhill.',
          minutes: 25,
          detects: 0.85,
          warns: '8k km',
          cautions: ['two-people'],
          needs: { engine: 'driven' },
        },
      },
    },
    said: {
      thermostat: {
        says: 'If the gauge stops short on the motorway, it is this.',
        look: ['inside', 'look', 'reaches its mark and stays', 'sinks downhill', 'never reaches its mark'],
        shows: { 'runs-cold': 0.85 },
        harms: [],
        failure: [1000, 15],
      },
    },
    variants: [
      {
        key: 'round-plug',
        name: 'round filler plug',
        from: '2006-09',
        to: '2012-02',
        howToTell: 'oil filler plug is round',
        models: ['Pellow'],
      },
      {
        key: 'winged-plug',
        name: 'winged filler plug',
        from: '2012-03',
        to: '2019-08',
        howToTell: 'oil filler plug has wings',
        models: ['Pellow', 'Marr'],
      },
    ],
  },
  {
    key: 'dc22r',
    maker: 'dunmarrow',
    code: 'DC22R',
    name: '2.2 turbo diesel',
    displacementL: 2.2,
    fuel: 'diesel',
    aspiration: 'turbo',
    drive: 'chain',
    interference: true,
    slots: DIESEL_CHAIN,
    lives: 1.2,
    number: 'D/22',
    revisedInLater: 'chainTensioner',
    variants: [
      {
        key: 'blue-rail',
        name: 'blue rail sensor',
        from: '2009-04',
        to: '2014-10',
        howToTell: 'plug of the rail sensor is blue',
        models: ['Carrow Van'],
      },
      {
        key: 'green-rail',
        name: 'green rail sensor',
        from: '2014-11',
        howToTell: 'plug of the rail sensor is green',
        models: ['Carrow Van', 'Carrow Bus'],
      },
    ],
  },
  {
    key: 'k318b',
    maker: 'kestrane',
    code: 'K318B',
    name: '1.8 turbo petrol',
    displacementL: 1.8,
    fuel: 'petrol',
    aspiration: 'turbo',
    drive: 'belt',
    interference: true,
    slots: [...PETROL_BELT, 'wastegate'],
    lives: 0.95,
    number: 'KE.18.',
    variants: [
      {
        key: 'first',
        name: 'first series',
        from: '2013-01',
        to: '2020-09',
        howToTell: 'engine number begins with 3',
        models: ['Ostreel', 'Sund'],
      },
    ],
  },
  {
    key: 'br67d',
    maker: 'brandreth',
    code: 'BR67D',
    name: '6.7 turbo diesel',
    displacementL: 6.7,
    fuel: 'diesel',
    aspiration: 'turbo',
    drive: 'gears',
    interference: true,
    slots: TRUCK,
    lives: 1,
    told: TRUCK_WINDOWS,
    said: TRUCK_SAID,
    number: 'BRD 67',
    revisedInLater: 'thermostat',
    variants: [
      {
        key: 'cast-pipe',
        name: 'cast charge pipe',
        from: '2007-01',
        to: '2014-12',
        howToTell: 'charge pipe is cast',
        models: ['Hauler 12'],
      },
      {
        key: 'drawn-pipe',
        name: 'drawn charge pipe',
        from: '2015-01',
        howToTell: 'charge pipe is drawn tube',
        models: ['Hauler 12', 'Hauler 16'],
      },
    ],
  },
  {
    key: 'br92l',
    maker: 'brandreth',
    code: 'BR92L',
    name: '9.2 turbo diesel',
    displacementL: 9.2,
    fuel: 'diesel',
    aspiration: 'turbo',
    drive: 'gears',
    interference: true,
    slots: TRUCK,
    lives: 1.2,
    told: TRUCK_WINDOWS,
    said: TRUCK_SAID,
    number: 'BRD 92',
    variants: [
      {
        key: 'long-haul',
        name: 'long-haul',
        from: '2010-06',
        howToTell: 'plate on the left of the block',
        models: ['Hauler 26'],
      },
    ],
  },
  {
    key: 'br36m',
    maker: 'brandreth',
    code: 'BR36M',
    name: '3.6 machine diesel',
    displacementL: 3.6,
    fuel: 'diesel',
    aspiration: 'turbo',
    drive: 'gears',
    interference: true,
    slots: MACHINE,
    lives: 1,
    number: 'BRD 36',
    variants: [
      {
        key: 'wide-sump',
        name: 'wide oil pan',
        from: '2009-01',
        howToTell: 'oil pan as wide as the block',
        models: ['Quay Loader', 'Yard Forklift'],
      },
    ],
    note: 'Machines: readings in engine hours.',
  },
  {
    key: 'tn700',
    maker: 'tarn-hollis',
    code: 'TN700',
    name: '0.7 twin',
    displacementL: 0.7,
    fuel: 'petrol',
    aspiration: 'natural',
    drive: 'chain',
    interference: true,
    slots: TWIN,
    lives: 1,
    told: TWIN_WINDOWS,
    number: 'T+H 7-',
    revisedInLater: 'camChainTensioner',
    variants: [
      {
        key: 'screw-cap',
        name: 'screw-capped tensioner',
        from: '2008-02',
        to: '2015-01',
        howToTell: 'tensioner closed by a slotted screw',
        models: ['Lapwing'],
      },
      {
        key: 'bolt-cap',
        name: 'bolt-capped tensioner',
        from: '2015-02',
        howToTell: 'tensioner closed by a hexagon bolt',
        models: ['Lapwing', 'Plover'],
      },
    ],
  },
  {
    key: 'tn1100',
    maker: 'tarn-hollis',
    code: 'TN1100',
    name: '1.1 V-twin',
    displacementL: 1.1,
    fuel: 'petrol',
    aspiration: 'natural',
    drive: 'chain',
    interference: true,
    slots: TWIN,
    lives: 1.2,
    told: TWIN_WINDOWS,
    number: 'T+H 11-',
    variants: [
      {
        key: 'five-speed',
        name: 'five-speed',
        from: '2005-03',
        to: '2018-10',
        howToTell: 'five gears',
        models: ['Curlew'],
      },
    ],
  },
];
