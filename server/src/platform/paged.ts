/** A page as it is asked for; pages begin with 1. */
export interface PageAsked {
  readonly page: number;
  readonly pageSize: number;
}

/** One page of a list, and how many rows the list has. */
export interface Paged<Row> {
  rows: Row[];
  total: number;
}

export interface PagedQuery {
  /** The page's rows; `limits` goes where the list is cut. */
  readonly rows: (limits: string) => string;
  /** What is counted: `from` and `where` of the same list. */
  readonly counted: string;
  /** What both have bound, from $1 on. */
  readonly values?: readonly unknown[];
  /** What the rows alone have bound, after `values`. */
  readonly beside?: readonly unknown[];
}

interface Queries {
  query<Row>(sql: string, values?: unknown[]): Promise<Row>;
}

/** SQL: an instant as ISO text, to the second, as it crosses the wire. */
export const isoInstant = (column: string): string =>
  `to_char(${column} at time zone 'UTC', 'YYYY-MM-DD"T"HH24:MI:SS"Z"')`;

/** One page of a list and its length, asked for side by side. */
export async function paged<Row>(
  on: Queries,
  { page, pageSize }: PageAsked,
  { rows, counted, values = [], beside = [] }: PagedQuery,
): Promise<Paged<Row>> {
  const at = values.length + beside.length;
  // The count takes longest and so begins first.
  const [count, found] = await Promise.all([
    on.query<{ total: number }[]>(`select count(*) as total ${counted}`, [...values]),
    on.query<Row[]>(rows(`limit $${at + 1} offset $${at + 2}`), [
      ...values,
      ...beside,
      pageSize,
      (page - 1) * pageSize,
    ]),
  ]);
  return { rows: found, total: Number(count[0]!.total) };
}

/** A page with where it stands in its list, as it is answered. */
export const pageOf = <Row>(found: Paged<Row>, { page, pageSize }: PageAsked): Paged<Row> & PageAsked => ({
  ...found,
  page,
  pageSize,
});
