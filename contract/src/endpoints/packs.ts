import { z } from 'zod';
import { anyText, paged, paging } from '../common.ts';
import { MOST_PACK_BYTES, libraryPack, packImport, packPreview } from '../packing.ts';
import { changed } from '../vehicle.ts';
import { file, get, post, under, upload } from '../endpoint.ts';

export const packs = under('library', {
  export: get('/api/library/export', {
    summary: 'The library, or one of its packs, as a pack file',
    query: z.object({ families: z.string().max(20_000).default('') }),
    answer: file('application/json'),
  }),
  schema: get('/api/library/pack.schema.json', {
    summary: 'JSON Schema of pack files',
    answer: file('application/json'),
  }),
  preview: post('/api/library/packs/preview', {
    summary: 'Show what taking a pack file in would do',
    needs: 'publishLibrary',
    query: z.object({ name: anyText(200).default('pack.json') }),
    body: upload(MOST_PACK_BYTES, 'bytes'),
    answer: packPreview,
    errors: ['bad_file'],
  }),
  list: get('/api/library/packs', { summary: 'Imported packs', query: paging, answer: paged(libraryPack) }),
  import: post('/api/library/packs/import', {
    summary: 'Take a shown pack in, as chosen',
    needs: 'publishLibrary',
    body: packImport,
    answer: changed,
    errors: ['bad_file', 'changed_meanwhile', 'taken'],
  }),
});
