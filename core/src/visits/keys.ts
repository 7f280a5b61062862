/** Keys of what may be put on a visit. */
export const pointKey = (weakPointId: string): string => `point:${weakPointId}`;
export const lookKey = (weakPointId: string): string => `look:${weakPointId}`;
export const taskKey = (taskId: string, time = 1): string => (time === 1 ? `task:${taskId}` : `task:${taskId}:${time}`);

/** Subject of a key; the occurrence of a task counts from 1. */
export function keyMeans(key: string): { kind: 'point' | 'look' | 'task'; readonly id: string; readonly time: number } {
  const [kind, id, time] = key.split(':');
  return { kind: kind as 'point' | 'look' | 'task', id: id!, time: time === undefined ? 1 : Number(time) };
}
