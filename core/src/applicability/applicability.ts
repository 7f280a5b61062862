/** Conditions a weak point puts on a vehicle; what is left out holds for all. */
export interface ApplicabilityRule {
  readonly variants?: readonly string[];
  readonly models?: readonly string[];
  readonly markets?: readonly string[];
  /** Production window, day numbers, both ends inclusive. */
  readonly producedFromDay?: number;
  readonly producedToDay?: number;
  /** Window of engine serial numbers, both ends inclusive. */
  readonly serialFrom?: number;
  readonly serialTo?: number;
  /** Features that must be there (true) or absent (false), by key. */
  readonly features?: Readonly<Record<string, boolean>>;
  /**
   * Revision of the part that alone has it: on the variants named above, which were built with it, and wherever it was
   * put in since.
   */
  readonly revisionFitted?: string;
}

export interface VariantWeight {
  readonly key: string;
  readonly name: string;
  /** How to tell it from the others by looking. */
  readonly howToTell: string | null;
  /** Share of the vehicles that fit what is known which have this variant; the weights of all sum to 1. */
  readonly weight: number;
}

/** Known facts of a vehicle. Null and missing entries are unknown, which is a state of its own. */
export interface VehicleFacts {
  readonly variants: readonly VariantWeight[];
  readonly model: string | null;
  readonly market: string | null;
  readonly producedDay: number | null;
  /**
   * Days by which the production day may differ from `producedDay`; a bare year of registration
   * says little.
   */
  readonly producedSlackDays: number;
  /** Day of first registration as understood; unknown where it is left out. */
  readonly registeredDay?: number | null;
  readonly features: Readonly<Record<string, boolean>>;
  /** Engine serial number, where somebody has read it. */
  readonly serial?: number | null;
  /** Revision of the part now fitted by component, where somebody has looked; "" for an older one. */
  readonly fitted?: Readonly<Record<string, string>>;
  /** Features that vehicles of this family may have, with their shares. */
  readonly knownFeatures?: readonly FeatureFact[];
}

/** A feature that only some vehicles of a family have. */
export interface FeatureFact {
  readonly key: string;
  readonly name: string;
  readonly howToTell: string | null;
  /** Share of the family's vehicles that have it. */
  readonly share: number;
}

/**
 * An attribute that is open, as the questions name it: `variant`, `model`, `market`, `produced`, `serial` or
 * `feature:KEY`.
 */
export type OpenAttribute = 'variant' | 'model' | 'market' | 'produced' | 'serial' | `feature:${string}`;

export type Applicability =
  | { readonly applies: 'yes'; readonly weight: 1 }
  | { readonly applies: 'no'; readonly weight: 0; readonly because: string }
  /**
   * `weight` is the chance that it applies; `settle` says what would settle it, `open` which attributes are not known.
   */
  | {
      readonly applies: 'maybe';
      readonly weight: number;
      readonly settle: string;
      readonly open: readonly OpenAttribute[];
    };

export interface VariantWindow {
  readonly key: string;
  readonly name: string;
  readonly howToTell: string | null;
  readonly producedFromDay: number | null;
  readonly producedToDay: number | null;
  readonly serialFrom?: number | null;
  readonly serialTo?: number | null;
}

/** Weight of an unknown condition that nothing decides: one half. The screen says so. */
export const UNKNOWN_WEIGHT = 0.5;

/**
 * Tells whether a serial number lies in a variant's own window; a variant without a window holds
 * none.
 */
const within = (serial: number, { serialFrom, serialTo }: VariantWindow): boolean =>
  ((serialFrom ?? null) !== null || (serialTo ?? null) !== null) &&
  serial >= (serialFrom ?? -Infinity) &&
  serial <= (serialTo ?? Infinity);

/**
 * Weighs the variants of a family by how much of the possible production span of this vehicle each covers.
 * `producedDay` may be null (every variant by the length of its run; an open end counts ten years). Days are day
 * numbers. An engine serial number, where it is known, leaves only the variants whose window of serials holds it (and
 * those without one). Returns an empty list when no variant was made in the span: the caller says so.
 */
export function weighVariants(
  windows: readonly VariantWindow[],
  producedDay: number | null,
  slackDays: number,
  serial: number | null = null,
): VariantWeight[] {
  const openRun = 3653;
  const bySerial = serial !== null && windows.some((window) => within(serial, window));
  const overlaps = windows.map((window) => {
    const { producedFromDay: from, producedToDay: to } = window;
    // A serial inside a variant's own window settles it, whatever the year in the papers says.
    if (bySerial) return within(serial, window) ? 1 : 0;
    const start = from ?? (to === null ? 0 : to - openRun);
    const end = to ?? start + openRun * (from === null ? 10 : 1);
    if (producedDay === null) return end - start;
    const openEnd = to === null ? Infinity : to;
    const openStart = from === null ? -Infinity : from;
    return Math.max(0, Math.min(openEnd, producedDay + slackDays) - Math.max(openStart, producedDay - slackDays) + 1);
  });
  const sum = overlaps.reduce((total, overlap) => total + overlap, 0);
  return windows
    .map(({ key, name, howToTell }, i) => ({ key, name, howToTell, weight: overlaps[i]! / sum }))
    .filter(({ weight }) => weight > 0);
}

const listed = (names: readonly string[]): string => names.join(' or ');

/** Decides whether a weak point applies, in three values; the first condition that fails is the reason given. */
export function applicability(rule: ApplicabilityRule, facts: VehicleFacts): Applicability {
  let weight = 1;
  const settle: string[] = [];
  const open: OpenAttribute[] = [];
  const unknown = (attribute: OpenAttribute, chance: number, question: string): void => {
    weight *= chance;
    settle.push(question);
    open.push(attribute);
  };
  if (rule.variants !== undefined) {
    const wanted = facts.variants.filter(({ key }) => rule.variants!.includes(key));
    const share = wanted.reduce((total, variant) => total + variant.weight, 0);
    if (share <= 0)
      return {
        applies: 'no',
        weight: 0,
        because: `this variant is not affected${facts.variants[0] ? ` (${listed(facts.variants.map(({ name }) => name))})` : ''}`,
      };
    if (share < 1 - 1e-9)
      unknown(
        'variant',
        share,
        wanted.map(({ name, howToTell }) => (howToTell ? `${name}: ${howToTell}` : name)).join('; '),
      );
  }
  if (rule.models !== undefined) {
    if (facts.model === null) unknown('model', UNKNOWN_WEIGHT, `only in ${listed(rule.models)}`);
    else if (!rule.models.some((model) => facts.model!.toLowerCase().includes(model.toLowerCase()))) {
      return { applies: 'no', weight: 0, because: `only in ${listed(rule.models)}` };
    }
  }
  if (rule.markets !== undefined) {
    if (facts.market === null) unknown('market', UNKNOWN_WEIGHT, `only in vehicles sold in ${listed(rule.markets)}`);
    else if (!rule.markets.includes(facts.market))
      return { applies: 'no', weight: 0, because: `only in vehicles sold in ${listed(rule.markets)}` };
  }
  const from = rule.producedFromDay ?? -Infinity;
  const to = rule.producedToDay ?? Infinity;
  if (from > -Infinity || to < Infinity) {
    if (facts.producedDay === null) unknown('produced', UNKNOWN_WEIGHT, 'the year of first registration');
    else {
      const [first, last] = [facts.producedDay - facts.producedSlackDays, facts.producedDay + facts.producedSlackDays];
      const share = (Math.min(to, last) - Math.max(from, first) + 1) / (last - first + 1);
      if (share <= 0)
        return {
          applies: 'no',
          weight: 0,
          because:
            facts.producedDay > to ? 'made after the fault was mended in production' : 'made before the fault came in',
        };
      if (share < 1) unknown('produced', share, 'the exact build date');
    }
  }
  if (rule.serialFrom !== undefined || rule.serialTo !== undefined) {
    const [first, last] = [rule.serialFrom ?? -Infinity, rule.serialTo ?? Infinity];
    if ((facts.serial ?? null) === null) unknown('serial', UNKNOWN_WEIGHT, 'the engine serial number');
    else if (facts.serial! < first || facts.serial! > last)
      return {
        applies: 'no',
        weight: 0,
        because:
          facts.serial! > last
            ? 'a later engine serial than those affected'
            : 'an earlier engine serial than those affected',
      };
  }
  for (const [feature, wanted] of Object.entries(rule.features ?? {})) {
    const has = facts.features[feature];
    const known = facts.knownFeatures?.find(({ key }) => key === feature);
    const name = known?.name ?? feature;
    if (has === undefined) {
      const share = known?.share ?? UNKNOWN_WEIGHT;
      unknown(
        `feature:${feature}`,
        wanted ? share : 1 - share,
        `whether it has ${name}${known?.howToTell ? ` (${known.howToTell})` : ''}`,
      );
    } else if (has !== wanted)
      return { applies: 'no', weight: 0, because: wanted ? `only with ${name}` : `not with ${name}` };
  }
  return settle.length === 0
    ? { applies: 'yes', weight: 1 }
    : { applies: 'maybe', weight, settle: settle.join('; '), open };
}
