import { isFailed, RowChance } from '../row-chance.tsx';
import type { AnswerRow, Settings } from '@crosspeen/contract';
import type { Answer } from '../../api/answer.ts';
import { minutesText, CONSEQUENCE_WORDS, strictest, type DistanceUnit } from '@crosspeen/core';
import { ChevronDown, ChevronRight, ShieldAlert } from 'lucide-react';
import { lazy, Suspense, useEffect, type ReactNode } from 'react';
import { AuthorityShape } from '../../editors/strip/view/marks.tsx';
import { Waiting } from '../../ui/notice.tsx';
import { VerdictMark } from '../../ui/mark.tsx';
import { aboutMoneyText, monthText, percentText, spansText, moneyText } from '../../ui/units.ts';
import { DataTable, type TableColumn } from '../../ui/data-table.tsx';
import { byWhenText } from '../by-when.ts';
import { overdueText } from './overdue.ts';
import { LINE_ID } from '../keys.ts';
import type { WhySource } from './why.tsx';

/** Fetched beside the answer, before anybody opens a row. */
const loadRowDetail = () => import('./row-detail.tsx');
const RowDetail = lazy(loadRowDetail);

/** By when: a date and a reading with how far both may be off. */
function Due({ row, today, unit }: { row: AnswerRow; today: number; unit: DistanceUnit }): ReactNode {
  if (row.watch !== null && row.verdict === 'watch')
    return (
      <span className="leading-tight">
        {row.watch.task}, every <span className="figure text-lg">{spansText(row.watch.every, unit)}</span>
      </span>
    );
  if (row.due === null)
    return <span className="text-soft">{row.limit === null ? 'no limit set' : 'not within 8 years'}</span>;
  const words = byWhenText({ verdict: row.verdict, ...row.due }, today, unit);
  if (row.verdict === 'hold' || row.due.day <= today)
    return <span className="figure text-lg font-semibold leading-tight">{words}</span>;
  const months = [monthText(row.due.earliestDay), monthText(row.due.latestDay)];
  return (
    <span className="figure text-lg leading-tight">
      <strong>{words}</strong>
      {months[0] !== months[1] && (
        <span className="block text-base text-soft">
          between {months[0]} and {months[1]}
        </span>
      )}
    </span>
  );
}

/** The strictest published interval, and how many more authorities speak. */
function Said({ row, unit }: { row: AnswerRow; unit: DistanceUnit }): ReactNode {
  const marks = row.authorities.map((mark) => ({
    mark,
    due: mark.due,
    standing: mark.setAside === null ? { counts: true as const } : { counts: false as const, ...mark.setAside },
  }));
  const first = strictest(marks)?.mark ?? row.authorities[0];
  if (first === undefined) return <span className="text-soft">no source yet</span>;
  return (
    <span>
      <AuthorityShape kind={first.kind} /> {first.authority}:{' '}
      {first.interval.length > 0 ? (
        <>
          <span className="figure text-lg">{spansText(first.interval, unit)}</span>
          {first.asks === 'look' && ', to look at it'}
        </>
      ) : (
        'no interval'
      )}
      {row.authorities.length > 1 && <span className="text-soft">, {row.authorities.length - 1} more</span>}
    </span>
  );
}

/** Chance of having failed already from which on the row says so. */
const WORTH_SAYING = 0.05;

/** How likely it has failed already and is still in there, where that is worth saying. */
function AlreadyThere({ row }: { row: AnswerRow }): ReactNode {
  if (isFailed(row) || row.already < WORTH_SAYING) return null;
  return (
    <span className="block text-sm text-soft">
      may already be there: <span className="figure text-base">{percentText(row.already)}</span>
    </span>
  );
}

/** Money of what goes along with a job: its part, and what that saves. */
function rideMoney({ partPrice, saves }: NonNullable<AnswerRow['rides']>, settings: Settings): string {
  const part = partPrice === null ? 'price of the part not told' : `part ${moneyText(partPrice, settings)}`;
  return saves === null ? part : `${part}, saves about ${aboutMoneyText(saves, settings)}`;
}

/** A weak point by name, with its chance on a phone. */
function RowTitle({
  row,
  answer,
  unit,
  settings,
}: {
  row: AnswerRow;
  answer: Answer;
  unit: DistanceUnit;
  settings: Settings;
}): ReactNode {
  return (
    <span>
      <span className="text-lg font-semibold leading-tight">{row.title}</span>
      {row.safety && (
        <span className="ml-2 inline-flex items-center gap-1 text-sm font-semibold">
          <ShieldAlert size={16} aria-hidden />
          safety
        </span>
      )}
      <span className="my-1 flex flex-wrap items-center gap-x-4 md:hidden">
        <RowChance row={row} />
        <Due row={row} today={answer.today} unit={unit} />
      </span>
      <span className="block text-soft">{row.reason}</span>
      {row.overdue && <span className="block font-semibold">{overdueText(row, row.overdue, unit)}</span>}
      <span className="block text-sm text-soft">
        {row.component}; if it fails {CONSEQUENCE_WORDS[row.consequence]};{' '}
        {row.rides === null ? `labour ${minutesText(row.renewMinutes)}` : rideMoney(row.rides, settings)}
      </span>
    </span>
  );
}

/** Weak points that do not apply, and why. */
function BehindIt({ behind, answer }: { behind: AnswerRow[]; answer: Answer }): ReactNode {
  return (
    <details className="rounded-md border border-rule bg-sheet">
      <summary className="min-h-11 cursor-pointer px-4 py-2.5 font-semibold">
        {behind.length + answer.excluded.length} that do not apply, and why
      </summary>
      <ul className="divide-y divide-rule border-t border-rule">
        {behind.map((row) => (
          <li key={row.weakPointId} className="flex flex-wrap items-center gap-x-4 px-4 py-2">
            <VerdictMark verdict="behind_it" />
            <span className="font-semibold">{row.title}</span>
            <span className="text-soft">
              {row.reason} {row.wouldChange}
            </span>
          </li>
        ))}
        {answer.excluded.map((row) => (
          <li key={row.weakPointId} className="flex flex-wrap items-center gap-x-4 px-4 py-2">
            <span className="font-semibold">{row.title}</span>
            <span className="text-soft">{row.because}</span>
          </li>
        ))}
      </ul>
    </details>
  );
}

/** The facts of the strip as a table, worst first; what does not apply is folded below with why. */
export function FactsTable({
  answer,
  unit,
  settings,
  open,
  onOpen,
  rowActions,
  why,
  onSchool,
}: {
  answer: Answer;
  unit: DistanceUnit;
  settings: Settings;
  open: string | null;
  onOpen: (id: string) => void;
  rowActions?: (weakPointId: string) => ReactNode;
  why: WhySource;
  onSchool?: (row: AnswerRow) => void;
}): ReactNode {
  useEffect(() => {
    loadRowDetail().catch(() => undefined);
  }, []);
  const rows = answer.rows.filter(({ verdict }) => verdict !== 'behind_it');
  const behind = answer.rows.filter(({ verdict }) => verdict === 'behind_it');
  const columns: readonly TableColumn<AnswerRow>[] = [
    {
      id: 'verdict',
      head: 'Verdict',
      headClass: 'w-28 md:w-36',
      className: 'py-2.5',
      cell: ({ verdict }) => <VerdictMark verdict={verdict} />,
    },
    {
      id: 'point',
      head: 'Weak point, and why',
      names: true,
      className: 'py-1',
      cell: (row) => {
        const opened = open === row.weakPointId;
        const Arrow = opened ? ChevronDown : ChevronRight;
        return (
          <button
            type="button"
            data-row
            aria-expanded={opened}
            onClick={() => onOpen(row.weakPointId)}
            className="flex min-h-11 w-full items-start gap-1.5 rounded py-1.5 text-left hover:underline"
          >
            <Arrow size={18} aria-hidden className="mt-1 shrink-0" />
            <RowTitle row={row} answer={answer} unit={unit} settings={settings} />
          </button>
        );
      },
    },
    {
      id: 'chance',
      head: 'Chance before the next service',
      headClass: 'w-32',
      from: 'md',
      className: 'py-2.5',
      cell: (row) => (
        <>
          <RowChance row={row} />
          {row.ifFirst !== null && row.ifFirst > row.chance && percentText(row.ifFirst) !== percentText(row.chance) && (
            <span className="block text-sm text-soft">
              if it is the first one <span className="figure text-base">{percentText(row.ifFirst)}</span>
            </span>
          )}
          <AlreadyThere row={row} />
        </>
      ),
    },
    {
      id: 'due',
      head: 'By when',
      headClass: 'w-48',
      from: 'md',
      className: 'py-2.5',
      cell: (row) => <Due row={row} today={answer.today} unit={unit} />,
    },
    {
      id: 'said',
      head: 'What the sources say',
      headClass: 'w-60',
      from: 'xl',
      className: 'py-2.5',
      cell: (row) => <Said row={row} unit={unit} />,
    },
  ];
  return (
    <section aria-label="Weak points" className="grid grid-cols-1 gap-3">
      <DataTable
        label="Weak points that apply"
        caption="Weak points that apply, worst first"
        columns={columns}
        rows={rows}
        rowKey={({ weakPointId }) => weakPointId}
        bodyId={({ weakPointId }) => `row-${weakPointId}`}
        rowClass={({ weakPointId }) => (open === weakPointId ? 'bg-accent-wash' : '')}
        onLeave={() => document.getElementById(LINE_ID)?.focus()}
        none={<p className="px-4 py-6">No known weak point applies to this engine as described.</p>}
        detail={(row) =>
          open === row.weakPointId ? (
            <Suspense fallback={<Waiting what="the details" />}>
              <RowDetail
                row={row}
                answer={answer}
                unit={unit}
                settings={settings}
                actions={rowActions?.(row.weakPointId)}
                why={why}
                {...(onSchool ? { onSchool } : {})}
              />
            </Suspense>
          ) : null
        }
      />
      {(behind.length > 0 || answer.excluded.length > 0) && <BehindIt behind={behind} answer={answer} />}
    </section>
  );
}
