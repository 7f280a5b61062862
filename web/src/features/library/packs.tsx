import type { Sending } from '../../api/sending.ts';
import { call } from '../../api/client.ts';
import {
  addressOf,
  endpoints,
  type LibraryPack,
  may,
  type PackChoice,
  type PackDiffRow,
  type PackPreview,
  type SessionState,
} from '@crosspeen/contract';
import { useMutation } from '@tanstack/react-query';
import { useState, type ReactNode } from 'react';
import { useChange } from '../../api/changing.tsx';
import { ProblemError } from '../../api/client.ts';
import { read } from '../../api/queries.ts';
import { Button } from '../../ui/button.tsx';
import { FileDrop } from '../../ui/drop.tsx';
import { Notice } from '../../ui/notice.tsx';
import { PagedTable, usePagedList } from '../../ui/paged-list.tsx';
import { SaveLink } from '../../ui/save-link.tsx';
import { instantText } from '../../ui/units.ts';
import type { TableColumn } from '../../ui/data-table.tsx';
import { Select, optionsOf } from '../../ui/select.tsx';

const CHOICE_WORDS: Readonly<Record<PackChoice, string>> = {
  take: 'take theirs',
  keep: 'keep ours',
  both: 'keep ours, put theirs beside it',
  retire: 'take it out of use',
};
const WHAT_WORDS: Readonly<Record<PackDiffRow['what'], { readonly head: string; readonly means: string }>> = {
  conflict: {
    head: 'Conflicting',
    means: 'Ours was written here or came with another pack, and theirs says otherwise.',
  },
  gone: { head: 'Gone', means: 'Came with an earlier edition of this pack and is not in this one.' },
  changed: { head: 'Changed', means: 'Came with this pack, and this edition says otherwise.' },
  new: { head: 'New', means: 'Not in the library yet.' },
};

const columnText = (value: string): string => (value.length > 140 ? `${value.slice(0, 140)} …` : value);

function Rows({
  what,
  rows,
  choices,
  onChoice,
}: {
  what: PackDiffRow['what'];
  rows: readonly PackDiffRow[];
  choices: Readonly<Record<string, PackChoice>>;
  onChoice: (id: string, choice: PackChoice) => void;
}): ReactNode {
  const [all, setAll] = useState(false);
  const own = rows.filter((row) => row.what === what);
  if (own.length === 0) return null;
  const shown = all ? own : own.slice(0, 25);
  return (
    <section aria-label={WHAT_WORDS[what].head}>
      <h3 className="text-xl">
        {WHAT_WORDS[what].head}: {own.length}
      </h3>
      <p className="mb-2 text-soft">{WHAT_WORDS[what].means}</p>
      <ul className="divide-y divide-rule rounded-md border border-rule bg-sheet">
        {shown.map((row) => (
          <li key={row.id} className="flex flex-wrap items-start justify-between gap-3 px-4 py-2">
            <div className="min-w-64 flex-1 py-1">
              <strong>{row.name}</strong>{' '}
              <span className="text-soft">
                {row.entity}
                {row.owner ? `, ours from ${row.owner}` : row.what === 'conflict' ? ', written here' : ''}
              </span>
              {row.columns.map(({ column, before, after }, i) => (
                <p key={`${column}-${i}`} className="break-words text-sm">
                  <span className="text-soft">{column}:</span> {columnText(before)} →{' '}
                  <strong>{columnText(after)}</strong>
                </p>
              ))}
            </div>
            {row.choices.length > 1 && (
              <Select
                aria-label={`${row.name}: what to do`}
                className="w-auto!"
                value={choices[row.id] ?? row.proposed}
                onChange={(choice) => onChoice(row.id, choice)}
                options={optionsOf(row.choices, (choice) => CHOICE_WORDS[choice])}
              />
            )}
          </li>
        ))}
      </ul>
      {own.length > shown.length && (
        <Button className="mt-2" onClick={() => setAll(true)}>
          Show all {own.length}
        </Button>
      )}
    </section>
  );
}

function Shown({ preview, onDone }: { preview: PackPreview; onDone: () => void }): ReactNode {
  const [choices, setChoices] = useState<Record<string, PackChoice>>({});
  const take = useChange((_input: null, key) =>
    call(endpoints.packs.import, { body: { uploadId: preview.uploadId, choices }, key }),
  );
  const { counts } = preview;
  const nothing = preview.rows.length === 0;
  return (
    <div className="grid gap-4">
      <div className="flex flex-wrap items-end justify-between gap-3">
        <div>
          <h2 className="text-2xl">
            {preview.title} {preview.version}
          </h2>
          <p className="text-soft">
            {preview.licence};{' '}
            {preview.loadedVersion === null ? 'not imported yet' : `imported: ${preview.loadedVersion}`}. {counts.new}{' '}
            new, {counts.changed} changed, {counts.conflict} conflicting, {counts.gone} gone, {counts.same} the same.
          </p>
        </div>
        <div className="flex gap-2">
          <Button
            look="main"
            disabled={take.isPending || nothing}
            onClick={() => take.mutate(null, { onSuccess: onDone })}
          >
            Import it as shown
          </Button>
          <Button onClick={onDone}>Cancel</Button>
        </div>
      </div>
      {take.error && <Notice role="alert">{take.error.message}</Notice>}
      {nothing && <p>Everything in this pack is in the library already, word for word.</p>}
      {(['conflict', 'gone', 'changed', 'new'] as const).map((what) => (
        <Rows
          key={what}
          what={what}
          rows={preview.rows}
          choices={choices}
          onChoice={(id, choice) => setChoices((before) => ({ ...before, [id]: choice }))}
        />
      ))}
    </div>
  );
}

const COLUMNS: readonly TableColumn<LibraryPack>[] = [
  {
    id: 'pack',
    head: 'Pack',
    names: true,
    className: 'py-2',
    cell: (pack) => (
      <>
        <span className="text-lg font-semibold">{pack.title}</span>
        <span className="block text-sm text-soft">{pack.licence}</span>
      </>
    ),
  },
  { id: 'edition', head: 'Edition', figure: true, cell: (pack) => pack.version },
  { id: 'loaded', head: 'Imported', cell: (pack) => instantText(pack.loadedAt) },
  { id: 'engines', head: 'Engines', figure: true, cell: (pack) => pack.engines },
  { id: 'points', head: 'Weak points', figure: true, cell: (pack) => pack.points },
  { id: 'notices', head: 'Notices', figure: true, cell: (pack) => pack.notices },
];

/** What of the library came with which pack. */
function OnFile(): ReactNode {
  const of = usePagedList(({ page }) => read.packs(page));
  return (
    <section aria-labelledby="packs-on-file" className="lg:col-span-2">
      <h2 id="packs-on-file" className="mb-2 text-2xl">
        On file
      </h2>
      <PagedTable
        of={of}
        what="packs"
        label="Imported packs"
        caption="Imported packs"
        className="min-w-[44rem]"
        columns={COLUMNS}
        rowKey={({ key }) => key}
        csv={addressOf(endpoints.lists.packs, {})}
        empty={<p className="text-soft">No pack has been imported yet; the library is what was written here.</p>}
        below={
          <p className="mt-2 text-sm text-soft">
            Counted is what is still as the pack brought it; what was changed here since counts as ours. A pack is taken
            back under What changed.
          </p>
        }
      />
    </section>
  );
}

/** Importing a pack. */
function ImportPart({
  owner,
  look,
  faults,
}: {
  owner: boolean;
  look: Sending<File>;
  faults: { path: string; message: string }[];
}): ReactNode {
  return (
    <section aria-labelledby="pack-in">
      <h2 id="pack-in" className="mb-2 text-2xl">
        Take a pack in
      </h2>
      {owner ? (
        <FileDrop
          label="Choose a pack"
          accept=".json,application/json"
          disabled={look.isPending}
          onFile={(file) => look.mutate(file)}
          hint={
            look.isPending
              ? 'Reading it …'
              : 'A library pack as JSON, dropped here or chosen. It is shown row by row first; nothing is written until you say so.'
          }
        />
      ) : (
        <p className="text-soft">Packs are imported by the owner of the workshop.</p>
      )}
      {look.error && (
        <div className="mt-3">
          <Notice role="alert">
            <p className="font-semibold">{look.error.message}</p>
            {faults.length > 0 && (
              <ul className="mt-1">
                {faults.map(({ path, message }) => (
                  <li key={`${path} ${message}`}>
                    <strong>{path}:</strong> {message}
                  </li>
                ))}
              </ul>
            )}
          </Notice>
        </div>
      )}
    </section>
  );
}

/** Packs in and out: a colleague's file is shown row by row before anything is written. */
export function Packs({ session }: { session: SessionState }): ReactNode {
  const [preview, setPreview] = useState<PackPreview | null>(null);
  const look = useMutation({
    mutationFn: (file: File) => call(endpoints.packs.preview, { query: { name: file.name.slice(0, 200) }, body: file }),
    onSuccess: setPreview,
  });
  const owner = may(session.user!.role, 'publishLibrary');
  const faults = look.error instanceof ProblemError ? (look.error.details.fields ?? []) : [];
  if (preview) return <Shown preview={preview} onDone={() => setPreview(null)} />;
  return (
    <div className="grid gap-5 lg:grid-cols-2">
      <ImportPart owner={owner} look={look} faults={faults} />
      <section aria-labelledby="pack-out">
        <h2 id="pack-out" className="mb-2 text-2xl">
          Give it to somebody
        </h2>
        <p className="mb-3 text-soft">
          The whole library as one pack: engines, weak points with who says what, parts, operations. Drafts stay here.
          One engine alone is saved from its own page.
        </p>
        <div className="flex flex-wrap gap-2">
          <SaveLink href={addressOf(endpoints.packs.export, {})}>Save the library</SaveLink>
          <SaveLink href={addressOf(endpoints.packs.schema, {})} name="pack.schema.json">
            The pack’s JSON Schema
          </SaveLink>
        </div>
      </section>
      <OnFile />
    </div>
  );
}
