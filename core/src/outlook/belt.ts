import { DEFAULT_DUTY_FACTORS } from '../duty/duty.ts';
import { dayFromIso } from '../units/day.ts';
import { usagePath } from '../usage/path.ts';
import type { School } from '../schools/schools.ts';
import { CONSEQUENCES, DEFAULT_LIMITS, type Consequence } from '../decision/kinds.ts';
import type { OutlookInput, ServiceFact, WeakPointFact } from './types.ts';

/** The day it is in these tests. */
export const TODAY = dayFromIso('2026-11-24')!;
/** A belt that wears by distance, can be looked at, and is known to a book and a specialist. */
export const BELT: WeakPointFact = {
  id: 'belt',
  key: 'belt',
  title: 'Timing belt breaks',
  component: 'Timing belt',
  componentKey: 'belt',
  componentClass: 'rubber',
  nature: 'wear',
  group: 'timing',
  consequence: 'engine',
  safety: false,
  effect: '',
  signs: '',
  share: 0.95,
  causes: [[{ clock: 'distance', from: 110_000, to: 200_000 }]],
  look: {
    how: '',
    minutes: 20,
    detection: 0.8,
    falseAlarm: 0.02,
    warning: [{ clock: 'distance', from: 20_000, to: 20_000 }],
  },
  renewMinutes: 170,
  access: [],
  partPrice: 15_900,
  appliesTo: {},
  retiredByRevision: 'B',
  watch: null,
  damages: [],
  symptoms: [],
  failure: null,
  hastens: [],
  revisions: [],
  fittedTo: 'engine',
  revisedHowToTell: null,
  experience: null,
  statements: [
    {
      authority: 'Book',
      kind: 'book',
      edition: null,
      region: null,
      words: '',
      asks: 'renew',
      interval: [
        { clock: 'distance', from: 120_000, to: 120_000 },
        { clock: 'age', from: 2922, to: 2922 },
      ],
    },
    { authority: 'Shed', kind: 'specialist', edition: null, region: null, words: '', interval: [], asks: 'renew' },
  ],
};

/** The same told as a fault that only some were built with. */
export const FAULT: WeakPointFact = { ...BELT, componentClass: 'early', nature: 'defect' };

/** The same for every consequence. */
export const each = <T>(value: T): Record<Consequence, T> =>
  Object.fromEntries(CONSEQUENCES.map((consequence) => [consequence, value])) as Record<Consequence, T>;
/** One school for every consequence. */
export const everywhere = (school: School): Record<Consequence, School> => each(school);

/** Ten years and 120,000 km, nothing known of what was done. */
export const input = (changes: Partial<OutlookInput> = {}): OutlookInput => ({
  today: TODAY,
  path: usagePath([{ day: TODAY, km: 120_000 }], TODAY - 3650, 41),
  rateSpread: 0.2,
  severity: 1,
  engine: null,
  duty: {},
  counted: false,
  choices: [],
  facts: { variants: [], model: null, market: null, producedDay: null, producedSlackDays: 0, features: {} },
  weakPoints: [BELT],
  services: [],
  findings: [],
  tasks: [],
  upkeep: [],
  policy: {
    serviceKm: 15_000,
    serviceDays: 365,
    holdDays: 14,
    limits: DEFAULT_LIMITS,
    safetyLimit: 0.01,
    proofFor: [],
    schools: everywhere('early'),
    failureCost: each(400_000),
    labourCostPerHour: 9600,
    dutyFactors: DEFAULT_DUTY_FACTORS,
  },
  ...changes,
});
/** The belt was renewed so many days ago. */
export const done = (daysAgo: number, more: Partial<ServiceFact> = {}): ServiceFact => ({
  componentKey: 'belt',
  certainty: 'done' as const,
  day: TODAY - daysAgo,
  grade: 'original' as const,
  revision: null,
  source: null,
  cameOut: null,
  ...more,
});
