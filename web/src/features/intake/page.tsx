import type { Sending } from '../../api/sending.ts';
import { call } from '../../api/client.ts';
import {
  type BodyOf,
  addressOf,
  endpoints,
  INTAKE_COLUMNS,
  INTAKE_KINDS,
  type IntakeFormats,
  type IntakeKind,
  type IntakePreview,
  type IntakeRun,
  LINES_TOLD,
  may,
  type SessionState,
} from '@crosspeen/contract';
import { useMutation } from '@tanstack/react-query';
import { useState, type ReactNode } from 'react';
import { Link, useSearchParams } from 'react-router';
import { ProblemError } from '../../api/client.ts';
import { read } from '../../api/queries.ts';
import { Button } from '../../ui/button.tsx';
import { FileDrop } from '../../ui/drop.tsx';
import { Empty, Notice } from '../../ui/notice.tsx';
import { PagedView, usePagedList } from '../../ui/paged-list.tsx';
import { instantText } from '../../ui/units.ts';
import {
  COLUMN_WORDS,
  DATE_WORDS,
  DECIMAL_WORDS,
  keptNotes,
  KIND_WORDS,
  mapped,
  runWords,
  UNIT_WORDS,
} from './words.ts';
import { DataTable } from '../../ui/data-table.tsx';
import { Select, SelectField, optionsOf } from '../../ui/select.tsx';
import { wholeText } from '../../ui/formats.ts';
import { Run } from './run.tsx';

function Faulty({ error }: { error: unknown }): ReactNode {
  if (!error) return null;
  const fields = error instanceof ProblemError ? (error.details.fields ?? []) : [];
  return (
    <Notice role="alert">
      <p>{(error as Error).message}</p>
      {fields.length > 0 && (
        <ul>
          {fields.map(({ path, message }) => (
            <li key={path}>
              <strong>{COLUMN_WORDS[path.replace('mapping.', '')] ?? path}:</strong> {message}
            </li>
          ))}
        </ul>
      )}
    </Notice>
  );
}

interface SampleRow {
  readonly place: number;
  readonly cells: readonly string[];
  readonly understood: readonly (string | null)[];
}

function Columns({
  preview,
  mapping,
  onMapping,
}: {
  preview: IntakePreview;
  mapping: Readonly<Record<string, number>>;
  onMapping: (mapping: Record<string, number>) => void;
}): ReactNode {
  const columns = Object.entries(INTAKE_COLUMNS[preview.kind]);
  const at = (place: number): string => Object.entries(mapping).find(([, taken]) => taken === place)?.[0] ?? '';
  return (
    <DataTable
      label="First rows of the file"
      caption="The first rows of the file, with what each column is taken for"
      columns={preview.headers.map((header, place) => ({
        id: String(place),
        head: <span className="text-base font-semibold text-ink">{header || `column ${place + 1}`}</span>,
        headClass: 'min-w-64 align-bottom',
        className: `max-w-64 truncate ${at(place) === '' ? 'text-soft' : ''}`,
        cell: ({ cells, understood }: SampleRow) => (
          <>
            {cells[place] ?? ''}
            {understood[place] != null && <span className="figure ml-2 text-soft">→ {understood[place]}</span>}
          </>
        ),
      }))}
      rows={preview.sample.map((cells, place) => ({ place, cells, understood: preview.understood[place]! }))}
      rowKey={({ place }) => String(place)}
      underHead={
        <tr className="border-b border-rule-strong text-left">
          {preview.headers.map((header, place) => (
            <td key={place} className="px-3 pb-2">
              <Select
                aria-label={`${header || `column ${place + 1}`} is`}
                className={at(place) === '' ? 'text-soft' : 'font-semibold'}
                value={at(place)}
                onChange={(picked) => onMapping(mapped(mapping, place, picked || null))}
                options={[
                  { value: '', label: 'not taken' },
                  ...columns.map(([column, must]) => ({
                    value: column,
                    label: `${COLUMN_WORDS[column]}${must ? ' (needed)' : ''}`,
                  })),
                ]}
              />
            </td>
          ))}
        </tr>
      }
    />
  );
}

/** The file, and starting its import. */
function DecideHead({
  preview,
  start,
  missing,
  asked,
  onLeave,
}: {
  preview: IntakePreview;
  start: Pick<Sending<void>, 'mutate' | 'isPending'>;
  missing: (string | undefined)[];
  asked: IntakePreview['open'];
  onLeave: () => void;
}): ReactNode {
  return (
    <div className="flex flex-wrap items-end justify-between gap-3">
      <h2 className="text-2xl">
        {preview.name} <span className="font-medium text-soft">{wholeText(Math.ceil(preview.bytes / 1024))} kB</span>
      </h2>
      <div className="flex gap-2">
        <Button
          look="main"
          disabled={start.isPending || missing.length > 0 || asked.length > 0}
          onClick={() => start.mutate()}
        >
          Import it
        </Button>
        <Button onClick={onLeave}>Cancel</Button>
      </div>
    </div>
  );
}

/** How the file is read. */
function FormatChoices({
  preview,
  onKind,
  format,
}: {
  preview: IntakePreview;
  onKind: (kind: IntakeKind) => void;
  format: <Key extends keyof IntakeFormats>(
    key: Key,
    label: string,
    words: Readonly<Record<IntakeFormats[Key], string>>,
    ask: string,
  ) => ReactNode;
}): ReactNode {
  return (
    <div className="grid gap-3 sm:grid-cols-2 lg:grid-cols-4">
      <SelectField
        label="The file holds"
        value={preview.kind}
        onChange={onKind}
        options={optionsOf(INTAKE_KINDS, (kind) => KIND_WORDS[kind])}
      />
      {format('date', 'Dates are written', DATE_WORDS, 'Day or month first? The file does not tell.')}
      {format(
        'decimal',
        'Decimals after a',
        DECIMAL_WORDS,
        'Is 1,234 a thousand or a little over one? The file does not tell.',
      )}
      {format('unit', 'Readings are in', UNIT_WORDS, 'The column does not say which unit.')}
    </div>
  );
}

function Decide({
  preview,
  onKind,
  onLook,
  onStarted,
  onLeave,
}: {
  preview: IntakePreview;
  onKind: (kind: IntakeKind) => void;
  /** Has the file read anew with other columns or formats. */
  onLook: (decided: { mapping: Record<string, number>; formats: IntakeFormats | null }) => void;
  onStarted: (run: IntakeRun) => void;
  onLeave: () => void;
}): ReactNode {
  const { mapping, formats } = preview;
  const [decided, setDecided] = useState<readonly string[]>([]);
  const start = useMutation({
    mutationFn: () =>
      call(endpoints.intake.start, { params: { id: preview.fileId }, body: { kind: preview.kind, mapping, formats } }),
    onSuccess: onStarted,
  });
  const missing = Object.entries(INTAKE_COLUMNS[preview.kind])
    .filter(([column, must]) => must && mapping[column] === undefined)
    .map(([column]) => COLUMN_WORDS[column]);
  const asked = preview.open.filter((open) => !decided.includes(open));
  const decide = <Key extends keyof IntakeFormats>(key: Key, value: string): void => {
    setDecided((before) => [...before, key]);
    onLook({ mapping, formats: { ...formats, [key]: value } });
  };
  const format = <Key extends keyof IntakeFormats>(
    key: Key,
    label: string,
    words: Readonly<Record<IntakeFormats[Key], string>>,
    ask: string,
  ): ReactNode => (
    <SelectField
      label={label}
      value={asked.includes(key) ? '' : formats[key]}
      onChange={(value) => decide(key, value)}
      hint={asked.includes(key) ? ask : undefined}
      placeholder="Decide"
      options={optionsOf(Object.keys(words) as IntakeFormats[Key][], (value) => words[value])}
    />
  );
  return (
    <div className="grid gap-4">
      <DecideHead preview={preview} start={start} missing={missing} asked={asked} onLeave={onLeave} />
      <FormatChoices preview={preview} onKind={onKind} format={format} />
      {missing.length > 0 && <Notice>Say which column is: {missing.join(', ')}.</Notice>}
      <Faulty error={start.error} />
      {preview.open.includes('small') && (
        <Notice
          role="alert"
          actions={
            asked.includes('small') && (
              <Button onClick={() => setDecided((before) => [...before, 'small'])}>They are right</Button>
            )
          }
        >
          <strong>
            Readings are under 1,000 km in line {preview.smallLines.join(', ')}
            {preview.smallLines.length === LINES_TOLD && ' and further on'}.
          </strong>{' '}
          If a point or a comma stands between thousands, say so under “Decimals after a”; or correct the file.
        </Notice>
      )}
      <Columns
        preview={preview}
        mapping={mapping}
        // Another column may be written otherwise: the file is asked anew.
        onMapping={(next) => {
          setDecided([]);
          onLook({ mapping: next, formats: null });
        }}
      />
    </div>
  );
}

function Earlier({ onOpen }: { onOpen: (id: string) => void }): ReactNode {
  const of = usePagedList(({ page }) => read.intakeRuns(page));
  return (
    <section aria-labelledby="earlier">
      <h2 id="earlier" className="mb-2 text-2xl">
        Imported before
      </h2>
      <PagedView
        of={of}
        what="files"
        csv={addressOf(endpoints.lists.intake, {})}
        empty={<p className="text-soft">Nothing has been imported yet.</p>}
      >
        {(rows) => (
          <ul className="divide-y divide-rule rounded-md border border-rule bg-sheet">
            {rows.map((run) => (
              <li key={run.id}>
                <button
                  type="button"
                  className="min-h-12 w-full px-4 py-2 text-left hover:bg-well"
                  onClick={() => onOpen(run.id)}
                >
                  <strong>{run.name}</strong>{' '}
                  <span className="text-soft">
                    {KIND_WORDS[run.kind]}, {instantText(run.startedAt)}
                  </span>
                  <span className="block">{runWords(run)}</span>
                  <span className="block text-soft">{keptNotes(run).join(' ')}</span>
                </button>
              </li>
            ))}
          </ul>
        )}
      </PagedView>
    </section>
  );
}

/** Where the file is chosen or dropped. */
function FilePart({
  hold,
  again,
  open,
}: {
  hold: { readonly isPending: boolean; readonly mutate: (file: File) => void; readonly error: Error | null };
  again: { readonly error: Error | null };
  open: (next: string | null) => void;
}): ReactNode {
  return (
    <>
      <FileDrop
        label="Choose a CSV file"
        accept=".csv,.txt,text/csv"
        disabled={hold.isPending}
        onFile={(file) => hold.mutate(file)}
        hint={
          hold.isPending
            ? 'Reading it …'
            : 'Vehicles, readings, what was renewed or what was found: one row each, the columns named in the first. Nothing is written before you have seen how it is understood.'
        }
      />
      <Faulty error={hold.error ?? again.error} />
      <Earlier onOpen={open} />
    </>
  );
}

/** Spreadsheets in: dropped, looked at, decided, imported with every row answered for. */
export default function IntakePage({ session }: { session: SessionState }): ReactNode {
  const [params, setParams] = useSearchParams();
  const [preview, setPreview] = useState<IntakePreview | null>(null);
  const hold = useMutation({
    mutationFn: (file: File) => call(endpoints.intake.send, { query: { name: file.name.slice(0, 200) }, body: file }),
    onSuccess: setPreview,
  });
  const again = useMutation({
    mutationFn: (body: BodyOf<typeof endpoints.intake.preview>) =>
      call(endpoints.intake.preview, { params: { id: preview!.fileId }, body }),
    onSuccess: setPreview,
  });
  const id = params.get('file');
  const open = (next: string | null): void => {
    setPreview(null);
    setParams(next === null ? {} : { file: next });
  };
  if (!may(session.user!.role, 'importFiles'))
    return (
      <Empty title="Spreadsheets are imported at the desk">The adviser or the owner of the workshop does it.</Empty>
    );
  return (
    <div className="grid gap-4">
      <header>
        <p>
          <Link to="/vehicles" className="inline-flex min-h-11 items-center hover:underline">
            ← Vehicles
          </Link>
        </p>
        <h1 className="text-3xl">Import a spreadsheet</h1>
      </header>
      {id !== null ? (
        <Run id={id} onLeave={() => open(null)} />
      ) : preview ? (
        <Decide
          key={`${preview.fileId} ${preview.kind}`}
          preview={preview}
          onKind={(kind) => again.mutate({ kind })}
          onLook={(decided) => again.mutate({ kind: preview.kind, ...decided })}
          onStarted={(run) => open(run.id)}
          onLeave={() => setPreview(null)}
        />
      ) : (
        <FilePart hold={hold} again={again} open={open} />
      )}
    </div>
  );
}
