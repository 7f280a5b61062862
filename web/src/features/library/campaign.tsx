import type { Verdict } from '@crosspeen/core';
import { useQuery } from '@tanstack/react-query';
import { lazy, Suspense, useState, type ReactNode } from 'react';
import { Link } from 'react-router';
import { read } from '../../api/queries.ts';
import { Button } from '../../ui/button.tsx';
import { Chance } from '../../ui/chance.tsx';
import { Choices } from '../../ui/choices.tsx';
import { pageParam, useListParams } from '../../ui/list-params.ts';
import { VerdictMark } from '../../ui/mark.tsx';
import { Notice, Waiting } from '../../ui/notice.tsx';
import { Pager } from '../../ui/pager.tsx';
import { SaveLink } from '../../ui/save-link.tsx';
import { distanceText, isoText } from '../../ui/units.ts';
import { Scroller } from '../../ui/scroller.tsx';
import type { About } from './call-dialog.tsx';
import { coverWords, doneWords, type CalledRow } from './words.ts';

const CallDialog = lazy(() => import('./call-dialog.tsx'));

/**
 * The vehicles a weak point, a bulletin or a coverage touches now, what was done about each, and who is left: a list to
 * call from.
 */
export function Campaign({
  about,
  cover = false,
  nobody,
  today,
}: {
  about: About;
  cover?: boolean;
  nobody: string;
  today: number;
}): ReactNode {
  const { params, page, go } = useListParams();
  const left = params.get('left') === 'all' ? 'all' : 'left';
  const [calling, setCalling] = useState<CalledRow | null>(null);
  const ofPoint = useQuery({
    ...read.campaign(about.weakPointId ?? '', left, page),
    enabled: about.weakPointId !== null,
  });
  const ofNotice = useQuery({
    ...read.noticeCampaign(about.noticeId ?? '', left, page),
    enabled: about.noticeId !== null,
  });
  const rows: {
    data?: { rows: readonly CalledRow[]; total: number; pageSize: number } | undefined;
    error: Error | null;
    refetch: () => unknown;
  } = about.weakPointId === null ? ofNotice : ofPoint;
  const csv =
    about.weakPointId === null
      ? `/api/lists/notice/${about.noticeId}.csv?left=${left}`
      : `/api/lists/campaign/${about.weakPointId}.csv?left=${left}`;
  const heads = [
    'Vehicle',
    'Ring up',
    'What to do',
    ...(cover ? ['Paid for'] : []),
    'Chance before the next service',
    'Done about it',
  ];
  return (
    <section aria-labelledby="campaign">
      <div className="mb-2 flex flex-wrap items-end justify-between gap-3">
        <h2 id="campaign" className="text-2xl">
          Vehicles it touches
        </h2>
        <div className="flex flex-wrap items-end gap-2">
          <Choices
            label="Show"
            value={left}
            onChange={(next) => go({ left: next === 'all' ? 'all' : null, page: null })}
            options={[
              { value: 'left', label: 'Who is left to call' },
              { value: 'all', label: 'All of them' },
            ]}
          />
          <SaveLink href={csv}>Save as CSV</SaveLink>
        </div>
      </div>
      {rows.error ? (
        <Notice role="alert" actions={<Button onClick={() => void rows.refetch()}>Try again</Button>}>
          {rows.error.message}
        </Notice>
      ) : !rows.data ? (
        <Waiting what="the vehicles" />
      ) : rows.data.total === 0 ? (
        <p className="text-soft">{left === 'left' ? nobody : 'No vehicle on file has it.'}</p>
      ) : (
        <>
          <Scroller label="Vehicles to call">
            <table className="w-full min-w-[46rem]">
              <caption className="sr-only">
                Vehicles it touches, {cover ? 'cover that ends soonest first' : 'likeliest first'}
              </caption>
              <thead>
                <tr className="border-b border-rule-strong text-left text-sm text-soft">
                  {heads.map((head) => (
                    <th key={head} scope="col" className="px-3 py-2 font-medium">
                      {head}
                    </th>
                  ))}
                </tr>
              </thead>
              <tbody>
                {rows.data.rows.map((row) => (
                  <tr key={row.vehicleId} className="border-b border-rule align-top last:border-0">
                    <th scope="row" className="px-3 text-left font-normal">
                      <Link to={`/vehicles/${row.vehicleId}/outlook`} className="block min-h-12 py-2 hover:underline">
                        <span className="figure text-lg font-semibold">{row.plate ?? row.name}</span>{' '}
                        <span className="block text-sm text-soft">
                          {row.maker} {row.model}
                          {row.km === null ? '' : `, ${distanceText(row.km, row.odometerUnit, 100)}`}
                        </span>
                      </Link>
                    </th>
                    <td className="px-3 py-2">
                      <span className="mb-1 block">
                        {row.contact ?? <span className="text-soft">nobody on file</span>}
                      </span>
                      <Button onClick={() => setCalling(row)} aria-label={`Called about ${row.plate ?? row.name}`}>
                        Called
                      </Button>
                    </td>
                    <td className="px-3 py-2">
                      <VerdictMark verdict={row.verdict as Verdict} />
                      {row.dueDay && (
                        <span className="block text-sm text-soft">
                          {row.dueDay <= row.asOf ? 'now' : `by ${isoText(row.dueDay)}`}
                        </span>
                      )}
                    </td>
                    {cover && (
                      <td className={`px-3 py-2 ${row.covered === false ? 'text-soft' : ''}`}>{coverWords(row)}</td>
                    )}
                    <td className="px-3 py-2">
                      <Chance chance={row.chance} />
                    </td>
                    <td className="px-3 py-2">
                      {doneWords(row).map((words) => (
                        <span key={words} className="block">
                          {words}
                        </span>
                      ))}
                      {doneWords(row).length === 0 && <span className="text-soft">nothing on record</span>}
                      {row.answered && <strong className="block">answered</strong>}
                    </td>
                  </tr>
                ))}
              </tbody>
            </table>
          </Scroller>
          <Pager
            page={page}
            pageSize={rows.data.pageSize}
            total={rows.data.total}
            what="vehicles"
            onPage={(to) => go({ page: pageParam(to) })}
          />
        </>
      )}
      {calling && (
        <Suspense fallback={null}>
          <CallDialog row={calling} about={about} today={today} onClose={() => setCalling(null)} />
        </Suspense>
      )}
    </section>
  );
}
