import { labourCost } from './labour.ts';

/** Costs of failures by consequence, and of an hour of labour; any one money. */
export interface CostPolicy<Consequence extends string> {
  readonly failureCost: Readonly<Record<Consequence, number>>;
  readonly labourCostPerHour: number;
}

/**
 * Cost of a failure beyond the renewal: the weak point's own figure, else the shop's figure for its
 * consequence.
 */
export const failureCost = <Consequence extends string>(
  {
    failure,
    consequence,
  }: {
    readonly failure: { readonly parts: number; readonly minutes: number } | null;
    readonly consequence: Consequence;
  },
  policy: CostPolicy<Consequence>,
): number =>
  failure === null
    ? policy.failureCost[consequence]
    : failure.parts + labourCost(failure.minutes, policy.labourCostPerHour);

/** Price of a part, and the one that is usual for its class; null where nobody tells it. */
export interface PriceFact {
  readonly partPrice: number | null;
  readonly usualPrice?: number | null | undefined;
}

/** The price that a part is counted at: its own, else the usual one of its class, else nothing. */
export const countedPrice = ({ partPrice, usualPrice }: PriceFact): number => partPrice ?? usualPrice ?? 0;

/** Cost of a planned renewal: its labour, and its part. */
export const renewalCost = (
  { renewMinutes, ...price }: PriceFact & { readonly renewMinutes: number },
  { labourCostPerHour }: { readonly labourCostPerHour: number },
): number => labourCost(renewMinutes, labourCostPerHour) + countedPrice(price);

/** Days for which an owner is taken to keep a vehicle where nobody says. A view of the trade. */
export const KEPT_DAYS = 5 * 365.25;
