import { answerRows, type SettingsValues, type VehicleOutlook } from '@crosspeen/contract';
import { policyOf } from '@crosspeen/server';
import { signedIn, type ApiBench } from './api.ts';
import { PLAN_FAULTS, planFaults, type PlanFault } from './plan-faults.ts';

const MONTHS = 36;
const PAGE = 100;

/** Plans every vehicle on file, prints what of the plans nobody would sign, and returns how many faults there were. */
export async function plansBench(options: ApiBench): Promise<number> {
  const { address, say } = options;
  const faults = new Map<PlanFault, string[]>(PLAN_FAULTS.map((fault) => [fault, []]));
  let [vehicles, visits] = [0, 0];
  await signedIn(options, async ({ headers }) => {
    const get = async <T>(path: string): Promise<T> =>
      (await (await fetch(`${address}${path}`, { headers })).json()) as T;
    const settings = await get<SettingsValues>('/api/settings');
    const policy = policyOf(settings);
    for (let at = 1; ; at += 1) {
      const page: { rows: { id: string; plate: string }[] } = await get(`/api/vehicles?pageSize=${PAGE}&page=${at}`);
      if (page.rows.length === 0) break;
      for (const { id, plate } of page.rows) {
        const { answer } = await get<VehicleOutlook>(`/api/vehicles/${id}/outlook?drawn=yes`);
        if (answer.drawing === null) continue;
        vehicles += 1;
        const found = planFaults(
          {
            parts: answerRows(answer),
            forecast: answer.drawing.forecast,
            operations: new Map(answer.operations.map((operation) => [operation.key, operation])),
            tasks: answer.upkeep,
            rateKmPerDay: answer.usage.rateKmPerDay,
          },
          policy,
          { months: MONTHS, isBought: false, visitOwnerCost: settings.visitOwnerMinor },
        );
        visits += found.visits;
        for (const [fault, what] of found.faults) faults.get(fault)!.push(`${plate}: ${what}`);
      }
    }
  });
  say(`${vehicles} vehicles, ${MONTHS} months ahead: ${visits} visits`);
  for (const [fault, found] of faults)
    say(`${fault.padEnd(34)} ${found.length}${found.length === 0 ? '' : `, such as ${found.slice(0, 3).join('; ')}`}`);
  return [...faults.values()].reduce((sum, found) => sum + found.length, 0);
}
