import { vehiclePath } from '../../ui/paths.ts';
import type { ReactNode } from 'react';
import { NavLink } from 'react-router';

/** The views of a vehicle, by the last word of their address. */
export const VEHICLE_VIEWS = {
  outlook: 'Outlook',
  walk: 'Walk',
  complaint: 'Complaint',
  visits: 'Visits',
  history: 'History',
} as const;

/** The views of one vehicle beside each other; `planned` visits stand at theirs. */
export const VehicleTabs = ({ id, planned = 0 }: { id: string; planned?: number }): ReactNode => (
  <nav aria-label="Vehicle" className="mb-4 flex overflow-x-auto border-b border-rule-strong">
    {(Object.keys(VEHICLE_VIEWS) as (keyof typeof VEHICLE_VIEWS)[]).map((key) => (
      <NavLink
        key={key}
        to={vehiclePath(id, key)}
        className="-mb-px min-h-11 whitespace-nowrap border-b-4 border-transparent px-4 py-2 font-narrow text-xl font-medium hover:bg-well aria-[current=page]:border-accent max-sm:px-3"
      >
        {VEHICLE_VIEWS[key]}
        {key === 'visits' && planned > 0 && <span className="ml-2 text-soft">{planned}</span>}
      </NavLink>
    ))}
  </nav>
);
