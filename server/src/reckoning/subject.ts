import type {
  DutyProfile,
  EngineSwap,
  FindingFact,
  MeterChange,
  Reading,
  ReportFact,
  SchoolChoice,
  ServiceFact,
  UpkeepFact,
} from '@crosspeen/core';

/** What is known of the vehicle a question is about; nulls and what is left out of records are unknown. */
export interface Subject {
  /** As the dash showed them. */
  readonly readings: readonly Reading[];
  readonly meterChanges: readonly MeterChange[];
  readonly engineSwaps: readonly EngineSwap[];
  readonly registeredDay: number | null;
  /** False when only a year is known. */
  readonly registeredExact: boolean;
  readonly variantKey: string | null;
  readonly model: string | null;
  readonly market: string | null;
  readonly serial: number | null;
  readonly features: Readonly<Record<string, boolean>>;
  readonly fitted: Readonly<Record<string, string>>;
  readonly severity: number;
  readonly duty: DutyProfile;
  /** On file, and so among the observations that the workshop's experience rests on. */
  readonly counted: boolean;
  readonly choices: readonly SchoolChoice[];
  readonly services: readonly ServiceFact[];
  readonly findings: readonly FindingFact[];
  readonly reports: readonly (ReportFact & { readonly symptom: string; readonly goodDay: number | null })[];
  /** How likely each weak point is the cause of what is reported, by id. */
  readonly suspects: ReadonlyMap<string, number>;
  readonly upkeep: readonly UpkeepFact[];
}

/** A subject of which nothing but a reading may be known. */
export const UNKNOWN_SUBJECT: Omit<Subject, 'readings'> = {
  meterChanges: [],
  engineSwaps: [],
  registeredDay: null,
  registeredExact: false,
  variantKey: null,
  model: null,
  market: null,
  serial: null,
  features: {},
  fitted: {},
  severity: 1,
  duty: {},
  counted: false,
  choices: [],
  services: [],
  findings: [],
  reports: [],
  suspects: new Map(),
  upkeep: [],
};
