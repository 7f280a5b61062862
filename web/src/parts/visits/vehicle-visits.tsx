import type { Sending } from '../../api/sending.ts';
import { call } from '../../api/client.ts';
import { endpoints, type Settings, type AnswerRow, type Visit } from '@crosspeen/contract';
import { minutesText, labourCost } from '@crosspeen/core';
import type { VehicleOutlook } from '../../api/answer.ts';
import { lazy, Suspense, useState, type ReactNode } from 'react';
import { useChange } from '../../api/changing.tsx';
import { Button } from '../../ui/button.tsx';
import { Notice, Waiting } from '../../ui/notice.tsx';
import { aboutMoneyText, distanceText, isoText } from '../../ui/units.ts';
import { allWork } from '../job/all-work.ts';
import DoneDialog from './done-dialog.tsx';
import { Teardown } from './teardown.tsx';

const Planner = lazy(() => import('../../editors/planner/view/planner.tsx'));

/** The jobs of a visit, one line each. */
export const JobList = ({ jobs, tasks }: Pick<Visit, 'jobs' | 'tasks'>): ReactNode => (
  <ul>
    {jobs.map((job) => (
      <li key={job.weakPointId}>
        <strong>{job.action === 'renew' ? 'Renew' : 'Look'}:</strong> {job.title}{' '}
        <span className="text-soft">
          {job.component}
          {job.action === 'renew' && job.partNumber ? `, ${job.partNumber}` : ''}
        </span>
      </li>
    ))}
    {tasks.map((task) => (
      <li key={task.taskId}>
        <strong>Upkeep:</strong> {task.title}
      </li>
    ))}
  </ul>
);

function PlannedVisit({
  visit,
  unit,
  settings,
  apart,
  workOn,
  setFinishing,
  onChange,
  callOff,
}: {
  visit: Visit;
  unit: 'km' | 'mi' | 'h';
  settings: Settings;
  apart: number;
  workOn: (visit: Visit) => AnswerRow['work'];
  setFinishing: (visit: Visit) => void;
  onChange: (visit: Visit) => void;
  callOff: Pick<Sending<Visit>, 'mutate' | 'isPending'>;
}): ReactNode {
  return (
    <li className="flex flex-wrap items-start justify-between gap-4 rounded-md border border-rule bg-sheet px-4 py-3">
      <div>
        <h2 className="text-2xl">
          {isoText(visit.day)}{' '}
          <span className="font-medium text-soft">at about {distanceText(visit.km, unit, 100)}</span>
        </h2>
        {visit.note && <p className="text-soft">{visit.note}</p>}
        <JobList jobs={visit.jobs} tasks={visit.tasks} />
        <p className="figure mt-1 text-lg">
          {minutesText(visit.minutes)} labour,{' '}
          {aboutMoneyText(labourCost(visit.minutes, settings.labourRateMinor), settings)} before tax and parts
          {apart > visit.minutes && <span className="text-soft">; {minutesText(apart)} if each came by itself</span>}.
        </p>
        {visit.steps.length > 0 && (
          <details className="mt-1">
            <summary className="min-h-11 cursor-pointer py-2 font-semibold">How it comes apart</summary>
            <Teardown
              steps={visit.steps}
              jobs={[...visit.jobs, ...visit.tasks].map(({ title }) => title)}
              work={workOn(visit)}
            />
          </details>
        )}
      </div>
      <div className="flex flex-wrap gap-2">
        <Button look="main" onClick={() => setFinishing(visit)}>
          It is done
        </Button>
        <Button onClick={() => onChange(visit)}>Change</Button>
        <Button look="quiet" disabled={callOff.isPending} onClick={() => callOff.mutate(visit)}>
          Cancel the visit
        </Button>
      </div>
    </li>
  );
}

/** One vehicle's visits: those planned, with what can be done about them, and those done. */
export function VisitsView({
  data,
  settings,
  onPlan,
  onChange,
}: {
  data: VehicleOutlook;
  settings: Settings;
  onPlan: () => void;
  onChange: (visit: Visit) => void;
}): ReactNode {
  const [finishing, setFinishing] = useState<Visit | null>(null);
  const callOff = useChange((visit: Visit, key) =>
    call(endpoints.visits.callOff, { params: { id: visit.id }, body: { version: visit.version }, key }),
  );
  const unit = data.vehicle.odometerUnit;
  const workOn = ({ jobs }: Visit) =>
    allWork(
      jobs
        .filter(({ action }) => action === 'renew')
        .map(({ weakPointId }) => data.answer.rows.find((row) => row.weakPointId === weakPointId)?.work ?? null),
    );
  const planned = data.visits.filter(({ state }) => state === 'planned').sort((a, b) => a.day.localeCompare(b.day));
  const done = data.visits.filter(({ state }) => state === 'done');
  return (
    <div className="grid gap-6">
      {callOff.error && <Notice role="alert">{callOff.error.message}</Notice>}
      {planned.length === 0 && (
        <div className="flex flex-wrap items-end gap-x-4 gap-y-2">
          <div className="min-w-0 flex-1 basis-80">
            <h2 className="text-2xl">No visit is planned</h2>
            <p className="text-soft">
              Take what is proposed below, or choose the work yourself; the visit then stands on the strip and in the
              week.
            </p>
          </div>
          <Button shortcut="v" onClick={onPlan}>
            Choose the work
          </Button>
        </div>
      )}
      <ul className="grid gap-3">
        {planned.map((visit) => {
          const apart = [...visit.jobs, ...visit.tasks].reduce((sum, work) => sum + work.minutes, 0);
          return (
            <PlannedVisit
              key={visit.id}
              visit={visit}
              unit={unit}
              settings={settings}
              apart={apart}
              workOn={workOn}
              setFinishing={setFinishing}
              onChange={onChange}
              callOff={callOff}
            />
          );
        })}
      </ul>
      <Suspense fallback={<Waiting what="the planner" />}>
        <Planner data={data} settings={settings} />
      </Suspense>
      {done.length > 0 && (
        <section>
          <h2 className="mb-2 text-2xl">Done</h2>
          <ul className="divide-y divide-rule rounded-md border border-rule bg-sheet">
            {done.map((visit) => (
              <li key={visit.id} className="grid gap-x-6 px-4 py-3 sm:grid-cols-[14rem_1fr]">
                <span className="figure text-lg font-semibold">
                  {isoText(visit.doneDay!)}
                  <span className="block font-medium text-soft">{distanceText(visit.doneKm!, unit)}</span>
                </span>
                <JobList jobs={visit.jobs} tasks={visit.tasks} />
              </li>
            ))}
          </ul>
        </section>
      )}
      {finishing && (
        <DoneDialog
          visit={finishing}
          unit={unit}
          today={data.answer.today}
          expectedKm={data.answer.now.km}
          onClose={() => setFinishing(null)}
        />
      )}
    </div>
  );
}
