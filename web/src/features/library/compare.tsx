import { CONSEQUENCE_LABELS } from '@crosspeen/core';
import type { LibraryFamily } from '@crosspeen/contract';
import { useQuery } from '@tanstack/react-query';
import type { ReactNode } from 'react';
import { Link } from 'react-router';
import { read } from '../../api/queries.ts';
import { useListParams } from '../../ui/list-params.ts';
import { Empty, Waiting } from '../../ui/notice.tsx';
import { DataTable } from '../../ui/data-table.tsx';
import { madeWords } from './engine.tsx';
import { GROUP_WORDS, shareText, windowText } from './words.ts';
import { Select } from '../../ui/select.tsx';

type Point = LibraryFamily['points'][number];
interface Side {
  readonly family: LibraryFamily;
  readonly variant: LibraryFamily['variants'][number];
  readonly points: readonly Point[];
}

/** Weak points of a family that a variant has, as far as the variant decides it. */
const pointsOf = (family: Pick<LibraryFamily, 'points'>, variantKey: string): Point[] =>
  family.points.filter(({ appliesTo }) => appliesTo.variants === undefined || appliesTo.variants.includes(variantKey));

/**
 * The same weak point on both sides, by its key, or by title and component where the families differ; in groups, those
 * of one side only first.
 */
function pairedPoints(
  a: readonly Point[],
  b: readonly Point[],
): { readonly name: string; readonly group: Point['group']; readonly a: Point | null; readonly b: Point | null }[] {
  const name = ({ title, component }: Point): string => `${title} (${component})`;
  const names = [...new Set([...a.map(name), ...b.map(name)])];
  const rows = names.map((each) => {
    const [left, right] = [
      a.find((point) => name(point) === each) ?? null,
      b.find((point) => name(point) === each) ?? null,
    ];
    return { name: each, group: (left ?? right)!.group, a: left, b: right };
  });
  const order = Object.keys(GROUP_WORDS);
  return rows.sort(
    (x, y) =>
      order.indexOf(x.group) - order.indexOf(y.group) ||
      Number(x.a !== null && x.b !== null) - Number(y.a !== null && y.b !== null) ||
      x.name.localeCompare(y.name),
  );
}

function useSide(param: string | null): { side: Side | null; pending: boolean; family: string } {
  const [familyId = '', variantId = ''] = (param ?? '').split('.');
  const family = useQuery({ ...read.libraryFamily(familyId), enabled: familyId !== '' });
  const variant = family.data?.variants.find(({ id }) => id === variantId) ?? family.data?.variants[0];
  return {
    family: familyId,
    pending: familyId !== '' && family.isPending,
    side: family.data && variant ? { family: family.data, variant, points: pointsOf(family.data, variant.key) } : null,
  };
}

function Pick({
  value,
  label,
  onPick,
}: {
  value: string | null;
  label: string;
  onPick: (value: string) => void;
}): ReactNode {
  const families = useQuery(read.libraryFamilies()).data?.rows ?? [];
  const { side, family } = useSide(value);
  return (
    <div className="flex flex-wrap gap-2">
      <Select
        aria-label={`Engine, ${label}`}
        className="w-auto!"
        value={family}
        onChange={onPick}
        placeholder="Choose an engine"
        options={families.map(({ engine }) => ({ value: engine.familyId, label: `${engine.maker} ${engine.code}` }))}
      />
      <Select
        aria-label={`Variant, ${label}`}
        className="w-auto!"
        value={side?.variant.id ?? ''}
        disabled={!side}
        onChange={(picked) => onPick(`${family}.${picked}`)}
        placeholder="Variant"
        options={(side?.family.variants ?? []).map((variant) => ({ value: variant.id, label: variant.name }))}
      />
    </div>
  );
}

const Variant = ({ side: { family, variant } }: { side: Side }): ReactNode => (
  <span className="text-base font-normal text-ink">
    <span className="figure text-xl font-semibold">{family.engine.code}</span> {variant.name}
    <span className="block text-sm text-soft">
      {madeWords(variant)}
      {variant.howToTell ? `; ${variant.howToTell}` : ''}
    </span>
  </span>
);

/** Two variants, row by row. */
function CompareTable({ a, cell, b }: { a: Side; cell: (point: Point | null) => ReactNode; b: Side }): ReactNode {
  return (
    <DataTable
      label="Two variants"
      className="min-w-[46rem] table-fixed"
      columns={[
        {
          id: 'point',
          head: 'Weak point',
          names: true,
          className: 'py-2 font-semibold!',
          cell: (row) => (
            <>
              {row.a?.title ?? row.b!.title}
              <span className="block text-sm font-normal text-soft">
                {GROUP_WORDS[row.group]}, {row.a?.component ?? row.b!.component}
              </span>
            </>
          ),
        },
        {
          id: 'a',
          head: <Variant side={a} />,
          className: (row) => (row.b === null ? 'bg-accent-wash' : ''),
          cell: (row) => cell(row.a),
        },
        {
          id: 'b',
          head: <Variant side={b} />,
          className: (row) => (row.a === null ? 'bg-accent-wash' : ''),
          cell: (row) => cell(row.b),
        },
      ]}
      rows={pairedPoints(a.points, b.points)}
      rowKey={({ name }) => name}
    />
  );
}

/** Two variants side by side: which weak points each has, and how they differ. */
export default function LibraryComparePage(): ReactNode {
  const { params, go } = useListParams();
  const a = useSide(params.get('a'));
  const b = useSide(params.get('b'));
  const settings = useQuery(read.settings()).data;
  if (a.pending || b.pending || !settings) return <Waiting what="the variants" />;
  const cell = (point: Point | null): ReactNode =>
    point === null ? (
      <span className="text-soft">does not have it</span>
    ) : (
      <>
        <span className="figure text-lg">{shareText(point.share)}</span>
        <span className="figure block text-base">{windowText(point, settings.distanceUnit)}</span>
        <span className="block text-sm text-soft">{CONSEQUENCE_LABELS[point.consequence]}</span>
      </>
    );
  return (
    <>
      <p>
        <Link to="/library?shelf=engines" className="inline-flex min-h-11 items-center hover:underline">
          ← Engines
        </Link>
      </p>
      <h1 className="mb-3 text-3xl">Two variants side by side</h1>
      <div className="mb-4 grid gap-3 md:grid-cols-2">
        <Pick label="left" value={params.get('a')} onPick={(a) => go({ a })} />
        <Pick label="right" value={params.get('b')} onPick={(b) => go({ b })} />
      </div>
      {!a.side || !b.side ? (
        <Empty title="Choose two variants">They may be of one engine or of two.</Empty>
      ) : (
        <CompareTable a={a.side} cell={cell} b={b.side} />
      )}
    </>
  );
}
