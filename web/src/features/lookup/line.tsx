import type { LookupMeaning, SessionState } from '@crosspeen/contract';
import {
  compactKey,
  dayFromIso,
  understandLine,
  type Chip,
  type DistanceUnit,
  type UnderstoodLine,
} from '@crosspeen/core';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { Popover } from 'radix-ui';
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
import { INPUT } from '../../ui/field.tsx';
import { giveBack } from '../../ui/focus.ts';
import { LINE_ID } from '../../parts/keys.ts';
import { Select } from '../../ui/select.tsx';
import { wholeText } from '../../ui/formats.ts';
import type { LineProblem } from '../../../../core/src/shorthand/lookupLine.ts';

const KIND_WORDS: Readonly<Record<Chip['kind'], string>> = {
  words: 'engine or plate',
  reading: 'reading',
  registered: 'first registered',
  displacement: 'displacement',
  severity: 'use',
};

/** What a word of the line is taken for once the engine is known. */
const WORD_WORDS: Readonly<Record<LineWord['kind'], string>> = {
  engine: 'engine or plate',
  model: 'model',
  feature: 'has',
  symptom: 'reported',
  unused: 'not used',
};

type LineWord = LookupMeaning['words'][number];
interface Grouped {
  readonly chip: Chip;
  readonly word: LineWord | null;
}

/**
 * Chips as they are shown. Contiguous words are one chip: a code typed with a space in it is one thing. Once the engine
 * is known, words stand together that mean one thing.
 */
function grouped(line: string, chips: readonly Chip[], words: readonly LineWord[]): Grouped[] {
  const left = words.map((word) => ({ word, count: word.text.split(' ').length }));
  const out: Grouped[] = [];
  for (const chip of chips) {
    const counts = chip.kind === 'words' && compactKey(chip.text) !== '';
    const next = counts ? left[0] : undefined;
    const before = out.at(-1);
    const apart = before === undefined || line.slice(before.chip.end, chip.start).trim() !== '';
    const same = words.length === 0 ? before?.chip.kind === 'words' : before?.word === next?.word;
    if (chip.kind === 'words' && !apart && before.chip.kind === 'words' && (same || !counts))
      out[out.length - 1] = {
        ...before,
        chip: { ...before.chip, end: chip.end, text: line.slice(before.chip.start, chip.end) },
      };
    else out.push({ chip, word: next?.word ?? null });
    if (next !== undefined) {
      next.count -= 1;
      if (next.count === 0) left.shift();
    }
  }
  return out;
}

function meaningOf(chip: Chip, understood: UnderstoodLine): string {
  switch (chip.kind) {
    case 'reading':
      return understood.reading ? `${wholeText(understood.reading.value)} ${understood.reading.unit}` : chip.text;
    case 'displacement':
      return `${chip.text.replace(',', '.').replace(/l$/i, '')} litres`;
    case 'severity':
      return understood.severity > 1 ? `harder use, ${chip.text}` : chip.text;
    case 'registered':
    case 'words':
      return chip.text;
  }
}

/** The unit of a chip, and its buttons. */
function ChipUnits({
  onUnit,
  setOpen,
  onChange,
}: {
  onUnit: (() => void) | undefined;
  setOpen: Dispatch<SetStateAction<boolean>>;
  onChange: (text: string) => void;
}): ReactNode {
  return (
    <div className="flex gap-2">
      <Button look="main" type="submit">
        Apply
      </Button>
      {onUnit && (
        <Button
          onClick={() => {
            onUnit();
            setOpen(false);
          }}
        >
          Other unit
        </Button>
      )}
      <Button
        look="quiet"
        onClick={() => {
          onChange('');
          setOpen(false);
        }}
      >
        Remove
      </Button>
    </div>
  );
}

/** Correcting one word of the line. */
function ChipForm({
  save,
  chip,
  kind,
  text,
  setText,
  onUnit,
  setOpen,
  onChange,
}: {
  save: () => void;
  chip: Chip;
  kind: string;
  text: string;
  setText: Dispatch<SetStateAction<string>>;
  onUnit: (() => void) | undefined;
  setOpen: Dispatch<SetStateAction<boolean>>;
  onChange: (text: string) => void;
}): ReactNode {
  return (
    <form
      className="grid gap-2"
      onSubmit={(event) => {
        event.preventDefault();
        save();
      }}
    >
      <label className="font-semibold" htmlFor={`chip-${chip.start}`}>
        Correct the {kind}
      </label>
      <input
        id={`chip-${chip.start}`}
        className={INPUT}
        value={text}
        onChange={(event) => setText(event.target.value)}
      />
      <ChipUnits onUnit={onUnit} setOpen={setOpen} onChange={onChange} />
    </form>
  );
}

/** The popover that edits a chip. */
function ChipPopover({
  save,
  chip,
  kind,
  text,
  setText,
  onUnit,
  setOpen,
  onChange,
}: {
  save: () => void;
  chip: Chip;
  kind: string;
  text: string;
  setText: Dispatch<SetStateAction<string>>;
  onUnit: (() => void) | undefined;
  setOpen: Dispatch<SetStateAction<boolean>>;
  onChange: (text: string) => void;
}): ReactNode {
  return (
    <Popover.Portal>
      <Popover.Content
        align="start"
        sideOffset={6}
        className="z-30 w-72 rounded-md border border-rule-strong bg-sheet p-3 shadow-lg"
      >
        <ChipForm
          save={save}
          chip={chip}
          kind={kind}
          text={text}
          setText={setText}
          onUnit={onUnit}
          setOpen={setOpen}
          onChange={onChange}
        />
      </Popover.Content>
    </Popover.Portal>
  );
}

function ChipEditor({
  chip,
  kind,
  unused,
  label,
  note,
  onChange,
  onUnit,
}: {
  chip: Chip;
  kind: string;
  /** The line does not use it. */
  unused: boolean;
  label: string;
  note?: string;
  onChange: (text: string) => void;
  onUnit?: () => void;
}): ReactNode {
  const [text, setText] = useState(chip.text);
  const [open, setOpen] = useState(false);
  const save = (): void => {
    onChange(text);
    setOpen(false);
  };
  return (
    <Popover.Root
      open={open}
      onOpenChange={(next) => {
        setText(chip.text);
        setOpen(next);
      }}
    >
      <Popover.Trigger asChild>
        <button
          type="button"
          className={`min-h-11 rounded-full border border-rule-strong bg-sheet px-3.5 text-left hover:bg-well ${unused ? 'border-dashed' : ''}`}
          title="Correct it"
        >
          <span className="text-sm text-soft">{kind} </span>
          <span className={`figure text-lg font-semibold ${unused ? 'line-through' : ''}`}>{label}</span>
          {note && <span className="text-sm text-soft"> {note}</span>}
        </button>
      </Popover.Trigger>
      <ChipPopover
        save={save}
        chip={chip}
        kind={kind}
        text={text}
        setText={setText}
        onUnit={onUnit}
        setOpen={setOpen}
        onChange={onChange}
      />
    </Popover.Root>
  );
}

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

/** A chip with its editor. */
function ChipShown({
  chip,
  word,
  understood,
  replace,
  flipUnit,
}: {
  chip: Chip;
  word: LineWord | null;
  understood: UnderstoodLine;
  replace: (chip: Chip, text: string) => void;
  flipUnit: (chip: Chip) => void;
}): ReactNode {
  return (
    <ChipEditor
      chip={chip}
      kind={word === null ? KIND_WORDS[chip.kind] : WORD_WORDS[word.kind]}
      unused={word?.kind === 'unused'}
      label={word?.kind === 'model' || word?.kind === 'feature' ? word.means.join(', ') : meaningOf(chip, understood)}
      {...(word?.kind === 'symptom'
        ? { note: word.means.length === 1 ? word.means[0]! : `${word.means.length} that show so` }
        : {})}
      {...(chip.kind === 'reading' && understood.reading && !understood.reading.unitTyped
        ? { note: `${understood.reading.unit} assumed` }
        : {})}
      onChange={(text) => replace(chip, text)}
      {...(chip.kind === 'reading' ? { onUnit: () => flipUnit(chip) } : {})}
    />
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
