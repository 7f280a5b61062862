import { makeTemplate } from './harness.ts';

/** Run by Jest once, before the first test of the server. */
export default async function template(): Promise<void> {
  await makeTemplate();
}
