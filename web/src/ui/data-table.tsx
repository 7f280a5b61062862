import {
  createColumnHelper,
  createSortedRowModel,
  rowSortingFeature,
  sortFn_basic,
  tableFeatures,
  useTable,
} from '@tanstack/react-table';
import { ArrowDown, ArrowUp, ArrowUpDown } from 'lucide-react';
import { Fragment, useMemo, type KeyboardEvent, type ReactNode } from 'react';
import { Scroller } from './scroller.tsx';

/** How a list that is sorted where it is kept stands by one column, and what its head does. */
export interface ServerOrder {
  readonly sorted: 'ascending' | 'descending' | false;
  readonly onSort: () => void;
}

export interface TableColumn<Row> {
  readonly id: string;
  readonly head: ReactNode;
  readonly cell: (row: Row) => ReactNode;
  /** It names its row: a head for those who have the table read to them. */
  readonly names?: boolean;
  /** What a table that is here as a whole is sorted by at this head; a figure or a word. */
  readonly sortBy?: (row: Row) => number | string;
  /** For a list that is cut into pages: it is sorted where it is kept. */
  readonly order?: ServerOrder;
  /** Shown from this width on; what narrower screens must know stands in another cell as well. */
  readonly from?: 'md' | 'lg' | 'xl';
  /** Figures stand upright and do not break. */
  readonly figure?: boolean;
  readonly headClass?: string;
  readonly className?: string | ((row: Row) => string);
}

export interface DataTableProps<Row> {
  readonly label: string;
  /** What the table holds, for those who have it read to them. */
  readonly caption?: ReactNode;
  readonly columns: readonly TableColumn<Row>[];
  readonly rows: readonly Row[];
  readonly rowKey: (row: Row) => string;
  readonly className?: string;
  readonly rowClass?: (row: Row) => string;
  /** What stands under a row across the whole table; each row then has a body of its own. */
  readonly detail?: (row: Row) => ReactNode;
  readonly bodyId?: (row: Row) => string;
  /** Where the arrow up leads from the first row. */
  readonly onLeave?: () => void;
  /** Shown in place of rows where there are none. */
  readonly none?: ReactNode;
  /** A row under the heads that belongs to them. */
  readonly underHead?: ReactNode;
}

const features = tableFeatures({
  rowSortingFeature,
  sortedRowModel: createSortedRowModel(),
  sortFns: { basic: sortFn_basic },
});
const FROM = { md: 'max-md:hidden', lg: 'max-lg:hidden', xl: 'max-xl:hidden' } as const;
const ARROWS = { ascending: ArrowUp, descending: ArrowDown } as const;

/** Up and down go from row to row, wherever a row has something marked `data-row` to open it by. */
function onArrow(event: KeyboardEvent<HTMLElement>, onLeave?: () => void): void {
  if (event.key !== 'ArrowDown' && event.key !== 'ArrowUp') return;
  const doors = [...event.currentTarget.querySelectorAll<HTMLElement>('[data-row]')];
  const at = doors.indexOf(document.activeElement as HTMLElement);
  if (at < 0) return;
  const next = doors[at + (event.key === 'ArrowDown' ? 1 : -1)];
  if (next) next.focus();
  else if (at === 0 && event.key === 'ArrowUp') onLeave?.();
  event.preventDefault();
}

function SortHead({ children, sorted, onSort }: ServerOrder & { children: ReactNode }): ReactNode {
  const Arrow = sorted === false ? ArrowUpDown : ARROWS[sorted];
  return (
    <button
      type="button"
      onClick={onSort}
      className="-mx-1 inline-flex min-h-9 items-center gap-1 rounded px-1 text-left hover:bg-well hover:text-ink"
    >
      {children}
      <Arrow size={14} aria-hidden className={`shrink-0 ${sorted === false ? 'opacity-40' : ''}`} />
    </button>
  );
}

/**
 * A table: heads that sort, rows that the arrows go through, narrower screens with fewer columns, and where it is wider
 * than its sheet it scrolls.
 */
export function DataTable<Row extends object>({
  label,
  caption,
  columns,
  rows,
  rowKey,
  className = '',
  rowClass,
  detail,
  bodyId,
  onLeave,
  none,
  underHead,
}: DataTableProps<Row>): ReactNode {
  const defined = useMemo(() => {
    const helper = createColumnHelper<typeof features, Row>();
    return helper.columns(
      columns.map(({ id, sortBy }) =>
        helper.accessor((row) => sortBy?.(row) ?? '', {
          id,
          enableSorting: sortBy !== undefined,
          sortFn: 'basic',
          sortDescFirst: false,
        }),
      ),
    );
  }, [columns]);
  const table = useTable({ features, columns: defined, data: rows, getRowId: rowKey });
  const byId = new Map(columns.map((column) => [column.id, column]));
  const orderOf = ({ id, sortBy, order }: TableColumn<Row>): ServerOrder | undefined => {
    const column = table.getColumn(id);
    if (sortBy === undefined || column === undefined) return order;
    const by = column.getIsSorted();
    return {
      sorted: by === false ? false : by === 'asc' ? 'ascending' : 'descending',
      onSort: () => column.toggleSorting(),
    };
  };
  const line = (row: Row): ReactNode => (
    <tr className={`border-b border-rule align-top last:border-0 ${rowClass?.(row) ?? 'hover:bg-well'}`}>
      {columns.map((column) => {
        const { id, names, figure, from, className: own } = column;
        const Cell = names ? 'th' : 'td';
        return (
          <Cell
            key={id}
            {...(names ? { scope: 'row' } : {})}
            className={`px-3 ${names ? 'text-left font-normal' : 'py-2'} ${figure ? 'figure whitespace-nowrap text-lg' : ''} ${from ? FROM[from] : ''} ${typeof own === 'function' ? own(row) : (own ?? '')}`}
          >
            {column.cell(row)}
          </Cell>
        );
      })}
    </tr>
  );
  const sorted = table.getRowModel().rows.map(({ original }) => original);
  return (
    <Scroller label={label}>
      <table className={`w-full ${className}`} onKeyDown={(event) => onArrow(event, onLeave)}>
        {caption !== undefined && <caption className="sr-only">{caption}</caption>}
        <thead>
          {table.getHeaderGroups().map((group) => (
            <tr
              key={group.id}
              className={`text-left text-sm text-soft ${underHead === undefined ? 'border-b border-rule-strong' : ''}`}
            >
              {group.headers.map((header) => {
                const column = byId.get(header.column.id)!;
                const order = orderOf(column);
                return (
                  <th
                    key={header.id}
                    scope="col"
                    {...(order ? { 'aria-sort': order.sorted === false ? 'none' : order.sorted } : {})}
                    className={`px-3 py-2 font-medium ${column.from ? FROM[column.from] : ''} ${column.headClass ?? ''}`}
                  >
                    {order ? <SortHead {...order}>{column.head}</SortHead> : column.head}
                  </th>
                );
              })}
            </tr>
          ))}
          {underHead}
        </thead>
        {detail === undefined ? (
          <tbody>
            {sorted.map((row) => (
              <Fragment key={rowKey(row)}>{line(row)}</Fragment>
            ))}
          </tbody>
        ) : (
          sorted.map((row) => {
            const under = detail(row);
            return (
              <tbody key={rowKey(row)} id={bodyId?.(row)} className="border-b border-rule last:border-0">
                {line(row)}
                {under !== null && (
                  <tr>
                    <td colSpan={columns.length} className="px-3 pb-4">
                      {under}
                    </td>
                  </tr>
                )}
              </tbody>
            );
          })
        )}
      </table>
      {rows.length === 0 && none}
    </Scroller>
  );
}
