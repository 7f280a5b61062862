import type { Answer } from '../../api/answer.ts';
import { call } from '../../api/client.ts';
import {
  type AnswerRow,
  endpoints,
  type Vehicle,
  type Settings,
  type Visit,
  type WireUpkeep,
} from '@crosspeen/contract';
import type { VehicleOutlook } from '../../api/answer.ts';
import { isoFromDay } from '@crosspeen/core';
import { useQuery } from '@tanstack/react-query';
import { type SetStateAction, type Dispatch, useMemo, useState, type ReactNode } from 'react';
import { useParams, useSearchParams } from 'react-router';
import { useChange } from '../../api/changing.tsx';
import { read } from '../../api/queries.ts';
import { Button } from '../../ui/button.tsx';
import { Empty, Notice, Waiting } from '../../ui/notice.tsx';
import { distanceText, isoText } from '../../ui/units.ts';
import AnswerView from '../../parts/answer/answer-view.tsx';
import { useKeys } from '../../parts/keys.ts';
import { Held } from '../../parts/held.tsx';
import { VehicleTabs } from '../../parts/vehicle/vehicle-tabs.tsx';
import VisitDialog from '../../parts/visits/visit-dialog.tsx';
import { VisitsView } from '../../parts/visits/vehicle-visits.tsx';
import { Questions } from '../../parts/answer/questions.tsx';
import DutyDialog from './duty-dialog.tsx';
import EditDialog from './edit-dialog.tsx';
import { ClusterDialog, EngineDialog, FailureDialog } from './event-dialogs.tsx';
import { HistoryView } from './history.tsx';
import ReadingDialog from './reading-dialog.tsx';
import RecordDialog from './record-dialog.tsx';
import SchoolDialog from './school-dialog.tsx';
import UpkeepDialog from './upkeep-dialog.tsx';
import { TaskActions } from '../../parts/upkeep/upkeep-table.tsx';

const VIEWS = { outlook: 'Outlook', visits: 'Visits', history: 'History' } as const;

type Sheet =
  | { kind: 'reading' }
  | { kind: 'edit' }
  | { kind: 'duty' }
  | { kind: 'cluster' }
  | { kind: 'engine' }
  | { kind: 'record'; row: AnswerRow }
  | { kind: 'failure'; row: AnswerRow }
  | { kind: 'school'; row: AnswerRow }
  | { kind: 'upkeep'; task: WireUpkeep }
  | { kind: 'visit'; visit: Visit | null; first: string | null; task?: string };

/** What an address asks to be opened at once: a visit with a weak point on it, or the record of its renewal. */
function sheetAsked(open: string | null, rows: readonly AnswerRow[]): Sheet | null {
  const [kind, id] = (open ?? '').split(':');
  const row = rows.find(({ weakPointId }) => weakPointId === id);
  if (row === undefined) return null;
  if (kind === 'visit') return { kind: 'visit', visit: null, first: row.weakPointId };
  return kind === 'record' ? { kind: 'record', row } : null;
}

/** What can be done about a weak point. */
function RowActions({
  setSheet,
  row,
  looked,
  id,
}: {
  setSheet: Dispatch<SetStateAction<Sheet | null>>;
  row: AnswerRow;
  looked: {
    readonly mutate: (input: { weakPointId: string; result: 'sound' | 'worn' }) => void;
    readonly isPending: boolean;
  };
  id: string;
}): ReactNode {
  return (
    <>
      <Button look="main" onClick={() => setSheet({ kind: 'record', row })}>
        Was it renewed?
      </Button>
      {row.look && (
        <Button onClick={() => looked.mutate({ weakPointId: id, result: 'sound' })} disabled={looked.isPending}>
          Looked today: good
        </Button>
      )}
      {row.look && (
        <Button onClick={() => looked.mutate({ weakPointId: id, result: 'worn' })} disabled={looked.isPending}>
          Looked today: worn
        </Button>
      )}
      <Button onClick={() => setSheet({ kind: 'failure', row })}>It has failed</Button>
      <Button onClick={() => setSheet({ kind: 'visit', visit: null, first: id })}>Put it on a visit</Button>
    </>
  );
}

/** Name, engine and reading of the vehicle, with the actions. */
function VehicleHead({
  vehicle,
  answer,
  unit,
  dashKm,
  used,
  setSheet,
}: {
  vehicle: Vehicle;
  answer: Answer;
  unit: 'km' | 'mi' | 'h';
  dashKm: number;
  used: number;
  setSheet: Dispatch<SetStateAction<Sheet | null>>;
}): ReactNode {
  return (
    <header className="mb-3 flex flex-wrap items-end justify-between gap-3">
      <div className="min-w-0 flex-1 basis-[34rem]">
        <h1 className="text-3xl">
          <span className="rounded border-2 border-ink px-2">{vehicle.plate ?? vehicle.name}</span>{' '}
          <span className="font-medium">
            {vehicle.engine.maker} {vehicle.model}
          </span>
        </h1>
        <p className="mt-1.5">
          <span className="figure text-lg font-semibold">{distanceText(answer.now.km, unit, 100)}</span> today
          (estimated)
          {answer.usage.meterOffsetKm !== 0 && `; meter about ${distanceText(dashKm, unit, 100)}`}; first registered{' '}
          {vehicle.firstRegistered ? isoText(vehicle.firstRegistered) : 'not known'}
          {used > 0 &&
            `; ${used === 1 ? '1 answer about its use counts in' : `${used} answers about its use count in`}`}
          {vehicle.severity !== 1 && `; use x${vehicle.severity}`}.
          {vehicle.note && <span className="text-soft"> {vehicle.note}</span>}
          {vehicle.contact && <span className="text-soft"> Contact: {vehicle.contact}.</span>}
        </p>
      </div>
      <div className="flex flex-wrap gap-2">
        <Button shortcut="r" onClick={() => setSheet({ kind: 'reading' })}>
          Add a reading
        </Button>
        <Button shortcut="v" onClick={() => setSheet({ kind: 'visit', visit: null, first: null })}>
          Plan a visit
        </Button>
        <Button onClick={() => setSheet({ kind: 'duty' })}>How it is used</Button>
        <Button onClick={() => setSheet({ kind: 'edit' })}>Edit</Button>
      </div>
    </header>
  );
}

/** The answer about the vehicle, with what can be done about each row. */
function VehicleAnswer({
  answer,
  unit,
  settings,
  data,
  params,
  setSheet,
  answered,
  rowActions,
  kept,
  moved,
}: {
  answer: Answer;
  unit: 'km' | 'mi' | 'h';
  settings: Settings;
  data: VehicleOutlook;
  params: URLSearchParams;
  setSheet: Dispatch<SetStateAction<Sheet | null>>;
  answered: { readonly mutate: (input: { about: string; answer: string }) => void };
  rowActions: (id: string) => ReactNode;
  kept: { readonly isPending: boolean; readonly mutate: (input: string) => void };
  moved: { readonly mutate: (input: { visit: Visit; day: number }) => void };
}): ReactNode {
  return (
    <AnswerView
      answer={answer}
      unit={unit}
      settings={settings}
      visits={data.visits}
      notches={data.notches}
      source={{ kind: 'vehicle', id: data.vehicle.id }}
      opened={params.get('row')}
      onSchool={(row) => setSheet({ kind: 'school', row })}
      questions={
        <Questions
          questions={data.questions}
          unit={unit}
          today={answer.today}
          onAnswer={(question, said) => answered.mutate({ about: question.about, answer: said })}
          onRecord={(componentKey) =>
            setSheet({ kind: 'record', row: answer.rows.find((row) => row.componentKey === componentKey)! })
          }
        />
      }
      rowActions={rowActions}
      taskActions={(task) => (
        <TaskActions
          task={task}
          busy={kept.isPending}
          onToday={() => kept.mutate(task.taskId)}
          onSay={() => setSheet({ kind: 'upkeep', task })}
        />
      )}
      taskMore={(task) => (
        <Button onClick={() => setSheet({ kind: 'visit', visit: null, first: null, task: task.taskId })}>
          Put it on a visit
        </Button>
      )}
      onMoveVisit={(visit, day) => moved.mutate({ visit, day })}
    />
  );
}

/** Changes made from the page itself, without a sheet. */
function useVehicleChanges(vehicleId: string, today: number) {
  const answered = useChange((body: { about: string; answer: string }, key) =>
    call(endpoints.vehicles.answerQuestion, { params: { id: vehicleId }, body, key }),
  );
  const looked = useChange((finding: { weakPointId: string; result: 'sound' | 'worn' }, key) =>
    call(endpoints.vehicles.addFinding, {
      params: { id: vehicleId },
      body: { ...finding, day: isoFromDay(today), note: null },
      key,
    }),
  );
  const kept = useChange((taskId: string, key) =>
    call(endpoints.vehicles.addUpkeep, {
      params: { id: vehicleId },
      body: { taskId, certainty: 'done', day: isoFromDay(today), km: null, note: null },
      key,
    }),
  );
  const moved = useChange(({ visit, day }: { visit: Visit; day: number }, key) =>
    call(endpoints.visits.update, {
      params: { id: visit.id },
      body: {
        version: visit.version,
        day: isoFromDay(day),
        km: null,
        note: visit.note,
        tasks: visit.tasks.map(({ taskId }) => taskId),
        jobs: visit.jobs.map(({ weakPointId, action, grade, partNumber, revision }) => ({
          weakPointId,
          action,
          grade,
          partNumber,
          revision,
        })),
      },
      key,
    }),
  );
  return { answered, looked, kept, moved };
}

/** The sheet that is open over the page. */
function OpenSheet({
  sheet,
  data,
  settings,
  close,
}: {
  sheet: Sheet;
  data: VehicleOutlook;
  settings: Settings;
  close: () => void;
}): ReactNode {
  const { vehicle, answer } = data;
  const event = { vehicleId: vehicle.id, unit: vehicle.odometerUnit, today: answer.today, onClose: close };
  return (
    <>
      {sheet.kind === 'reading' && <ReadingDialog {...event} expectedKm={answer.now.km - answer.usage.meterOffsetKm} />}
      {sheet.kind === 'edit' && (
        <EditDialog vehicle={vehicle} features={data.features} today={answer.today} onClose={close} />
      )}
      {sheet.kind === 'record' && (
        <RecordDialog {...event} row={sheet.row} parts={data.parts[sheet.row.componentKey] ?? []} />
      )}
      {sheet.kind === 'failure' && (
        <FailureDialog vehicleId={vehicle.id} row={sheet.row} today={answer.today} onClose={close} />
      )}
      {sheet.kind === 'cluster' && <ClusterDialog {...event} />}
      {sheet.kind === 'engine' && <EngineDialog {...event} />}
      {sheet.kind === 'school' && (
        <SchoolDialog vehicleId={vehicle.id} row={sheet.row} choices={data.choices} onClose={close} />
      )}
      {sheet.kind === 'duty' && (
        <DutyDialog vehicle={vehicle} features={data.features} rows={answer.rows} settings={settings} onClose={close} />
      )}
      {sheet.kind === 'upkeep' && <UpkeepDialog {...event} task={sheet.task} />}
      {sheet.kind === 'visit' && (
        <VisitDialog
          data={data}
          visit={sheet.visit}
          first={sheet.first}
          firstTask={sheet.task ?? null}
          onClose={close}
        />
      )}
    </>
  );
}

function Found({ data, view }: { data: VehicleOutlook; view: keyof typeof VIEWS }): ReactNode {
  const settings = useQuery(read.settings()).data;
  const { vehicle, answer } = data;
  const [params, setParams] = useSearchParams();
  const [sheet, setSheet] = useState<Sheet | null>(() => sheetAsked(params.get('open'), answer.rows));
  const unit = vehicle.odometerUnit;
  const { answered, looked, kept, moved } = useVehicleChanges(vehicle.id, answer.today);
  useKeys(
    useMemo(
      () => [
        { key: 'r', label: 'Add a reading', run: () => setSheet({ kind: 'reading' }) },
        { key: 'v', label: 'Plan a visit', run: () => setSheet({ kind: 'visit', visit: null, first: null }) },
      ],
      [],
    ),
  );
  if (!settings) return <Waiting what="the settings" />;
  const close = (): void => {
    setSheet(null);
    // What the address asked for is done with; going back must not ask for it again.
    if (params.has('open')) setParams({}, { replace: true });
  };
  const problem = looked.error ?? moved.error ?? answered.error ?? kept.error;
  const used = Object.values(vehicle.duty).filter((level) => level !== 'no').length;
  const dashKm = answer.now.km - answer.usage.meterOffsetKm;
  const rowActions = (id: string): ReactNode => {
    const row = answer.rows.find(({ weakPointId }) => weakPointId === id)!;
    return <RowActions setSheet={setSheet} row={row} looked={looked} id={id} />;
  };
  return (
    <>
      <VehicleHead vehicle={vehicle} answer={answer} unit={unit} dashKm={dashKm} used={used} setSheet={setSheet} />
      <VehicleTabs id={vehicle.id} planned={data.visits.filter(({ state }) => state === 'planned').length} />
      {view !== 'outlook' && <Held holds={answer.holds} />}
      {problem && (
        <div className="mb-3">
          <Notice role="alert">{problem.message}</Notice>
        </div>
      )}
      {view === 'outlook' && (
        <VehicleAnswer
          answer={answer}
          unit={unit}
          settings={settings}
          data={data}
          params={params}
          setSheet={setSheet}
          answered={answered}
          rowActions={rowActions}
          kept={kept}
          moved={moved}
        />
      )}
      {view === 'visits' && (
        <VisitsView
          data={data}
          settings={settings}
          onPlan={() => setSheet({ kind: 'visit', visit: null, first: null })}
          onChange={(visit) => setSheet({ kind: 'visit', visit, first: null })}
        />
      )}
      {view === 'history' && (
        <HistoryView
          vehicleId={vehicle.id}
          unit={unit}
          onReading={() => setSheet({ kind: 'reading' })}
          onCluster={() => setSheet({ kind: 'cluster' })}
          onEngine={() => setSheet({ kind: 'engine' })}
        />
      )}
      {sheet && <OpenSheet sheet={sheet} data={data} settings={settings} close={close} />}
    </>
  );
}

/** One vehicle: what comes next, its visits, and what happened. */
export default function VehiclePage(): ReactNode {
  const { id = '', view = 'outlook' } = useParams();
  const outlook = useQuery(read.outlook(id));
  if (!Object.hasOwn(VIEWS, view))
    return (
      <Empty title="There is no such page">
        The address may be old. The vehicle’s pages are Outlook, Walk, Complaint, Visits and History.
      </Empty>
    );
  if (outlook.isPending) return <Waiting what="the vehicle" />;
  if (outlook.error)
    return (
      <Empty
        page
        title="This vehicle cannot be shown"
        action={<Button onClick={() => void outlook.refetch()}>Try again</Button>}
      >
        {outlook.error.message}
      </Empty>
    );
  return <Found data={outlook.data} view={view as keyof typeof VIEWS} />;
}
