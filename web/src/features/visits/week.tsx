import { vehiclePath } from '../../ui/paths.ts';
import { addressOf, endpoints, type ComingVisit } from '@crosspeen/contract';
import { minutesText, dayFromIso } from '@crosspeen/core';
import { useQuery } from '@tanstack/react-query';
import type { ReactNode } from 'react';
import { Link } from 'react-router';
import { read } from '../../api/queries.ts';
import { Empty } from '../../ui/notice.tsx';
import { PagedView, usePagedList } from '../../ui/paged-list.tsx';
import { distanceText, isoText, todayDistance } from '../../ui/units.ts';
import { WeekLoadView } from '../../parts/visits/week-load.tsx';
import { JobList } from '../../parts/visits/vehicle-visits.tsx';
import { byWeek } from './weeks.ts';

function ComingVisitItem({ visit, today }: { visit: ComingVisit; today: number }): ReactNode {
  return (
    <li>
      <Link
        to={vehiclePath(visit.vehicleId, 'visits')}
        className="grid gap-x-6 gap-y-1 px-4 py-3 hover:bg-well md:grid-cols-[13rem_15rem_1fr]"
      >
        <span className="figure text-xl font-semibold">
          {isoText(visit.day)}
          <span className="block text-base font-medium text-soft">
            {dayFromIso(visit.day)! < today ? 'overdue, ' : ''}
            {todayDistance(dayFromIso(visit.day)! - today)}
          </span>
        </span>
        <span>
          <span className="figure text-xl font-semibold">{visit.plate ?? visit.name}</span>
          <span className="block text-soft">
            {visit.maker} {visit.model}, about {distanceText(visit.km, visit.odometerUnit, 100)}
          </span>
        </span>
        <span>
          <JobList jobs={visit.jobs} tasks={visit.tasks} />
          {visit.note && <span className="text-soft">{visit.note}</span>}
        </span>
      </Link>
    </li>
  );
}

/** The coming visits of all vehicles, week by week. */
export default function WeekPage(): ReactNode {
  const of = usePagedList(({ page }) => read.coming(page));
  const settings = useQuery(read.settings()).data;
  const session = useQuery(read.session()).data;
  const today = dayFromIso(session?.today ?? '1970-01-01')!;
  return (
    <>
      <h1 className="mb-3 text-3xl">Coming visits</h1>
      <WeekLoadView />
      {settings && (
        <PagedView
          of={of}
          what="visits"
          csv={addressOf(endpoints.lists.visits, {})}
          empty={
            <Empty
              title="No visit is planned"
              action={
                <Link
                  className="inline-flex min-h-11 items-center rounded-md bg-accent px-4 font-semibold text-accent-ink"
                  to="/vehicles"
                >
                  See what is pressing
                </Link>
              }
            >
              Visits planned on any vehicle will stand here, week by week.
            </Empty>
          }
        >
          {(rows) =>
            [...byWeek(rows, settings.firstWeekday)].map(([week, visits]) => (
              <section key={week} className="mb-6">
                <h2 className="mb-2 text-2xl">
                  Week of {isoText(new Date(week * 86_400_000).toISOString().slice(0, 10))}{' '}
                  <span className="font-medium text-soft">
                    {visits.length} {visits.length === 1 ? 'visit' : 'visits'},{' '}
                    {minutesText(visits.reduce((sum, visit) => sum + visit.minutes, 0))} labour
                  </span>
                </h2>
                <ul className="divide-y divide-rule rounded-md border border-rule bg-sheet">
                  {visits.map((visit) => (
                    <ComingVisitItem key={visit.id} visit={visit} today={today} />
                  ))}
                </ul>
              </section>
            ))
          }
        </PagedView>
      )}
    </>
  );
}
