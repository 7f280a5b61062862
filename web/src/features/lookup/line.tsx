import type { LookupMeaning, SessionState } from '@crosspeen/contract';
import { dayFromIso, understandLine, type Chip, type DistanceUnit, type UnderstoodLine } from '@crosspeen/core';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import {
  type SetStateAction,
  type Dispatch,
  useDeferredValue,
  useEffect,
  useMemo,
  useRef,
  useState,
  type ReactNode,
} from 'react';
import { useLocation } from 'react-router';
import { read } from '../../api/queries.ts';
import { Button } from '../../ui/button.tsx';
import { giveBack } from '../../ui/focus.ts';
import { LINE_ID } from '../../parts/keys.ts';
import { Select } from '../../ui/select.tsx';
import type { LineProblem } from '../../../../core/src/shorthand/lookupLine.ts';
import { grouped, ChipShown } from './chips.tsx';

export interface LineProps {
  readonly session: SessionState;
  readonly unit: DistanceUnit;
  /** The line whose answer is shown. */
  readonly asked: string;
  readonly variant: string | null;
  readonly onAsk: (line: string, meaning: LookupMeaning | undefined) => void;
  readonly onVariant: (line: string, key: string | null) => void;
  readonly onFamily: (line: string, familyId: string) => void;
}

/** The field and the button. */
function LineField({
  input,
  line,
  setLine,
  asked,
}: {
  input: React.RefObject<HTMLInputElement | null>;
  line: string;
  setLine: Dispatch<SetStateAction<string>>;
  asked: string;
}): ReactNode {
  return (
    <div className="flex gap-2">
      <label htmlFor={LINE_ID} className="sr-only">
        Engine code or plate, reading, year
      </label>
      <input
        ref={input}
        id={LINE_ID}
        value={line}
        onChange={(event) => setLine(event.target.value)}
        autoComplete="off"
        autoCapitalize="characters"
        spellCheck={false}
        onKeyDown={(event) => {
          // From the line into the list below it, whatever it lists.
          if (event.key === 'ArrowDown') document.querySelector<HTMLElement>('main [data-row]')?.focus();
          if (event.key === 'Escape') {
            // Left for nowhere, it would have the focus again with the next change on the page.
            if (line === asked) giveBack(null);
            else setLine(asked);
          }
        }}
        aria-describedby="line-understood"
        placeholder="Engine code or plate, reading, year: QV20T 148k 2014"
        className="figure min-h-14 w-full min-w-0 rounded-md border-2 border-rule-strong bg-sheet px-4 text-2xl font-medium placeholder:text-soft focus:border-accent"
      />
      <Button look="main" type="submit" className="min-h-14! px-6! text-lg whitespace-nowrap" shortcut="Enter">
        Look up
      </Button>
    </div>
  );
}

/** Engines that the typed code may mean. */
function Candidates({ known, onChoose }: { known: LookupMeaning; onChoose: (familyId: string) => void }): ReactNode {
  return (
    <span className="flex flex-wrap items-center gap-2">
      <span className="text-soft">{known.near ? 'Did you mean' : 'Which one?'}</span>
      {known.candidates.map((engine) => (
        <Button key={engine.familyId} onClick={() => onChoose(engine.familyId)}>
          {engine.maker} {engine.code}
        </Button>
      ))}
    </span>
  );
}

/** What the line is understood as, in chips. */
function Understood({
  line,
  understood,
  settled,
  known,
  replace,
  flipUnit,
  variant,
  onVariant,
  onFamily,
}: {
  line: string;
  understood: UnderstoodLine;
  settled: string;
  known: LookupMeaning | undefined;
  replace: (chip: Chip, text: string) => void;
  flipUnit: (chip: Chip) => void;
  variant: string | null;
  onVariant: (line: string, key: string | null) => void;
  onFamily: (line: string, familyId: string) => void;
}): ReactNode {
  return (
    <div id="line-understood" aria-live="polite" className="mt-2 flex flex-wrap items-center gap-2">
      {grouped(line, understood.chips, line === settled ? (known?.words ?? []) : []).map(({ chip, word }) => (
        <ChipShown
          key={`${chip.start}-${chip.text}`}
          chip={chip}
          word={word}
          understood={understood}
          replace={replace}
          flipUnit={flipUnit}
        />
      ))}
      {known?.engine && (
        <span className="figure rounded-full bg-well px-3.5 py-2 text-lg font-semibold">
          {known.engine.maker} {known.engine.code}, {known.engine.name}
        </span>
      )}
      {known?.engine && known.variants.length > 0 && (known.variants.length > 1 || variant !== null) && (
        <VariantChoice variant={variant} onVariant={onVariant} line={line} known={known} />
      )}
      {known?.engine && known.variants.length === 1 && variant === null && (
        <span className="rounded-full bg-well px-3.5 py-2">{known.variants[0]!.name}</span>
      )}
      {known?.vehicles.map((vehicle) => (
        <span key={vehicle.id} className="figure rounded-full bg-well px-3.5 py-2 text-lg">
          saved: <strong>{vehicle.plate ?? vehicle.name}</strong>, {vehicle.maker} {vehicle.model}
        </span>
      ))}
      {known && known.candidates.length > 0 && understood.compact !== '' && (
        <Candidates known={known} onChoose={(familyId) => onFamily(line, familyId)} />
      )}
    </div>
  );
}

function VariantChoice({
  variant,
  onVariant,
  line,
  known,
}: {
  variant: string | null;
  onVariant: (line: string, key: string | null) => void;
  line: string;
  known: LookupMeaning;
}): ReactNode {
  return (
    <label className="inline-flex max-w-full items-center gap-2">
      <span className="text-sm text-soft">variant</span>
      <Select
        className="w-auto! min-w-0"
        value={variant ?? ''}
        onChange={(picked) => onVariant(line, picked || null)}
        options={[
          { value: '', label: known.variants.length > 1 ? 'not known: all counted' : 'by the year' },
          ...known.variants.map(({ key, name, weight }) => ({
            value: key,
            label: variant === null && known.variants.length > 1 ? `${name} (${Math.round(weight * 100)} %)` : name,
          })),
        ]}
      />
    </label>
  );
}

/** What the line does not make sense of. */
function LineProblems({ problems }: { problems: readonly LineProblem[] }): ReactNode {
  if (problems.length === 0) return null;
  return (
    <ul className="mt-2 grid gap-1">
      {problems.map((problem) => (
        <li key={problem.code} className="font-semibold">
          ▲ {problem.message}
        </li>
      ))}
    </ul>
  );
}

/** The line as it is typed: it follows the line that was asked, and takes the focus when the page asks for it. */
function useTypedLine(asked: string): {
  line: string;
  setLine: Dispatch<SetStateAction<string>>;
  input: React.RefObject<HTMLInputElement | null>;
} {
  const [line, setLine] = useState(asked);
  const input = useRef<HTMLInputElement>(null);
  const location = useLocation();
  const [lastAsked, setLastAsked] = useState(asked);
  if (asked !== lastAsked) {
    setLastAsked(asked);
    setLine(asked);
  }
  useEffect(() => {
    if ((location.state as { focusLine?: boolean } | null)?.focusLine || asked === '') input.current?.focus();
  }, [location.state, asked]);
  return { line, setLine, input };
}

/**
 * The lookup line with what was understood in plain chips. Nothing here waits for the network: typing is echoed and
 * parsed on the page.
 */
export function LookupLine({ session, unit, asked, variant, onAsk, onVariant, onFamily }: LineProps): ReactNode {
  const { line, setLine, input } = useTypedLine(asked);
  const today = dayFromIso(session.today)!;
  const understood = useMemo(() => understandLine(line, today, unit), [line, today, unit]);
  const settled = useDeferredValue(line);
  const askable = settled.trim() !== '' && settled.length <= 200;
  const meaning = useQuery({
    ...read.meaning({ line: settled, variant: line === asked ? variant : null }),
    enabled: askable,
    placeholderData: keepPreviousData,
  });
  const known = askable ? meaning.data : undefined;
  const replace = (chip: Chip, text: string): void => {
    const next = `${line.slice(0, chip.start)}${text}${line.slice(chip.end)}`.replace(/\s+/g, ' ').trim();
    setLine(next);
    onAsk(next, undefined);
  };
  const flipUnit = (chip: Chip): void => {
    const { reading } = understood;
    if (reading)
      replace(chip, `${chip.text.replace(/\s*(km|kms|mi|miles)$/i, '')} ${reading.unit === 'km' ? 'mi' : 'km'}`);
  };
  const problems = line.trim() === '' ? [] : understood.problems;
  return (
    <form
      role="search"
      className="mb-4"
      onSubmit={(event) => {
        event.preventDefault();
        onAsk(line, known);
      }}
    >
      <LineField input={input} line={line} setLine={setLine} asked={asked} />
      <Understood
        line={line}
        understood={understood}
        settled={settled}
        known={known}
        replace={replace}
        flipUnit={flipUnit}
        variant={variant}
        onVariant={onVariant}
        onFamily={onFamily}
      />
      <LineProblems problems={problems} />
    </form>
  );
}
