import { call } from '../../api/client.ts';
import { type BackupRun, endpoints, may, type SessionState } from '@crosspeen/contract';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import type { ReactNode } from 'react';
import { readShop } from '../../api/people.ts';
import { Button } from '../../ui/button.tsx';
import { DataTable, type TableColumn } from '../../ui/data-table.tsx';
import { oneDigitText, wholeText } from '../../ui/formats.ts';
import { Empty, Notice, Waiting } from '../../ui/notice.tsx';
import { FormProblem } from '../../ui/problem.tsx';
import { instantText } from '../../ui/units.ts';
import { SettingsTabs } from '../../parts/shop/settings-tabs.tsx';

const megabytes = (bytes: number): string => `${oneDigitText(bytes / 1_048_576)} MB`;

const CHECKED = {
  restored: 'read back into an empty database: the same, row for row',
  read: 'read to its end; a trial restore needs a PostgreSQL user that may make databases',
} as const;

function outcome({ state, checked, reason }: BackupRun): string {
  switch (state) {
    case 'running':
      return 'being made';
    case 'good':
      return checked === null ? 'good' : `Good; ${CHECKED[checked]}`;
    case 'failed':
      return `Failed: ${reason ?? 'no reason is known'}`;
  }
}

const COLUMNS: readonly TableColumn<BackupRun>[] = [
  { id: 'at', head: 'Begun', names: true, className: 'py-2', cell: (row) => instantText(row.begunAt) },
  { id: 'outcome', head: 'Outcome', cell: outcome },
  { id: 'rows', head: 'Rows', figure: true, from: 'md', cell: (row) => (row.rows === null ? '' : wholeText(row.rows)) },
  {
    id: 'size',
    head: 'Size',
    figure: true,
    from: 'md',
    cell: (row) => (row.bytes === null ? '' : megabytes(row.bytes)),
  },
  { id: 'file', head: 'File', from: 'lg', className: 'break-all text-sm', cell: (row) => row.file ?? '' },
];

/** Backups: when the last good one was made, whether it could be read back, and one more now. The owner's. */
export default function BackupsPage({ session }: { session: SessionState }): ReactNode {
  const client = useQueryClient();
  const allowed = may(session.user!.role, 'editSettings');
  const asked = useQuery({ ...readShop.backups(), enabled: allowed });
  const make = useMutation({
    mutationFn: () => call(endpoints.backups.make),
    onSuccess: (answer) => client.setQueryData(readShop.backups().queryKey, answer),
  });
  if (!allowed) return <Empty title="Backups are the owner’s">The owner of the workshop looks after them.</Empty>;
  if (!asked.data) return <Waiting what="the backups" />;
  const { picture } = asked.data;
  if (picture === null)
    return (
      <SettingsTabs>
        <Empty title="This server keeps no backups">
          ./crosspeen backup FILE saves everything to a file; docs/running.md tells how to do it by schedule.
        </Empty>
      </SettingsTabs>
    );
  const running = picture.rows.some(({ state }) => state === 'running');
  return (
    <SettingsTabs>
      <div className="grid gap-4">
        {picture.old && (
          <Notice role="alert">
            <strong>The last good backup is too old.</strong> Look below for what went wrong, mend it, and make one now.
          </Notice>
        )}
        <div className="flex flex-wrap items-start justify-between gap-4 rounded-md border border-rule bg-sheet p-4">
          <dl className="grid grid-cols-[max-content_1fr] gap-x-6 gap-y-1">
            <dt className="text-soft">Last good one</dt>
            <dd>
              <strong>{picture.lastGood === null ? 'none yet' : instantText(picture.lastGood.begunAt)}</strong>
            </dd>
            <dt className="text-soft">Made each day at</dt>
            <dd>{picture.nextAt ?? 'never; the time is set under Workshop'}</dd>
            <dt className="text-soft">Kept in</dt>
            <dd className="break-all">{picture.folder}</dd>
          </dl>
          <Button look="main" disabled={make.isPending || running} onClick={() => make.mutate()}>
            {running ? 'Being made …' : 'Back up now'}
          </Button>
        </div>
        <FormProblem error={make.error} />
        {picture.rows.length > 0 && (
          <DataTable label="Backups" columns={COLUMNS} rows={picture.rows} rowKey={({ id }) => String(id)} />
        )}
        <p className="max-w-3xl text-soft">
          A backup holds everything, the accounts’ password hashes too: keep it like a key, and keep a copy on another
          machine. ./crosspeen restore FILE puts it in the place of what is there.
        </p>
      </div>
    </SettingsTabs>
  );
}
