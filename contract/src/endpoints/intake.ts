import { z } from 'zod';
import { anyText, paged, paging } from '../common.ts';
import { MOST_SHEET_BYTES, intakeKind, intakeLook, intakePreview, intakeRun, intakeStart } from '../intake.ts';
import { file, get, post, under, upload } from '../endpoint.ts';

const params = z.object({ id: z.uuid() });

export const intake = under('intake', {
  send: post('/api/intake', {
    summary: 'Send a spreadsheet, to be looked at',
    needs: 'importFiles',
    query: z.object({ name: anyText(200).default('sheet.csv'), kind: intakeKind.optional() }),
    body: upload(MOST_SHEET_BYTES + 1_000_000, 'stream'),
    answer: intakePreview,
    errors: ['bad_file'],
  }),
  preview: post('/api/intake/:id/preview', {
    summary: 'Read a held spreadsheet anew, as another kind, with other columns or formats',
    needs: 'importFiles',
    params,
    body: intakeLook,
    answer: intakePreview,
    errors: ['bad_file'],
  }),
  start: post('/api/intake/:id/start', {
    summary: 'Take a held spreadsheet in',
    needs: 'importFiles',
    params,
    body: intakeStart,
    answer: intakeRun,
    errors: ['bad_file'],
  }),
  stop: post('/api/intake/:id/stop', {
    summary: 'Stop taking a spreadsheet in',
    needs: 'importFiles',
    params,
    answer: intakeRun,
  }),
  undo: post('/api/intake/:id/undo', {
    summary: 'Take back what a spreadsheet wrote',
    needs: 'importFiles',
    params,
    answer: intakeRun,
    errors: ['bad_file', 'already_undone'],
  }),
  runs: get('/api/intake', {
    summary: 'Spreadsheets that were imported',
    needs: 'importFiles',
    query: paging,
    answer: paged(intakeRun),
  }),
  run: get('/api/intake/:id', {
    summary: 'How far a spreadsheet has come',
    needs: 'importFiles',
    params,
    answer: intakeRun,
  }),
  faults: get('/api/intake/:id/faults.csv', {
    summary: 'Rows that could not be taken, as CSV',
    needs: 'importFiles',
    params,
    answer: file('text/csv'),
  }),
});
