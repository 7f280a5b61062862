import { labourCost } from './labour.ts';

/** What costs are reckoned on: a failure by what it comes to, and an hour of labour; any one money. */
export interface CostPolicy<Consequence extends string> {
  readonly failureCost: Readonly<Record<Consequence, number>>;
  readonly labourCostPerHour: number;
}

/** What a failure costs beyond the renewal: as told of the weak point, else the shop's figure for its consequence. */
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

/** What a planned renewal costs: its labour and the part, as far as its price is known. */
export const renewalCost = (
  { renewMinutes, partPrice }: { readonly renewMinutes: number; readonly partPrice: number | null },
  { labourCostPerHour }: { readonly labourCostPerHour: number },
): number => labourCost(renewMinutes, labourCostPerHour) + (partPrice ?? 0);
