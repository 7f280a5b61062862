import type { LibraryPointRow } from '@crosspeen/contract';
import { Scroller } from '../../ui/scroller.tsx';
import type { DistanceUnit } from '@crosspeen/core';
import type { ReactNode } from 'react';
import { Link } from 'react-router';
import { CONSEQUENCE_WORDS, shareText, STATE_WORDS, windowText } from './words.ts';

/** Weak points as rows; `engines` names each one's engine. */
export function PointsTable({
  rows,
  unit,
  caption,
  engines = true,
}: {
  rows: readonly LibraryPointRow[];
  unit: DistanceUnit;
  caption: string;
  engines?: boolean;
}): ReactNode {
  return (
    <Scroller label="Weak points">
      <table className="w-full min-w-[52rem]">
        <caption className="sr-only">{caption}</caption>
        <thead>
          <tr className="border-b border-rule-strong text-left text-sm text-soft">
            {['Weak point', 'If it fails', 'Mostly fails at', 'How many', 'Vehicles on file'].map((head) => (
              <th key={head} scope="col" className="px-3 py-2 font-medium">
                {head}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {rows.map((row) => (
            <tr key={row.id} className="border-b border-rule align-top last:border-0 hover:bg-well">
              <th scope="row" className="px-3 text-left font-normal">
                <Link to={`/library/points/${row.id}`} className="block min-h-12 py-2 hover:underline">
                  <span className="text-lg font-semibold leading-tight">{row.title}</span>
                  {row.state !== 'published' && (
                    <span className="ml-2 rounded border border-rule-strong px-1.5 text-sm">
                      {STATE_WORDS[row.state]}
                    </span>
                  )}
                  <span className="block text-sm text-soft">
                    {engines ? `${row.maker} ${row.engineCode}, ` : ''}
                    {row.component}
                  </span>
                </Link>
              </th>
              <td className="px-3 py-2">
                {CONSEQUENCE_WORDS[row.consequence]}
                {row.safety && <span className="block text-sm font-semibold">safety</span>}
              </td>
              <td className="figure px-3 py-2 text-lg">{windowText(row, unit)}</td>
              <td className="figure whitespace-nowrap px-3 py-2 text-lg">
                {shareText(row.share)}
                <span className="block text-base text-soft">{row.nature === 'wear' ? 'fail by then' : 'have it'}</span>
              </td>
              <td className="figure px-3 py-2 text-lg">{row.vehicles}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </Scroller>
  );
}
