import type { Sending } from '../../api/sending.ts';
import { call } from '../../api/client.ts';
import { type BodyOf, endpoints, may, type Person, type Role, ROLES, type SessionState } from '@crosspeen/contract';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { type SetStateAction, type Dispatch, useState, type ReactNode } from 'react';
import { useForm } from 'react-hook-form';
import { toast } from 'sonner';
import { formKey } from '../../api/client.ts';
import { readShop } from '../../api/people.ts';
import { Button } from '../../ui/button.tsx';
import { DataTable, type TableColumn } from '../../ui/data-table.tsx';
import { Dialog } from '../../ui/dialog.tsx';
import { TextField } from '../../ui/field.tsx';
import { FormSelect } from '../../ui/form-fields.tsx';
import { Notice, Waiting } from '../../ui/notice.tsx';
import { Conflict, fieldProblem, FormProblem, isConflict } from '../../ui/problem.tsx';
import { optionsOf } from '../../ui/select.tsx';
import { instantText } from '../../ui/units.ts';
import { ROLE_WORDS } from '../../parts/shop/roles.ts';
import { SettingsTabs } from '../../parts/shop/settings-tabs.tsx';
import { Tablets } from './tablets.tsx';
import { Trail } from './trail.tsx';

interface Link {
  readonly person: Person;
  readonly token: string;
}

const statusOf = ({ active, hasPassword, linkUntil }: Person): string => {
  if (!active) return 'No longer here; signed out';
  if (hasPassword) return 'Works here';
  return linkUntil === null ? 'Has no password; make a new link' : `Link open until ${instantText(linkUntil)}`;
};

function LinkDialog({ link, onClose }: { link: Link; onClose: () => void }): ReactNode {
  const address = `${window.location.origin}/link#${link.token}`;
  return (
    <Dialog
      open
      onClose={onClose}
      title={`A link for ${link.person.displayName}`}
      description="It is shown only now. It works once, for seven days, and lets its bearer choose the password: give it to nobody else."
    >
      <div className="grid gap-3">
        <TextField label="One-time link" value={address} readOnly onFocus={(event) => event.target.select()} />
        <div className="flex gap-2">
          <Button
            look="main"
            onClick={() =>
              void navigator.clipboard.writeText(address).then(
                () => toast('Link copied'),
                () => toast('It could not be copied; select it and copy it by hand.'),
              )
            }
          >
            Copy it
          </Button>
          <Button onClick={onClose}>Done</Button>
        </div>
      </div>
    </Dialog>
  );
}

function AddDialog({ onClose, onAdded }: { onClose: () => void; onAdded: (link: Link) => void }): ReactNode {
  const client = useQueryClient();
  const { register, control, handleSubmit } = useForm<{ name: string; displayName: string; role: Role }>({
    defaultValues: { name: '', displayName: '', role: 'mechanic' },
  });
  const [key] = useState(formKey);
  const add = useMutation({
    mutationFn: (body: BodyOf<typeof endpoints.people.add>) => call(endpoints.people.add, { body, key }),
    onSuccess: async ({ person, token }) => {
      await client.invalidateQueries({ queryKey: ['people'] });
      onAdded({ person, token: token! });
    },
  });
  return (
    <Dialog open onClose={onClose} title="Add somebody">
      <form
        className="grid gap-4"
        noValidate
        onSubmit={(event) => void handleSubmit((body) => add.mutate(body))(event)}
      >
        <TextField
          label="Name"
          {...register('displayName')}
          error={fieldProblem(add.error, 'displayName')}
          hint="As colleagues know them"
        />
        <TextField
          label="Sign-in name"
          {...register('name')}
          error={fieldProblem(add.error, 'name')}
          hint="One word; it stays as it is"
          autoCapitalize="none"
        />
        <FormSelect control={control} name="role" label="Role" options={optionsOf(ROLES, (role) => ROLE_WORDS[role])} />
        <FormProblem error={add.error} fields={['displayName', 'name', 'role']} />
        <div className="flex gap-2">
          <Button look="main" type="submit" disabled={add.isPending}>
            Add and make a link
          </Button>
          <Button onClick={onClose}>Cancel</Button>
        </div>
      </form>
    </Dialog>
  );
}

/** A new link, and whether somebody works here. */
function Membership({
  person,
  reset,
  save,
  body,
  sure,
  setSure,
}: {
  person: Person;
  reset: Pick<Sending<void>, 'mutate' | 'isPending'>;
  save: Pick<Sending<BodyOf<typeof endpoints.people.update>>, 'mutate' | 'isPending'>;
  body: (active: boolean, over?: number) => BodyOf<typeof endpoints.people.update>;
  sure: boolean;
  setSure: Dispatch<SetStateAction<boolean>>;
}): ReactNode {
  return (
    <section className="mt-6 grid gap-3 border-t border-rule pt-4" aria-label="Access">
      {person.active && (
        <div>
          <Button disabled={reset.isPending} onClick={() => reset.mutate()}>
            Make a new link
          </Button>
          <p className="mt-1 text-sm text-soft">
            For a lost password: the old one and the PIN stop working at once, and every sign-in ends.
          </p>
        </div>
      )}
      <div>
        {!person.active ? (
          <Button disabled={save.isPending} onClick={() => save.mutate(body(true))}>
            Let them in again
          </Button>
        ) : sure ? (
          <Button disabled={save.isPending} onClick={() => save.mutate(body(false))}>
            Yes, {person.displayName} no longer works here
          </Button>
        ) : (
          <Button onClick={() => setSure(true)}>No longer works here …</Button>
        )}
        <p className="mt-1 text-sm text-soft">
          They are signed out everywhere at once. What they wrote stays, with their name.
        </p>
      </div>
    </section>
  );
}

function EditDialog({
  person,
  onClose,
  onLink,
}: {
  person: Person;
  onClose: () => void;
  onLink: (link: Link) => void;
}): ReactNode {
  const client = useQueryClient();
  const [sure, setSure] = useState(false);
  const {
    register,
    control,
    handleSubmit,
    getValues,
    reset: refill,
  } = useForm<{ displayName: string; role: Role }>({
    defaultValues: { displayName: person.displayName, role: person.role },
  });
  const [version, setVersion] = useState(person.version);
  const done = async (): Promise<void> => {
    await client.invalidateQueries({ queryKey: ['people'] });
    onClose();
  };
  const save = useMutation({
    mutationFn: (body: BodyOf<typeof endpoints.people.update>) =>
      call(endpoints.people.update, { params: { id: person.id }, body }),
    onSuccess: done,
  });
  const reset = useMutation({
    mutationFn: () => call(endpoints.people.newLink, { params: { id: person.id } }),
    onSuccess: async ({ person: now, token }) => {
      await done();
      onLink({ person: now, token: token! });
    },
  });
  const body = (active: boolean, over = version): BodyOf<typeof endpoints.people.update> => ({
    ...getValues(),
    active,
    version: over,
  });
  const error = save.error ?? reset.error;
  return (
    <Dialog open onClose={onClose} title={person.displayName} description={`Signs in as ${person.name}`}>
      <form
        className="grid gap-4"
        noValidate
        onSubmit={(event) => void handleSubmit(() => save.mutate(body(person.active)))(event)}
      >
        <TextField label="Name" {...register('displayName')} error={fieldProblem(save.error, 'displayName')} />
        <FormSelect control={control} name="role" label="Role" options={optionsOf(ROLES, (role) => ROLE_WORDS[role])} />
        <Conflict
          error={save.error}
          mine={getValues()}
          labels={{ displayName: 'Name', role: 'Role' }}
          onTheirs={() => {
            const current = (save.error as { details?: { current?: Person } }).details!.current!;
            refill({ displayName: current.displayName, role: current.role });
            setVersion(current.version);
            save.reset();
          }}
          onMine={(now) => {
            setVersion(now);
            save.mutate(body(person.active, now));
          }}
        />
        {!isConflict(error) && <FormProblem error={error} fields={['displayName']} />}
        <div className="flex flex-wrap gap-2">
          <Button look="main" type="submit" disabled={save.isPending}>
            Save
          </Button>
          <Button onClick={onClose}>Cancel</Button>
        </div>
      </form>
      <Membership person={person} reset={reset} save={save} body={body} sure={sure} setSure={setSure} />
    </Dialog>
  );
}

/** The people of the shop. */
function PeoplePart({
  onAdd,
  columns,
  people,
}: {
  onAdd: () => void;
  columns: readonly TableColumn<Person>[];
  people: readonly Person[];
}): ReactNode {
  return (
    <section aria-labelledby="people">
      <div className="mb-2 flex flex-wrap items-center justify-between gap-3">
        <h2 id="people" className="text-2xl">
          People
        </h2>
        <Button look="main" onClick={onAdd}>
          Add somebody
        </Button>
      </div>
      <DataTable
        label="People"
        columns={columns}
        rows={people}
        rowKey={({ id }) => id}
        rowClass={(row) => (row.active ? 'hover:bg-well' : 'text-soft hover:bg-well')}
      />
    </section>
  );
}

/** Who works here, with which role, at which bay tablet; and what was changed of it. The owner's. */
export default function PeoplePage({ session }: { session: SessionState }): ReactNode {
  const allowed = may(session.user!.role, 'managePeople');
  const people = useQuery({ ...readShop.people(), enabled: allowed });
  const [sheet, setSheet] = useState<'add' | Person | { readonly link: Link } | null>(null);
  if (people.error) return <Notice role="alert">{people.error.message}</Notice>;
  if (!people.data) return <Waiting what="the people" />;
  const close = (): void => setSheet(null);
  const columns: readonly TableColumn<Person>[] = [
    {
      id: 'name',
      head: 'Name',
      names: true,
      cell: (row) => (
        <button
          type="button"
          data-row
          className="min-h-11 py-2 text-left font-semibold underline underline-offset-4"
          onClick={() => setSheet(row)}
        >
          {row.displayName}
          {row.id === session.user!.id && ' (you)'}
        </button>
      ),
    },
    { id: 'sign-in', head: 'Signs in as', from: 'md', cell: (row) => row.name },
    { id: 'role', head: 'Role', cell: (row) => ROLE_WORDS[row.role] },
    { id: 'status', head: 'Access', cell: statusOf },
    { id: 'pin', head: 'PIN', from: 'md', cell: (row) => (row.hasPin ? 'set' : 'none') },
    { id: 'seen', head: 'Last seen', from: 'lg', cell: (row) => (row.seenAt === null ? '' : instantText(row.seenAt)) },
  ];
  return (
    <SettingsTabs>
      <div className="grid gap-8">
        <PeoplePart onAdd={() => setSheet('add')} columns={columns} people={people.data.rows} />
        <Tablets />
        <Trail />
        {sheet === 'add' && <AddDialog onClose={close} onAdded={(link) => setSheet({ link })} />}
        {sheet !== null && sheet !== 'add' && 'id' in sheet && (
          <EditDialog person={sheet} onClose={close} onLink={(link) => setSheet({ link })} />
        )}
        {sheet !== null && sheet !== 'add' && 'link' in sheet && <LinkDialog link={sheet.link} onClose={close} />}
      </div>
    </SettingsTabs>
  );
}
