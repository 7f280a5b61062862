import { vehiclePath } from '../../ui/paths.ts';
import { call } from '../../api/client.ts';
import {
  addressOf,
  endpoints,
  type SessionState,
  type TriageAnswerCreate,
  type TriageEndCreate,
  type WireTriage,
} from '@crosspeen/contract';
import {
  leftOutWords,
  minutesText,
  needsWords,
  type NeedsFact,
  type NextCheck,
  type SearchStanding,
} from '@crosspeen/core';
import { useQuery } from '@tanstack/react-query';
import { Printer, TriangleAlert } from 'lucide-react';
import type { ReactNode } from 'react';
import { Link, useParams } from 'react-router';
import { useChange } from '../../api/changing.tsx';
import { read } from '../../api/queries.ts';
import { readWalk } from '../../api/walk.ts';
import { Held } from '../../parts/held.tsx';
import { VehicleTabs } from '../../parts/vehicle/vehicle-tabs.tsx';
import { Button } from '../../ui/button.tsx';
import { Empty, Notice, Waiting } from '../../ui/notice.tsx';
import { dayText, isoText, percentText } from '../../ui/units.ts';
import { ReportForm } from './report-form.tsx';
import { useReckoned } from './use-reckoned.ts';

/** Explanations that are listed; the rest share what is left. */
const SHOWN = 6;

function Bar({ chance }: { chance: number }): ReactNode {
  return (
    <span aria-hidden className="block h-3 w-full rounded-sm bg-well">
      <span className="block h-3 rounded-sm bg-accent" style={{ width: `${Math.max(1, chance * 100)}%` }} />
    </span>
  );
}

function Explanations({
  asked,
  reckoned,
  vehicleId,
}: {
  asked: WireTriage;
  reckoned: SearchStanding;
  vehicleId: string;
}): ReactNode {
  const shown = reckoned.explanations.slice(0, SHOWN);
  const rest = reckoned.explanations.slice(SHOWN).reduce((sum, { chance }) => sum + chance, 0);
  const hereOf = new Map(asked.explanations.map(({ weakPointId, here }) => [weakPointId as string, here]));
  return (
    <section aria-label="What explains it">
      <h2 className="mb-2 text-2xl">What explains it on this vehicle</h2>
      <ol className="grid gap-2">
        {shown.map(({ weakPointId, title, chance, prior }) => {
          const here = weakPointId === null ? undefined : hereOf.get(weakPointId);
          return (
            <li key={weakPointId ?? 'unlisted'} className="grid grid-cols-[minmax(0,1fr)_7rem_5rem] items-center gap-3">
              <span>
                {weakPointId === null ? (
                  title
                ) : (
                  <Link to={vehiclePath(vehicleId, 'outlook', weakPointId)} className="font-semibold hover:underline">
                    {title}
                  </Link>
                )}
                {here !== undefined && here.of > 0 && (
                  <span className="text-soft">
                    {' '}
                    here {here.proved} of {here.of} times
                  </span>
                )}
              </span>
              <Bar chance={chance} />
              <span
                className="figure text-lg font-semibold"
                title={`${percentText(prior)} before anything was reported`}
              >
                {percentText(chance)}
              </span>
            </li>
          );
        })}
      </ol>
      {rest > 0.001 && <p className="mt-1 text-soft">All others together {percentText(rest)}.</p>}
      <p className="mt-2 text-sm text-soft">
        From the chances of this vehicle since {dayText(asked.sinceDay)}, and how often each shows so when it is the
        cause.
      </p>
    </section>
  );
}

/** Checks that are not offered, since a report or a suspect forbids what they need. */
function LeftOut({ reckoned: { leftOut } }: { reckoned: SearchStanding }): ReactNode {
  if (leftOut.length === 0) return null;
  return (
    <p className="mt-2 flex items-start gap-2">
      <TriangleAlert size={18} aria-hidden className="mt-1 shrink-0" /> {leftOutWords(leftOut)}
    </p>
  );
}

function CheckItem({
  next,
  at,
  check,
  off,
  busy,
  onAnswer,
  leads,
}: {
  next: NextCheck;
  at: number;
  check: {
    readonly kind: 'check' | 'look' | 'symptom';
    readonly words: string;
    readonly more: string | null;
    readonly cautions: string[];
    readonly about: string;
    readonly needs: NeedsFact;
  };
  off: string[];
  busy: boolean;
  onAnswer: (body: TriageAnswerCreate) => void;
  leads: (of: NextCheck['yes']) => string;
}): ReactNode {
  return (
    <li className={`rounded-md border bg-sheet px-4 py-3 ${at === 0 ? 'border-2 border-accent' : 'border-rule'}`}>
      <p className="flex flex-wrap items-baseline justify-between gap-2">
        <strong className="text-lg">
          {check.kind === 'symptom' && 'Does it also show: '}
          {check.words}
          {check.kind === 'symptom' && '?'}
        </strong>
        <span className="text-soft">
          {minutesText(Math.round(next.minutes))}
          {next.isFirst ? ' · before anything else' : at === 0 && ' · tells the most for its minutes'}
        </span>
      </p>
      {check.more && <p>{check.more}</p>}
      {needsWords(check.needs) !== '' && <p>Needs: {needsWords(check.needs)}</p>}
      {off.length > 0 && <p>First off: {off.join(', ')}</p>}
      {check.cautions.map((caution) => (
        <p key={caution} className="flex items-start gap-2 font-semibold">
          <TriangleAlert size={18} aria-hidden className="mt-1 shrink-0" /> {caution}
        </p>
      ))}
      <div className="mt-2 grid gap-2 sm:grid-cols-2">
        {([true, false] as const).map((said) => (
          <Button
            key={String(said)}
            disabled={busy}
            className="min-h-14 flex-col gap-0 py-1.5"
            onClick={() => onAnswer({ about: check.about, words: check.words, said })}
          >
            <span className="font-narrow text-xl">{said ? 'Yes' : 'No'}</span>
            <span className="text-sm font-normal text-soft">then {leads(said ? next.yes : next.no)}</span>
          </Button>
        ))}
      </div>
    </li>
  );
}

function Checks({
  asked,
  reckoned,
  onAnswer,
  busy,
}: {
  asked: WireTriage;
  reckoned: SearchStanding;
  onAnswer: (body: TriageAnswerCreate) => void;
  busy: boolean;
}): ReactNode {
  const byAbout = new Map(asked.checks.map((check) => [check.about, check]));
  const leads = (of: NextCheck['yes']): string => `${of.title} ${percentText(of.chance)}`;
  return (
    <section aria-label="Next check">
      <h2 className="mb-2 text-2xl">What to check next</h2>
      <ul className="grid gap-3">
        {reckoned.next.map((next, at) => {
          const check = byAbout.get(next.about)!;
          const off = check.off.map((key) => asked.operations[key]!.name);
          return (
            <CheckItem
              key={next.about}
              next={next}
              at={at}
              check={check}
              off={off}
              busy={busy}
              onAnswer={onAnswer}
              leads={leads}
            />
          );
        })}
      </ul>
      <LeftOut reckoned={reckoned} />
    </section>
  );
}

function Standing({
  reckoned,
  onEnd,
  busy,
}: {
  reckoned: SearchStanding;
  onEnd: (body: TriageEndCreate) => void;
  busy: boolean;
}): ReactNode {
  const { standing, explanations } = reckoned;
  const first = explanations[0]!;
  const words = {
    known: `${first.title}: ${percentText(first.chance)}. Likely enough to repair; the repair proves it.`,
    unlisted: 'Most likely something that is not listed here. Look further by hand, and write down what it was.',
    open: `Most likely ${first.title}, ${percentText(first.chance)}; one more check is worthwhile.`,
    stuck: `Most likely ${first.title}, ${percentText(first.chance)}; no check known here tells more. Look further by hand.`,
  }[standing.stands];
  return (
    <Notice>
      <p className="text-lg">{words}</p>
      <div className="mt-2 flex flex-wrap gap-2">
        {first.weakPointId !== null && (
          <>
            <Button
              look={standing.stands === 'known' ? 'main' : 'plain'}
              disabled={busy}
              onClick={() => onEnd({ weakPointId: first.weakPointId, outcome: 'proved' })}
            >
              Repaired: it was that
            </Button>
            <Button disabled={busy} onClick={() => onEnd({ weakPointId: first.weakPointId, outcome: 'refuted' })}>
              It was not that
            </Button>
          </>
        )}
        <Button disabled={busy} onClick={() => onEnd({ weakPointId: null, outcome: 'given_up' })}>
          Stop searching
        </Button>
      </div>
    </Notice>
  );
}

/** What is reported, checked so far, and was earlier. */
function Reports({
  asked,
  id,
  session,
  answer,
}: {
  asked: WireTriage;
  id: string;
  session: SessionState;
  answer: {
    readonly isPending: boolean;
    readonly mutate: (input: { about: string; words: string; said: boolean }) => void;
  };
}): ReactNode {
  return (
    <div className="grid gap-5">
      <section aria-label="Reported">
        <h2 className="mb-2 text-2xl">What is reported</h2>
        {asked.reports.length > 0 && (
          <ul className="mb-3 grid gap-2">
            {asked.reports.map((report) => (
              <li key={report.id} className="rounded-md border border-rule bg-sheet px-4 py-2">
                <strong>{report.words}</strong>
                {report.condition && <span>, {report.condition}</span>}
                <span className="text-soft">
                  {' '}
                  {isoText(report.day)}, {report.by}
                  {report.goodDay && `; good on ${isoText(report.goodDay)}`}
                  {!report.listed && '; not a symptom known of this engine'}
                </span>
                {report.drive && <p>May it be driven? {report.drive}</p>}
              </li>
            ))}
          </ul>
        )}
        <ReportForm vehicleId={id} asked={asked} session={session} />
      </section>
      {asked.answers.length > 0 && <Checked asked={asked} answer={answer} />}
      {asked.ends.length > 0 && (
        <section aria-label="Earlier">
          <h2 className="mb-2 text-2xl">Earlier</h2>
          <ul className="grid gap-1">
            {asked.ends.map((one) => (
              <li key={one.id}>
                {isoText(one.day)}: {one.symptoms.join(', ') || 'reported'} →{' '}
                <strong>
                  {one.outcome === 'given_up'
                    ? 'not found'
                    : `${one.outcome === 'refuted' ? 'not ' : ''}${one.title ?? 'something not listed'}`}
                </strong>{' '}
                <span className="text-soft">{one.by}</span>
              </li>
            ))}
          </ul>
        </section>
      )}
    </div>
  );
}

function Checked({
  asked,
  answer,
}: {
  asked: WireTriage;
  answer: {
    readonly isPending: boolean;
    readonly mutate: (input: { about: string; words: string; said: boolean }) => void;
  };
}): ReactNode {
  return (
    <section aria-label="Checked so far">
      <h2 className="mb-2 text-2xl">Checked so far</h2>
      <ol className="grid gap-1">
        {asked.answers.map((one) => (
          <li key={one.about} className="flex flex-wrap items-center justify-between gap-2">
            <span>
              {one.words}: <strong>{one.said ? 'yes' : 'no'}</strong>{' '}
              <span className="text-soft">{one.by ?? `found at a look, ${isoText(one.day)}`}</span>
            </span>
            <Button
              look="quiet"
              disabled={answer.isPending}
              onClick={() => answer.mutate({ about: one.about, words: one.words, said: !one.said })}
            >
              {one.said ? 'It was no' : 'It was yes'}
            </Button>
          </li>
        ))}
      </ol>
    </section>
  );
}

/** What explains it, and ending the search. */
function Explained({
  isSearching,
  reckoned,
  end,
  asked,
  id,
  answer,
}: {
  isSearching: boolean;
  reckoned: SearchStanding | null;
  end: {
    readonly mutate: (input: {
      weakPointId: string | null;
      outcome: 'proved' | 'refuted' | 'given_up';
      note?: string | null | undefined;
    }) => void;
    readonly isPending: boolean;
  };
  asked: WireTriage;
  id: string;
  answer: {
    readonly mutate: (input: { about: string; words: string; said: boolean }) => void;
    readonly isPending: boolean;
  };
}): ReactNode {
  return (
    <div className="grid gap-5">
      {!isSearching && (
        <Empty title="Nothing is reported yet">
          Pick what the customer hears, sees or smells, or type a code. What explains it on this vehicle, and the check
          that tells the most for its minutes, stand here then.
        </Empty>
      )}
      {isSearching && reckoned === null && <Waiting what="the explanations" />}
      {isSearching && reckoned !== null && (
        <>
          <Standing reckoned={reckoned} onEnd={(body) => end.mutate(body)} busy={end.isPending} />
          <Explanations asked={asked} reckoned={reckoned} vehicleId={id} />
          {reckoned.next.length === 0 && <LeftOut reckoned={reckoned} />}
          {reckoned.next.length > 0 && (
            <Checks
              asked={asked}
              reckoned={reckoned}
              onAnswer={(body) => answer.mutate(body)}
              busy={answer.isPending}
            />
          )}
        </>
      )}
    </div>
  );
}

function Search({ id, asked, session }: { id: string; asked: WireTriage; session: SessionState }): ReactNode {
  const reckoned = useReckoned(asked);
  const answer = useChange((body: TriageAnswerCreate, key) =>
    call(endpoints.triage.answer, { params: { id }, body, key }),
  );
  const end = useChange((body: TriageEndCreate, key) => call(endpoints.triage.end, { params: { id }, body, key }));
  const stops = asked.reports.filter(({ stop }) => stop !== null);
  const isSearching = asked.reports.some(({ listed }) => listed);
  const problem = answer.error ?? end.error;
  return (
    <>
      <Held holds={stops} />
      {problem && (
        <div className="mb-3">
          <Notice role="alert">{problem.message}</Notice>
        </div>
      )}
      <div className="grid items-start gap-6 lg:grid-cols-[minmax(0,5fr)_minmax(0,7fr)]">
        <Reports asked={asked} id={id} session={session} answer={answer} />
        <Explained isSearching={isSearching} reckoned={reckoned} end={end} asked={asked} id={id} answer={answer} />
      </div>
    </>
  );
}

/** What a customer reports of one vehicle, and the search for its cause. */
export default function ComplaintPage({ session }: { session: SessionState }): ReactNode {
  const { id = '' } = useParams();
  const vehicle = useQuery(read.vehicle(id));
  const asked = useQuery(readWalk.triage(id));
  const error = vehicle.error ?? asked.error;
  if (error)
    return (
      <Empty
        page
        title="This page cannot be shown"
        action={
          <Button
            onClick={() => {
              void vehicle.refetch();
              void asked.refetch();
            }}
          >
            Try again
          </Button>
        }
      >
        {error.message}
      </Empty>
    );
  if (!vehicle.data || !asked.data) return <Waiting what="what is reported" />;
  return (
    <>
      <header className="mb-3 flex flex-wrap items-end justify-between gap-3">
        <h1 className="text-3xl">
          <span className="rounded border-2 border-ink px-2">{vehicle.data.plate ?? vehicle.data.name}</span>{' '}
          <span className="font-medium">
            {vehicle.data.engine.maker} {vehicle.data.model} {vehicle.data.engine.code}
          </span>
        </h1>
        {asked.data.reports.length > 0 && (
          <a
            href={addressOf(endpoints.triage.sheet, { params: { id } })}
            target="_blank"
            rel="noreferrer"
            className="inline-flex min-h-11 items-center gap-2 rounded-md border border-rule-strong bg-sheet px-3.5 font-semibold hover:bg-well"
          >
            <Printer size={20} aria-hidden /> Print what is known
          </a>
        )}
      </header>
      <VehicleTabs id={id} />
      <Search key={id} id={id} asked={asked.data} session={session} />
    </>
  );
}
