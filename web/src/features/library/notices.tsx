import { useQuery } from '@tanstack/react-query';
import { useDeferredValue, useState, type ReactNode } from 'react';
import { Link } from 'react-router';
import { query } from '../../api/client.ts';
import { read } from '../../api/queries.ts';
import { Button } from '../../ui/button.tsx';
import { INPUT } from '../../ui/field.tsx';
import { pageParam, useListParams } from '../../ui/list-params.ts';
import { Empty, Notice, Waiting } from '../../ui/notice.tsx';
import { Pager } from '../../ui/pager.tsx';
import { isoText } from '../../ui/units.ts';
import { Scroller } from '../../ui/scroller.tsx';
import { NOTICE_WORDS } from './words.ts';

/** Bulletins and coverages, latest first: each opens on the vehicles it touches. */
export function Notices(): ReactNode {
  const { params, page, go } = useListParams();
  const [typed, setTyped] = useState(params.get('q') ?? '');
  const q = useDeferredValue(typed);
  const notices = useQuery(read.notices(q, page));
  return (
    <>
      <div className="mb-3 flex flex-wrap items-center justify-between gap-2">
        <label className="sr-only" htmlFor="notice-search">
          Search by number or words
        </label>
        <input
          id="notice-search"
          type="search"
          className={`${INPUT} w-80! max-w-full`}
          placeholder="Number or words"
          value={typed}
          onChange={(event) => {
            setTyped(event.target.value);
            go({ q: event.target.value, page: null });
          }}
        />
        <Link
          to="/library/notices/write"
          className="inline-flex min-h-11 items-center rounded-md border border-rule-strong bg-sheet px-3.5 font-semibold hover:bg-well"
        >
          Put one on file
        </Link>
      </div>
      {notices.isPending && <Waiting what="the notices" />}
      {notices.error && (
        <Notice role="alert" actions={<Button onClick={() => void notices.refetch()}>Try again</Button>}>
          {notices.error.message}
        </Notice>
      )}
      {notices.data?.total === 0 && (
        <Empty title={q.trim() === '' ? 'No bulletin or coverage is on file' : 'No notice fits'}>
          What a maker lets workshops know, or pays for within a window, goes on file here and shows at once which
          vehicles it touches.
        </Empty>
      )}
      {notices.data && notices.data.rows.length > 0 && (
        <>
          <Scroller label="Bulletins and cover">
            <table className="w-full min-w-[46rem]">
              <caption className="sr-only">Bulletins and coverages, latest first</caption>
              <thead>
                <tr className="border-b border-rule-strong text-left text-sm text-soft">
                  {['Notice', 'From', 'Issued', 'Engines', 'Vehicles on file'].map((head) => (
                    <th key={head} scope="col" className="px-3 py-2 font-medium">
                      {head}
                    </th>
                  ))}
                </tr>
              </thead>
              <tbody>
                {notices.data.rows.map((row) => (
                  <tr key={row.id} className="border-b border-rule align-top last:border-0 hover:bg-well">
                    <th scope="row" className="px-3 text-left font-normal">
                      <Link to={`/library/notices/${row.id}`} className="block min-h-12 py-2 hover:underline">
                        <span className="text-lg font-semibold leading-tight">{row.title}</span>
                        {row.state === 'withdrawn' && (
                          <span className="ml-2 rounded border border-rule-strong px-1.5 text-sm">withdrawn</span>
                        )}
                        <span className="block text-sm text-soft">
                          {NOTICE_WORDS[row.kind]} {row.number}
                        </span>
                      </Link>
                    </th>
                    <td className="px-3 py-2">{row.authority}</td>
                    <td className="whitespace-nowrap px-3 py-2">{isoText(row.issued)}</td>
                    <td className="figure px-3 py-2 text-lg">{row.engines.join(', ')}</td>
                    <td className="figure px-3 py-2 text-lg">{row.vehicles}</td>
                  </tr>
                ))}
              </tbody>
            </table>
          </Scroller>
          <Pager
            page={page}
            pageSize={notices.data.pageSize}
            total={notices.data.total}
            what="notices"
            csv={`/api/lists/notices.csv${query({ q })}`}
            onPage={(to) => go({ page: pageParam(to) })}
          />
        </>
      )}
    </>
  );
}
