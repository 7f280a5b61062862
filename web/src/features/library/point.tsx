import type { Sending } from '../../api/sending.ts';
import { call } from '../../api/client.ts';
import {
  type AnswerOf,
  endpoints,
  type EngineSummary,
  type LibraryPoint,
  type LibraryPointRow,
  may,
  type PointState,
  type SessionState,
  type Settings,
} from '@crosspeen/contract';
import { CONSEQUENCE_LABELS, minutesText, dayFromIso } from '@crosspeen/core';
import { useQuery } from '@tanstack/react-query';
import { type SetStateAction, type Dispatch, useState, type ReactNode } from 'react';
import { Link, useParams } from 'react-router';
import { useChange } from '../../api/changing.tsx';
import { read } from '../../api/queries.ts';
import { AuthorityShape, AUTHORITY_WORDS, STRENGTH_WORDS } from '../../editors/strip/view/marks.tsx';
import { Button } from '../../ui/button.tsx';
import { Dialog } from '../../ui/dialog.tsx';
import { Empty, Waiting } from '../../ui/notice.tsx';
import { fieldProblem, FormProblem } from '../../ui/problem.tsx';
import { DayField, isoTyped } from '../../ui/typed-fields.tsx';
import { isoText, moneyText, spansText } from '../../ui/units.ts';
import { Campaign } from './campaign.tsx';
import { LookTold, ToldMore } from '../../parts/answer/told-more.tsx';
import { Changes } from './changes.tsx';
import { appliesWords, CLASS_WORDS, GROUP_WORDS, NOTICE_WORDS, SHARE_LABELS, shareText, windowText } from './words.ts';

const STATE_MEANS: Readonly<Record<PointState, string>> = {
  draft: 'A draft: no vehicle is judged by it yet.',
  review: 'Up for review: the owner publishes it, or sends it back.',
  published: 'Published: every vehicle it applies to is judged by it.',
  superseded: 'Superseded: another one stands in its place.',
  retired: 'Retired: engines made from that date on no longer have it.',
};

/** From which production date it is retired. */
function RetireDialog({
  retiring,
  setRetiring,
  step,
  from,
  today,
  setFrom,
}: {
  retiring: boolean;
  setRetiring: Dispatch<SetStateAction<boolean>>;
  step: Sending<{ state: 'retired'; retiredFrom: string | null }>;
  from: string;
  today: number;
  setFrom: Dispatch<SetStateAction<string>>;
}): ReactNode {
  return (
    <Dialog
      open={retiring}
      onClose={() => setRetiring(false)}
      title="Retire from a production date"
      description="Engines made from that date on no longer have it; earlier ones keep it."
    >
      <form
        className="grid gap-3"
        noValidate
        onSubmit={(event) => {
          event.preventDefault();
          step.mutate(
            { state: 'retired', retiredFrom: isoTyped(from, today) },
            { onSuccess: () => setRetiring(false) },
          );
        }}
      >
        <DayField
          label="Made from"
          value={from}
          onChange={setFrom}
          today={today}
          error={fieldProblem(step.error, 'retiredFrom')}
        />
        <FormProblem error={step.error} fields={['retiredFrom']} />
        <div>
          <Button look="main" type="submit" disabled={step.isPending}>
            Retire it
          </Button>
        </div>
      </form>
    </Dialog>
  );
}

function Steps({ point, session }: { point: LibraryPoint; session: SessionState }): ReactNode {
  const { id, state } = point.row;
  const owner = may(session.user!.role, 'publishLibrary');
  const [retiring, setRetiring] = useState(false);
  const [from, setFrom] = useState('');
  const today = dayFromIso(session.today)!;
  const step = useChange((body: { state: PointState; retiredFrom?: string | null }, key) =>
    call(endpoints.library.stepPoint, { params: { id }, body: { version: point.version, ...body }, key }),
  );
  const to = (next: PointState, label: string, look?: 'main'): ReactNode => (
    <Button {...(look ? { look } : {})} disabled={step.isPending} onClick={() => step.mutate({ state: next })}>
      {label}
    </Button>
  );
  return (
    <>
      <div className="flex flex-wrap gap-2">
        {state === 'draft' && !owner && to('review', 'Put up for review', 'main')}
        {(state === 'draft' || state === 'review') && owner && to('published', 'Publish', 'main')}
        {state === 'draft' && owner && to('review', 'Put up for review')}
        {state === 'review' && to('draft', 'Back to draft')}
        {state === 'published' && owner && <Button onClick={() => setRetiring(true)}>Retire from a date</Button>}
        {state === 'published' && owner && to('superseded', 'Superseded')}
        {(state === 'superseded' || state === 'retired') && owner && to('published', 'Publish again')}
        {(owner || state === 'draft' || state === 'review') && (
          <Link
            to={`/library/points/${id}/write`}
            className="inline-flex min-h-11 items-center rounded-md border border-rule-strong bg-sheet px-3.5 font-semibold hover:bg-well"
          >
            Correct
          </Link>
        )}
      </div>
      {!retiring && <FormProblem error={step.error} />}
      <RetireDialog
        retiring={retiring}
        setRetiring={setRetiring}
        step={step}
        from={from}
        today={today}
        setFrom={setFrom}
      />
    </>
  );
}

function Told({ point, settings }: { point: LibraryPoint; settings: Settings }): ReactNode {
  const { row } = point;
  const unit = settings.distanceUnit;
  return (
    <section aria-labelledby="told" className="rounded-md border border-rule bg-sheet px-4 py-3">
      <h2 id="told" className="mb-2 text-2xl">
        What is known
      </h2>
      <dl className="grid grid-cols-[auto_1fr] gap-x-4 gap-y-2">
        <dt className="text-soft">Mostly fails at</dt>
        <dd className="figure text-lg">
          {windowText(row, unit)}
          {point.notTold.includes('window') && (
            <span className="block text-base text-soft">Not told: the usual window of its kind stands in.</span>
          )}
        </dd>
        <dt className="text-soft">{SHARE_LABELS[row.nature]}</dt>
        <dd className="figure text-lg">
          {shareText(row.share)}
          {point.notTold.includes('share') && (
            <span className="block text-base text-soft">Not told: half stands in.</span>
          )}
          <span className="block text-base text-soft">
            {row.nature === 'wear' ? 'It wears: the others fail later.' : 'The others never fail of it.'}
          </span>
        </dd>
        <dt className="text-soft">Applies to</dt>
        <dd>{appliesWords(point.appliesTo, point.variants)}</dd>
        <dt className="text-soft">If it fails</dt>
        <dd>
          <strong>
            {CONSEQUENCE_LABELS[row.consequence]}
            {row.safety ? ', safety' : ''}.
          </strong>{' '}
          {point.effect}
        </dd>
        <dt className="text-soft">What tells</dt>
        <dd>{row.signs}</dd>
        <dt className="text-soft">Look</dt>
        <dd>
          {point.look
            ? `${point.look.how} ${point.look.minutes} min; finds ${Math.round(point.look.detection * 100)} % of cases; shows for ${spansText(point.look.warning, unit)}.`
            : 'There is nothing to see beforehand.'}
          {point.look && <LookTold look={point.look} layout={point.layout} />}
          {point.look?.cautions.map((words) => (
            <span key={words} className="mt-1 block text-sm">
              <strong>Caution:</strong> {words}
            </span>
          ))}
        </dd>
        {(point.symptoms.length > 0 ||
          point.damages.length > 0 ||
          point.failure ||
          point.hastens.length > 0 ||
          point.revisions.length > 0) && (
          <>
            <dt className="text-soft">Besides</dt>
            <dd className="space-y-1">
              <ToldMore told={point} unit={unit} settings={settings} />
            </dd>
          </>
        )}
        <dt className="text-soft">Component</dt>
        <dd>
          {row.component}, {CLASS_WORDS[point.componentClass]}, {GROUP_WORDS[row.group].toLowerCase()}; goes with the{' '}
          {point.fittedTo}
        </dd>
        {point.watch && (
          <>
            <dt className="text-soft">The driver watches</dt>
            <dd>
              {point.watch.task}, every {spansText(point.watch.every, unit)}
            </dd>
          </>
        )}
        {point.retiredByRevision && (
          <>
            <dt className="text-soft">Ended by</dt>
            <dd>part revision {point.retiredByRevision}</dd>
          </>
        )}
        <dt className="text-soft">Comes from</dt>
        <dd>
          {point.pack ? `the pack “${point.pack}”` : 'written here'}
          {point.writtenBy ? `, ${point.writtenBy}` : ''}
        </dd>
      </dl>
    </section>
  );
}

/** Part numbers with revision, grade and price. */
function PartList({ point, settings }: { point: LibraryPoint; settings: Settings }): ReactNode {
  return (
    <ul className="divide-y divide-rule">
      {point.parts.map((part) => (
        <li key={part.number} className="py-1.5">
          <span className="figure text-lg font-semibold">{part.number}</span> {part.name}{' '}
          <span className="text-soft">
            {part.grade}
            {part.revision ? `, revision ${part.revision}` : ''}
            {part.priceMinor === null ? '' : `, ${moneyText(part.priceMinor, settings)}`}
          </span>
          {part.supersedes && (
            <span className="block text-sm">
              Supersedes {part.supersedes}
              {part.howToTell ? `; to tell it: ${part.howToTell}` : ''}
            </span>
          )}
          {!part.supersedes && part.howToTell && <span className="block text-sm">To tell it: {part.howToTell}</span>}
        </li>
      ))}
    </ul>
  );
}

function Work({ point, settings }: { point: LibraryPoint; settings: Settings }): ReactNode {
  const minutes = point.operations.reduce((sum, operation) => sum + operation.minutes, 0);
  const cautions = [...new Set(point.operations.flatMap((operation) => operation.cautions))];
  const tools = [
    ...new Map(point.operations.flatMap((operation) => operation.tools).map((tool) => [tool.name, tool])).values(),
  ];
  return (
    <section aria-labelledby="work" className="rounded-md border border-rule bg-sheet px-4 py-3">
      <h2 id="work" className="mb-2 text-2xl">
        Parts and work
      </h2>
      {point.parts.length === 0 ? (
        <p className="text-soft">No part is told for it yet.</p>
      ) : (
        <PartList point={point} settings={settings} />
      )}
      <h3 className="mb-1 mt-3 text-xl">In this order, {minutesText(minutes || point.renewMinutes)}</h3>
      {point.operations.length === 0 ? (
        <p className="text-soft">No operation is told for it; the minutes are for the job as a whole.</p>
      ) : (
        <ol className="list-decimal pl-5">
          {point.operations.map((operation) => (
            <li key={operation.id}>
              {operation.name} <span className="figure text-soft">{minutesText(operation.minutes)}</span>
            </li>
          ))}
        </ol>
      )}
      {GOES_WITH.map(({ key, words }) => {
        const all = [...new Set(point.operations.flatMap((operation) => operation[key]))];
        return all.length === 0 ? null : (
          <p key={key} className="mt-2">
            <strong>{words}:</strong> {all.join(', ')}.
          </p>
        );
      })}
      {tools.length > 0 && (
        <p className="mt-2">
          <strong>Tools:</strong>{' '}
          {tools
            .map(({ name, without }) => `${name}${without ? ` (without it: ${without.replace(/\.$/, '')})` : ''}`)
            .join('; ')}
        </p>
      )}
      {cautions.map((caution) => (
        <p key={caution} className="mt-1 text-sm">
          <strong>Caution:</strong> {caution}
        </p>
      ))}
      <p className="mt-2 text-sm text-soft">
        Made-up demo parts and times. The maker’s current procedure, local rules and licensed practice come first.
      </p>
    </section>
  );
}

/** What the work takes beside its minutes. */
const GOES_WITH = [
  { key: 'renewWith', words: 'Renew with it' },
  { key: 'oneTime', words: 'Use once only' },
  { key: 'fluids', words: 'Drain and refill' },
  { key: 'afterwards', words: 'Afterwards' },
] as const;

function StatementItem({
  statement,
  unit,
}: {
  statement: AnswerOf<typeof endpoints.library.point>['statements'][number];
  unit: Settings['distanceUnit'];
}): ReactNode {
  return (
    <li>
      <AuthorityShape kind={statement.kind} /> <strong>{statement.authority}</strong>{' '}
      <span className="text-soft">
        {[
          statement.edition,
          statement.region,
          AUTHORITY_WORDS[statement.kind],
          statement.strength && STRENGTH_WORDS[statement.strength],
          statement.always && 'no exception',
        ]
          .filter(Boolean)
          .join(', ')}
      </span>
      <span className="block">
        “{statement.words}”{' '}
        {statement.interval.length > 0 && (
          <>
            <strong className="figure text-lg">{spansText(statement.interval, unit)}</strong>
            {statement.asks === 'look' && ', then look at it'}
          </>
        )}
      </span>
      {statement.doubted && (
        <span className="block text-sm font-semibold">Published, but specialists do not follow it.</span>
      )}
    </li>
  );
}

function Said({ point, unit }: { point: LibraryPoint; unit: Settings['distanceUnit'] }): ReactNode {
  return (
    <section aria-labelledby="said" className="rounded-md border border-rule bg-sheet px-4 py-3">
      <h2 id="said" className="mb-2 text-2xl">
        Who says what
      </h2>
      {point.statements.length === 0 ? (
        <p className="text-soft">No source yet.</p>
      ) : (
        <ul className="space-y-2">
          {point.statements.map((statement) => (
            <StatementItem key={`${statement.authority}-${statement.words}`} statement={statement} unit={unit} />
          ))}
        </ul>
      )}
      <div className="mt-3 flex flex-wrap items-center gap-x-4 border-t border-rule pt-2">
        {point.notices.map((notice) => (
          <Link
            key={notice.id}
            to={`/library/notices/${notice.id}`}
            className="inline-flex min-h-11 items-center hover:underline"
          >
            <span>
              <strong>
                {NOTICE_WORDS[notice.kind]} {notice.number}
              </strong>{' '}
              {notice.title}
            </span>
          </Link>
        ))}
        <Link
          to={`/library/notices/write?point=${point.row.id}`}
          className="inline-flex min-h-11 items-center text-soft hover:underline"
        >
          Add a bulletin or a coverage
        </Link>
      </div>
    </section>
  );
}

/** Name of the weak point, and what can be done about it. */
function PointHead({
  row,
  engine,
  point,
  session,
}: {
  row: LibraryPointRow;
  engine: EngineSummary;
  point: { readonly data: LibraryPoint };
  session: SessionState;
}): ReactNode {
  return (
    <header className="flex flex-wrap items-end justify-between gap-3">
      <div>
        <p>
          <Link to="/library" className="inline-flex min-h-11 items-center hover:underline">
            ← Library
          </Link>
        </p>
        <h1 className="text-3xl">
          {row.title}{' '}
          <Link to={`/library/engines/${engine.familyId}`} className="font-medium text-soft hover:underline">
            {engine.maker} {engine.code}
          </Link>
        </h1>
        <p className="mt-1">
          <span className="text-soft">
            {STATE_MEANS[row.state]}
            {point.data.retiredFrom ? ` From ${isoText(point.data.retiredFrom)}.` : ''}
          </span>{' '}
          <Link to={`/bench/${row.id}`} className="hover:underline">
            What our own vehicles say
          </Link>
        </p>
      </div>
      <Steps point={point.data} session={session} />
    </header>
  );
}

/** One weak point of the library. */
export default function LibraryPointPage({ session }: { session: SessionState }): ReactNode {
  const { id = '' } = useParams();
  const point = useQuery(read.libraryPoint(id));
  const settings = useQuery(read.settings()).data;
  if (point.error)
    return (
      <Empty page title="This weak point is not in the library">
        {point.error.message}
      </Empty>
    );
  if (!point.data || !settings) return <Waiting what="the weak point" />;
  const { row, engine } = point.data;
  const unit = settings.distanceUnit;
  return (
    <div className="grid gap-5">
      <PointHead row={row} engine={engine} point={point} session={session} />
      <div className="grid items-start gap-5 lg:grid-cols-2">
        <div className="grid gap-5">
          <Told point={point.data} settings={settings} />
          <Said point={point.data} unit={unit} />
        </div>
        <Work point={point.data} settings={settings} />
      </div>
      <Campaign
        about={{ weakPointId: row.id, noticeId: null }}
        today={dayFromIso(session.today)!}
        nobody="Nobody is left to call: whatever it touches is planned, or does not ask for anything now."
      />
      <section aria-labelledby="changed">
        <h2 id="changed" className="mb-2 text-2xl">
          What changed since when
        </h2>
        <Changes entityId={row.id} />
      </section>
    </div>
  );
}
