import type { Sending } from '../../api/sending.ts';
import { may, type SessionState } from '@crosspeen/contract';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useEffect, useRef, type ReactNode } from 'react';
import { endpoints } from '@crosspeen/contract';
import { call } from '../../api/client.ts';
import { read } from '../../api/queries.ts';
import { readAgain } from '../../api/read-again.ts';
import { Button } from '../../ui/button.tsx';
import { instantText } from '../../ui/units.ts';
import { wholeText } from '../../ui/formats.ts';

/** How far a round has come. */
function RunningRound({
  run,
  mayJudge,
  act,
}: {
  run: { readonly reason: string; readonly done: number; readonly total: number };
  mayJudge: boolean;
  act: Pick<Sending<'judge' | 'stop'>, 'mutate' | 'isPending'>;
}): ReactNode {
  return (
    <>
      <span>
        Judging again because of {run.reason}:{' '}
        <strong className="figure text-lg">
          {wholeText(run.done)} of {wholeText(run.total)}
        </strong>{' '}
        vehicles
      </span>
      <progress
        className="h-2 min-w-40 flex-1 accent-(--accent)"
        value={run.done}
        max={Math.max(1, run.total)}
        aria-label="Judged so far"
      />
      {mayJudge && (
        <Button onClick={() => act.mutate('stop')} disabled={act.isPending}>
          Stop
        </Button>
      )}
    </>
  );
}

/**
 * How up to date the judgements of the list are: nothing while all are; progress and a stop button while they follow.
 */
export function FleetProgressLine({ session }: { session: SessionState }): ReactNode {
  const client = useQueryClient();
  const fleet = useQuery({
    ...read.fleet(),
    refetchInterval: (query) =>
      query.state.data?.run?.state === 'running' || (query.state.data?.stale ?? 0) > 0 ? 700 : false,
  }).data;
  const act = useMutation({
    mutationFn: (what: 'judge' | 'stop') => call(endpoints.fleet[what]),
    onSuccess: (answer) => client.setQueryData(['fleet'], answer),
  });
  const stale = fleet?.stale ?? 0;
  const before = useRef(0);
  useEffect(() => {
    // The list is fetched again when the last of it has been judged.
    if (before.current > 0 && stale === 0) void readAgain(client, { queryKey: ['vehicles'] });
    before.current = stale;
  }, [client, stale]);
  if (!fleet || (stale === 0 && fleet.run?.state !== 'running')) return null;
  const { run } = fleet;
  const mayJudge = may(session.user!.role, 'judgeFleet');
  return (
    <div
      role="status"
      className="mb-3 flex flex-wrap items-center gap-3 rounded-md border border-rule bg-sheet px-4 py-2"
    >
      {run?.state === 'running' ? (
        <RunningRound run={run} mayJudge={mayJudge} act={act} />
      ) : (
        <>
          <span className="flex-1">
            <strong className="figure text-lg">{wholeText(stale)}</strong> {stale === 1 ? 'vehicle is' : 'vehicles are'}{' '}
            shown as judged before something changed
            {run?.state === 'stopped' ? `; stopped ${instantText(run.finishedAt!)}` : ''}.
          </span>
          {mayJudge && (
            <Button onClick={() => act.mutate('judge')} disabled={act.isPending}>
              {run?.state === 'stopped' ? 'Go on' : 'Judge now'}
            </Button>
          )}
        </>
      )}
    </div>
  );
}
