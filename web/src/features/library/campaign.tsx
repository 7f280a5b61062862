import type { CampaignRow } from '@crosspeen/contract';
import type { Verdict } from '@crosspeen/core';
import { useQuery } from '@tanstack/react-query';
import type { ReactNode } from 'react';
import { Link } from 'react-router';
import { read } from '../../api/queries.ts';
import { Chance } from '../../ui/chance.tsx';
import { Choices } from '../../ui/choices.tsx';
import { VerdictMark } from '../../ui/mark.tsx';
import { Waiting } from '../../ui/notice.tsx';
import { Pager } from '../../ui/pager.tsx';
import { distanceText, isoText } from '../../ui/units.ts';
import { SaveLink } from '../../ui/save-link.tsx';

const RESULT_WORDS: Readonly<Record<string, string>> = { sound: 'sound', worn: 'worn', failed: 'failed' };

/** What was done about it on one vehicle, latest of each kind. */
const doneWords = (row: CampaignRow): string[] => [
  ...(row.renewed ? [`renewed ${isoText(row.renewed)}${row.revision ? `, revision ${row.revision}` : ''}`] : []),
  ...(row.lastLook ? [`${RESULT_WORDS[row.lastResult ?? ''] ?? 'looked at'} ${isoText(row.lastLook)}`] : []),
  ...(row.planned ? [`on a visit ${isoText(row.planned)}`] : []),
];

/** The vehicles a weak point touches now, what was done about each, and who is left: a list to call from. */
export function Campaign({ id, page, onPage, left, onLeft }: { id: string; page: number; onPage: (page: number) => void; left: 'all' | 'left'; onLeft: (left: 'all' | 'left') => void }): ReactNode {
  const rows = useQuery(read.campaign(id, left, page));
  return (
    <section aria-labelledby="campaign">
      <div className="mb-2 flex flex-wrap items-end justify-between gap-3">
        <h2 id="campaign" className="text-2xl">Vehicles it touches</h2>
        <div className="flex flex-wrap items-end gap-2">
          <Choices label="Show" value={left} onChange={onLeft} options={[{ value: 'left', label: 'Who is left to call' }, { value: 'all', label: 'All of them' }]} />
          <SaveLink href={`/api/lists/campaign/${id}.csv?left=${left}`}>Save as CSV</SaveLink>
        </div>
      </div>
      {!rows.data ? <Waiting what="the vehicles" /> : rows.data.total === 0 ? <p className="text-soft">{left === 'left' ? 'Nobody is left to call: whatever it touches is planned, or does not ask for anything now.' : 'No vehicle on file has it.'}</p> : (
        <>
          <div className="overflow-x-auto rounded-md border border-rule bg-sheet">
            <table className="w-full min-w-[50rem]">
              <caption className="sr-only">Vehicles this weak point touches, likeliest first</caption>
              <thead><tr className="border-b border-rule-strong text-left text-sm text-soft">{['Vehicle', 'What to do', 'Chance before the next service', 'Reading', 'Done about it'].map((head) => <th key={head} scope="col" className="px-3 py-2 font-medium">{head}</th>)}</tr></thead>
              <tbody>
                {rows.data.rows.map((row) => (
                  <tr key={row.vehicleId} className="border-b border-rule align-top last:border-0">
                    <th scope="row" className="px-3 text-left font-normal"><Link to={`/vehicles/${row.vehicleId}/outlook`} className="block min-h-12 py-2 hover:underline"><span className="figure text-lg font-semibold">{row.plate ?? row.name}</span> <span className="text-soft">{row.maker} {row.model}</span></Link></th>
                    <td className="px-3 py-2"><VerdictMark verdict={row.verdict as Verdict} />{row.dueDay && <span className="block text-sm text-soft">by {isoText(row.dueDay)}</span>}</td>
                    <td className="px-3 py-2"><Chance chance={row.chance} /></td>
                    <td className="figure whitespace-nowrap px-3 py-2 text-lg">{row.km === null ? '' : distanceText(row.km, row.odometerUnit, 100)}</td>
                    <td className="px-3 py-2">{doneWords(row).map((words) => <span key={words} className="block">{words}</span>)}{doneWords(row).length === 0 && <span className="text-soft">nothing on record</span>}</td>
                  </tr>
                ))}
              </tbody>
            </table>
          </div>
          <Pager page={page} pageSize={rows.data.pageSize} total={rows.data.total} what="vehicles" onPage={onPage} />
        </>
      )}
    </section>
  );
}
