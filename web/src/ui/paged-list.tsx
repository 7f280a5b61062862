import {
  keepPreviousData,
  useQuery,
  type QueryKey,
  type UseQueryOptions,
  type UseQueryResult,
} from '@tanstack/react-query';
import { useDeferredValue, useEffect, useState, type ReactNode } from 'react';
import { NavigationType, useNavigationType } from 'react-router';
import { Button } from './button.tsx';
import { DataTable, type DataTableProps } from './data-table.tsx';
import { INPUT } from './field.tsx';
import { pageOf, pageParam, useListParams, type ChangeParams } from './list-params.ts';
import { Notice, Waiting } from './notice.tsx';
import { Pager } from './pager.tsx';

/** One page of a list, as every list of the server comes. */
interface Page<Row> {
  readonly rows: readonly Row[];
  readonly total: number;
  readonly pageSize: number;
}

export interface PagedList<Row> {
  readonly list: UseQueryResult<Page<Row>>;
  readonly params: URLSearchParams;
  readonly page: number;
  /** What is looked for, as it stands in the address. */
  readonly q: string;
  /** What is being typed. */
  readonly typed: string;
  readonly setTyped: (typed: string) => void;
  readonly go: ChangeParams;
  readonly onPage: (page: number) => void;
}

/**
 * A list whose page, search and whatever else it is cut by stand in the address, so that the address brings it back.
 * `ask` makes the query from them; `pageName` is the parameter of its page, where a view has several lists.
 */
export function usePagedList<Data extends Page<unknown>, Key extends QueryKey>(
  ask: (asked: {
    readonly q: string;
    readonly page: number;
    readonly params: URLSearchParams;
  }) => UseQueryOptions<Data, Error, Data, Key>,
  pageName = 'page',
): PagedList<Data['rows'][number]> {
  const { params, go } = useListParams();
  const page = pageOf(params, pageName);
  const q = params.get('q') ?? '';
  // Nothing until somebody types here: of two lists on one page only the one that is searched writes the address.
  const [typing, setTyped] = useState<string | null>(null);
  const settled = useDeferredValue(typing);
  const way = useNavigationType();
  const [lastQ, setLastQ] = useState(q);
  if (q !== lastQ) {
    setLastQ(q);
    // Back and forward bring another search; our own replacing of the address must not overtake what is being typed.
    if (way === NavigationType.Pop) setTyped(null);
  }
  useEffect(() => {
    if (settled !== null && settled !== q) go({ q: settled, [pageName]: null });
  }, [settled, q, go, pageName]);
  const list = useQuery({ placeholderData: keepPreviousData, ...ask({ q, page, params }) });
  return {
    list: list,
    params,
    page,
    q,
    typed: typing ?? q,
    setTyped,
    go,
    onPage: (to) => go({ [pageName]: pageParam(to) }, 'push'),
  };
}

/** The field that a list is searched by; the arrow down leads into its rows. */
export function ListSearch({
  id,
  label,
  placeholder,
  list: { typed, setTyped },
}: {
  id: string;
  label: string;
  placeholder: string;
  list: Pick<PagedList<unknown>, 'typed' | 'setTyped'>;
}): ReactNode {
  return (
    <>
      <label className="sr-only" htmlFor={id}>
        {label}
      </label>
      <input
        id={id}
        type="search"
        className={`${INPUT} w-72! max-w-full`}
        placeholder={placeholder}
        value={typed}
        onChange={(event) => setTyped(event.target.value)}
        onKeyDown={(event) => {
          if (event.key === 'ArrowDown') document.querySelector<HTMLElement>('main table [data-row]')?.focus();
        }}
      />
    </>
  );
}

interface Shown<Row> {
  readonly of: Pick<PagedList<Row>, 'list' | 'page' | 'onPage'>;
  /** What its rows are, in the plural. */
  readonly what: string;
  /** Stands in place of a list that has no rows. */
  readonly empty: ReactNode;
  readonly csv?: string;
  /** Stands between the rows and the steps. */
  readonly below?: ReactNode;
}

/** A list page by page: while it is fetched, where that failed, where it is empty, and its rows with steps and CSV. */
export function PagedView<Row>({
  of: { list, page, onPage },
  what,
  empty,
  csv,
  below,
  children,
}: Shown<Row> & { readonly children: (rows: readonly Row[]) => ReactNode }): ReactNode {
  if (list.error)
    return (
      <Notice role="alert" actions={<Button onClick={() => void list.refetch()}>Try again</Button>}>
        {list.error.message}
      </Notice>
    );
  if (!list.data) return <Waiting what={`the ${what}`} />;
  if (list.data.total === 0) return empty;
  return (
    <>
      {list.data.rows.length > 0 && children(list.data.rows)}
      {below}
      <Pager
        page={page}
        pageSize={list.data.pageSize}
        total={list.data.total}
        what={what}
        onPage={onPage}
        {...(csv === undefined ? {} : { csv })}
      />
    </>
  );
}

/** A list page by page, as a table. */
export function PagedTable<Row extends object>({
  of,
  what,
  empty,
  csv,
  below,
  ...table
}: Shown<Row> & Omit<DataTableProps<Row>, 'rows'>): ReactNode {
  return (
    <PagedView of={of} what={what} empty={empty} below={below} {...(csv === undefined ? {} : { csv })}>
      {(rows) => <DataTable {...table} rows={rows} />}
    </PagedView>
  );
}
