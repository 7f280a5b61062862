import type { WireQuestion } from '@crosspeen/contract';
import { useState, type ReactNode } from 'react';
import { Button } from '../../ui/button.tsx';
import { VERDICT_WORDS } from '../../ui/mark.tsx';

export interface QuestionsProps {
  /** Most worthwhile first; undefined while they are being worked out. */
  readonly questions: readonly WireQuestion[] | undefined;
  readonly onAnswer: (question: WireQuestion, answer: string) => void;
  /** Opens the record of a part whose renewal needs a date; left out where nothing is on file. */
  readonly onRecord?: (componentKey: string) => void;
}

function Ask({
  question,
  onAnswer,
  onRecord,
}: { question: WireQuestion } & Pick<QuestionsProps, 'onAnswer' | 'onRecord'>): ReactNode {
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
          If {first!.answer}: “{first!.title}” goes from {VERDICT_WORDS[first!.from].word} to{' '}
          {VERDICT_WORDS[first!.to].word}
          {more.length > 0 && `, and ${more.length} more ${more.length === 1 ? 'change' : 'changes'}`}.
        </p>
      </div>
      <div className="flex flex-wrap gap-2">
        {question.answers.map((answer) => {
          const dated = history && answer.key !== 'never';
          if (dated && !onRecord)
            return (
              <span key={answer.key} className="max-w-52 self-center text-sm text-soft">
                If it was: keep it as a vehicle and put the date on record.
              </span>
            );
          return (
            <Button
              key={answer.key}
              onClick={() => (dated ? onRecord!(question.about.slice(8)) : onAnswer(question, answer.key))}
            >
              {dated ? 'Yes, put it on record' : answer.words.charAt(0).toUpperCase() + answer.words.slice(1)}
              {question.about === 'variant' && (
                <span className="text-sm font-normal text-soft">{Math.round(answer.weight * 10)} in 10</span>
              )}
            </Button>
          );
        })}
      </div>
    </li>
  );
}

/**
 * The questions whose answer changes a verdict, most worthwhile first, each with what to look at. Nothing is shown when
 * none does.
 */
export function Questions({ questions: found, onAnswer, onRecord }: QuestionsProps): ReactNode {
  const [all, setAll] = useState(false);
  // The place is kept while they come, so that nothing jumps under a finger.
  if (found === undefined) return <div aria-hidden className="min-h-[7rem] rounded-md border border-rule bg-sheet" />;
  if (found.length === 0) return null;
  return (
    <section aria-label="What would settle it" className="rounded-md border border-rule bg-sheet">
      <ul className="divide-y divide-rule">
        {(all ? found : found.slice(0, 1)).map((question) => (
          <Ask key={question.about} question={question} onAnswer={onAnswer} {...(onRecord ? { onRecord } : {})} />
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
            ? 'Only the most worthwhile question'
            : `${found.length - 1} more ${found.length === 2 ? 'question' : 'questions'} whose answer would change a verdict`}
        </button>
      )}
    </section>
  );
}
