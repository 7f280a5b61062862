import { call } from '../../api/client.ts';
import {
  CONSEQUENCE_LABELS,
  DAYS_PER_YEAR,
  CONSEQUENCES,
  GROUPS,
  dayFromIso,
  NATURES,
  STATEMENT_ASKS,
  SHAPE_BY_CLASS,
  SHARE_BY_WORD,
  STATEMENT_STRENGTHS,
  type ComponentClass,
  type ShareWord,
} from '@crosspeen/core';
import { type AnswerOf, endpoints, type PointDraft, type SessionState } from '@crosspeen/contract';
import { useQuery } from '@tanstack/react-query';
import { lazy, Suspense, useCallback, useDeferredValue, type ReactNode } from 'react';
import { useForm, useWatch, type UseFormSetValue } from 'react-hook-form';
import { Link, useNavigate, useParams, useSearchParams } from 'react-router';
import { useChange } from '../../api/changing.tsx';
import { read } from '../../api/queries.ts';
import { STRENGTH_WORDS } from '../../editors/strip/view/marks.tsx';
import { Button } from '../../ui/button.tsx';
import type { ChartOption } from '../../ui/chart.tsx';
import { TextField } from '../../ui/field.tsx';
import { Empty, Waiting } from '../../ui/notice.tsx';
import { Conflict, fieldProblem, FormProblem, isConflict } from '../../ui/problem.tsx';
import { DayField } from '../../ui/typed-fields.tsx';
import { percentText, spansText } from '../../ui/units.ts';
import { WritingForm } from '../../ui/writing-form.tsx';
import {
  componentNamed,
  draftCurve,
  draftFrom,
  EMPTY_DRAFT,
  touchesParams,
  valuesFrom,
  type DraftCurve,
  type DraftValues,
} from './draft.ts';
import {
  ASKS_WORDS,
  CLASS_WORDS,
  GROUP_WORDS,
  NATURE_WORDS,
  SHARE_LABELS,
  STATE_WORDS,
  WINDOW_HINTS,
} from './words.ts';
import { optionsOf } from '../../ui/select.tsx';
import { FormSelect } from '../../ui/form-fields.tsx';

const Chart = lazy(() => import('../../ui/chart.tsx'));
const SHARES = Object.keys(SHARE_BY_WORD) as ShareWord[];
const CLASSES = Object.keys(SHAPE_BY_CLASS) as ComponentClass[];
const FIELDS = [
  'familyId',
  'title',
  'componentId',
  'newComponent',
  'consequence',
  'effect',
  'signs',
  'share',
  'causes',
  'look',
  'renewMinutes',
  'variants',
  'producedFrom',
  'producedTo',
  'retiredByRevision',
  'nature',
  'watch',
  'watch.every',
  'statement',
];

function Curve({ curve }: { curve: DraftCurve }): ReactNode {
  const option = useCallback(
    (ink: { ink: string; soft: string; rule: string }): ChartOption => {
      const short = (value: number): string =>
        curve.clock === 'distance'
          ? value === 0
            ? '0'
            : `${Math.round(value / 1000)}k km`
          : curve.clock === 'age'
            ? `${Math.round(value / DAYS_PER_YEAR)} y`
            : `${Math.round(value)} h`;
      return {
        grid: { left: 44, right: 12, top: 10, bottom: 24 },
        xAxis: {
          type: 'value',
          min: 0,
          max: curve.points.at(-1)!.at,
          axisLabel: { color: ink.soft, formatter: short },
          splitLine: { show: false },
        },
        yAxis: {
          type: 'value',
          min: 0,
          max: 100,
          axisLabel: { color: ink.soft, formatter: '{value} %' },
          splitLine: { lineStyle: { color: ink.rule } },
        },
        series: [
          {
            type: 'line',
            showSymbol: false,
            lineStyle: { width: 3, color: ink.ink },
            data: curve.points.map(({ at, failed }) => [at, failed * 100]),
          },
        ],
      };
    },
    [curve],
  );
  const last = curve.points.at(-1)!;
  return (
    <Suspense fallback={<p className="h-[180px] text-soft">Drawing …</p>}>
      <Chart
        option={option}
        height={180}
        label={`Share of all these engines that have failed by then; ${percentText(last.failed)} at ${spansText([{ clock: curve.clock, from: last.at, to: last.at }], 'km')}`}
      />
    </Suspense>
  );
}

/** The curve of the life as it is typed. */
function CurvePart({ curve, late }: { curve: DraftCurve | null; late: DraftValues }): ReactNode {
  return (
    <section aria-labelledby="curve" className="rounded-md border border-rule bg-sheet px-4 py-3">
      <h2 id="curve" className="text-xl">
        How many of them will have failed
      </h2>
      {curve ? (
        <>
          <Curve curve={curve} />
          {late.windows.includes('y') && curve.clock === 'distance' && (
            <p className="text-sm text-soft">Drawn over distance; what age does comes on top.</p>
          )}
        </>
      ) : (
        <p className="py-6 text-soft">Write a window, and the curve is drawn here.</p>
      )}
    </section>
  );
}

/** How many saved vehicles it would affect. */
function TouchedPart({
  values,
  touched,
}: {
  values: DraftValues;
  touched: AnswerOf<typeof endpoints.library.touches> | undefined;
}): ReactNode {
  return (
    <section aria-live="polite" className="rounded-md border border-rule bg-sheet px-4 py-3">
      <h2 className="text-xl">Affected vehicles</h2>
      {!values.familyId ? (
        <p className="text-soft">Choose the engine first.</p>
      ) : (
        touched && (
          <p>
            <strong className="figure text-2xl">{touched.vehicles}</strong>{' '}
            {touched.open > 0 && (
              <span className="text-soft">
                of them {touched.open} only perhaps: variant or first registration is not known
              </span>
            )}
          </p>
        )
      )}
    </section>
  );
}

/** What resembles it in the library. */
function SimilarPart({ touched }: { touched: Pick<AnswerOf<typeof endpoints.library.touches>, 'similar'> }): ReactNode {
  return (
    <section role="status" className="rounded-md border-l-4 border-ink bg-well px-4 py-3">
      <h2 className="text-xl">Is it one of these?</h2>
      <ul>
        {touched.similar.map((point) => (
          <li key={point.id}>
            <Link
              to={`/library/points/${point.id}`}
              className="inline-flex min-h-11 items-center font-semibold hover:underline"
            >
              {point.title}
            </Link>{' '}
            <span className="text-soft">
              {point.component}
              {point.state === 'published' ? '' : `, ${STATE_WORDS[point.state]}`}
            </span>
          </li>
        ))}
      </ul>
    </section>
  );
}

/** What the draft means, as it is typed: its curve, the vehicles it touches, what it resembles. */
function Aside({
  values,
  known,
  id,
  today,
}: {
  values: DraftValues;
  known: Parameters<typeof draftFrom>[1];
  id: string | null;
  today: number;
}): ReactNode {
  const late = useDeferredValue(values);
  const touched = useQuery(read.touches(touchesParams(late, known, { not: id, today }))).data;
  const curve = draftCurve(late.windows, late, componentNamed(late.component, known)?.class ?? late.newClass);
  return (
    <aside className="grid content-start gap-4 lg:sticky lg:top-3">
      <CurvePart curve={curve} late={late} />
      <TouchedPart values={values} touched={touched} />
      {touched && touched.similar.length > 0 && <SimilarPart touched={touched} />}
    </aside>
  );
}

/** The variants that it concerns. */
function VariantsPart({
  variants,
  values,
  setValue,
  said,
}: {
  variants: readonly { readonly key: string; readonly name: string }[];
  values: DraftValues;
  setValue: UseFormSetValue<DraftValues>;
  said: (path: string) => string | undefined;
}): ReactNode {
  return (
    <fieldset className="sm:col-span-2">
      <legend className="mb-1 font-semibold">Which variants have it</legend>
      <div className="flex flex-wrap gap-x-5">
        {variants.map(({ key, name }) => (
          <VariantChoice key={key} variant={key} values={values} setValue={setValue} name={name} />
        ))}
      </div>
      <p className="text-sm text-soft">None ticked: all of them.</p>
      {said('variants') && (
        <p role="alert" className="text-sm font-semibold">
          ▲ {said('variants')}
        </p>
      )}
    </fieldset>
  );
}

function VariantChoice({
  variant,
  values,
  setValue,
  name,
}: {
  variant: string;
  values: DraftValues;
  setValue: UseFormSetValue<DraftValues>;
  name: string;
}): ReactNode {
  return (
    <label className="flex min-h-11 items-center gap-2">
      <input
        type="checkbox"
        className="size-5"
        checked={values.variants.includes(variant)}
        onChange={(event) =>
          setValue(
            'variants',
            event.target.checked ? [...values.variants, variant] : values.variants.filter((other) => other !== variant),
          )
        }
      />
      {name}
    </label>
  );
}

/** What stands in the way of saving, and the two sides of a conflict. */
function SavePart({
  save,
  values,
  current,
  submit,
}: {
  save: { readonly error: Error | null };
  values: DraftValues;
  current: () => void;
  submit: (overVersion?: number) => void;
}): ReactNode {
  return (
    <div className="sm:col-span-2">
      {isConflict(save.error) ? (
        <Conflict
          error={save.error}
          mine={{ title: values.title, effect: values.effect, signs: values.signs, consequence: values.consequence }}
          labels={{
            title: 'What goes wrong',
            effect: 'What then happens',
            signs: 'What tells',
            consequence: 'If it fails',
          }}
          onTheirs={current}
          onMine={(over) => submit(over)}
        />
      ) : (
        <FormProblem error={save.error} fields={[...FIELDS, ...FIELDS.map((field) => `draft.${field}`)]} />
      )}
    </div>
  );
}

function Form({
  initial,
  id,
  version,
  today,
  current,
}: {
  initial: DraftValues;
  id: string | null;
  version: number;
  today: number;
  current: () => void;
}): ReactNode {
  const navigate = useNavigate();
  const { control, register, setValue } = useForm<DraftValues>({ defaultValues: initial });
  const values = useWatch({ control }) as DraftValues;
  const engines = useQuery(read.engines()).data?.rows ?? [];
  const components = useQuery(read.libraryComponents(values.familyId)).data?.rows ?? [];
  const text = (key: Exclude<keyof DraftValues, 'safety' | 'variants'>) => ({
    ...register(key),
    autoComplete: 'off' as const,
  });
  const day = (key: 'producedFrom' | 'producedTo') => ({
    value: values[key],
    onChange: (typed: string) => setValue(key, typed),
    today,
    error: said(key),
  });
  const draft = (): PointDraft => draftFrom(values, components, today);
  const save = useChange((overVersion: number, key) =>
    id === null
      ? call(endpoints.library.createPoint, { body: draft(), key })
      : call(endpoints.library.updatePoint, { params: { id }, body: { draft: draft(), version: overVersion }, key }),
  );
  const submit = (overVersion = version): void =>
    save.mutate(overVersion, { onSuccess: (done) => void navigate(`/library/points/${done.id}`) });
  // An update carries the draft inside; its fields are named alike.
  const said = (path: string): string | undefined =>
    fieldProblem(save.error, path) ?? fieldProblem(save.error, `draft.${path}`);
  const variants = engines.find(({ engine }) => engine.familyId === values.familyId)?.variants ?? [];
  const known = componentNamed(values.component, components);
  const fresh = values.component.trim() !== '' && !known;
  return (
    <div className="grid items-start gap-5 lg:grid-cols-[1.5fr_1fr]">
      <WritingForm className="grid gap-3 sm:grid-cols-2" onSend={() => submit()}>
        <FormSelect
          control={control}
          name="familyId"
          label="Engine"
          error={said('familyId')}
          disabled={id !== null}
          autoFocus={initial.familyId === ''}
          placeholder="Choose the engine"
          options={engines.map(({ engine }) => ({ value: engine.familyId, label: `${engine.maker} ${engine.code}` }))}
        />
        <TextField
          label="Component"
          hint={fresh ? 'New in the library: say below what it is' : 'A known one, or a new name'}
          list="components-known"
          {...text('component')}
          error={said('componentId') ?? said('newComponent')}
          autoFocus={values.familyId !== '' && id === null}
        />
        <datalist id="components-known">
          {components.map((component) => (
            <option key={component.id} value={component.name} />
          ))}
        </datalist>
        {fresh && (
          <FormSelect
            control={control}
            name="newClass"
            label="Made of"
            options={optionsOf(CLASSES, (key) => CLASS_WORDS[key])}
          />
        )}
        {fresh && (
          <FormSelect
            control={control}
            name="newGroup"
            label="Group"
            options={optionsOf(GROUPS, (key) => GROUP_WORDS[key])}
          />
        )}
        <TextField
          className="sm:col-span-2"
          label="What goes wrong"
          placeholder="Thermostat housing cracks at the seam"
          {...text('title')}
          error={said('title')}
        />
        <TextField
          label="When it mostly fails"
          hint={WINDOW_HINTS[values.nature]}
          placeholder="90-130k km | 8-12y"
          {...text('windows')}
          error={said('causes')}
        />
        <FormSelect
          control={control}
          name="nature"
          label="Who has it"
          error={said('nature')}
          options={optionsOf(NATURES, (key) => NATURE_WORDS[key])}
        />
        <FormSelect
          control={control}
          name="share"
          label={SHARE_LABELS[values.nature]}
          options={optionsOf(SHARES, (key) => `${key}: ${Math.round(SHARE_BY_WORD[key] * 100)} %`)}
        />
        <FormSelect
          control={control}
          name="consequence"
          label="If it fails"
          options={optionsOf(CONSEQUENCES, (key) => CONSEQUENCE_LABELS[key])}
        />
        <TextField
          label="Minutes to renew"
          inputMode="numeric"
          {...text('renewMinutes')}
          error={said('renewMinutes')}
        />
        <TextField className="sm:col-span-2" label="What then happens" {...text('effect')} error={said('effect')} />
        <TextField
          className="sm:col-span-2"
          label="What tells, before or then"
          {...text('signs')}
          error={said('signs')}
        />
        <label className="flex min-h-11 items-center gap-2 sm:col-span-2">
          <input type="checkbox" className="size-5" {...register('safety')} />
          Safety: fire, burns, or control lost. Such a one is never left to run on.
        </label>
        <TextField
          label="How to look"
          hint="Empty: nothing to see beforehand"
          {...text('lookHow')}
          error={said('look')}
        />
        <div className="grid grid-cols-3 gap-2">
          <TextField label="Minutes" inputMode="numeric" {...text('lookMinutes')} />
          <TextField label="Finds, in %" inputMode="numeric" {...text('lookDetects')} />
          <TextField label="Shows for" placeholder="10k km" {...text('lookWarns')} />
        </div>
        {variants.length > 1 && <VariantsPart variants={variants} values={values} setValue={setValue} said={said} />}
        <DayField label="Made from" hint="Empty: from the first" {...day('producedFrom')} />
        <DayField label="Made until" hint="Empty: to the last" {...day('producedTo')} />
        <TextField
          label="What we say of it"
          hint="Stands as our own bench’s word beside the others"
          {...text('says')}
          error={said('statement')}
        />
        <FormSelect
          control={control}
          name="strength"
          label="It rests on"
          options={[{ value: '', label: 'Not said' }, ...optionsOf(STATEMENT_STRENGTHS, (key) => STRENGTH_WORDS[key])]}
        />
        <div className="grid grid-cols-2 gap-2">
          <TextField label="We act at" placeholder="100k km | 8y" {...text('interval')} />
          <FormSelect
            control={control}
            name="asks"
            label="and then"
            options={optionsOf(STATEMENT_ASKS, (key) => ASKS_WORDS[key])}
          />
        </div>
        <TextField label="Ended by revision" {...text('revision')} error={said('retiredByRevision')} />
        <TextField
          label="What the driver watches"
          hint="Only where nobody renews it before it fails; empty elsewhere"
          placeholder="Check the oil level and top up"
          {...text('watchTask')}
          error={said('watch')}
        />
        {values.watchTask.trim() !== '' && (
          <TextField label="How often" placeholder="1000 km | 1m" {...text('watchEvery')} error={said('watch.every')} />
        )}
        <SavePart save={save} values={values} current={current} submit={submit} />
        <div className="flex flex-wrap gap-2 sm:col-span-2">
          <Button look="main" type="submit" disabled={save.isPending}>
            {id === null ? 'Save as a draft' : 'Save'} <kbd>Ctrl Enter</kbd>
          </Button>
          <Button onClick={() => void navigate(-1)}>Cancel</Button>
        </div>
      </WritingForm>
      <Aside values={values} known={components} id={id} today={today} />
    </div>
  );
}

/** Writes a weak point, or corrects one: one page, from the keyboard. */
export default function LibraryWritePage({ session }: { session: SessionState }): ReactNode {
  const { id } = useParams();
  const [params] = useSearchParams();
  const point = useQuery({
    ...read.libraryPoint(id ?? ''),
    enabled: id !== undefined,
    staleTime: Infinity,
    refetchOnWindowFocus: false,
  });
  // The form is there when its engines are: a choice typed before them would choose nothing.
  const engines = useQuery(read.engines());
  if (point.error)
    return (
      <Empty page title="This weak point is not in the library">
        {point.error.message}
      </Empty>
    );
  if (engines.error)
    return (
      <Empty
        page
        title="The engines could not be read"
        action={<Button onClick={() => void engines.refetch()}>Try again</Button>}
      >
        {engines.error.message}
      </Empty>
    );
  if (id !== undefined && !point.data) return <Waiting what="the weak point" />;
  if (!engines.data) return <Waiting what="the engines" />;
  if (engines.data.total === 0)
    return (
      <Empty
        page
        title="There is no engine in the library yet"
        action={
          <Link to="/library/engines/write" className="font-semibold underline">
            Add an engine
          </Link>
        }
      >
        A weak point is one of an engine. Add its engine, or take a pack in.
      </Empty>
    );
  return (
    <>
      <h1 className="mb-3 text-3xl">{point.data ? `Edit: ${point.data.row.title}` : 'Write a weak point'}</h1>
      <Form
        key={point.data?.version ?? 'new'}
        initial={point.data ? valuesFrom(point.data) : { ...EMPTY_DRAFT, familyId: params.get('engine') ?? '' }}
        id={id ?? null}
        version={point.data?.version ?? 1}
        today={dayFromIso(session.today)!}
        current={() => void point.refetch()}
      />
    </>
  );
}
