import { call } from '../../api/client.ts';
import { oneDigitText } from '../../ui/formats.ts';
import {
  addressOf,
  type AuditedName,
  type ChangeRow,
  endpoints,
  type HistoryEntry,
  lookedAtWords,
  sameJson,
} from '@crosspeen/contract';
import type { Certainty, DistanceUnit } from '@crosspeen/core';
import type { ReactNode } from 'react';
import { useChange } from '../../api/changing.tsx';
import { read } from '../../api/queries.ts';
import { Button } from '../../ui/button.tsx';
import type { TableColumn } from '../../ui/data-table.tsx';
import { Empty, Notice } from '../../ui/notice.tsx';
import { PagedTable, PagedView, usePagedList, type PagedList } from '../../ui/paged-list.tsx';
import { SaveLink } from '../../ui/save-link.tsx';
import { distanceText, instantText, isoText } from '../../ui/units.ts';

const CERTAINTY_WORDS: Readonly<Record<Certainty, string>> = {
  done: 'renewed',
  believed: 'believed renewed',
  unknown: 'not known',
  not_done: 'never renewed',
};

/** Joins the facts that are there with commas. */
const listed = (...facts: (string | false | null | undefined)[]): string => facts.filter(Boolean).join(', ');

/** Words of one entry of the history. */
function entryWords(entry: HistoryEntry, unit: DistanceUnit): { what: string; more: string } {
  switch (entry.kind) {
    case 'reading':
      return { what: 'Reading', more: entry.fits ? '' : 'is lower than an earlier one: not used' };
    case 'finding':
      return {
        what: `${entry.title}: ${lookedAtWords(entry.result)}`,
        more: listed(
          entry.grade,
          entry.measured !== null && `${oneDigitText(entry.measured)} ${entry.unit ?? ''}`.trim(),
          entry.broughtIn && 'came to us because of it',
          entry.sinceDay && `still running on ${isoText(entry.sinceDay)}`,
          entry.note,
        ),
      };
    case 'photo':
      return { what: entry.title === null ? 'Photo' : `${entry.title}: photo`, more: '' };
    case 'symptom':
      return { what: `Reported: ${entry.words}`, more: entry.condition ?? '' };
    case 'cause':
      return {
        what:
          entry.outcome === 'given_up'
            ? 'Search for the cause given up'
            : `${entry.title ?? 'Something not listed'}: ${entry.outcome === 'proved' ? 'was the cause' : 'was not the cause'}`,
        more: entry.note ?? '',
      };
    case 'upkeep':
      return {
        what: `${entry.title}: ${entry.certainty === 'done' ? 'done' : 'never done until then'}`,
        more: entry.note ?? '',
      };
    case 'cluster':
      return {
        what: `Instrument cluster replaced, the new one began at ${distanceText(entry.newKm, unit)}`,
        more: entry.note ?? '',
      };
    case 'engine':
      return {
        what:
          entry.km === null
            ? 'Engine swapped; not known how far it had run'
            : `Engine swapped for one that had run ${distanceText(entry.km, unit)}`,
        more: entry.note ?? '',
      };
    case 'service':
      return {
        what: `${entry.component}: ${CERTAINTY_WORDS[entry.certainty]}`,
        more: listed(
          entry.partNumber,
          entry.revision && `revision ${entry.revision}`,
          entry.grade !== 'original' && entry.grade,
          entry.cameOut && CAME_OUT_WORDS[entry.cameOut],
          entry.source && SOURCE_WORDS[entry.source],
          entry.note,
        ),
      };
  }
}

const CAME_OUT_WORDS = {
  sound: 'the old part was still good',
  worn: 'the old part was worn',
  failed: 'the old part had failed',
} as const;
const SOURCE_WORDS = {
  own: 'our own work',
  invoice: 'by an invoice',
  stamp: 'by a stamp in the book',
  owner: 'the owner says so',
  seller: 'the seller said so',
} as const;

const ENTITY_WORDS: Readonly<Record<AuditedName, string>> = {
  vehicle: 'vehicle',
  meter_reading: 'reading',
  service_record: 'service record',
  finding: 'finding',
  meter_change: 'cluster',
  engine_swap: 'engine',
  school_choice: 'school',
  campaign_call: 'call',
  upkeep_record: 'upkeep',
  visit_task: 'upkeep on a visit',
  photo: 'photo',
  symptom_report: 'complaint',
  triage_answer: 'check',
  triage_end: 'cause',
  visit: 'visit',
  visit_job: 'job on a visit',
  setting: 'settings',
};
const HIDDEN = new Set([
  'id',
  'version',
  'createdAt',
  'userId',
  'vehicleId',
  'visitId',
  'componentId',
  'weakPointId',
  'taskId',
  'familyId',
  'searchText',
  'plateKey',
  'nameKey',
  'position',
]);
const PROPERTY_WORDS: Readonly<Record<string, string>> = {
  plate: 'plate',
  name: 'name',
  model: 'model',
  variantKey: 'variant',
  firstRegistered: 'first registered',
  odometerUnit: 'odometer in',
  severity: 'use',
  note: 'note',
  contact: 'contact',
  outcome: 'came of the call',
  day: 'date',
  km: 'reading in km',
  certainty: 'known',
  grade: 'grade',
  partNumber: 'part',
  revision: 'revision',
  result: 'found',
  broughtIn: 'came in because of it',
  sinceDay: 'still running on',
  source: 'known by',
  cameOut: 'came out',
  oldKm: 'old cluster in km',
  newKm: 'new cluster in km',
  engineKm: 'engine had run in km',
  school: 'school',
  reason: 'reason',
  market: 'sold in',
  serial: 'engine number',
  firstSeen: 'first came to us',
  features: 'features',
  fitted: 'parts fitted',
  duty: 'use in answers',
  state: 'state',
  doneDay: 'done on',
  doneKm: 'done at km',
  action: 'work',
  retractedAt: 'taken back',
};

const shown = (value: unknown): string =>
  value === null || value === undefined || value === ''
    ? 'nothing'
    : typeof value === 'boolean'
      ? value
        ? 'yes'
        : 'no'
      : typeof value === 'number' || typeof value === 'string'
        ? String(value)
        : JSON.stringify(value);

/** Before and after, only what differs. */
function Differences({ item }: { item: ChangeRow['items'][number] }): ReactNode {
  const after = item.after ?? {};
  const keys = Object.keys(after).filter((key) => !HIDDEN.has(key) && !sameJson(item.before?.[key], after[key]));
  if (keys.length === 0) return null;
  return (
    <li>
      {ENTITY_WORDS[item.entity]}
      {item.before === null ? ' added' : ''}:{' '}
      {keys
        .map(
          (key) =>
            `${PROPERTY_WORDS[key] ?? key} ${item.before === null ? shown(after[key]) : `from ${shown(item.before[key])} to ${shown(after[key])}`}`,
        )
        .join('; ')}
    </li>
  );
}

const entryColumns = (unit: DistanceUnit): TableColumn<HistoryEntry>[] => [
  { id: 'day', head: 'Date', figure: true, cell: ({ day }) => (day === null ? 'no date' : isoText(day)) },
  {
    id: 'km',
    head: 'Reading',
    figure: true,
    className: (entry) => (entry.kind === 'reading' && !entry.fits ? 'line-through' : ''),
    // What another engine had run is no reading of this vehicle.
    cell: ({ kind, km }) => (km === null || kind === 'engine' ? '' : distanceText(km, unit)),
  },
  {
    id: 'what',
    head: 'What',
    cell: (entry) => {
      const { what, more } = entryWords(entry, unit);
      return (
        <>
          <span className="font-semibold">{what}</span>
          {more && <span className="block text-soft">{more}</span>}
          <span className="block text-sm text-soft">{entry.by}</span>
        </>
      );
    },
  },
];

/** What happened to the vehicle. */
function Happened({
  onCluster,
  onEngine,
  happened,
  unit,
  vehicleId,
  onReading,
}: {
  onCluster: () => void;
  onEngine: () => void;
  happened: PagedList<HistoryEntry>;
  unit: DistanceUnit;
  vehicleId: string;
  onReading: () => void;
}): ReactNode {
  return (
    <section aria-labelledby="happened">
      <div className="mb-2 flex flex-wrap items-center justify-between gap-2">
        <h2 id="happened" className="text-2xl">
          What happened
        </h2>
        <div className="flex flex-wrap gap-2">
          <Button onClick={onCluster}>Instrument cluster replaced</Button>
          <Button onClick={onEngine}>Engine swapped</Button>
        </div>
      </div>
      <PagedTable
        of={happened}
        what="entries"
        label="What happened"
        caption="What happened, latest first"
        columns={entryColumns(unit)}
        rowKey={({ id }) => id}
        csv={addressOf(endpoints.lists.history, { params: { id: vehicleId } })}
        empty={
          <Empty
            title="Nothing recorded yet"
            action={
              <Button look="main" onClick={onReading} shortcut="r">
                Add a reading
              </Button>
            }
          >
            Readings, renewals and findings will stand here, latest first.
          </Empty>
        }
      />
      {happened.list.data !== undefined && happened.list.data.total > 0 && (
        <p className="flex flex-wrap items-center gap-2 text-soft">
          To import elsewhere:{' '}
          <SaveLink href={addressOf(endpoints.lists.services, { query: { vehicle: vehicleId } })}>Renewals</SaveLink>
          <SaveLink href={addressOf(endpoints.lists.findings, { query: { vehicle: vehicleId } })}>Findings</SaveLink>
          <SaveLink href={addressOf(endpoints.lists.readings, { query: { vehicle: vehicleId } })}>Readings</SaveLink>
          <SaveLink href={addressOf(endpoints.lists.upkeep, { query: { vehicle: vehicleId } })}>Upkeep</SaveLink>
        </p>
      )}
    </section>
  );
}

/** Every change of the record, with its undo. */
function RecordChanges({
  undo,
  changes,
  vehicleId,
}: {
  undo: { readonly error: Error | null; readonly mutate: (input: string) => void; readonly isPending: boolean };
  changes: PagedList<ChangeRow>;
  vehicleId: string;
}): ReactNode {
  return (
    <section aria-labelledby="changes">
      <h2 id="changes" className="mb-2 text-2xl">
        Changes to the record
      </h2>
      {undo.error && <Notice role="alert">{undo.error.message}</Notice>}
      <PagedView
        of={changes}
        what="changes"
        csv={addressOf(endpoints.lists.changes, { params: { id: vehicleId } })}
        empty={<p className="text-soft">Nothing was changed yet.</p>}
      >
        {(rows) => (
          <ul className="divide-y divide-rule rounded-md border border-rule bg-sheet">
            {rows.map((row) => (
              <li key={row.id} className="flex items-start justify-between gap-3 px-3 py-2">
                <details className="min-w-0 flex-1">
                  <summary className="cursor-pointer">
                    <span className={`font-semibold ${row.undone ? 'line-through' : ''}`}>{row.summary}</span>
                    {row.undone && <span className="text-soft"> (undone)</span>}
                    <span className="block text-sm text-soft">
                      {row.by}, {instantText(row.at)}
                    </span>
                  </summary>
                  <ul className="mt-1 list-disc pl-5 text-sm [overflow-wrap:anywhere]">
                    {row.items.map((item, i) => (
                      <Differences key={i} item={item} />
                    ))}
                  </ul>
                </details>
                {row.undoable && (
                  <Button
                    look="quiet"
                    className="shrink-0"
                    onClick={() => undo.mutate(row.id)}
                    disabled={undo.isPending}
                  >
                    Undo
                  </Button>
                )}
              </li>
            ))}
          </ul>
        )}
      </PagedView>
    </section>
  );
}

/** What happened to the vehicle, and every change of its record: who, when, what, before and after. */
export function HistoryView({
  vehicleId,
  unit,
  onReading,
  onCluster,
  onEngine,
}: {
  vehicleId: string;
  unit: DistanceUnit;
  onReading: () => void;
  onCluster: () => void;
  onEngine: () => void;
}): ReactNode {
  const happened = usePagedList(({ page }) => read.history(vehicleId, page));
  const changes = usePagedList(({ page }) => read.changes(vehicleId, page), 'changes');
  const undo = useChange((id: string) => call(endpoints.changes.undo, { params: { id } }));
  return (
    <div className="grid items-start gap-6 xl:grid-cols-2">
      <Happened
        onCluster={onCluster}
        onEngine={onEngine}
        happened={happened}
        unit={unit}
        vehicleId={vehicleId}
        onReading={onReading}
      />
      <RecordChanges undo={undo} changes={changes} vehicleId={vehicleId} />
    </div>
  );
}
