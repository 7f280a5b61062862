import { z } from 'zod';

export const BACKUP_STATES = ['running', 'good', 'failed'] as const;
/**
 * Test of a backup: read into an empty database and counted row by row, or only read to its end.
 */
export const BACKUP_CHECKS = ['restored', 'read'] as const;

const backupRun = z
  .object({
    id: z.int(),
    state: z.enum(BACKUP_STATES),
    begunAt: z.string(),
    finishedAt: z.string().nullable(),
    file: z.string().nullable(),
    bytes: z.int().nullable(),
    rows: z.int().nullable(),
    checked: z.enum(BACKUP_CHECKS).nullable(),
    reason: z.string().nullable(),
  })
  .meta({ id: 'BackupRun' });
export type BackupRun = z.infer<typeof backupRun>;

export const backupPicture = z
  .object({
    /** Folder of the backups on the server. */
    folder: z.string(),
    lastGood: backupRun.nullable(),
    rows: z.array(backupRun),
    /** The last good one is older than it may be, or there is none and there should be. */
    old: z.boolean(),
    nextAt: z.string().nullable(),
  })
  .meta({ id: 'BackupPicture' });
export type BackupPicture = z.infer<typeof backupPicture>;
