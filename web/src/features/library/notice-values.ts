import type { LibraryAuthority, Notice, NoticeDraft, NoticeKind } from '@crosspeen/contract';
import { isoSent } from '../../ui/typed-fields.tsx';

/** A weak point that a notice is about, as far as its form shows it. */
export type NoticePoint = Pick<Notice['points'][number], 'id' | 'title' | 'engineCode'>;

/** What stands in the fields while a bulletin or a coverage is written. */
export interface NoticeValues {
  readonly kind: NoticeKind;
  readonly authority: string;
  readonly number: string;
  readonly title: string;
  readonly words: string;
  readonly issued: string;
  readonly asks: NoticeDraft['asks'];
  readonly points: readonly NoticePoint[];
  readonly producedFrom: string;
  readonly producedTo: string;
  readonly covers: string;
  readonly endsOn: string;
}

export const EMPTY_NOTICE: NoticeValues = {
  kind: 'bulletin',
  authority: '',
  number: '',
  title: '',
  words: '',
  issued: '',
  asks: 'look',
  points: [],
  producedFrom: '',
  producedTo: '',
  covers: '',
  endsOn: '',
};

/** An authority on file by its name, whatever its case. */
export const authorityNamed = (name: string, known: readonly LibraryAuthority[]): LibraryAuthority | undefined =>
  known.find((authority) => authority.name.toLowerCase() === name.trim().toLowerCase());

/** The fields as they are sent; what a bulletin has no use for is left out. */
export function noticeFrom(values: NoticeValues, authorities: readonly LibraryAuthority[], today: number): NoticeDraft {
  const known = authorityNamed(values.authority, authorities);
  const pays = values.kind === 'coverage';
  return {
    kind: values.kind,
    authorityId: known?.id ?? null,
    newAuthority: known ? null : { name: values.authority.trim(), kind: 'bulletin' },
    number: values.number.trim(),
    title: values.title.trim(),
    words: values.words.trim(),
    issued: isoSent(values.issued, today) ?? '',
    asks: values.asks,
    points: values.points.map((point) => point.id),
    producedFrom: isoSent(values.producedFrom, today),
    producedTo: isoSent(values.producedTo, today),
    covers: pays ? values.covers.trim() || null : null,
    endsOn: pays ? isoSent(values.endsOn, today) : null,
  };
}

/** A notice on file as its fields. */
export const valuesOfNotice = (notice: Notice): NoticeValues => ({
  kind: notice.row.kind,
  authority: notice.row.authority,
  number: notice.row.number,
  title: notice.row.title,
  words: notice.words,
  issued: notice.row.issued,
  asks: notice.asks,
  points: notice.points,
  producedFrom: notice.producedFrom ?? '',
  producedTo: notice.producedTo ?? '',
  covers: notice.covers ?? '',
  endsOn: notice.endsOn ?? '',
});
