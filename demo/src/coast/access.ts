import type { CoastFamily } from './family.ts';
import type { Access } from './slot.ts';

/** The operations that give access, by how the engine is built, with what each needs off first. */
export const ACCESS: Readonly<
  Record<
    Access,
    {
      readonly name: (family: Pick<CoastFamily, 'drive' | 'maker' | 'key'>) => string;
      readonly minutes: (drive: CoastFamily['drive']) => number;
      readonly needs: readonly Access[];
      readonly tools?: readonly string[];
      readonly cautions?: readonly string[];
      readonly fluids?: readonly string[];
      readonly afterwards?: readonly string[];
    }
  >
> = {
  shields: {
    name: ({ maker, key }) =>
      key === 'br36m'
        ? 'Guards and side panels off and on'
        : maker === 'brandreth'
          ? 'Cab tilted and locked, noise panels off and on'
          : 'Shields and wheel arch liner off and on',
    minutes: () => 18,
    needs: [],
    cautions: ['on-lift'],
  },
  drain: {
    name: () => 'Coolant out, filled and bled',
    minutes: () => 30,
    needs: [],
    tools: ['vacuum-fill'],
    cautions: ['hot-coolant', 'coolant-waste'],
    fluids: ['coolant'],
    afterwards: ['look at the level again when it is cold'],
  },
  covers: {
    name: ({ drive }) =>
      drive === 'belt' ? 'Drive belt and timing covers off and on' : 'Front cover off and on, sealed',
    minutes: (drive) => (drive === 'belt' ? 36 : drive === 'chain' ? 170 : 340),
    needs: ['shields'],
    tools: ['hub-puller'],
    cautions: ['rotating'],
  },
  timing: {
    name: () => 'Timing belt off and on, marks turned through twice',
    minutes: () => 55,
    needs: ['covers'],
    tools: ['cam-lock', 'crank-pin', 'counter-holder'],
    cautions: ['spring-load', 'lost-timing'],
    afterwards: ['turn the crankshaft twice by hand and look at the marks again'],
  },
  intake: {
    name: () => 'Intake pipe and manifold off and on',
    minutes: () => 35,
    needs: [],
    cautions: ['fuel-pressure'],
  },
  sump: {
    name: () => 'Oil pan off and on',
    minutes: () => 50,
    needs: ['shields', 'oil'],
    cautions: ['on-lift', 'used-oil'],
  },
  oil: {
    name: () => 'Oil out and filled',
    minutes: () => 25,
    needs: [],
    cautions: ['used-oil'],
    fluids: ['engine oil'],
    afterwards: ['look at the level again after the first run'],
  },
  gearbox: {
    name: () => 'Gearbox off and on',
    minutes: (drive) => (drive === 'gears' ? 330 : 285),
    needs: ['shields'],
    cautions: ['carried', 'on-lift'],
  },
  tank: { name: () => 'Fuel tank off and on', minutes: () => 25, needs: [], cautions: ['fuel-pressure'] },
};

/** All that must be off for some accesses, each once. */
export function withNeeds(accesses: readonly Access[]): Set<Access> {
  const all = new Set<Access>();
  const open = [...accesses];
  for (let at = open.pop(); at !== undefined; at = open.pop()) {
    all.add(at);
    open.push(...ACCESS[at].needs);
  }
  return all;
}
