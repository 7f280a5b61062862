import { addressOf, endpoints, type EngineSummary, type LibraryFamily, type SessionState } from '@crosspeen/contract';
import { useQuery } from '@tanstack/react-query';
import { type SetStateAction, type Dispatch, useState, type ReactNode } from 'react';
import { Link, useNavigate, useParams, type NavigateFunction } from 'react-router';
import { read } from '../../api/queries.ts';
import { Button } from '../../ui/button.tsx';
import { Empty, Waiting } from '../../ui/notice.tsx';
import { isoText, percentText } from '../../ui/units.ts';
import { pointColumns } from './point-columns.tsx';
import { SaveLink } from '../../ui/save-link.tsx';
import { UpkeepTasks } from './upkeep.tsx';
import { DataTable, type TableColumn } from '../../ui/data-table.tsx';
import { minutesText, type FeatureFact } from '@crosspeen/core';

type Variant = LibraryFamily['variants'][number];

export const madeWords = ({ producedFrom, producedTo }: Pick<Variant, 'producedFrom' | 'producedTo'>): string =>
  producedFrom === null
    ? producedTo === null
      ? 'years not known'
      : `until ${isoText(producedTo)}`
    : `${isoText(producedFrom)} to ${producedTo === null ? 'today' : isoText(producedTo)}`;

function Variants({
  family,
  chosen,
  onChosen,
}: {
  family: LibraryFamily;
  chosen: readonly string[];
  onChosen: (ids: string[]) => void;
}): ReactNode {
  return (
    <ul className="divide-y divide-rule">
      {family.variants.map((variant) => (
        <li key={variant.id} className="flex flex-wrap items-start gap-x-4 gap-y-1 py-2">
          <label className="flex min-h-11 items-center gap-2 font-semibold">
            <input
              type="checkbox"
              className="size-5"
              checked={chosen.includes(variant.id)}
              onChange={(event) =>
                onChosen(event.target.checked ? [...chosen, variant.id] : chosen.filter((id) => id !== variant.id))
              }
            />
            {variant.name}
          </label>
          <p className="min-w-48 flex-1 py-2">
            {madeWords(variant)}
            {variant.howToTell && <span className="block text-soft">To tell it: {variant.howToTell}.</span>}
            <span className="block text-sm text-soft">
              In {variant.models.map(({ model }) => model).join(', ') || 'models not listed'}; {variant.vehicles} saved
            </span>
          </p>
        </li>
      ))}
    </ul>
  );
}

type Operation = LibraryFamily['operations'][number];

const operationColumns = (named: ReadonlyMap<string, string>): TableColumn<Operation>[] => [
  {
    id: 'operation',
    head: 'Operation',
    names: true,
    className: 'py-2 font-semibold!',
    sortBy: ({ name }) => name,
    cell: ({ name }) => name,
  },
  {
    id: 'minutes',
    head: 'By itself',
    figure: true,
    sortBy: ({ minutes }) => minutes,
    cell: ({ minutes }) => minutesText(minutes),
  },
  { id: 'needs', head: 'Off first', cell: ({ needs }) => needs.map((need) => named.get(need) ?? need).join('; ') },
  {
    id: 'tools',
    head: 'Tools',
    cell: ({ tools }) =>
      tools.map(({ name, without }) => (
        <span key={name} className="block">
          {name}
          {without && <span className="block text-sm text-soft">without it: {without}</span>}
        </span>
      )),
  },
  {
    id: 'cautions',
    head: 'Cautions',
    className: 'text-sm',
    cell: ({ cautions }) =>
      cautions.map((caution) => (
        <span key={caution} className="block">
          {caution}
        </span>
      )),
  },
];

/** Name of the engine, and writing about it. */
function EngineHead({ engine, alsoWritten }: { engine: EngineSummary; alsoWritten: string[] }): ReactNode {
  return (
    <header className="flex flex-wrap items-end justify-between gap-3">
      <div>
        <p>
          <Link to="/library?shelf=engines" className="inline-flex min-h-11 items-center hover:underline">
            ← Engines
          </Link>
        </p>
        <h1 className="text-3xl">
          {engine.maker} {engine.code}{' '}
          <span className="font-medium text-soft">
            {engine.name}
            {engine.name.includes(engine.timingDrive) ? '' : `, ${engine.timingDrive}`},{' '}
            {engine.interference ? 'valves hit the pistons' : 'valves clear the pistons'}
          </span>
        </h1>
        {alsoWritten.length > 0 && <p className="text-soft">Also written {alsoWritten.join(', ')}</p>}
        {engine.note && <p className="text-soft">{engine.note}</p>}
      </div>
      <SaveLink href={addressOf(endpoints.packs.export, { query: { families: engine.familyId } })}>
        Save as a pack
      </SaveLink>
    </header>
  );
}

/** Variants, two of them to compare. */
function VariantsSection({
  chosen,
  navigate,
  engine,
  family,
  setChosen,
}: {
  chosen: string[];
  navigate: NavigateFunction;
  engine: EngineSummary;
  family: { readonly data: LibraryFamily };
  setChosen: Dispatch<SetStateAction<string[]>>;
}): ReactNode {
  return (
    <section aria-labelledby="variants" className="rounded-md border border-rule bg-sheet px-4 py-3">
      <div className="flex flex-wrap items-center justify-between gap-2">
        <h2 id="variants" className="text-2xl">
          Variants
        </h2>
        <Button
          disabled={chosen.length !== 2}
          onClick={() =>
            void navigate(`/library/compare?a=${engine.familyId}.${chosen[0]}&b=${engine.familyId}.${chosen[1]}`)
          }
        >
          Compare two
        </Button>
      </div>
      <Variants family={family.data} chosen={chosen} onChosen={setChosen} />
    </section>
  );
}

/** Features, and how to tell them. */
function FeaturesSection({ features }: { features: readonly FeatureFact[] }): ReactNode {
  return (
    <section aria-labelledby="features" className="rounded-md border border-rule bg-sheet px-4 py-3">
      <h2 id="features" className="mb-1 text-2xl">
        What some of them have
      </h2>
      {features.length === 0 ? (
        <p className="text-soft">Nothing that splits them is known.</p>
      ) : (
        <ul className="space-y-1">
          {features.map(({ key, name, howToTell, share }) => (
            <li key={key}>
              <strong>{name}</strong>, {percentText(share)} of them
              {howToTell && <span className="block text-soft">To tell it: {howToTell}</span>}
            </li>
          ))}
        </ul>
      )}
    </section>
  );
}

/** The engine's labour operations. */
function OperationsPart({ family }: { family: { readonly data: LibraryFamily } }): ReactNode {
  return (
    <section aria-labelledby="operations">
      <h2 id="operations" className="mb-2 text-2xl">
        Labour operations
      </h2>
      <p className="mb-2 text-soft">
        Made-up demo times. Cautions defer to the maker’s current procedure and local rules.
      </p>
      {family.data.operations.length === 0 ? (
        <p className="text-soft">No operation is told for this engine yet.</p>
      ) : (
        <DataTable
          label="Labour operations"
          caption="Labour operations of this engine"
          className="min-w-[44rem]"
          columns={operationColumns(new Map(family.data.operations.map(({ key, name }) => [key, name])))}
          rows={family.data.operations}
          rowKey={({ id: operation }) => operation}
        />
      )}
    </section>
  );
}

/** One engine of the library. */
export default function LibraryEnginePage({ session }: { session: SessionState }): ReactNode {
  const { id = '' } = useParams();
  const navigate = useNavigate();
  const family = useQuery(read.libraryFamily(id));
  const settings = useQuery(read.settings()).data;
  const [chosen, setChosen] = useState<string[]>([]);
  if (family.error)
    return (
      <Empty page title="This engine is not in the library">
        {family.error.message}
      </Empty>
    );
  if (!family.data || !settings) return <Waiting what="the engine" />;
  const { engine, alsoWritten, features, points } = family.data;
  return (
    <div className="grid gap-5">
      <EngineHead engine={engine} alsoWritten={alsoWritten} />
      <div className="grid items-start gap-5 lg:grid-cols-[1.4fr_1fr]">
        <VariantsSection chosen={chosen} navigate={navigate} engine={engine} family={family} setChosen={setChosen} />
        <FeaturesSection features={features} />
      </div>
      <section aria-labelledby="points">
        <h2 id="points" className="mb-2 text-2xl">
          Weak points
        </h2>
        {points.length === 0 ? (
          <Empty title="No weak point is known yet">Write the first one, or import a pack.</Empty>
        ) : (
          <DataTable
            label="Weak points"
            caption={`Weak points of ${engine.code}`}
            className="min-w-[52rem]"
            columns={pointColumns(settings.distanceUnit, { engines: false, sorted: true })}
            rows={points}
            rowKey={({ id: point }) => point}
          />
        )}
      </section>
      <UpkeepTasks family={family.data} session={session} settings={settings} />
      <OperationsPart family={family} />
    </div>
  );
}
