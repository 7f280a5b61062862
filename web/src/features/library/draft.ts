import type { LibraryPoint, PointDraft } from '@crosspeen/contract';
import {
  formatSpans,
  isoFromDay,
  limitedFailure,
  parseSpans,
  scaleForShare,
  SHARE_BY_WORD,
  susceptibleShare,
  toldLife,
  type ComponentClass,
  type Consequence,
  type Group,
  type Nature,
  type ShareWord,
  type Span,
  type StatementAsks,
  type StatementStrength,
} from '@crosspeen/core';
import { isoSent, isoTyped } from '../../ui/typed-fields.tsx';
import { numberTyped } from '../../ui/formats.ts';

/** What stands in the fields while a weak point is written. */
export interface DraftValues {
  readonly familyId: string;
  readonly title: string;
  readonly component: string;
  readonly newClass: ComponentClass;
  readonly newGroup: Group;
  readonly consequence: Consequence;
  readonly safety: boolean;
  readonly effect: string;
  readonly signs: string;
  readonly nature: Nature;
  readonly share: ShareWord;
  readonly windows: string;
  readonly lookHow: string;
  readonly lookMinutes: string;
  readonly lookDetects: string;
  readonly lookWarns: string;
  readonly renewMinutes: string;
  readonly variants: readonly string[];
  readonly producedFrom: string;
  readonly producedTo: string;
  readonly revision: string;
  readonly watchTask: string;
  readonly watchEvery: string;
  readonly says: string;
  readonly interval: string;
  readonly asks: StatementAsks;
  readonly strength: '' | StatementStrength;
}

export const EMPTY_DRAFT: DraftValues = {
  familyId: '',
  title: '',
  component: '',
  newClass: 'plastic',
  newGroup: 'cooling',
  consequence: 'leak',
  safety: false,
  effect: '',
  signs: '',
  nature: 'wear',
  share: 'some',
  windows: '',
  lookHow: '',
  lookMinutes: '15',
  lookDetects: '70',
  lookWarns: '',
  renewMinutes: '',
  variants: [],
  producedFrom: '',
  producedTo: '',
  revision: '',
  watchTask: '',
  watchEvery: '',
  says: '',
  interval: '',
  asks: 'renew',
  strength: '',
};

export interface KnownComponent {
  readonly id: string;
  readonly name: string;
  readonly class: ComponentClass;
  readonly group: Group;
}

/** Causes are told one after the other, parted by semicolons. */
export const causesTyped = (windows: string): string[] =>
  windows
    .split(';')
    .map((cause) => cause.trim())
    .filter(Boolean);
export const componentNamed = (name: string, known: readonly KnownComponent[]): KnownComponent | undefined =>
  known.find((component) => component.name.toLowerCase() === name.trim().toLowerCase());

/** The fields as they are sent; what is wrong with them the server says, field by field. */
export function draftFrom(values: DraftValues, known: readonly KnownComponent[], today: number): PointDraft {
  const component = componentNamed(values.component, known);
  return {
    familyId: values.familyId as PointDraft['familyId'],
    title: values.title.trim(),
    componentId: component?.id ?? null,
    newComponent: component ? null : { name: values.component.trim(), class: values.newClass, group: values.newGroup },
    consequence: values.consequence,
    safety: values.safety,
    effect: values.effect.trim(),
    signs: values.signs.trim(),
    nature: values.nature,
    share: values.share,
    causes: causesTyped(values.windows),
    look:
      values.lookHow.trim() === ''
        ? null
        : {
            how: values.lookHow.trim(),
            minutes: numberTyped(values.lookMinutes),
            detects: numberTyped(values.lookDetects) / 100,
            warns: values.lookWarns.trim(),
          },
    renewMinutes: numberTyped(values.renewMinutes),
    variants: [...values.variants],
    producedFrom: isoSent(values.producedFrom, today),
    producedTo: isoSent(values.producedTo, today),
    retiredByRevision: values.revision.trim() || null,
    watch: values.watchTask.trim() === '' ? null : { task: values.watchTask.trim(), every: values.watchEvery.trim() },
    statement:
      values.says.trim() === ''
        ? null
        : {
            words: values.says.trim(),
            interval: values.interval.trim() || null,
            asks: values.asks,
            strength: values.strength || null,
          },
  };
}

/** A weak point on file as its fields. */
export function valuesFrom(point: LibraryPoint): DraftValues {
  const own = point.statements.find(({ kind }) => kind === 'bench');
  const { appliesTo, look } = point;
  const word = (Object.keys(SHARE_BY_WORD) as ShareWord[]).reduce((best, candidate) =>
    Math.abs(SHARE_BY_WORD[candidate] - point.row.share) < Math.abs(SHARE_BY_WORD[best] - point.row.share)
      ? candidate
      : best,
  );
  return {
    familyId: point.row.familyId,
    title: point.row.title,
    component: point.row.component,
    newClass: point.componentClass,
    newGroup: point.row.group,
    consequence: point.row.consequence,
    safety: point.row.safety,
    effect: point.effect,
    signs: point.row.signs,
    nature: point.row.nature,
    share: word,
    windows: point.row.causes.map(formatSpans).join('; '),
    lookHow: look?.how ?? '',
    lookMinutes: String(look?.minutes ?? 15),
    lookDetects: String(Math.round((look?.detection ?? 0.7) * 100)),
    lookWarns: look ? formatSpans(look.warning) : '',
    renewMinutes: String(point.renewMinutes),
    variants: appliesTo.variants ?? [],
    producedFrom: appliesTo.producedFromDay === undefined ? '' : isoFromDay(appliesTo.producedFromDay),
    producedTo: appliesTo.producedToDay === undefined ? '' : isoFromDay(appliesTo.producedToDay),
    revision: point.retiredByRevision ?? '',
    watchTask: point.watch?.task ?? '',
    watchEvery: point.watch ? formatSpans(point.watch.every) : '',
    says: own?.words ?? '',
    interval: own ? formatSpans(own.interval) : '',
    asks: own?.asks ?? 'renew',
    strength: own?.strength ?? '',
  };
}

export interface DraftCurve {
  readonly clock: Span['clock'];
  readonly points: readonly { readonly at: number; readonly failed: number }[];
}

/**
 * Share of all engines that have failed over the first clock told, each cause on that clock with its part; null while
 * the windows cannot be read.
 */
export function draftCurve(
  windows: string,
  { nature, share }: Pick<DraftValues, 'nature' | 'share'>,
  componentClass: ComponentClass,
): DraftCurve | null {
  const causes = causesTyped(windows).map((cause) => parseSpans(cause));
  if (causes.length === 0 || causes.some((cause) => !cause.ok)) return null;
  const spans = causes.flatMap((cause) => (cause.ok ? [cause.value] : []));
  const told = { nature, share: SHARE_BY_WORD[share], componentClass };
  const clock = spans[0]![0]!.clock;
  const lives = spans.flatMap((cause) =>
    cause
      .filter((span) => span.clock === clock)
      .map((span) => {
        const life = toldLife(span, told);
        return { shape: life.shape, scale: scaleForShare(life.scale, life.shape, 1 / cause.length) };
      }),
  );
  const most =
    1.5 *
    Math.max(
      ...spans
        .flat()
        .filter((span) => span.clock === clock)
        .map(({ to, open }) => (open ? 3 * to : to)),
    );
  const points = Array.from({ length: 61 }, (_, i) => {
    const at = (most * i) / 60;
    return {
      at,
      failed: limitedFailure(
        lives,
        lives.map(() => at),
        lives.map(() => 0),
        susceptibleShare(told),
      ).failed,
    };
  });
  return { clock, points };
}

/** What the server should count for the draft, as query parameters. */
export const touchesParams = (
  values: DraftValues,
  known: readonly KnownComponent[],
  { not, today }: { readonly not: string | null; readonly today: number },
): Record<string, string | null> => ({
  familyId: values.familyId,
  variants: values.variants.join(','),
  producedFrom: isoTyped(values.producedFrom, today),
  producedTo: isoTyped(values.producedTo, today),
  title: values.title.trim().slice(0, 120),
  componentId: componentNamed(values.component, known)?.id ?? null,
  not,
});
