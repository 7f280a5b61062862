import type { Settings, WeekLoads } from '@crosspeen/contract';
import { minutesText, dayFromIso, firstDayOfWeek } from '@crosspeen/core';
import { useQuery } from '@tanstack/react-query';
import type { ReactNode } from 'react';
import { read } from '../../api/queries.ts';
import { Scroller } from '../../ui/scroller.tsx';
import { isoText } from '../../ui/units.ts';

type Week = WeekLoads['weeks'][number];

/** Hours are enough to see whether a week has room. */
const hours = (minutes: number): string => minutesText(Math.round(minutes / 15) * 15);

function Bar({ week, capacity, most }: { week: Week; capacity: number; most: number }): ReactNode {
  const part = (minutes: number): string => `${Math.min(100, (minutes / most) * 100)}%`;
  return (
    <span aria-hidden className="relative block h-4 overflow-hidden rounded-sm bg-well">
      <span className="absolute inset-y-0 left-0 bg-accent" style={{ width: part(week.planned) }} />
      <span
        className="absolute inset-y-0 bg-accent opacity-30"
        style={{ left: part(week.planned), width: part(week.due) }}
      />
      <span className="absolute inset-y-0 border-l-2 border-ink" style={{ left: part(capacity) }} />
    </span>
  );
}

function WeekRow({ week, capacity, most }: { week: Week; capacity: number; most: number }): ReactNode {
  return (
    <tr className="border-t border-rule">
      <th scope="row" className="figure whitespace-nowrap py-0.5 text-left font-semibold">
        {isoText(week.from)}
      </th>
      <td className="max-sm:hidden">
        <Bar week={week} capacity={capacity} most={most} />
      </td>
      <td className="figure whitespace-nowrap text-right">
        {week.visits === 0 ? '–' : `${hours(week.planned)} on ${week.visits}`}
      </td>
      <td className="figure whitespace-nowrap text-right text-soft">
        {week.dueVehicles === 0 ? '–' : `${hours(week.due)} on ${week.dueVehicles}`}
      </td>
      <td className="figure whitespace-nowrap text-right font-semibold">
        {capacity - week.planned < 0 ? `${hours(week.planned - capacity)} over` : hours(capacity - week.planned)}
      </td>
    </tr>
  );
}

/** How much work the coming weeks hold, planned and, paler, falling due, against what the bays can do. */
export function WeekLoadView(): ReactNode {
  const loads = useQuery(read.weeks()).data;
  if (loads === undefined) return null;
  const { weeks, capacity, overdue } = loads;
  const most = Math.max(capacity * 1.1, ...weeks.map(({ planned, due }) => planned + due));
  return (
    <section aria-label="Load of the coming weeks" className="mb-6">
      <h2 className="mb-1 text-2xl">The next twelve weeks</h2>
      <p className="mb-2 text-soft">
        Solid: planned. Pale: falls due then, on vehicles that no visit is planned for. The line: {hours(capacity)} a
        week that the bays can do.
        {overdue.vehicles > 0 &&
          ` Due already, and on no visit: ${overdue.vehicles} ${overdue.vehicles === 1 ? 'vehicle' : 'vehicles'}, ${hours(overdue.minutes)}.`}
      </p>
      <Scroller label="Hours of work by week">
        <table className="w-full [&_td]:px-3 [&_th]:px-3">
          <caption className="sr-only">Hours of work by week</caption>
          <thead>
            <tr className="text-left text-sm text-soft">
              <th scope="col" className="font-semibold">
                Week of
              </th>
              <th scope="col" className="w-1/2 font-semibold max-sm:hidden">
                <span className="sr-only">Picture</span>
              </th>
              <th scope="col" className="text-right font-semibold">
                Planned
              </th>
              <th scope="col" className="text-right font-semibold">
                Falls due
              </th>
              <th scope="col" className="text-right font-semibold">
                Room left
              </th>
            </tr>
          </thead>
          <tbody>
            {weeks.map((week) => (
              <WeekRow key={week.from} week={week} capacity={capacity} most={most} />
            ))}
          </tbody>
        </table>
      </Scroller>
    </section>
  );
}

/** What room the week of a day has beside this visit; nothing further ahead than weeks are looked at. */
export function WeekRoom({
  day,
  before,
  minutes,
  settings,
}: {
  day: string;
  /** The visit as it stands now, so that it is not counted twice; null for a new one. */
  before: { readonly day: string; readonly minutes: number } | null;
  minutes: number;
  settings: Settings;
}): ReactNode {
  const loads = useQuery(read.weeks()).data;
  const weekOf = (iso: string): number => firstDayOfWeek(dayFromIso(iso)!, settings.firstWeekday);
  const week = loads?.weeks.find(({ from }) => dayFromIso(from) === weekOf(day));
  if (loads === undefined || week === undefined) return null;
  const others = week.planned - (before !== null && weekOf(before.day) === weekOf(day) ? before.minutes : 0);
  const left = loads.capacity - others - minutes;
  return (
    <div role="status" className="grid items-center gap-x-3 gap-y-1 sm:grid-cols-[minmax(0,1fr)_10rem]">
      <span>
        The week of {isoText(week.from)} has {hours(others)} of {hours(loads.capacity)} planned without this visit;{' '}
        <strong>{left < 0 ? `with it ${hours(-left)} too much` : `${hours(left)} left with it`}</strong>.
      </span>
      <Bar
        week={{ ...week, planned: others, due: minutes }}
        capacity={loads.capacity}
        most={Math.max(loads.capacity * 1.1, others + minutes)}
      />
    </div>
  );
}
