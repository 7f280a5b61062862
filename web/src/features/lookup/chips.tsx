import type { LookupMeaning } from '@crosspeen/contract';
import { compactKey, type Chip, type UnderstoodLine } from '@crosspeen/core';
import { Popover } from 'radix-ui';
import { type SetStateAction, type Dispatch, useState, type ReactNode } from 'react';
import { Button } from '../../ui/button.tsx';
import { INPUT } from '../../ui/field.tsx';
import { wholeText } from '../../ui/formats.ts';

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
export function grouped(line: string, chips: readonly Chip[], words: readonly LineWord[]): Grouped[] {
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

/** A chip with its editor. */
export function ChipShown({
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
