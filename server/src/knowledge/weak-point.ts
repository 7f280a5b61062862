import type { Pack, PackInput, PointDraft } from '@crosspeen/contract';
import {
  dayFromDate,
  dayFromIso,
  formatSpans,
  isoFromDay,
  type ApplicabilityRule,
  type DamageFact,
  type HastenFact,
  type LookFact,
  type Span,
  type WatchFact,
} from '@crosspeen/core';
import { asColumns, columnsOf } from '../platform/entity.ts';
import { dayOver, nearestWord, readSpans, shareOver, spansOver } from './said.ts';
import { type WeakPointRow, WeakPointEntity } from './weak-point-row.ts';

type PackPoint = Pack['families'][number]['weakPoints'][number];

type PackPointInput = NonNullable<PackInput['families'][number]['weakPoints']>[number];

/** What of a weak point people tell: in a pack, in the form, and read from both. A new field is one entry here. */
type Told = Pick<
  WeakPointRow,
  | 'title'
  | 'consequence'
  | 'safety'
  | 'effect'
  | 'signs'
  | 'share'
  | 'nature'
  | 'causes'
  | 'look'
  | 'renewMinutes'
  | 'appliesTo'
  | 'retiredByRevision'
  | 'watch'
  | 'damages'
  | 'symptoms'
  | 'forbids'
  | 'failure'
  | 'hastens'
  | 'revisions'
  | 'notTold'
>;

/** One thing told, laid over what stands: what is told more coarsely than it is kept stays while it says the same. */
interface Field<Name extends keyof Told> {
  readonly fromPack: (point: PackPoint, standing: Told | undefined) => Told[Name];
  readonly toPack: (value: Told[Name]) => Partial<PackPointInput>;
  readonly fromDraft: (draft: PointDraft, standing: Told | undefined) => Told[Name];
}

type Plain = 'title' | 'consequence' | 'safety' | 'effect' | 'signs' | 'renewMinutes' | 'nature';

/** A field that is told everywhere as it is kept. */
const plain = <Name extends Plain>(name: Name): Field<Name> => {
  const from = (told: Pick<Told, Plain>): Told[Name] => told[name] as Told[Name];
  return { fromPack: from, toPack: (value) => ({ [name]: value }), fromDraft: from };
};

const over = (causes: readonly string[], standing: Told | undefined, field: string): readonly (readonly Span[])[] =>
  causes.map((cause, i) => spansOver(readSpans(cause, field), standing?.causes[i]));

/** What a pack alone tells: the form does not show it, and what stands stays. */
const fromPackAlone = <Name extends keyof Told>(
  name: Name,
  empty: Told[Name],
  field: Omit<Field<Name>, 'fromDraft'>,
): Field<Name> => ({ ...field, fromDraft: (_draft, standing) => standing?.[name] ?? empty });

/** Properties that are left out, left out. */
const bare = <T extends object>(row: T): T =>
  Object.fromEntries(Object.entries(row).filter(([, value]) => value !== undefined)) as T;

/** How often a sound part is called worn is not asked for by the form. */
const USUAL_FALSE_ALARM = 0.02;

export const look: Field<'look'> = {
  fromPack: (point, standing) =>
    point.look === undefined
      ? null
      : ({
          how: point.look.how,
          minutes: point.look.minutes,
          detection: point.look.detects,
          falseAlarm: point.look.falseAlarm,
          warning: spansOver(readSpans(point.look.warns, 'warns'), standing?.look?.warning),
          ...bare({
            cautions: point.look.cautions,
            place: point.look.place,
            method: point.look.method,
            needs: point.look.needs && bare(point.look.needs),
            good: point.look.good,
            worn: point.look.worn,
            failed: point.look.failed,
            off: point.look.off,
            spot: point.look.spot,
            tools: point.look.tools,
            measure: point.look.measure && bare(point.look.measure),
            grades: point.look.grades,
          }),
        } as LookFact),
  toPack: (value) =>
    value === null
      ? {}
      : {
          look: {
            how: value.how,
            minutes: value.minutes,
            detects: value.detection,
            falseAlarm: value.falseAlarm,
            warns: formatSpans(value.warning),
            ...bare({
              cautions: value.cautions && [...value.cautions],
              place: value.place,
              method: value.method,
              needs: value.needs && (bare(value.needs) as NonNullable<PackPointInput['look']>['needs']),
              good: value.good,
              worn: value.worn,
              failed: value.failed,
              off: value.off && [...value.off],
              spot: value.spot,
              tools: value.tools && [...value.tools],
              measure: value.measure && { ...value.measure, sense: [...value.measure.sense] as [number, number] },
              grades: value.grades && [...value.grades],
            }),
          },
        },
  fromDraft: ({ look: draft }, standing) => {
    if (draft === null) return null;
    const now = standing?.look ?? null;
    const sameDetection = now !== null && Math.round(now.detection * 100) === Math.round(draft.detects * 100);
    return {
      ...now,
      how: draft.how,
      minutes: draft.minutes,
      detection: sameDetection ? now.detection : draft.detects,
      falseAlarm: now?.falseAlarm ?? USUAL_FALSE_ALARM,
      warning: spansOver(readSpans(draft.warns, 'look.warns'), now?.warning),
    };
  },
};

const monthOf = (of: number): string => isoFromDay(of).slice(0, 7);

/** First day of a month told as YYYY-MM. */
export const monthStart = (month: string): number => dayFromIso(`${month}-01`)!;

/** Last day of a month told as YYYY-MM. */
export const monthEnd = (month: string): number => {
  const [year, number] = month.split('-').map(Number) as [number, number];
  return dayFromDate(number === 12 ? year + 1 : year, number === 12 ? 1 : number + 1, 1)! - 1;
};

/** To which engines something applies, as a pack tells it, laid over the rule that stands. */
export const appliesFromPack = (
  { producedFrom, producedTo, ...rule }: PackPoint['appliesTo'],
  standing: ApplicabilityRule | undefined,
): ApplicabilityRule => ({
  ...(Object.fromEntries(Object.entries(rule).filter(([, value]) => value !== undefined)) as ApplicabilityRule),
  ...(producedFrom === undefined
    ? {}
    : { producedFromDay: dayOver(monthStart(producedFrom), standing?.producedFromDay, monthOf)! }),
  ...(producedTo === undefined
    ? {}
    : { producedToDay: dayOver(monthEnd(producedTo), standing?.producedToDay, monthOf)! }),
});

/** A rule as a pack tells it: months stand for production dates. */
export const appliesToPack = ({
  producedFromDay,
  producedToDay,
  ...rule
}: ApplicabilityRule): NonNullable<PackPointInput['appliesTo']> =>
  ({
    ...rule,
    ...(producedFromDay === undefined ? {} : { producedFrom: monthOf(producedFromDay) }),
    ...(producedToDay === undefined ? {} : { producedTo: monthOf(producedToDay) }),
  }) as NonNullable<PackPointInput['appliesTo']>;

/** To which engines it applies. The form asks for variants and production dates; the rest of the rule stays. */
export const appliesTo: Field<'appliesTo'> = {
  fromPack: ({ appliesTo: told }, standing) => appliesFromPack(told, standing?.appliesTo),
  toPack: (rule) => ({ appliesTo: appliesToPack(rule) }),
  fromDraft: (draft, standing) => {
    const { variants: _variants, producedFromDay: _from, producedToDay: _to, ...rest } = standing?.appliesTo ?? {};
    return {
      ...rest,
      ...(draft.variants.length > 0 ? { variants: draft.variants } : {}),
      ...(draft.producedFrom ? { producedFromDay: dayFromIso(draft.producedFrom)! } : {}),
      ...(draft.producedTo ? { producedToDay: dayFromIso(draft.producedTo)! } : {}),
    };
  },
};

const watchOver = (task: string, every: readonly Span[], standing: Told | undefined): WatchFact => ({
  task,
  every: spansOver(every, standing?.watch?.every),
});

const TOLD: { readonly [Name in keyof Told]: Field<Name> } = {
  title: plain('title'),
  consequence: plain('consequence'),
  safety: plain('safety'),
  effect: plain('effect'),
  signs: plain('signs'),
  share: {
    fromPack: (point, standing) => shareOver(point.share, standing?.share),
    toPack: (value) => ({ share: nearestWord(value) }),
    fromDraft: (draft, standing) => shareOver(draft.share, standing?.share),
  },
  nature: plain('nature'),
  causes: {
    fromPack: (point, standing) => over(point.causes, standing, 'causes'),
    toPack: (value) => ({ causes: value.map(formatSpans) }),
    fromDraft: (draft, standing) => over(draft.causes, standing, 'causes'),
  },
  look,
  renewMinutes: plain('renewMinutes'),
  appliesTo,
  retiredByRevision: {
    fromPack: (point) => point.retiredByRevision ?? null,
    toPack: (value) => (value === null ? {} : { retiredByRevision: value }),
    fromDraft: (draft) => draft.retiredByRevision || null,
  },
  watch: {
    fromPack: ({ watch }, standing) =>
      watch === undefined ? null : watchOver(watch.task, readSpans(watch.every, 'watch.every'), standing),
    toPack: (value) => (value === null ? {} : { watch: { task: value.task, every: formatSpans(value.every) } }),
    fromDraft: ({ watch }, standing) =>
      watch === null ? null : watchOver(watch.task, readSpans(watch.every, 'watch.every'), standing),
  },
  damages: fromPackAlone('damages', [], {
    fromPack: ({ damages }, standing) =>
      damages.map(
        ({ within, ...told }, i) =>
          ({
            ...bare(told),
            within: within === undefined ? [] : spansOver(readSpans(within, 'within'), standing?.damages[i]?.within),
          }) as DamageFact,
      ),
    toPack: (value) =>
      value.length === 0
        ? {}
        : {
            damages: value.map(({ within, ...told }) => ({
              ...told,
              ...(within.length === 0 ? {} : { within: formatSpans(within) }),
            })),
          },
  }),
  notTold: {
    fromPack: ({ notTold }) => notTold,
    toPack: (value) => (value.length === 0 ? {} : { notTold: [...value] }),
    // What the form tells otherwise than what stood in for it is told now.
    fromDraft: (draft, standing) =>
      (standing?.notTold ?? []).filter((what) =>
        what === 'share'
          ? draft.share === nearestWord(standing!.share)
          : draft.causes.join('; ') === standing!.causes.map(formatSpans).join('; '),
      ),
  },
  symptoms: fromPackAlone('symptoms', [], {
    fromPack: ({ symptoms }) => symptoms,
    toPack: (value) => (value.length === 0 ? {} : { symptoms: [...value] }),
  }),
  forbids: fromPackAlone('forbids', [], {
    fromPack: ({ forbids }) => forbids,
    toPack: (value) => (value.length === 0 ? {} : { forbids: [...value] }),
  }),
  failure: fromPackAlone('failure', null, {
    fromPack: ({ failure }) => (failure === undefined ? null : { parts: failure.partsMinor, minutes: failure.minutes }),
    toPack: (value) => (value === null ? {} : { failure: { partsMinor: value.parts, minutes: value.minutes } }),
  }),
  hastens: fromPackAlone('hastens', [], {
    fromPack: ({ hastens }) => hastens.map((told) => bare(told) as HastenFact),
    toPack: (value) => (value.length === 0 ? {} : { hastens: [...value] }),
  }),
  revisions: fromPackAlone('revisions', [], {
    fromPack: ({ revisions }, standing) =>
      revisions.map(({ revision, ends, causes }) => ({
        revision,
        ...(ends ? { ends } : {}),
        causes: causes.map((cause, i) =>
          spansOver(
            readSpans(cause, 'revisions'),
            standing?.revisions.find((own) => own.revision === revision)?.causes[i],
          ),
        ),
      })),
    toPack: (value) =>
      value.length === 0
        ? {}
        : {
            revisions: value.map(({ revision, ends, causes }) => ({
              revision,
              ...(ends ? { ends } : { causes: causes.map(formatSpans) }),
            })),
          },
  }),
};

const NAMES = Object.keys(TOLD) as (keyof Told)[];

/** The columns of what is told of weak point `w`, each under its property's name. */
export const TOLD_COLUMNS = columnsOf(WeakPointEntity, 'w', NAMES);

/** What a pack tells, as columns, laid over the row that stands. */
export const columnsFromPack = (point: PackPoint, standing: Told | undefined): Record<string, unknown> =>
  asColumns(
    WeakPointEntity,
    Object.fromEntries(NAMES.map((name) => [name, TOLD[name].fromPack(point, standing)])) as Partial<WeakPointRow>,
  );

/** What the form tells, as columns, laid over the row that stands: what the form does not show stays as it was. */
export const columnsFromDraft = (draft: PointDraft, standing: Told | undefined): Record<string, unknown> =>
  asColumns(
    WeakPointEntity,
    Object.fromEntries(NAMES.map((name) => [name, TOLD[name].fromDraft(draft, standing)])) as Partial<WeakPointRow>,
  );

type ToldInPack = Omit<PackPointInput, 'key' | 'component' | 'operation' | 'statements'>;

const inPack = <Name extends keyof Told>(name: Name, row: Told): Partial<PackPointInput> =>
  (TOLD[name] as Field<Name>).toPack(row[name]);

/** What a row tells, as a pack says it; the words of a pack are coarser than the row. */
export const toldToPack = (row: Told): ToldInPack =>
  Object.assign({}, ...NAMES.map((name) => inPack(name, row))) as ToldInPack;

/** The states in which a weak point is judged by and leaves in a pack. */
export const IN_USE = "w.state in ('published', 'retired')";
