import type { Forecast, ItemForecast } from '../forecast/forecast.ts';
import { PLAN_MONTH_DAYS } from './item-costs.ts';
import type { ProposalGround, ProposalItem } from './proposal.ts';
import type { ProposalTerms } from './terms.ts';

export const NOW = 20_000;
/** Every thirty days for sixteen years. */
export const ahead: readonly number[] = Array.from({ length: 196 }, (_, i) => i * 30);

/** A part of a Weibull life in days, so many days old, and its successors. */
export function wears(
  weakPointId: string,
  { scale, shape, age }: { scale: number; shape: number; age: number },
): ItemForecast {
  const hazard = (days: number): number => (days / scale) ** shape;
  const failed = ahead.map((days) => -Math.expm1(hazard(age) - hazard(age + days)));
  return { weakPointId, failed, renewed: ahead.map((days) => -Math.expm1(-hazard(days))), chance: failed };
}

export const forecastOf = (...items: ItemForecast[]): Forecast => ({ nowDay: NOW, serviceDays: 365, ahead, items });

/** Time that runs down from 1 to 0 in so many asks. */
export const left = (most: number): (() => number) => {
  let asked = 0;
  return () => {
    asked += 1;
    return 1 - asked / most;
  };
};

export const terms: ProposalTerms = {
  months: 36,
  keptMonths: null,
  visitCost: 50,
  labourPerMinute: 1.5,
  capacity: null,
  budget: null,
  yearBudget: null,
  coolingBeforeSummer: false,
  events: [],
  notBeforeDay: null,
};

export const life = { scale: 4000, shape: 4, age: 2300 };

export const span = { months: 36, keptMonths: null };

export const operations: ProposalGround['operations'] = new Map([
  ['cover', { minutes: 60, needs: [] }],
  ['belt', { minutes: 40, needs: ['cover'] }],
  ['pump', { minutes: 30, needs: ['cover'] }],
  ['seal', { minutes: 25, needs: [] }],
]);

export const item = (
  key: string,
  more: Partial<ProposalItem> & Pick<ProposalItem, 'money' | 'aloneMinutes'>,
): ProposalItem => ({
  key,
  operations: [],
  ownMinutes: 0,
  dueDay: null,
  notBeforeDay: null,
  before: null,
  goesWith: null,
  isOnlyByHand: false,
  isCooling: false,
  isInspected: false,
  ...more,
});

export const belt = wears('belt', life);

export const pump = wears('pump', { ...life, age: 2000 });

export const seal = wears('seal', { scale: 40_000, shape: 3, age: 10 });

export const ground = (): ProposalGround => ({
  forecast: forecastOf(belt, pump, seal),
  operations,
  items: [
    item('belt', {
      operations: ['belt'],
      aloneMinutes: 100,
      money: { kind: 'renew', forecast: belt, parts: 120, failure: 2400, canLeave: false },
    }),
    item('pump', {
      operations: ['pump'],
      aloneMinutes: 90,
      money: { kind: 'renew', forecast: pump, parts: 90, failure: 900, canLeave: false },
    }),
    item('seal', {
      operations: ['seal'],
      aloneMinutes: 25,
      money: { kind: 'renew', forecast: seal, parts: 30, failure: 200, canLeave: false },
    }),
    item('oil', {
      ownMinutes: 35,
      aloneMinutes: 35,
      dueDay: NOW + 100,
      money: { kind: 'task', dueMonth: 100 / PLAN_MONTH_DAYS, everyMonths: null, protects: [] },
    }),
  ],
});

export const changed = (of: ProposalGround, key: string, more: Partial<ProposalItem>): ProposalGround => ({
  ...of,
  items: of.items.map((one) => (one.key === key ? { ...one, ...more } : one)),
});
