import type { Span } from '../shorthand/window.ts';

/** The customary interval in km: the shortest one published, which is what most vehicles are kept to; null without. */
export function customaryKm(intervals: readonly (readonly Span[])[]): number | null {
  const published = intervals
    .flat()
    .filter(({ clock }) => clock === 'distance')
    .map(({ from }) => from);
  return published.length === 0 ? null : Math.min(...published);
}
