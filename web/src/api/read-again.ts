import type { QueryClient, QueryFilters } from '@tanstack/react-query';

/**
 * Fetches again what the page shows, of a filter or all of it: what was on record has changed. A first answer that is
 * still under way may have been put together before the change; marking it as old would not stop it from being taken
 * for the newest there is, so it is given up and asked for anew.
 */
export async function readAgain(client: QueryClient, filters: QueryFilters = {}): Promise<void> {
  await client.cancelQueries(filters);
  await client.invalidateQueries(filters);
}
