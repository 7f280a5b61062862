import { GROUPS, type DistanceUnit, type Group } from '@crosspeen/core';
import { addressOf, endpoints, POINT_STATES, type PointState, type SessionState } from '@crosspeen/contract';
import { useQuery } from '@tanstack/react-query';
import type { ReactNode } from 'react';
import { Link } from 'react-router';
import { read } from '../../api/queries.ts';
import { Button } from '../../ui/button.tsx';
import { chosenOf, useListParams, type ChangeParams } from '../../ui/list-params.ts';
import { Empty, Notice, Waiting } from '../../ui/notice.tsx';
import { ListSearch, PagedTable, usePagedList, type PagedList } from '../../ui/paged-list.tsx';
import { Changes } from './changes.tsx';
import { Notices } from './notices.tsx';
import { Packs } from './packs.tsx';
import { Toggles } from '../../ui/toggles.tsx';
import { pointColumns } from './point-columns.tsx';
import { GROUP_WORDS, STATE_WORDS } from './words.ts';
import { Select, optionsOf } from '../../ui/select.tsx';

const SHELVES = {
  points: 'Weak points',
  engines: 'Engines',
  notices: 'Bulletins and cover',
  changes: 'What changed',
  packs: 'Packs',
} as const;
type Shelf = keyof typeof SHELVES;

function Engines(): ReactNode {
  const families = useQuery(read.libraryFamilies());
  if (families.error)
    return (
      <Notice role="alert" actions={<Button onClick={() => void families.refetch()}>Try again</Button>}>
        {families.error.message}
      </Notice>
    );
  if (!families.data) return <Waiting what="the engines" />;
  const makers = [...new Set(families.data.rows.map(({ engine }) => engine.maker))];
  return (
    <div className="grid gap-4 md:grid-cols-2 xl:grid-cols-3">
      {makers.map((maker) => (
        <section key={maker} aria-label={maker} className="rounded-md border border-rule bg-sheet">
          <h2 className="border-b border-rule px-4 py-2 text-2xl">{maker}</h2>
          <ul className="divide-y divide-rule">
            {families.data.rows
              .filter(({ engine }) => engine.maker === maker)
              .map((row) => (
                <li key={row.engine.familyId}>
                  <Link
                    to={`/library/engines/${row.engine.familyId}`}
                    className="grid min-h-12 grid-cols-[6.5rem_1fr] items-baseline gap-3 px-4 py-2 hover:bg-well"
                  >
                    <span className="figure text-xl font-semibold">{row.engine.code}</span>
                    <span>
                      {row.engine.name}
                      {row.engine.name.includes(row.engine.timingDrive) ? '' : `, ${row.engine.timingDrive}`}
                      <span className="block text-sm text-soft">
                        {row.weakPoints} weak points, {row.operations} operations; {row.vehicles} saved vehicles
                      </span>
                    </span>
                  </Link>
                </li>
              ))}
          </ul>
        </section>
      ))}
    </div>
  );
}

const filtersOf = (params: URLSearchParams) => ({
  group: chosenOf(params, 'group', GROUPS),
  state: chosenOf(params, 'state', POINT_STATES),
});

/** What the list is cut down to. */
function PointFilters({
  of,
  group,
  go,
  state,
}: {
  of: Pick<PagedList<unknown>, 'setTyped' | 'typed'>;
  group: Group | null;
  go: ChangeParams;
  state: PointState | null;
}): ReactNode {
  return (
    <div className="mb-3 flex flex-wrap items-center gap-2">
      <ListSearch
        id="library-search"
        label="Search by engine code, symptom, component or part number"
        placeholder="Code, symptom, component, part number"
        list={of}
      />
      <Select
        aria-label="Group"
        className="w-auto!"
        value={group ?? ''}
        onChange={(picked) => go({ group: picked || null, page: null })}
        options={[{ value: '', label: 'Every group' }, ...optionsOf(GROUPS, (key) => GROUP_WORDS[key])]}
      />
      <Select
        aria-label="State"
        className="w-auto!"
        value={state ?? ''}
        onChange={(picked) => go({ state: picked || null, page: null })}
        options={[
          { value: '', label: 'Every state but superseded' },
          ...optionsOf(POINT_STATES, (key) => STATE_WORDS[key]),
        ]}
      />
    </div>
  );
}

function Points({ unit }: { unit: DistanceUnit }): ReactNode {
  const of = usePagedList(({ q, page, params }) => read.libraryPoints({ q, page, ...filtersOf(params) }));
  const { q, go, setTyped } = of;
  const { group, state } = filtersOf(of.params);
  return (
    <>
      <PointFilters of={of} group={group} go={go} state={state} />
      <PagedTable
        of={of}
        what="weak points"
        label="Weak points"
        caption="Weak points of the library"
        className="min-w-[52rem]"
        columns={pointColumns(unit, { engines: true, sorted: false })}
        rowKey={(row) => row.id}
        csv={addressOf(endpoints.lists.weakPoints, { query: { q, group, state } })}
        empty={
          q === '' && !group && !state ? (
            <Empty
              title="The library is empty"
              action={
                <span className="flex flex-wrap justify-center gap-3">
                  <Button look="main" onClick={() => go({ shelf: 'packs' })}>
                    Take a pack in
                  </Button>
                  <Link
                    to="/library/engines/write"
                    className="inline-flex min-h-11 items-center font-semibold underline"
                  >
                    Add an engine
                  </Link>
                </span>
              }
            >
              A pack brings engines with their weak points. What no pack has is written here in a minute.
            </Empty>
          ) : (
            <Empty
              title="Nothing in the library fits"
              action={
                <Button
                  onClick={() => {
                    setTyped('');
                    go({ page: null, group: null, state: null });
                  }}
                >
                  Show all
                </Button>
              }
            >
              Weak points are found by parts of an engine code, a symptom, a component or a part number. What is not
              here yet can be written in a minute.
            </Empty>
          )
        }
      />
    </>
  );
}

/** What is known: weak points, engines, and what changed of it. */
export default function LibraryPage({ session }: { session: SessionState }): ReactNode {
  const { params, go } = useListParams();
  const asked = params.get('shelf');
  const shelf: Shelf = asked !== null && Object.hasOwn(SHELVES, asked) ? (asked as Shelf) : 'points';
  const settings = useQuery(read.settings()).data;
  if (!settings) return <Waiting what="the settings" />;
  return (
    <>
      <div className="mb-3 flex flex-wrap items-end justify-between gap-3">
        <h1 className="text-3xl">Library</h1>
        <div className="flex flex-wrap gap-2">
          <Toggles
            label="Shelf of the library"
            value={shelf}
            onChange={(key) => go({ shelf: key === 'points' ? null : key, page: null, q: null })}
            options={SHELVES}
          />
          <Link
            to="/library/write"
            className="inline-flex min-h-11 items-center rounded-md border border-rule-strong bg-sheet px-3.5 font-semibold hover:bg-well"
          >
            Write a weak point
          </Link>
        </div>
      </div>
      {shelf === 'engines' && <Engines />}
      {shelf === 'notices' && <Notices />}
      {shelf === 'packs' && <Packs session={session} />}
      {shelf === 'changes' && <Changes />}
      {shelf === 'points' && <Points unit={settings.distanceUnit} />}
    </>
  );
}
