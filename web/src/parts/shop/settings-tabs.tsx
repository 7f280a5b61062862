import type { ReactNode } from 'react';
import { NavLink } from 'react-router';

const TABS = [
  { to: '/settings', label: 'Workshop' },
  { to: '/settings/people', label: 'People' },
  { to: '/settings/backups', label: 'Backups' },
] as const;

/** What the owner settles, one page each. */
export function SettingsTabs({ children }: { children: ReactNode }): ReactNode {
  return (
    <>
      <h1 className="mb-2 text-3xl">Settings</h1>
      <nav aria-label="Settings" className="mb-4 flex border-b border-rule-strong">
        {TABS.map(({ to, label }) => (
          <NavLink
            key={to}
            to={to}
            end
            className="-mb-px min-h-11 border-b-4 border-transparent px-4 py-2 font-narrow text-xl font-medium hover:bg-well aria-[current=page]:border-accent"
          >
            {label}
          </NavLink>
        ))}
      </nav>
      {children}
    </>
  );
}
