import { call } from '../../api/client.ts';
import { endpoints, type SessionState, type SymptomCreate, type WireTriage } from '@crosspeen/contract';
import { dayFromIso, readWords } from '@crosspeen/core';
import { type SetStateAction, type Dispatch, useId, useState, type ReactNode } from 'react';
import { useChange } from '../../api/changing.tsx';
import { Button } from '../../ui/button.tsx';
import { Field, INPUT, TextField } from '../../ui/field.tsx';
import { fieldProblem, FormProblem } from '../../ui/problem.tsx';
import { DayField, isoSent } from '../../ui/typed-fields.tsx';

/** When it shows, as people say it. */
const CONDITIONS = ['cold', 'warm', 'at idle', 'under load', 'in traffic', 'after standing', 'in the wet', 'always'];

const bare = (text: string): string => text.trim().toLowerCase();

type Symptom = WireTriage['vocabulary'][number];

/** The symptoms that some words may mean, in whatever order and form they are said; the one of that name first. */
function meantBy(words: string, vocabulary: readonly Symptom[]): readonly Symptom[] {
  const named = vocabulary.filter((one) => [one.words, ...one.codes].some((known) => bare(known) === bare(words)));
  if (named.length > 0 || words.trim() === '') return named;
  const read = readWords(words.trim().split(/\s+/), {
    codeKey: '',
    names: [],
    models: [],
    features: [],
    symptoms: vocabulary.map(({ id, words: told, codes }) => ({ key: id, words: told, codes })),
  });
  const keys = new Set(read.flatMap(({ kind, means }) => (kind === 'symptom' ? means : [])));
  return vocabulary.filter(({ id }) => keys.has(id));
}

/** What typed words are taken for. */
const meaningWords = (meant: readonly Symptom[]): string =>
  meant.length === 0
    ? 'Not among the symptoms of this engine: it is kept, and explains nothing.'
    : meant.length === 1
      ? `Taken as: ${meant[0]!.words}.`
      : `Which of these? ${meant
          .slice(0, 4)
          .map(({ words }) => words)
          .join('; ')}.`;

/** The customer's words, with what they may mean. */
function WordsField({
  report,
  words,
  asked,
  meant,
  list,
  setWords,
}: {
  report: { readonly error: Error | null };
  words: string;
  asked: WireTriage;
  meant: readonly Symptom[];
  list: string;
  setWords: Dispatch<SetStateAction<string>>;
}): ReactNode {
  return (
    <Field
      label="What the customer reports, or a code"
      error={fieldProblem(report.error, 'words')}
      hint={
        words.trim() === '' || asked.vocabulary.some((one) => bare(one.words).startsWith(bare(words)))
          ? undefined
          : meaningWords(meant)
      }
    >
      {(control) => (
        <input
          {...control}
          list={list}
          value={words}
          maxLength={160}
          autoComplete="off"
          onChange={(event) => setWords(event.target.value)}
          className={INPUT}
        />
      )}
    </Field>
  );
}

/** When it shows, since when, and when it was good. */
function WhenFields({
  when,
  condition,
  setCondition,
  day,
  setDay,
  today,
  report,
  goodDay,
  setGoodDay,
}: {
  when: string;
  condition: string;
  setCondition: Dispatch<SetStateAction<string>>;
  day: string;
  setDay: Dispatch<SetStateAction<string>>;
  today: number;
  report: { readonly error: Error | null };
  goodDay: string;
  setGoodDay: Dispatch<SetStateAction<string>>;
}): ReactNode {
  return (
    <div className="grid gap-3 sm:grid-cols-2 lg:grid-cols-1 xl:grid-cols-3">
      <TextField
        label="When does it show"
        list={when}
        value={condition}
        maxLength={80}
        onChange={(event) => setCondition(event.target.value)}
        placeholder="cold, in traffic"
      />
      <datalist id={when}>
        {CONDITIONS.map((one) => (
          <option key={one} value={one} />
        ))}
      </datalist>
      <DayField
        label="Since"
        hint="Empty: today"
        value={day}
        onChange={setDay}
        today={today}
        error={fieldProblem(report.error, 'day')}
      />
      <DayField
        label="Last known without it"
        hint="Empty: not known"
        value={goodDay}
        onChange={setGoodDay}
        today={today}
        error={fieldProblem(report.error, 'goodDay')}
      />
    </div>
  );
}

/** What a customer reports, picked from what this engine's weak points show, or in words of their own. */
export function ReportForm({
  vehicleId,
  asked,
  session,
}: {
  vehicleId: string;
  asked: WireTriage;
  session: SessionState;
}): ReactNode {
  const list = useId();
  const when = useId();
  const [words, setWords] = useState('');
  const [condition, setCondition] = useState('');
  const [day, setDay] = useState('');
  const [goodDay, setGoodDay] = useState('');
  const today = dayFromIso(session.today)!;
  const report = useChange((body: SymptomCreate, key) =>
    call(endpoints.triage.report, { params: { id: vehicleId }, body, key }),
  );
  const meant = meantBy(words, asked.vocabulary);
  const symptom = meant.length === 1 ? meant[0] : undefined;
  return (
    <form
      className="grid gap-3"
      onSubmit={(event) => {
        event.preventDefault();
        report.mutate(
          {
            symptomId: symptom?.id ?? null,
            words: symptom?.words ?? words,
            condition: condition.trim() || null,
            day: isoSent(day, today) ?? session.today,
            goodDay: isoSent(goodDay, today),
          },
          {
            onSuccess: () => {
              setWords('');
              setCondition('');
              setDay('');
              setGoodDay('');
            },
          },
        );
      }}
    >
      <WordsField report={report} words={words} asked={asked} meant={meant} list={list} setWords={setWords} />
      <datalist id={list}>
        {asked.vocabulary.flatMap((one) => [
          <option key={one.id} value={one.words} />,
          ...one.codes.map((code) => (
            <option key={`${one.id} ${code}`} value={code}>
              {one.words}
            </option>
          )),
        ])}
      </datalist>
      <WhenFields
        when={when}
        condition={condition}
        setCondition={setCondition}
        day={day}
        setDay={setDay}
        today={today}
        report={report}
        goodDay={goodDay}
        setGoodDay={setGoodDay}
      />
      <FormProblem error={report.error} fields={['words', 'day', 'goodDay']} />
      <div>
        <Button type="submit" look="main" disabled={words.trim() === '' || report.isPending}>
          Add it
        </Button>
      </div>
    </form>
  );
}
