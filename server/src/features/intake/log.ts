import type { IntakeRun } from '@crosspeen/contract';
import { stringify } from 'csv-stringify';
import { Readable } from 'node:stream';
import type { DataSource } from 'typeorm';
import { isoInstant, paged, type PageAsked, type Paged } from '../../platform/paged.ts';
import { Problem } from '../../platform/problem.ts';
import { begun, piped } from '../../platform/streams.ts';
import { harmless } from '../../spreadsheets/columns.ts';

/** A run as it is told, with its first rows that could not be taken. */
const COLUMNS = `f.id, f.name, f.kind, f.state, f.bytes, f.bytes_done as "bytesDone", f.rows_done as rows, f.written,
    f.known, f.bad, f.reason, ${isoInstant('f.started_at')} as "startedAt",
    ${isoInstant('f.finished_at')} as "finishedAt", f.kept,
    (
      select coalesce(jsonb_agg(coalesce(nullif(h.name, ''), 'column ' || h.place) order by h.place), '[]')
      from jsonb_array_elements_text(f.headers) with ordinality as h(name, place)
      where not exists (select 1 from jsonb_each_text(f.mapping) m where m.value::int = h.place - 1)
    ) as "notTaken",
    case when f.undone_at is not null then jsonb_build_object(
      'at', ${isoInstant('f.undone_at')}, 'by', (select display_name from app_user where id = f.undone_by),
      'left', f.left_standing
    ) end as undone,
    (
      select coalesce(jsonb_agg(jsonb_build_object('line', x.line, 'reason', x.reason) order by x.line), '[]')
      from (select line, reason from intake_fault where file_id = f.id order by line limit 20) x
    ) as faults`;

/** What became of the spreadsheets that were taken in. */
export class IntakeLog {
  constructor(private readonly source: DataSource) {}

  /** How far one has come. Throws not_found. */
  async run(fileId: string): Promise<IntakeRun> {
    const [run] = await this.source.query<IntakeRun[]>(
      `select ${COLUMNS} from intake_file f where f.id = $1 and f.state <> 'held'`,
      [fileId],
    );
    if (!run) throw new Problem('not_found');
    return run;
  }

  /** One page of the files imported, latest first. */
  runs(asked: PageAsked): Promise<Paged<IntakeRun>> {
    const counted = "from intake_file f where f.state <> 'held'";
    return paged<IntakeRun>(this.source, asked, {
      counted,
      rows: (limits) => `select ${COLUMNS} ${counted} order by f.at desc, f.id ${limits}`,
    });
  }

  /**
   * The rows that could not be taken, as they came, with the reason in a column of its own: mended, they are imported
   * again.
   */
  async faults(fileId: string): Promise<{ name: string; csv: Readable }> {
    const run = await this.run(fileId);
    const { source } = this;
    async function* rows(): AsyncGenerator<string[]> {
      const [file] = await source.query<{ headers: string[] }[]>('select headers from intake_file where id = $1', [
        fileId,
      ]);
      yield ['reason', 'line', ...file!.headers.map(harmless)];
      for (let line = -1; ;) {
        const page = await source.query<{ line: number; cells: string[]; reason: string }[]>(
          'select line, cells, reason from intake_fault where file_id = $1 and line > $2 order by line limit 1000',
          [fileId, line],
        );
        for (const fault of page) yield [harmless(fault.reason), String(fault.line), ...fault.cells.map(harmless)];
        if (page.length < 1000) return;
        line = page.at(-1)!.line;
      }
    }
    return { name: run.name, csv: piped(Readable.from(await begun(rows())), stringify({ bom: true })) };
  }
}
