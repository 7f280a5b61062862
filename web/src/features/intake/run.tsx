import { call, formKey } from '../../api/client.ts';
import { addressOf, endpoints, type IntakeKind, type IntakeRun } from '@crosspeen/contract';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useEffect, useRef, useState, type ReactNode } from 'react';
import { read } from '../../api/queries.ts';
import { readAgain } from '../../api/read-again.ts';
import { Button } from '../../ui/button.tsx';
import { Dialog } from '../../ui/dialog.tsx';
import { FormProblem } from '../../ui/problem.tsx';
import { Empty, Waiting } from '../../ui/notice.tsx';
import { keptNotes, keptWords, KIND_WORDS, runWords } from './words.ts';
import { SaveLink } from '../../ui/save-link.tsx';
import { wholeText } from '../../ui/formats.ts';

/** Rows that could not be imported. */
function FaultyRows({ bad, faults }: { bad: number; faults: { line: number; reason: string }[] }): ReactNode {
  return (
    <div>
      <h3 className="mb-1 text-xl">
        What has to be mended
        {bad > faults.length ? `, the first ${faults.length} of ${wholeText(bad)}` : ''}
      </h3>
      <ul className="divide-y divide-rule rounded-md border border-rule bg-sheet">
        {faults.map(({ line, reason }) => (
          <li key={line} className="px-4 py-2">
            <strong className="figure text-lg">line {line}</strong> {reason}
          </li>
        ))}
      </ul>
      <p className="mt-2 text-soft">Mend them in the saved file and import it again: saved rows are skipped.</p>
    </div>
  );
}

/** Takes the whole import back, after a question that says what goes. */
function TakeBack({ run }: { run: IntakeRun }): ReactNode {
  const client = useQueryClient();
  const [asking, setAsking] = useState(false);
  const key = useRef(formKey());
  const undo = useMutation({
    mutationFn: () => call(endpoints.intake.undo, { params: { id: run.id }, key: key.current }),
    onSuccess: (undone) => {
      client.setQueryData(read.intakeRun(run.id).queryKey, undone);
      setAsking(false);
      void readAgain(client);
    },
  });
  return (
    <>
      <Button onClick={() => setAsking(true)}>Undo this import</Button>
      {asking && (
        <Dialog open onClose={() => setAsking(false)} title={`Undo the import of ${run.name}?`}>
          <p>
            This takes back {keptWords(run.kept)}. Vehicles that somebody has worked on since stay as they are, and you
            are told how many.
          </p>
          <FormProblem error={undo.error} />
          <div className="mt-4 flex gap-2">
            <Button look="main" disabled={undo.isPending} onClick={() => undo.mutate()}>
              Undo it
            </Button>
            <Button onClick={() => setAsking(false)}>Keep it</Button>
          </div>
        </Dialog>
      )}
    </>
  );
}

/** The run as it stands, with its faults. */
function RunNow({
  name,
  kind,
  state,
  part,
  run,
  stop,
  bad,
  id,
  onLeave,
  faults,
}: {
  name: string;
  kind: IntakeKind;
  state: IntakeRun['state'];
  part: number;
  run: IntakeRun;
  stop: { readonly isPending: boolean; readonly mutate: () => void };
  bad: number;
  id: string;
  onLeave: () => void;
  faults: { line: number; reason: string }[];
}): ReactNode {
  return (
    <section aria-labelledby="run" className="grid gap-3">
      <h2 id="run" className="text-2xl">
        {name} <span className="font-medium text-soft">{KIND_WORDS[kind]}</span>
      </h2>
      {state === 'running' && (
        <div
          role="progressbar"
          aria-label={`Taking in ${name}`}
          aria-valuenow={part}
          aria-valuemin={0}
          aria-valuemax={100}
          className="h-3 overflow-hidden rounded border border-rule-strong bg-well"
        >
          <div className="h-full bg-accent" style={{ width: `${part}%` }} />
        </div>
      )}
      <p role="status" className="text-lg">
        {runWords(run)}
        {keptNotes(run).map((note) => (
          <span key={note} className="block text-base text-soft">
            {note}
          </span>
        ))}
      </p>
      <div className="flex flex-wrap gap-2">
        {state === 'running' && (
          <Button disabled={stop.isPending} onClick={() => stop.mutate()}>
            Stop
          </Button>
        )}
        {bad > 0 && state !== 'running' && (
          <SaveLink href={addressOf(endpoints.intake.faults, { params: { id } })}>
            Save the {wholeText(bad)} {bad === 1 ? 'row' : 'rows'} to mend
          </SaveLink>
        )}
        {state !== 'running' && run.undone === null && run.written > 0 && <TakeBack run={run} />}
        {state !== 'running' && <Button onClick={onLeave}>Another file</Button>}
      </div>
      {faults.length > 0 && <FaultyRows bad={bad} faults={faults} />}
    </section>
  );
}

export function Run({ id, onLeave }: { id: string; onLeave: () => void }): ReactNode {
  const client = useQueryClient();
  const run = useQuery({
    ...read.intakeRun(id),
    refetchInterval: (query) => (query.state.data?.state === 'running' || query.state.data === undefined ? 700 : false),
  });
  const stop = useMutation({
    mutationFn: () => call(endpoints.intake.stop, { params: { id } }),
    onSuccess: () => void readAgain(client),
  });
  const state = run.data?.state;
  // What was read before the file came in is no longer all there is.
  useEffect(() => {
    if (state !== undefined && state !== 'running')
      void readAgain(client, { predicate: ({ queryKey }) => queryKey[0] !== 'intake' });
  }, [state, client]);
  if (run.error)
    return (
      <Empty title="This file is not known" action={<Button onClick={onLeave}>Previous</Button>}>
        {run.error.message}
      </Empty>
    );
  if (!run.data) return <Waiting what="the file" />;
  const { name, kind, bytes, bytesDone, bad, faults } = run.data;
  const part = bytes === 0 ? 0 : Math.round((100 * bytesDone) / bytes);
  return (
    <RunNow
      name={name}
      kind={kind}
      state={run.data.state}
      part={part}
      run={run.data}
      stop={stop}
      bad={bad}
      id={id}
      onLeave={onLeave}
      faults={faults}
    />
  );
}
