import { SAID } from '@crosspeen/contract';
import { Problem } from '../platform/problem.ts';
import { coverColumns, writeNoticePoints } from './cover.ts';
import { type Writing, type Ids } from './pack-writing.ts';

/** Two notices of one authority may not have one number. Throws notice_number_taken. */
async function refuseSameNumbers({ writer, pack, skipped }: Writing, authorities: Ids): Promise<void> {
  const clashing = await writer.manager.query<{ key: string; number: string; other: string }[]>(
    `select given.key, given.number, n.key as other
      from jsonb_to_recordset($1::jsonb) as given(key text, number text, authority uuid)
      join notice n on n.authority_id = given.authority
        and lower(n.number) = lower(given.number)
        and n.key <> given.key`,
    [
      JSON.stringify(
        pack.notices
          .filter(({ key }) => !skipped('notice').has(key))
          .map(({ key, number, authority }) => ({ key, number, authority: authorities.get(authority) })),
      ),
    ],
  );
  if (clashing.length > 0) {
    throw new Problem(SAID.noticeNumberTaken, {
      fields: clashing.map(({ key, number, other }) => ({
        path: `notices.${key}`,
        message: `number “${number}” is on file from the same authority as “${other}”; give it that key in the pack, or another number`,
      })),
    });
  }
}

/** Writes the bulletins and coverages, and the weak points that each is about. */
export async function writeNotices(
  writing: Writing,
  { authorities, points }: { readonly authorities: Ids; readonly points: Ids },
): Promise<void> {
  const { writer, pack, skipped, own } = writing;
  await refuseSameNumbers(writing, authorities);
  const notices = await writer.upsert(
    'notice',
    pack.notices.map((notice) => ({
      key: notice.key,
      kind: notice.kind,
      authority_id: authorities.get(notice.authority),
      number: notice.number,
      title: notice.title,
      words: notice.words,
      issued: notice.issued,
      asks: notice.asks,
      produced_from: notice.producedFrom ?? null,
      produced_to: notice.producedTo ?? null,
      ...coverColumns(notice.covers ?? null),
      ends_on: notice.endsOn ?? null,
      models: notice.models,
      pays: notice.pays ?? null,
      ...own,
    })),
    skipped('notice'),
  );
  for (const notice of pack.notices) {
    if (skipped('notice').has(notice.key)) continue;
    await writeNoticePoints(
      writer,
      notices.get(notice.key)!,
      notice.weakPoints.map((key) => points.get(key)).filter((id) => id !== undefined),
    );
  }
}
