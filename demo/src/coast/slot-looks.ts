import type { Needs } from './slot.ts';

/** What a look needs of the vehicle. */
export const COLD: Needs = { engine: 'off', heat: 'cold' };
export const RUNNING: Needs = { engine: 'running' };
export const RUNNING_WARM: Needs = { engine: 'running', heat: 'warm' };
export const RUNNING_COLD: Needs = { engine: 'running', heat: 'cold' };

export const PUMP_LOOK = {
  how: 'Lamp on the weep hole; pressure up cold, wait ten minutes.',
  minutes: 15,
  detects: 0.8,
  warns: '9k km',
  cautions: ['hot-coolant', 'rotating', 'pressure-test'],
  needs: COLD,
} as const;
