import { call } from '../../api/client.ts';
import {
  endpoints,
  NOTICE_ASKS,
  NOTICE_KINDS,
  type LibraryPointRow,
  type NoticeDraft,
  type SessionState,
} from '@crosspeen/contract';
import { dayFromIso } from '@crosspeen/core';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { X } from 'lucide-react';
import { type SetStateAction, type Dispatch, useDeferredValue, useState, type ReactNode } from 'react';
import { useForm, useWatch } from 'react-hook-form';
import { useNavigate, useParams, useSearchParams } from 'react-router';
import { useChange } from '../../api/changing.tsx';
import { read } from '../../api/queries.ts';
import { Button } from '../../ui/button.tsx';
import { Field, INPUT, TextField } from '../../ui/field.tsx';
import { Empty, Waiting } from '../../ui/notice.tsx';
import { Conflict, fieldProblem, FormProblem, isConflict } from '../../ui/problem.tsx';
import { DayField } from '../../ui/typed-fields.tsx';
import { WritingForm } from '../../ui/writing-form.tsx';
import {
  authorityNamed,
  EMPTY_NOTICE,
  noticeFrom,
  valuesOfNotice,
  type NoticePoint,
  type NoticeValues,
} from './notice-values.ts';
import { NOTICE_WORDS } from './words.ts';
import { optionsOf } from '../../ui/select.tsx';
import { FormSelect } from '../../ui/form-fields.tsx';

const FIELDS = [
  'authorityId',
  'newAuthority',
  'number',
  'title',
  'words',
  'issued',
  'points',
  'producedFrom',
  'producedTo',
  'covers',
  'endsOn',
];
const ASKS = { look: 'A look, or a renewal', renew: 'A renewal' } as const;
/** Weak points to choose from. */
function FoundPoints({
  open,
  onChosen,
  chosen,
  setTyped,
}: {
  open: readonly LibraryPointRow[];
  onChosen: (points: readonly NoticePoint[]) => void;
  chosen: readonly NoticePoint[];
  setTyped: Dispatch<SetStateAction<string>>;
}): ReactNode {
  return (
    <ul className="mt-1 divide-y divide-rule rounded-md border border-rule bg-sheet">
      {open.map(({ id, title, engineCode, component }) => (
        <li key={id}>
          <button
            type="button"
            className="min-h-11 w-full px-3 py-2 text-left hover:bg-well"
            onClick={() => {
              onChosen([...chosen, { id, title, engineCode }]);
              setTyped('');
            }}
          >
            <strong>{engineCode}</strong> {title} <span className="text-soft">{component}</span>
          </button>
        </li>
      ))}
    </ul>
  );
}

/** Weak points that were chosen. */
function ChosenPoints({
  chosen,
  onChosen,
}: {
  chosen: readonly NoticePoint[];
  onChosen: (points: readonly NoticePoint[]) => void;
}): ReactNode {
  return (
    <ul className="mt-2 flex flex-wrap gap-2">
      {chosen.map((point) => (
        <li
          key={point.id}
          className="inline-flex items-center gap-1 rounded-md border border-rule-strong bg-sheet pl-3"
        >
          <span>
            <strong>{point.engineCode}</strong> {point.title}
          </span>
          <button
            type="button"
            className="grid size-11 place-items-center rounded hover:bg-well"
            aria-label={`Take out ${point.engineCode} ${point.title}`}
            onClick={() => onChosen(chosen.filter(({ id }) => id !== point.id))}
          >
            <X size={16} />
          </button>
        </li>
      ))}
    </ul>
  );
}

/** Chooses weak points by code and words. */
function Points({
  chosen,
  onChosen,
  error,
}: {
  chosen: readonly NoticePoint[];
  onChosen: (points: readonly NoticePoint[]) => void;
  error: string | undefined;
}): ReactNode {
  const [typed, setTyped] = useState('');
  const q = useDeferredValue(typed);
  const found = useQuery({
    ...read.libraryPoints({ q, page: 1 }),
    enabled: q.trim().length > 1,
    placeholderData: keepPreviousData,
  });
  const open =
    q.trim().length > 1
      ? (found.data?.rows.filter(({ id }) => !chosen.some((point) => point.id === id)).slice(0, 6) ?? [])
      : [];
  return (
    <div className="sm:col-span-2">
      <Field label="Which weak points it is about" hint="Found by engine code, component or words" error={error}>
        {(control) => (
          <input
            {...control}
            type="search"
            className={INPUT}
            value={typed}
            placeholder="QV20T tensioner"
            autoComplete="off"
            onChange={(event) => setTyped(event.target.value)}
          />
        )}
      </Field>
      {open.length > 0 && <FoundPoints open={open} onChosen={onChosen} chosen={chosen} setTyped={setTyped} />}
      {chosen.length > 0 && <ChosenPoints chosen={chosen} onChosen={onChosen} />}
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
  initial: NoticeValues;
  id: string | null;
  version: number;
  today: number;
  current: () => void;
}): ReactNode {
  const navigate = useNavigate();
  const { control, register, setValue } = useForm<NoticeValues>({ defaultValues: initial });
  const values = useWatch({ control }) as NoticeValues;
  const authorities = useQuery(read.authorities()).data?.rows ?? [];
  const known = authorityNamed(values.authority, authorities);
  const draft = (): NoticeDraft => noticeFrom(values, authorities, today);
  const save = useChange((over: number, key) =>
    id === null
      ? call(endpoints.notices.create, { body: draft(), key })
      : call(endpoints.notices.update, { params: { id }, body: { draft: draft(), version: over }, key }),
  );
  const submit = (over = version): void =>
    save.mutate(over, { onSuccess: (done) => void navigate(`/library/notices/${done.id}`) });
  const said = (path: string): string | undefined =>
    fieldProblem(save.error, path) ?? fieldProblem(save.error, `draft.${path}`);
  const day = (key: 'issued' | 'producedFrom' | 'producedTo' | 'endsOn') => ({
    value: values[key],
    onChange: (text: string) => setValue(key, text),
    today,
    error: said(key),
  });
  return (
    <WritingForm className="grid max-w-3xl gap-3 sm:grid-cols-2" onSend={() => submit()}>
      <FormSelect
        control={control}
        name="kind"
        label="What it is"
        hint={values.kind === 'coverage' ? 'Pays for the work within a window' : 'Asks for work, and pays for nothing'}
        options={optionsOf(NOTICE_KINDS, (kind) => NOTICE_WORDS[kind])}
      />
      <TextField
        label="Who says it"
        list="authorities-known"
        hint={values.authority.trim() !== '' && !known ? 'New in the library' : 'A known one, or a new name'}
        {...register('authority')}
        error={said('authorityId') ?? said('newAuthority')}
        autoComplete="off"
      />
      <datalist id="authorities-known">
        {authorities.map(({ id: key, name }) => (
          <option key={key} value={name} />
        ))}
      </datalist>
      <TextField label="Its number" {...register('number')} error={said('number')} autoComplete="off" />
      <DayField label="Issued" {...day('issued')} />
      <TextField
        className="sm:col-span-2"
        label="What it is about, in a line"
        {...register('title')}
        error={said('title')}
        autoComplete="off"
      />
      <Field className="sm:col-span-2" label="What it says" error={said('words')}>
        {(control) => <textarea {...control} rows={3} className={`${INPUT} py-2`} {...register('words')} />}
      </Field>
      <Points chosen={values.points} onChosen={(points) => setValue('points', points)} error={said('points')} />
      <DayField label="Vehicles made from" {...day('producedFrom')} hint="Empty: from the first" />
      <DayField label="Vehicles made until" {...day('producedTo')} hint="Empty: to the last" />
      {values.kind === 'coverage' && (
        <TextField
          label="Pays for"
          hint="Years since first registration, km on the meter; whichever first"
          placeholder="10y | 200k km"
          {...register('covers')}
          error={said('covers')}
          autoComplete="off"
        />
      )}
      {values.kind === 'coverage' && <DayField label="Ends for all on" {...day('endsOn')} hint="Empty: no such day" />}
      <FormSelect
        control={control}
        name="asks"
        label="Answered by"
        options={optionsOf(NOTICE_ASKS, (asks) => ASKS[asks])}
      />
      <div className="sm:col-span-2">
        {isConflict(save.error) ? (
          <Conflict
            error={save.error}
            mine={{ number: values.number, title: values.title, words: values.words }}
            labels={{ number: 'Its number', title: 'What it is about', words: 'What it says' }}
            onTheirs={current}
            onMine={(over) => submit(over)}
          />
        ) : (
          <FormProblem error={save.error} fields={[...FIELDS, ...FIELDS.map((field) => `draft.${field}`)]} />
        )}
      </div>
      <div className="flex flex-wrap gap-2 sm:col-span-2">
        <Button look="main" type="submit" disabled={save.isPending}>
          Save <kbd>Ctrl Enter</kbd>
        </Button>
        <Button onClick={() => void navigate(-1)}>Cancel</Button>
      </div>
    </WritingForm>
  );
}

/** Puts a bulletin or a coverage on file, or corrects one; from a weak point, it is about that one. */
export default function LibraryNoticeWritePage({ session }: { session: SessionState }): ReactNode {
  const { id } = useParams();
  const [params] = useSearchParams();
  const about = params.get('point');
  const notice = useQuery({
    ...read.notice(id ?? ''),
    enabled: id !== undefined,
    staleTime: Infinity,
    refetchOnWindowFocus: false,
  });
  const point = useQuery({ ...read.libraryPoint(about ?? ''), enabled: id === undefined && about !== null });
  if (notice.error)
    return (
      <Empty page title="This notice is not in the library">
        {notice.error.message}
      </Empty>
    );
  if ((id !== undefined && !notice.data) || (id === undefined && about !== null && point.isPending))
    return <Waiting what="the notice" />;
  const initial = notice.data
    ? valuesOfNotice(notice.data)
    : {
        ...EMPTY_NOTICE,
        points: point.data
          ? [{ id: point.data.row.id, title: point.data.row.title, engineCode: point.data.row.engineCode }]
          : [],
      };
  return (
    <>
      <h1 className="mb-3 text-3xl">
        {notice.data ? `Edit: ${notice.data.row.title}` : 'Add a bulletin or a coverage'}
      </h1>
      <Form
        key={notice.data?.version ?? 'new'}
        initial={initial}
        id={id ?? null}
        version={notice.data?.version ?? 1}
        today={dayFromIso(session.today)!}
        current={() => void notice.refetch()}
      />
    </>
  );
}
