import { call } from '../../api/client.ts';
import { dayFromIso } from '@crosspeen/core';
import { endpoints, type PointDraft, type SessionState } from '@crosspeen/contract';
import { useQuery } from '@tanstack/react-query';
import { type ReactNode } from 'react';
import { useForm, useWatch } from 'react-hook-form';
import { Link, useNavigate, useParams, useSearchParams } from 'react-router';
import { useChange } from '../../api/changing.tsx';
import { read } from '../../api/queries.ts';
import { Button } from '../../ui/button.tsx';
import { Empty, Waiting } from '../../ui/notice.tsx';
import { Conflict, fieldProblem, FormProblem, isConflict } from '../../ui/problem.tsx';
import { WritingForm } from '../../ui/writing-form.tsx';
import { draftFrom, EMPTY_DRAFT, valuesFrom, type DraftValues } from './draft.ts';
import {
  VariantsPart,
  type WritingFields,
  EnginePart,
  FailurePart,
  LookPart,
  MadePart,
  SayPart,
  WatchPart,
} from './write-parts.tsx';
import { Aside } from './write-aside.tsx';

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
  const fields: WritingFields = { control, register, values, setValue, text, said };
  return (
    <div className="grid items-start gap-5 lg:grid-cols-[1.5fr_1fr]">
      <WritingForm className="grid gap-3 sm:grid-cols-2" onSend={() => submit()}>
        <EnginePart form={fields} engines={engines} components={components} id={id} initial={initial} />
        <FailurePart form={fields} />
        <LookPart form={fields} />
        {variants.length > 1 && <VariantsPart variants={variants} values={values} setValue={setValue} said={said} />}
        <MadePart form={fields} today={today} />
        <SayPart form={fields} />
        <WatchPart form={fields} />
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
