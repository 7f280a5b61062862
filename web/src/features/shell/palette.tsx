import { vehiclePath } from '../../ui/paths.ts';
import type { VehicleListRow } from '@crosspeen/contract';
import { useQuery } from '@tanstack/react-query';
import { Command } from 'cmdk';
import { Dialog } from 'radix-ui';
import { useDeferredValue, useState, type ReactNode } from 'react';
import { useNavigate, type NavigateFunction } from 'react-router';
import { read } from '../../api/queries.ts';
import type { KeyAction } from '../../parts/keys.ts';

const ITEM = 'flex min-h-11 items-center justify-between gap-3 rounded px-3 aria-selected:bg-accent-wash';

/** The vehicles that match. */
function FoundVehicles({
  rows,
  then,
  navigate,
}: {
  rows: readonly VehicleListRow[];
  then: (work: () => void) => () => void;
  navigate: NavigateFunction;
}): ReactNode {
  return (
    <Command.Group heading="Vehicles">
      {rows.map((row) => (
        <Command.Item
          key={row.id}
          value={`${row.plate ?? ''} ${row.name ?? ''} ${row.maker} ${row.model ?? ''} ${row.engineCode}`}
          className={ITEM}
          onSelect={then(() => void navigate(vehiclePath(row.id)))}
        >
          <span className="figure text-lg font-semibold">{row.plate ?? row.name}</span>
          <span className="text-soft">
            {row.maker} {row.model}
          </span>
        </Command.Item>
      ))}
    </Command.Group>
  );
}

/** The commands that fit what is typed. */
function CommandList({
  views,
  then,
  navigate,
  actions,
  onTheme,
  onSignOut,
  found,
}: {
  views: readonly { readonly to: string; readonly label: string }[];
  then: (work: () => void) => () => void;
  navigate: NavigateFunction;
  actions: readonly KeyAction[];
  onTheme: () => void;
  onSignOut: () => void;
  found: { readonly data: { readonly rows: readonly VehicleListRow[] } | undefined };
}): ReactNode {
  return (
    <Command.List className="max-h-[60dvh] overflow-y-auto py-2">
      <Command.Empty className="px-3 py-4 text-soft">Nothing of that name. Esc steps back.</Command.Empty>
      <Command.Group heading="Go to">
        {views.map(({ to, label }) => (
          <Command.Item key={to} className={ITEM} onSelect={then(() => void navigate(to))}>
            {label}
          </Command.Item>
        ))}
      </Command.Group>
      <Command.Group heading="Do">
        {actions.map((action) => (
          <Command.Item key={action.key} className={ITEM} onSelect={then(action.run)}>
            {action.label}
            <kbd>{action.key}</kbd>
          </Command.Item>
        ))}
        <Command.Item className={ITEM} onSelect={then(onTheme)}>
          Change between light and dark
        </Command.Item>
        <Command.Item className={ITEM} onSelect={then(onSignOut)}>
          Sign out
        </Command.Item>
      </Command.Group>
      {found.data && found.data.rows.length > 0 && (
        <FoundVehicles rows={found.data.rows} then={then} navigate={navigate} />
      )}
    </Command.List>
  );
}

/** Every command by name, and vehicles by plate or name. */
export default function Palette({
  onClose,
  actions,
  views,
  onTheme,
  onSignOut,
}: {
  onClose: () => void;
  actions: readonly KeyAction[];
  views: readonly { readonly to: string; readonly label: string }[];
  onTheme: () => void;
  onSignOut: () => void;
}): ReactNode {
  const navigate = useNavigate();
  const [typed, setTyped] = useState('');
  const q = useDeferredValue(typed);
  const found = useQuery({
    ...read.vehicles({ q, order: 'plate', page: 1, pageSize: 8 }),
    enabled: q.trim().length > 1,
  });
  const then = (work: () => void) => () => {
    onClose();
    work();
  };
  return (
    <Dialog.Root
      open
      onOpenChange={(open) => {
        if (!open) onClose();
      }}
    >
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-black/45" />
        <Dialog.Content
          aria-describedby={undefined}
          className="fixed left-1/2 top-[12dvh] z-50 w-[calc(100vw-1.5rem)] max-w-xl -translate-x-1/2 rounded-lg border border-rule-strong bg-sheet p-2 shadow-xl"
        >
          <Dialog.Title className="sr-only">Commands</Dialog.Title>
          <Command label="Commands" loop>
            <Command.Input
              value={typed}
              onValueChange={setTyped}
              placeholder="A command, a plate, a name"
              className="min-h-12 w-full border-b border-rule bg-transparent px-3 text-lg outline-none"
            />
            <CommandList
              views={views}
              then={then}
              navigate={navigate}
              actions={actions}
              onTheme={onTheme}
              onSignOut={onSignOut}
              found={found}
            />
          </Command>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
