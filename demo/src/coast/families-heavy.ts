import type { CoastFamily } from './family.ts';
import { RUNNING_WARM } from './slot-looks.ts';
import { SLOTS } from './slots.ts';

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

/** Engines of trucks, machines and motorcycles. */
export const OTHER_FAMILIES: readonly CoastFamily[] = [
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
