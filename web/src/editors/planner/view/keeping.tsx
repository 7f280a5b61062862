import { USUAL_PLANNING, type Settings, type VehiclePlanning } from '@crosspeen/contract';
import type { Keeping, Pins } from '@crosspeen/core';
import { lazy, memo, Suspense, useCallback, useMemo, type ReactNode } from 'react';
import type { VehicleOutlook } from '../../../api/answer.ts';
import { Button } from '../../../ui/button.tsx';
import type { ChartOption } from '../../../ui/chart.tsx';
import { Notice, Waiting } from '../../../ui/notice.tsx';
import { Scroller } from '../../../ui/scroller.tsx';
import { aboutMoneyText, percentText } from '../../../ui/units.ts';
import { KEEPING_MONTHS, plannerAsked, thingsOf, type Thing } from '../work/ground.ts';
import { keepingOf, OTHER_PER_YEAR, withAndWithout } from '../work/keeping-model.ts';
import type { PlannerAsk } from '../work/planner.worker.ts';
import { useYears, type YearsAhead } from '../work/use-planner.ts';

const Chart = lazy(() => import('../../../ui/chart.tsx'));

/** The dearest things of a plan, which are shown as done and as left. */
const DEAREST = 2;

/** Keep it until when, with both costs. */
function KeepingAnswer({
  planning,
  keeping,
  money,
  other,
  option,
  ahead,
  thingOf,
}: {
  planning: VehiclePlanning;
  keeping: Keeping;
  money: (amount: number) => string;
  other: number;
  option: (ink: { ink: string; soft: string; rule: string; accent: string }) => ChartOption;
  ahead: YearsAhead;
  thingOf: (key: string) => Thing;
}): ReactNode {
  return (
    <>
      <p className="text-lg">
        {planning.worthMinor === null ? (
          <>
            No value entered: only the work counts. <strong>{verdictWords(keeping, money, other)}</strong>
          </>
        ) : (
          <strong>{verdictWords(keeping, money, other)}</strong>
        )}
      </p>
      <Suspense fallback={<Waiting what="the chart" />}>
        <Chart
          option={option}
          label="What each year costs: worth lost, visits, failures expected; the dashed line is what another vehicle would cost"
        />
      </Suspense>
      <YearsTable keeping={keeping} money={money} />
      <ul className="grid gap-1">
        {withAndWithout(ahead).map(({ key, with: done, without }) =>
          without === null || money(without) === money(done) ? null : (
            <li key={key}>
              <strong>{thingOf(key).title}:</strong> the five years cost {money(done)} as planned, {money(without)} if
              it is left until it fails
              {without < done ? '; the new one lasts beyond them' : ''}.
            </li>
          ),
        )}
      </ul>
      <p className="text-soft">
        It loses {percentText(planning.lossPerYear)} of its worth a year; another vehicle{' '}
        {planning.otherPerYearMinor === null ? 'is taken to cost' : 'costs'} {money(other)} a year. Money before tax.
      </p>
    </>
  );
}

/** Whether to keep a vehicle: what each year ahead costs with its spread, against what another would. */
export const KeepOrLetGo = memo(function KeepOrLetGo({
  data,
  settings,
  pins,
  onSay,
}: {
  data: VehicleOutlook;
  settings: Settings;
  pins: Pins;
  onSay: () => void;
}): ReactNode {
  const { answer, vehicle, visits } = data;
  const planning = vehicle.planning ?? USUAL_PLANNING;
  // What is kept for so long is not given away on the way: the question is when.
  const asked = useMemo(
    () =>
      plannerAsked({ answer, visits, vehicle: { ...vehicle, planning: { ...planning, keepUntil: null } } }, settings, {
        months: KEEPING_MONTHS,
      }),
    [answer, visits, vehicle, planning, settings],
  );
  const ask = useMemo((): PlannerAsk | null => {
    if (asked === null) return null;
    const price = ({ aloneMinutes, money }: (typeof asked.ground.items)[number]): number =>
      asked.terms.labourPerMinute * aloneMinutes + (money.kind === 'renew' ? money.parts : 0);
    const dearest = asked.ground.items
      .filter(({ key, money }) => money.kind === 'renew' && !pins.has(key))
      .sort((a, b) => price(b) - price(a))
      .slice(0, DEAREST);
    return { kind: 'years', pins, without: dearest.map(({ key }) => key) };
  }, [asked, pins]);
  const { is: ahead, problem } = useYears(asked, ask);
  const keeping = useMemo(() => (ahead?.years == null ? null : keepingOf(ahead.years, planning)), [ahead, planning]);
  const other = planning.otherPerYearMinor ?? OTHER_PER_YEAR;
  const money = (amount: number): string => aboutMoneyText(amount, settings);
  const option = useCallback(
    (ink: { ink: string; soft: string; rule: string; accent: string }): ChartOption => ({
      grid: { left: 70, right: 20, top: 16, bottom: 30 },
      xAxis: {
        type: 'category',
        data: (keeping?.years ?? []).map((_, year) => `Year ${year + 1}`),
        axisLabel: { color: ink.soft },
        axisLine: { lineStyle: { color: ink.rule } },
      },
      yAxis: {
        type: 'value',
        min: 0,
        axisLabel: { color: ink.soft, formatter: (value: number) => aboutMoneyText(value, settings) },
        splitLine: { lineStyle: { color: ink.rule } },
      },
      series: [
        { part: 'worthLost', colour: ink.rule },
        { part: 'visits', colour: ink.accent },
        { part: 'failures', colour: ink.soft },
      ].map(({ part, colour }, i) => ({
        type: 'bar' as const,
        stack: 'year',
        barMaxWidth: 70,
        data: (keeping?.years ?? []).map((year) => Math.round(year[part as 'worthLost' | 'visits' | 'failures'])),
        itemStyle: { color: colour },
        ...(i === 0
          ? {
              markLine: {
                symbol: 'none',
                label: { show: false },
                lineStyle: { color: ink.ink, width: 2, type: 'dashed' as const },
                data: [{ yAxis: other }],
              },
            }
          : {}),
      })),
    }),
    [keeping, other, settings],
  );
  if (asked === null) return null;
  const thingOf = thingsOf({ answer });
  return (
    <section aria-label="Keep it or let it go" className="grid grid-cols-1 gap-3">
      <header className="flex flex-wrap items-end justify-between gap-3">
        <h2 className="text-2xl">Keep it or let it go</h2>
        <Button onClick={onSay}>What it is worth</Button>
      </header>
      {keeping === null || ahead === null ? (
        <Unready isImpossible={ahead !== null && ahead.years === null} problem={problem} />
      ) : (
        <KeepingAnswer
          planning={planning}
          keeping={keeping}
          money={money}
          other={other}
          option={option}
          ahead={ahead}
          thingOf={thingOf}
        />
      )}
    </section>
  );
});

/** What stands there while there are no years to show. */
function Unready({ isImpossible, problem }: { isImpossible: boolean; problem: string | null }): ReactNode {
  if (problem !== null) return <Notice role="alert">The planner has stopped: {problem}. Load the page anew.</Notice>;
  if (isImpossible) return <p>Something that is due fits on no visit: change what to plan by first.</p>;
  return <Waiting what="the years ahead" />;
}

/** What each year costs, in figures. */
function YearsTable({ keeping, money }: { keeping: Keeping; money: (amount: number) => string }): ReactNode {
  return (
    <Scroller label="What each year costs">
      <table className="w-full whitespace-nowrap text-right [&_td]:px-3 [&_th]:px-3">
        <caption className="sr-only">What each year costs</caption>
        <thead>
          <tr className="text-sm text-soft">
            <th scope="col" className="py-1 text-left font-semibold">
              Year
            </th>
            <th scope="col" className="font-semibold">
              <Swatch look="bg-rule" />
              Loss in value
            </th>
            <th scope="col" className="font-semibold">
              <Swatch look="bg-accent" />
              Visits
            </th>
            <th scope="col" className="font-semibold">
              <Swatch look="bg-soft" />
              Failures expected
            </th>
            <th scope="col" className="font-semibold">
              This year
            </th>
            <th scope="col" className="font-semibold">
              Likely range (9 in 10)
            </th>
            <th scope="col" className="font-semibold">
              A year, kept until then
            </th>
          </tr>
        </thead>
        <tbody>
          {keeping.years.map((year, i) => (
            <tr key={i} className={`figure border-t border-rule ${keeping.letGo === i ? 'font-semibold' : ''}`}>
              <th scope="row" className="py-1.5 text-left font-semibold">
                {i + 1}
              </th>
              <td>{money(year.worthLost)}</td>
              <td>{money(year.visits)}</td>
              <td>{money(year.failures)}</td>
              <td className="font-semibold">{money(year.own)}</td>
              <td className="whitespace-nowrap pl-3">
                {money(year.ownLow)} to {money(year.ownHigh)}
              </td>
              <td>{money(year.average)}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </Scroller>
  );
}

const Swatch = ({ look }: { look: string }): ReactNode => (
  <span aria-hidden className={`mr-1 inline-block size-3 rounded-sm ${look}`} />
);

/** What it comes to, in one sentence. */
function verdictWords({ years, letGo }: Keeping, money: (amount: number) => string, other: number): string {
  if (letGo === null)
    return `Keep it: none of the next ${years.length} years costs more than the ${money(other)} that another would.`;
  const { own } = years[letGo]!;
  return letGo === 0
    ? `Letting it go is cheaper now: the coming year costs ${money(own)}, another vehicle ${money(other)}.`
    : `Keep it for ${letGo === 1 ? 'a year' : `${letGo} years`}: year ${letGo + 1} costs ${money(own)}, more than the ${money(other)} that another would.`;
}
