import type { Certainty, Condition, DistanceUnit, DutyProfile, Grade, School, Source } from '@crosspeen/core';

/** Days and years count back from the day the demo is made, so that it never grows old. Distances in km. */
export interface DemoVehicle {
  readonly plate: string | null;
  readonly name?: string;
  readonly model: string;
  readonly engine: string;
  readonly variant?: string;
  readonly ageYears: number | null;
  readonly unit?: DistanceUnit;
  readonly severity?: number;
  readonly market?: string;
  readonly serial?: number;
  readonly features?: Readonly<Record<string, boolean>>;
  readonly duty?: DutyProfile;
  readonly meterChanges?: readonly {
    readonly daysAgo: number;
    readonly oldKm: number;
    readonly newKm: number;
    readonly note?: string;
  }[];
  readonly engineSwaps?: readonly {
    readonly daysAgo: number;
    readonly engineKm: number | null;
    readonly note?: string;
  }[];
  readonly schools?: readonly { readonly point?: string; readonly school: School; readonly reason: string }[];
  readonly note?: string;
  /** Contact about it. */
  readonly contact?: string;
  /** [days ago, km] */
  readonly readings: readonly (readonly [daysAgo: number, km: number])[];
  readonly services?: readonly {
    readonly point: string;
    readonly certainty?: Certainty;
    readonly daysAgo?: number;
    readonly km?: number;
    readonly grade?: Grade;
    readonly part?: string;
    readonly revision?: string;
    readonly source?: Source;
    readonly cameOut?: Condition;
    readonly note?: string;
  }[];
  readonly findings?: readonly {
    readonly point: string;
    readonly daysAgo: number;
    readonly result: Condition;
    readonly broughtIn?: boolean;
    readonly note?: string;
  }[];
  /** What is done again and again: when it was done, or until when it is known never to have been. */
  readonly upkeep?: readonly {
    readonly task: string;
    readonly daysAgo: readonly number[];
    readonly never?: true;
    readonly note?: string;
  }[];
  readonly visits?: readonly {
    readonly inDays: number;
    readonly note?: string;
    readonly jobs: readonly {
      readonly point: string;
      readonly action: 'renew' | 'look';
      readonly part?: string;
      readonly revision?: string;
    }[];
  }[];
}

/** The vehicles of the demo workshop, by hand: each shows something a workshop meets. */
export const DEMO_VEHICLES: readonly DemoVehicle[] = [
  {
    plate: 'PM 482 KX',
    contact: 'Maud Larkhill, Harbour 4410',
    model: 'Corrow',
    engine: 'QV20T',
    variant: 'short-ratchet',
    ageYears: 12.6,
    note: 'Rattles on Monday mornings, says the owner.',
    upkeep: [
      { task: 'qv20t-care-oil', daysAgo: [1480, 1110, 760, 370] },
      { task: 'qv20t-care-plugs', daysAgo: [760] },
      { task: 'qv20t-care-cam-offset', daysAgo: [370] },
    ],
    readings: [
      [2100, 61_200],
      [1480, 88_400],
      [760, 118_900],
      [370, 136_300],
      [9, 148_200],
    ],
    services: [
      { point: 'qv20t-thermostat', daysAgo: 1480, km: 88_400, part: 'VL-1902-02' },
      { point: 'qv20t-pump', certainty: 'believed', daysAgo: 1480, km: 88_000, note: 'no invoice' },
    ],
    findings: [{ point: 'qv20t-chain', daysAgo: 370, result: 'sound', note: 'offset within 2 degrees' }],
    visits: [
      {
        inDays: 23,
        note: 'Owner away until then',
        jobs: [
          { point: 'qv20t-tensioner', action: 'renew', part: 'VL-4433-05', revision: 'E' },
          { point: 'qv20t-thermostat', action: 'look' },
        ],
      },
    ],
  },
  {
    plate: 'PM 117 DA',
    model: 'Saltmere',
    engine: 'QV20T',
    variant: 'short-ratchet',
    ageYears: 13.1,
    readings: [
      [900, 171_000],
      [30, 203_400],
    ],
    services: [
      {
        point: 'qv20t-thermostat',
        daysAgo: 420,
        km: 188_300,
        source: 'own',
        cameOut: 'failed',
        note: 'seam let go on the motorway',
      },
      {
        point: 'qv20t-tensioner',
        daysAgo: 900,
        km: 171_000,
        part: 'VL-4433-05',
        revision: 'E',
        source: 'own',
        cameOut: 'worn',
        note: 'teeth counted: five',
      },
      { point: 'qv20t-chain', daysAgo: 900, km: 171_000, part: 'VL-4410-03', revision: 'C' },
    ],
  },
  {
    plate: 'PM 640 LE',
    contact: 'Aldis Venn, Harbour 2207',
    model: 'Corrow',
    engine: 'QV20T',
    variant: 'long-ratchet',
    ageYears: 9.4,
    readings: [
      [2900, 9_000],
      [1200, 52_000],
      [600, 70_100],
      [14, 92_700],
    ],
    services: [{ point: 'qv20t-thermostat', daysAgo: 600, km: 70_100, source: 'own', cameOut: 'failed' }],
    findings: [{ point: 'qv20t-breather', daysAgo: 14, result: 'worn', note: 'whistles, stops with the cap eased' }],
  },
  {
    plate: 'PM 093 RT',
    model: 'Corrow',
    engine: 'QV20T',
    ageYears: 11.9,
    readings: [[40, 131_000]],
    note: 'Came from abroad, no papers.',
  },
  {
    plate: 'PM 755 HO',
    contact: 'Joss Ostray, Harbour 6153',
    model: 'Saltmere',
    engine: 'QV20T',
    variant: 'long-ratchet',
    ageYears: 8.2,
    note: 'Tows a boat every weekend.',
    upkeep: [
      {
        task: 'qv20t-care-oil',
        daysAgo: [2700, 2330, 1960, 900, 610, 250],
        note: 'two services missed, on time since',
      },
      { task: 'qv20t-care-coolant', daysAgo: [1200] },
      { task: 'qv20t-care-plugs', daysAgo: [1200] },
    ],
    duty: { load: 'much' },
    readings: [
      [2700, 6_000],
      [1100, 60_500],
      [350, 98_000],
      [20, 115_900],
    ],
    services: [
      { point: 'qv20t-coil', daysAgo: 350, km: 98_000 },
      { point: 'qv20t-thermostat', daysAgo: 1100, km: 60_500, source: 'own', cameOut: 'failed' },
    ],
  },
  {
    plate: 'PM 228 BW',
    model: 'Tillet',
    engine: 'QV16B',
    variant: 'steel-pump',
    ageYears: 13.7,
    readings: [
      [2900, 18_000],
      [1600, 62_300],
      [700, 93_000],
      [25, 112_800],
    ],
    services: [{ point: 'qv16-mount', daysAgo: 700, km: 93_000 }],
    findings: [{ point: 'qv16-belt', daysAgo: 700, result: 'sound' }],
    visits: [
      {
        inDays: 12,
        jobs: [
          { point: 'qv16-belt', action: 'renew', part: 'VL-4101-02' },
          { point: 'qv16-idler', action: 'renew', part: 'VL-4120-01' },
          { point: 'qv16-cam-seal', action: 'look' },
        ],
      },
    ],
  },
  {
    plate: 'PM 361 NN',
    contact: 'Sunniva Brask, Harbour 3391',
    model: 'Tillet',
    engine: 'QV16B',
    variant: 'steel-pump',
    ageYears: 11.2,
    readings: [
      [800, 74_000],
      [60, 96_100],
      [3, 98_200],
    ],
    note: 'Stays here until the belt is off.',
    services: [
      {
        point: 'qv16-belt',
        daysAgo: 800,
        km: 74_000,
        grade: 'cheap',
        part: 'ZX-160',
        note: 'done elsewhere, belt only',
      },
    ],
    findings: [{ point: 'qv16-belt', daysAgo: 3, result: 'worn', note: 'threads hang out at the back edge' }],
    visits: [
      {
        inDays: 2,
        note: 'Belt is ordered',
        jobs: [
          { point: 'qv16-belt', action: 'renew', part: 'VL-4101-02' },
          { point: 'qv16-idler', action: 'renew', part: 'VL-4120-01' },
        ],
      },
    ],
  },
  {
    plate: 'PM 904 SG',
    model: 'Tillet',
    engine: 'QV16B',
    variant: 'plastic-pump',
    ageYears: 18.9,
    readings: [
      [1500, 121_000],
      [1100, 138_700],
      [900, 131_000],
      [45, 171_200],
    ],
    note: 'One reading runs backwards; see history.',
    services: [
      { point: 'qv16-belt', daysAgo: 1500, km: 121_000, part: 'TW-B-160', grade: 'equivalent' },
      { point: 'qv16-pump-wheel', daysAgo: 1500, km: 121_000, part: 'VL-1911-02', revision: 'B' },
    ],
  },
  {
    plate: 'PM 512 EK',
    contact: 'Tam Dunmoor, Harbour 7024',
    model: 'Tillet',
    engine: 'QV16B',
    variant: 'steel-pump',
    ageYears: 9.9,
    readings: [
      [400, 38_000],
      [33, 41_200],
    ],
    note: 'Second car, stands a lot.',
    upkeep: [
      { task: 'qv16-care-coolant', daysAgo: [60], never: true, note: 'still the first coolant, by the test strip' },
    ],
  },
  {
    plate: 'PM 870 UR',
    model: 'Fennick',
    engine: 'OD420K',
    variant: 'auto-tensioner',
    ageYears: 12.3,
    readings: [
      [2000, 96_000],
      [1000, 161_000],
      [300, 204_500],
      [6, 222_900],
    ],
    services: [
      { point: 'od420k-belt', daysAgo: 1000, km: 161_000, part: 'OS 77-310' },
      { point: 'od420k-pump', daysAgo: 1000, km: 161_000, part: 'TW-WP-91', grade: 'cheap' },
      { point: 'od420k-front-seals', certainty: 'not_done', note: 'looked dry, left alone' },
    ],
  },
  {
    plate: 'PM 145 OL',
    contact: 'Orla Fennick, Harbour 2958',
    model: 'Fennick Wagon',
    engine: 'OD420K',
    variant: 'manual-tensioner',
    ageYears: 17.0,
    readings: [
      [1300, 151_000],
      [500, 172_300],
      [80, 181_900],
    ],
    services: [{ point: 'od420k-belt', certainty: 'unknown', note: 'third owner, nobody knows' }],
    findings: [{ point: 'od420k-belt', daysAgo: 80, result: 'sound' }],
  },
  {
    plate: 'PM 733 AY',
    model: 'Ardholm',
    engine: 'OD420K',
    variant: 'auto-tensioner',
    ageYears: 10.1,
    unit: 'mi',
    readings: [
      [1200, 88_500],
      [420, 121_000],
      [15, 148_060],
    ],
    note: 'Right-hand drive, clock in miles.',
    findings: [{ point: 'od420k-egr-cooler', daysAgo: 15, result: 'sound', note: 'level steady, camera clean' }],
    visits: [
      {
        inDays: 37,
        jobs: [
          { point: 'od420k-belt', action: 'renew', part: 'OS 77-310' },
          { point: 'od420k-pump', action: 'renew', part: 'OS 31-118' },
          { point: 'od420k-injector-seals', action: 'look' },
        ],
      },
    ],
  },
  {
    plate: 'PM 288 CF',
    contact: 'Perrin Askerby, Harbour 5546',
    model: 'Ardholm',
    engine: 'OD420K',
    variant: 'auto-tensioner',
    ageYears: 7.8,
    duty: { shortTrips: 'some', hard: 'some', longOil: 'some' },
    readings: [
      [700, 98_000],
      [200, 141_300],
      [10, 160_700],
    ],
    note: 'Delivery van, a hundred km a day.',
    upkeep: [{ task: 'od420k-care-oil', daysAgo: [800, 690, 580, 470, 360, 250, 140, 20] }],
  },
  {
    plate: null,
    name: 'Harbour pilot wagon',
    model: 'Fennick Wagon',
    engine: 'OD420K',
    variant: 'manual-tensioner',
    ageYears: 16.4,
    readings: [
      [2200, 60_000],
      [100, 79_800],
    ],
    note: 'Short trips on the quay only.',
  },
  {
    plate: 'PM 419 IZ',
    model: 'Pellow',
    engine: 'DN12W',
    variant: 'first-belt',
    ageYears: 10.7,
    readings: [
      [1400, 49_000],
      [650, 78_600],
      [18, 104_300],
    ],
    services: [{ point: 'dn12w-degas', daysAgo: 650, km: 78_600, part: 'D/3077/D', revision: 'D' }],
    visits: [
      {
        inDays: 5,
        note: 'Courtesy car booked',
        jobs: [
          { point: 'dn12w-belt-a', action: 'renew', part: 'D/1180/C', revision: 'C' },
          { point: 'dn12w-pickup', action: 'renew' },
        ],
      },
    ],
  },
  {
    plate: 'PM 076 VM',
    contact: 'Edda Quillon, Harbour 8120',
    model: 'Pellow',
    engine: 'DN12W',
    variant: 'first-belt',
    ageYears: 11.8,
    readings: [
      [500, 61_000],
      [70, 69_400],
    ],
    findings: [{ point: 'dn12w-belt-a', daysAgo: 70, result: 'sound', note: 'width 19.1, gauge passes' }],
  },
  {
    plate: 'PM 567 TJ',
    model: 'Marr',
    engine: 'DN12W',
    variant: 'green-line',
    ageYears: 6.3,
    readings: [
      [900, 42_000],
      [28, 71_000],
    ],
  },
  {
    plate: 'PM 951 QB',
    contact: 'Brannoc Holmarsh, Harbour 3675',
    model: 'Pellow',
    engine: 'DN12W',
    ageYears: 9.7,
    readings: [[50, 83_000]],
    findings: [{ point: 'dn12w-degas', daysAgo: 49, result: 'failed', broughtIn: true, note: 'came on a trailer' }],
    services: [{ point: 'dn12w-degas', daysAgo: 48, km: 83_000, source: 'own', part: 'D/3077/D', revision: 'D' }],
    note: 'Changed hands, belt not looked at.',
  },
  {
    plate: 'PM 302 WP',
    model: 'Pellow',
    engine: 'DN12W',
    variant: 'green-line',
    ageYears: 7.1,
    severity: 1.1,
    duty: { shortTrips: 'much', hard: 'some' },
    readings: [
      [1000, 30_000],
      [22, 96_000],
    ],
    note: 'Driving school.',
    upkeep: [
      { task: 'dn12w-care-oil', daysAgo: [1000, 800, 600, 400, 200, 30], note: 'the exact grade, by invoice' },
      { task: 'dn12w-care-width-gauge', daysAgo: [400, 30], note: 'gauge passes' },
    ],
  },
  {
    plate: 'PM 684 GH',
    contact: 'Ilva Sorrin, Harbour 6902',
    model: 'Ostreel',
    engine: 'K425N',
    variant: 'composite-gasket',
    ageYears: 23.5,
    schools: [{ school: 'cost', reason: 'goes to the breaker in two years' }],
    readings: [
      [3000, 141_000],
      [1500, 168_000],
      [90, 186_400],
    ],
    services: [
      { point: 'k425n-belt', daysAgo: 1500, km: 168_000, part: 'KE.25.041' },
      { point: 'k425n-head-gasket', certainty: 'believed', daysAgo: 3000, km: 141_000, source: 'seller' },
    ],
  },
  {
    plate: 'PM 810 FX',
    model: 'Ostreel Field',
    engine: 'K425N',
    variant: 'steel-gasket',
    ageYears: 17.9,
    note: 'New cluster at 165,300 km.',
    readings: [
      [1200, 149_000],
      [55, 12_400],
    ],
    meterChanges: [{ daysAgo: 480, oldKm: 165_300, newKm: 0, note: 'display dead' }],
    services: [{ point: 'k425n-belt', certainty: 'unknown' }],
  },
  {
    plate: 'PM 237 SD',
    model: 'Ostreel',
    engine: 'K425N',
    variant: 'steel-gasket',
    ageYears: 20.2,
    unit: 'mi',
    note: 'Engine from a breaker, 60,000 miles on it they said.',
    readings: [
      [2000, 160_934],
      [400, 201_168],
      [12, 212_433],
    ],
    engineSwaps: [{ daysAgo: 700, engineKm: 96_560, note: 'with papers' }],
    services: [
      { point: 'k425n-belt', daysAgo: 400, km: 201_168, part: 'TW-B-252', grade: 'equivalent' },
      { point: 'k425n-pump', daysAgo: 400, km: 201_168 },
    ],
  },
  {
    plate: 'PM 598 MC',
    model: 'Kvern',
    engine: 'K630C',
    variant: 'orange-seals',
    ageYears: 15.3,
    readings: [
      [1800, 139_000],
      [800, 181_000],
      [17, 214_800],
    ],
    findings: [{ point: 'k630c-cooler-seals', daysAgo: 17, result: 'worn', note: 'the V is wet' }],
    visits: [
      {
        inDays: 51,
        note: 'Two days in bay 2',
        jobs: [
          { point: 'k630c-cooler-seals', action: 'renew', part: 'KE.26.300', revision: 'V' },
          { point: 'k630c-rail', action: 'renew' },
          { point: 'k630c-fuel-return', action: 'look' },
        ],
      },
    ],
  },
  {
    plate: 'PM 164 PY',
    model: 'Kvern',
    engine: 'K630C',
    variant: 'violet-seals',
    ageYears: 9.0,
    severity: 1.2,
    readings: [
      [900, 101_000],
      [300, 134_400],
      [4, 151_000],
    ],
    services: [{ point: 'k630c-fuel-return', daysAgo: 300, km: 134_400 }],
  },
  {
    plate: null,
    name: 'Lifeboat tractor',
    model: 'Kvern',
    engine: 'K630C',
    variant: 'violet-seals',
    ageYears: 11.5,
    unit: 'h',
    readings: [
      [1500, 31_000],
      [35, 44_900],
    ],
    note: 'Salt water to the axles.',
  },
];
