import { historyText, type WireQuestion } from '@crosspeen/contract';
import { GRADES, parseDay, type DistanceUnit, type Grade } from '@crosspeen/core';
import { useId, useState, type ReactNode } from 'react';
import { useForm, useWatch } from 'react-hook-form';
import { Button } from '../../ui/button.tsx';
import { TextField } from '../../ui/field.tsx';
import { FormSelect } from '../../ui/form-fields.tsx';
import { VERDICT_WORDS } from '../../ui/mark.tsx';
import { optionsOf } from '../../ui/select.tsx';
import { isoTyped, kmTyped } from '../../ui/typed-fields.tsx';
import { dayText, distanceText } from '../../ui/units.ts';

const GRADE_WORDS: Readonly<Record<Grade, string>> = {
  original: 'original',
  equivalent: 'equivalent',
  cheap: 'cheap',
  used: 'used',
  rebuilt: 'rebuilt',
};

export interface QuestionsProps {
  /** Most worthwhile first; undefined while they are being worked out. */
  readonly questions: readonly WireQuestion[] | undefined;
  readonly onAnswer: (question: WireQuestion, answer: string) => void;
  /** In what unit a reading is typed, and the day it is. */
  readonly unit: DistanceUnit;
  readonly today: number;
  /** Opens the record of a part, for what an invoice or a stamp shows; left out where nothing is on file. */
  readonly onRecord?: (componentKey: string) => void;
}

/** "Yes, about then": a date or a reading, or neither for lately; and which part went in. */
function About({
  unit,
  today,
  onAnswer,
}: Pick<QuestionsProps, 'unit' | 'today'> & { readonly onAnswer: (answer: string) => void }): ReactNode {
  const { register, control, handleSubmit, formState } = useForm<{ when: string; grade: Grade }>({
    defaultValues: { when: '', grade: 'original' },
  });
  const when = useWatch({ control, name: 'when' });
  const read = (text: string): { day: string | null; km: number | null } | null => {
    if (text.trim() === '' || /^lately$/i.test(text.trim())) return { day: null, km: null };
    const day = isoTyped(text, today);
    if (day !== null) return parseDay(text, today)! > today ? null : { day, km: null };
    const km = kmTyped(text, unit);
    return km === null || km < 0 ? null : { day: null, km };
  };
  const understood = read(when);
  const hint =
    understood === null
      ? 'Write 2024, 5/2024 or 120k; empty means lately'
      : understood.day !== null
        ? dayText(parseDay(when, today)!)
        : understood.km !== null
          ? `at ${distanceText(understood.km, unit, 100)}`
          : 'Lately: about a year ago';
  return (
    <form
      className="flex basis-full flex-wrap items-start gap-2"
      noValidate
      onSubmit={(event) =>
        void handleSubmit(({ when: text, grade }) => onAnswer(historyText({ kind: 'renewed', ...read(text)!, grade })))(
          event,
        )
      }
    >
      <TextField
        label="About when"
        autoFocus
        autoComplete="off"
        hint={hint}
        error={formState.errors.when?.message}
        {...register('when', {
          validate: (text) => read(text) !== null || 'write a date that has been, or a reading such as 120k',
        })}
      />
      <FormSelect
        control={control}
        name="grade"
        label="Part"
        options={optionsOf(GRADES, (grade) => GRADE_WORDS[grade])}
      />
      <Button look="main" type="submit" className="mt-7">
        Use it
      </Button>
    </form>
  );
}

function Ask({
  question,
  onAnswer,
  onRecord,
  unit,
  today,
}: { question: WireQuestion } & Omit<QuestionsProps, 'questions'>): ReactNode {
  const [dating, setDating] = useState(false);
  const form = useId();
  const history = question.about.startsWith('history:');
  const tell = question.answers
    .map(({ words, howToTell }) => (howToTell ? `${words}: ${howToTell}` : null))
    .filter(Boolean);
  const [first, ...more] = question.moves;
  return (
    <li className="flex flex-wrap items-center justify-between gap-x-6 gap-y-1 px-4 py-2">
      <div className="min-w-0 flex-1 basis-96">
        <p className="text-lg font-semibold leading-tight">{question.ask}</p>
        {tell.length > 0 && (
          <p className="text-sm">
            <strong>Look:</strong> {tell.join('; ')}.
          </p>
        )}
        <p className="text-sm text-soft">
          If {first!.answer}: “{first!.title}” changes from {VERDICT_WORDS[first!.from].word} to{' '}
          {VERDICT_WORDS[first!.to].word}
          {more.length > 0 && `, and ${more.length} more ${more.length === 1 ? 'change' : 'changes'}`}.
        </p>
      </div>
      <div className="flex flex-wrap gap-2">
        {question.answers.map((answer) => {
          const dated = history && answer.key !== 'never';
          return (
            <Button
              key={answer.key}
              {...(dated ? { 'aria-expanded': dating, 'aria-controls': form } : {})}
              onClick={() => (dated ? setDating(!dating) : onAnswer(question, answer.key))}
            >
              {dated ? 'Yes, about …' : answer.words.charAt(0).toUpperCase() + answer.words.slice(1)}
              {question.about === 'variant' && (
                <span className="text-sm font-normal text-soft">{Math.round(answer.weight * 100)} %</span>
              )}
            </Button>
          );
        })}
        {history && <Button onClick={() => onAnswer(question, 'unknown')}>Not known</Button>}
        {history && onRecord && (
          <Button look="quiet" onClick={() => onRecord(question.about.slice(8))}>
            An invoice shows it
          </Button>
        )}
      </div>
      <div id={form} className="basis-full">
        {dating && <About unit={unit} today={today} onAnswer={(answer) => onAnswer(question, answer)} />}
      </div>
    </li>
  );
}

/**
 * The questions whose answer changes a verdict, most worthwhile first, each with what to look at. Nothing is shown when
 * none does.
 */
export function Questions({ questions: found, ...asking }: QuestionsProps): ReactNode {
  const [all, setAll] = useState(false);
  // The place is kept while they come, so that nothing jumps under a finger.
  if (found === undefined) return <div aria-hidden className="min-h-[7rem] rounded-md border border-rule bg-sheet" />;
  if (found.length === 0) return null;
  return (
    <section aria-label="What would settle it" className="rounded-md border border-rule bg-sheet">
      <ul className="divide-y divide-rule">
        {(all ? found : found.slice(0, 1)).map((question) => (
          <Ask key={question.about} question={question} {...asking} />
        ))}
      </ul>
      {found.length > 1 && (
        <button
          type="button"
          className="min-h-11 w-full border-t border-rule px-4 text-left font-semibold hover:bg-well"
          aria-expanded={all}
          onClick={() => setAll(!all)}
        >
          {all
            ? 'Show one question'
            : `${found.length - 1} more ${found.length === 2 ? 'question' : 'questions'} whose answer would change a result`}
        </button>
      )}
    </section>
  );
}
