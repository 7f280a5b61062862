import { vehiclePath } from '../../ui/paths.ts';
import type { LookupAnswer } from '../../api/answer.ts';
import type { Answer } from '../../api/answer.ts';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { lazy, startTransition, Suspense, useCallback, useEffect, useMemo, useState, type ReactNode } from 'react';
import { Link, useNavigate, useSearchParams } from 'react-router';
import {
  type endpoints,
  type AnswerOf,
  queryText,
  knownPairs,
  knownText,
  type LookupMeaning,
  type VehicleId,
  type Settings,
} from '@crosspeen/contract';
import { understandLine, dayFromIso } from '@crosspeen/core';
import { read } from '../../api/queries.ts';
import { Button } from '../../ui/button.tsx';
import { Notice, Waiting } from '../../ui/notice.tsx';
import { useKeys } from '../../parts/keys.ts';
import { LookupLine } from './line.tsx';
import { LookupHome } from './home.tsx';
import { Questions } from '../../parts/answer/questions.tsx';
import { ReportedView } from '../../parts/answer/reported.tsx';
import { settledWords } from './settled.ts';

const loadAnswerView = () => import('../../parts/answer/answer-view.tsx');
const AnswerView = lazy(loadAnswerView);
const KeepDialog = lazy(() => import('../../parts/vehicle/keep-dialog.tsx'));

/** What is known, with what a word of the line says besides: a model, or a feature that it has. */
const withWord = (know: string, { kind, keys }: LookupAnswer['words'][number]): string =>
  kind === 'model' || kind === 'feature'
    ? keys.reduce(
        (so, key) =>
          knownText(
            so,
            kind === 'model' ? { about: 'model', answer: key } : { about: `feature:${key}`, answer: 'yes' },
          ),
        know,
      )
    : know;

/** What was answered so far, each to be taken out. */
function KnownChips({
  know,
  shown,
  unit,
  go,
  line,
  variant,
  family,
}: {
  know: string;
  shown: Answer | null;
  unit: 'km' | 'mi' | 'h';
  go: (next: { line: string; variant?: string | null; family?: string | null; know?: string | null }) => void;
  line: string;
  variant: string | null;
  family: string | null;
}): ReactNode {
  return (
    <p className="flex flex-wrap items-center gap-2">
      <span className="text-soft">Settled:</span>
      {knownPairs(know).map((pair) => {
        const { about, said } = settledWords(pair, shown?.rows ?? [], unit);
        return (
          <span key={pair.about} className="rounded-full bg-well px-3 py-1.5">
            {about}: <strong>{said}</strong>
          </span>
        );
      })}
      <Button look="quiet" onClick={() => go({ line, variant, family })}>
        Clear
      </Button>
    </p>
  );
}

/** A saved vehicle that the line may mean. */
function FoundVehicle({
  vehicle,
}: {
  vehicle: {
    readonly id: VehicleId;
    readonly plate: string | null;
    readonly name: string | null;
    readonly maker: string;
    readonly model: string | null;
    readonly engineCode: string;
  };
}): ReactNode {
  return (
    <Notice
      actions={
        <Link
          className="inline-flex min-h-11 items-center rounded-md bg-accent px-4 font-semibold text-accent-ink"
          to={vehiclePath(vehicle.id)}
        >
          Open {vehicle.plate ?? vehicle.name}
        </Link>
      }
    >
      <strong className="figure text-lg">{vehicle.plate ?? vehicle.name}</strong> is saved: {vehicle.maker}{' '}
      {vehicle.model}, {vehicle.engineCode}.
    </Notice>
  );
}

/** Engines that the code may mean. */
function NearEngines({
  answer,
  go,
  line,
}: {
  answer: { readonly data: LookupAnswer };
  go: (next: { line: string; variant?: string | null; family?: string | null; know?: string | null }) => void;
  line: string;
}): ReactNode {
  return (
    <ul className="grid gap-2">
      {answer.data.candidates.map((engine) => (
        <li key={engine.familyId}>
          <button
            type="button"
            className="flex min-h-14 w-full flex-wrap items-baseline gap-x-4 rounded-md border border-rule bg-sheet px-4 py-2 text-left hover:bg-well"
            onClick={() => go({ line, family: engine.familyId })}
          >
            <strong className="figure text-2xl">{engine.code}</strong>
            <span>
              {engine.maker} {engine.name}
            </span>
            <span className="text-soft">
              {engine.timingDrive}, valves {engine.interference ? 'hit the pistons' : 'clear the pistons'} if timing
              slips
            </span>
          </button>
        </li>
      ))}
    </ul>
  );
}

/** The answer to the line, with its questions and what can be done with it. */
function LookupAnswerView({
  shown,
  unit,
  settings,
  line,
  variant,
  family,
  know,
  answer,
  questions,
  go,
  keep,
}: {
  shown: Answer;
  unit: 'km' | 'mi' | 'h';
  settings: Settings;
  line: string;
  variant: string | null;
  family: string | null;
  know: string | null;
  answer: { readonly data: LookupAnswer };
  questions: { readonly data: AnswerOf<typeof endpoints.lookup.questions> | undefined };
  go: (next: { line: string; variant?: string | null; family?: string | null; know?: string | null }) => void;
  keep: () => void;
}): ReactNode {
  return (
    <AnswerView
      answer={shown}
      unit={unit}
      settings={settings}
      source={{ kind: 'lookup', params: { line, variant, family, know } }}
      reported={<ReportedView reported={answer.data.reported} answer={shown} />}
      questions={
        <Questions
          questions={questions.data?.questions}
          unit={unit}
          today={shown.today}
          onAnswer={(question, answered) =>
            question.about === 'variant'
              ? go({ line, variant: answered, family, know })
              : go({ line, variant, family, know: knownText(know ?? '', { about: question.about, answer: answered }) })
          }
        />
      }
      actions={<LookupActions line={line} variant={variant} family={family} know={know} keep={keep} />}
    />
  );
}

function LookupActions({
  line,
  variant,
  family,
  know,
  keep,
}: {
  line: string;
  variant: string | null;
  family: string | null;
  know: string | null;
  keep: () => void;
}): ReactNode {
  return (
    <span className="flex flex-wrap gap-2">
      <Link
        to={`/walk${queryText({ line, variant, family, know })}`}
        className="inline-flex min-h-11 items-center rounded-md border border-rule-strong bg-sheet px-3.5 font-semibold hover:bg-well"
      >
        Walk round it
      </Link>
      <Link
        to={`/purchase${queryText({ line, variant, family, know })}`}
        className="inline-flex min-h-11 items-center rounded-md border border-rule-strong bg-sheet px-3.5 font-semibold hover:bg-well"
      >
        Before a purchase
      </Link>
      <Button look="main" shortcut="k" onClick={keep}>
        Save as a vehicle
      </Button>
    </span>
  );
}

/** The home view: the line, and its answer without saving anything. The address reproduces it. */
export function LookupPage(): ReactNode {
  const [params, setParams] = useSearchParams();
  const navigate = useNavigate();
  const client = useQueryClient();
  const session = useQuery(read.session()).data;
  const settings = useQuery(read.settings()).data;
  const [keeping, setKeeping] = useState(false);
  // A transition keeps the answer in sight while the dialog is fetched; outside one it would give way to "waiting".
  const keep = useCallback(() => startTransition(() => setKeeping(true)), []);
  const line = params.get('line') ?? '';
  const variant = params.get('variant');
  const family = params.get('family');
  const know = params.get('know');
  const asked = line.trim() !== '' || family !== null;
  // What shows the answer is fetched beside the answer, not after it: with the first letter that is typed. If that
  // fails, drawing it tries again.
  useEffect(() => {
    const load = (): void => {
      loadAnswerView().catch(() => undefined);
    };
    if (asked) load();
    else document.addEventListener('input', load, { once: true });
    return () => document.removeEventListener('input', load);
  }, [asked]);
  const answer = useQuery({ ...read.answer({ line, variant, family, know }), enabled: asked });
  const questions = useQuery({
    ...read.questions({ line, variant, family, know }),
    enabled: asked && answer.data?.answer != null,
  });
  const go = useCallback(
    (next: { line: string; variant?: string | null; family?: string | null; know?: string | null }) => {
      setParams(
        Object.fromEntries(
          Object.entries(next).filter(
            (entry): entry is [string, string] => typeof entry[1] === 'string' && entry[1] !== '',
          ),
        ),
      );
    },
    [setParams],
  );
  const onAsk = useCallback(
    async (next: string, known: LookupMeaning | undefined) => {
      const meaning =
        known ??
        (next.trim() === '' || next.length > 200
          ? undefined
          : await client.fetchQuery(read.meaning({ line: next, variant: null })).catch(() => undefined));
      const only = meaning?.vehicles.length === 1 && meaning.engine === null ? meaning.vehicles[0]! : null;
      // A plate with nothing else opens the vehicle; with a reading beside it the answer offers it.
      if (
        only &&
        session &&
        settings &&
        understandLine(next, dayFromIso(session.today)!, settings.distanceUnit).reading === null
      )
        void navigate(vehiclePath(only.id));
      else go({ line: next });
    },
    [client, go, navigate, session, settings],
  );
  const shown = answer.data?.answer ?? null;
  useKeys(useMemo(() => (shown ? [{ key: 'k', label: 'Save as a vehicle', run: keep }] : []), [shown, keep]));
  if (!session || !settings) return <Waiting what="the workshop’s settings" />;
  const unit =
    understandLine(line, dayFromIso(session.today)!, settings.distanceUnit).reading?.unit ?? settings.distanceUnit;
  return (
    <>
      <h1 className="sr-only">{line.trim() === '' ? 'Lookup' : `Lookup: ${line}`}</h1>
      <LookupLine
        session={session}
        unit={settings.distanceUnit}
        asked={line}
        variant={variant}
        onAsk={(next, known) => void onAsk(next, known)}
        onVariant={(next, key) =>
          go({ line: next, variant: key, family: next === line ? family : null, know: next === line ? know : null })
        }
        onFamily={(next, id) => go({ line: next, family: id })}
      />
      {!asked && (
        <LookupHome onTry={(example) => go({ line: example })} unit={settings.distanceUnit} session={session} />
      )}
      {asked && answer.isPending && <Waiting what="the answer" />}
      {answer.error && (
        <Notice role="alert" actions={<Button onClick={() => void answer.refetch()}>Try again</Button>}>
          {answer.error.message}
        </Notice>
      )}
      {answer.data && (
        <div className="grid grid-cols-1 gap-4">
          {know && (
            <KnownChips know={know} shown={shown} unit={unit} go={go} line={line} variant={variant} family={family} />
          )}
          {answer.data.problems.map((problem) => (
            <Notice key={problem.code} role="alert">
              {problem.message}
            </Notice>
          ))}
          {answer.data.vehicles.map((vehicle) => (
            <FoundVehicle key={vehicle.id} vehicle={vehicle} />
          ))}
          {shown === null &&
            answer.data.candidates.length > 0 &&
            !(answer.data.vehicles.length > 0 && answer.data.near) && (
              <NearEngines answer={answer} go={go} line={line} />
            )}
          {shown && (
            <Suspense fallback={<Waiting what="the strip" />}>
              <LookupAnswerView
                shown={shown}
                unit={unit}
                settings={settings}
                line={line}
                variant={variant}
                family={family}
                know={know}
                answer={answer}
                questions={questions}
                go={go}
                keep={keep}
              />
              {keeping && (
                <KeepDialog
                  answer={shown}
                  unit={unit}
                  chosenVariant={variant}
                  know={answer.data.words.reduce(withWord, know ?? '')}
                  onClose={() => setKeeping(false)}
                  onKept={(id) => void navigate(vehiclePath(id))}
                />
              )}
            </Suspense>
          )}
        </div>
      )}
    </>
  );
}
