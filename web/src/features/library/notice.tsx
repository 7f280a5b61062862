import { call } from '../../api/client.ts';
import { endpoints, type Notice, type SessionState, type Settings } from '@crosspeen/contract';
import { dayFromIso } from '@crosspeen/core';
import { useQuery } from '@tanstack/react-query';
import type { ReactNode } from 'react';
import { Link, useParams } from 'react-router';
import { useChange } from '../../api/changing.tsx';
import { read } from '../../api/queries.ts';
import { AuthorityShape } from '../../editors/strip/view/marks.tsx';
import { Button } from '../../ui/button.tsx';
import { Empty, Waiting } from '../../ui/notice.tsx';
import { FormProblem } from '../../ui/problem.tsx';
import { isoText, percentText } from '../../ui/units.ts';
import { Campaign } from './campaign.tsx';
import { Changes } from './changes.tsx';
import { coversWords, NOTICE_WORDS } from './words.ts';

const ASKS_WORDS = {
  look: 'a look at it, or a renewal, since it was issued',
  renew: 'a renewal since it was issued',
} as const;

function Steps({ notice, session }: { notice: Notice; session: SessionState }): ReactNode {
  const { id, state } = notice.row;
  const step = useChange((next: 'current' | 'withdrawn', key) =>
    call(endpoints.notices.step, { params: { id }, body: { state: next, version: notice.version }, key }),
  );
  if (session.user!.role !== 'owner' && notice.writtenBy !== session.user!.displayName) return null;
  return (
    <div>
      <div className="flex flex-wrap gap-2">
        <Button disabled={step.isPending} onClick={() => step.mutate(state === 'current' ? 'withdrawn' : 'current')}>
          {state === 'current' ? 'Withdraw it' : 'Take it up again'}
        </Button>
        <Link
          to={`/library/notices/${id}/write`}
          className="inline-flex min-h-11 items-center rounded-md border border-rule-strong bg-sheet px-3.5 font-semibold hover:bg-well"
        >
          Correct
        </Link>
      </div>
      <FormProblem error={step.error} />
    </div>
  );
}

function Told({ notice, unit }: { notice: Notice; unit: Settings['distanceUnit'] }): ReactNode {
  const made = [
    notice.producedFrom && `from ${isoText(notice.producedFrom)}`,
    notice.producedTo && `until ${isoText(notice.producedTo)}`,
  ]
    .filter(Boolean)
    .join(' ');
  return (
    <section aria-labelledby="told" className="rounded-md border border-rule bg-sheet px-4 py-3">
      <h2 id="told" className="sr-only">
        What it says
      </h2>
      <p className="mb-3 text-lg">“{notice.words}”</p>
      <dl className="grid grid-cols-[auto_1fr] gap-x-4 gap-y-2">
        <dt className="text-soft">About</dt>
        <dd>
          {notice.points.map((point) => (
            <Link key={point.id} to={`/library/points/${point.id}`} className="block hover:underline">
              {point.title}{' '}
              <span className="text-soft">
                {point.maker} {point.engineCode}
              </span>
            </Link>
          ))}
        </dd>
        {made !== '' && (
          <>
            <dt className="text-soft">Vehicles made</dt>
            <dd>{made}</dd>
          </>
        )}
        {notice.row.kind === 'coverage' && (
          <>
            <dt className="text-soft">Pays until</dt>
            <dd className="figure text-lg">{coversWords(notice, unit)}</dd>
          </>
        )}
        {notice.models.length > 0 && (
          <>
            <dt className="text-soft">Models</dt>
            <dd>{notice.models.join(', ')}</dd>
          </>
        )}
        {notice.pays !== null && (
          <>
            <dt className="text-soft">Pays</dt>
            <dd>{percentText(notice.pays)} of the cost</dd>
          </>
        )}
        <dt className="text-soft">Answered by</dt>
        <dd>{ASKS_WORDS[notice.asks]}</dd>
        <dt className="text-soft">Comes from</dt>
        <dd>
          {notice.pack ? `the pack “${notice.pack}”` : 'saved here'}
          {notice.writtenBy ? `, ${notice.writtenBy}` : ''}
        </dd>
      </dl>
    </section>
  );
}

/** One bulletin or coverage, and the vehicles it touches. */
export default function LibraryNoticePage({ session }: { session: SessionState }): ReactNode {
  const { id = '' } = useParams();
  const notice = useQuery(read.notice(id));
  const settings = useQuery(read.settings()).data;
  if (notice.error)
    return (
      <Empty page title="This notice is not in the library">
        {notice.error.message}
      </Empty>
    );
  if (!notice.data || !settings) return <Waiting what="the notice" />;
  const { row } = notice.data;
  return (
    <div className="grid gap-5">
      <header className="flex flex-wrap items-end justify-between gap-3">
        <div>
          <p>
            <Link to="/library?shelf=notices" className="inline-flex min-h-11 items-center hover:underline">
              ← Bulletins and cover
            </Link>
          </p>
          <h1 className="text-3xl">{row.title}</h1>
          <p className="mt-1">
            <AuthorityShape kind={notice.data.authorityKind} /> <strong>{row.authority}</strong>{' '}
            <span className="text-soft">
              {NOTICE_WORDS[row.kind].toLowerCase()} {row.number}, issued {isoText(row.issued)}
              {row.state === 'withdrawn' ? '; withdrawn' : ''}
            </span>
          </p>
        </div>
        <Steps notice={notice.data} session={session} />
      </header>
      <Told notice={notice.data} unit={settings.distanceUnit} />
      <Campaign
        about={{ weakPointId: null, noticeId: row.id }}
        cover={row.kind === 'coverage'}
        today={dayFromIso(session.today)!}
        nobody={
          row.kind === 'coverage'
            ? 'Nobody is left to call: whatever it touches is done, planned, or no longer paid for.'
            : 'Nobody is left to call: whatever it touches is done or planned.'
        }
      />
      <section aria-labelledby="changed">
        <h2 id="changed" className="mb-2 text-2xl">
          What changed since when
        </h2>
        <Changes entityId={row.id} />
      </section>
    </div>
  );
}
