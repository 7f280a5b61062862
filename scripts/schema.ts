import { packJsonSchema } from '@crosspeen/contract';
import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { ROOT } from './places.ts';

/** Writes the published JSON Schema of library packs from the contract. */
export function writeSchema(): Promise<void> {
  writeFileSync(join(ROOT, 'docs/pack.schema.json'), `${JSON.stringify(packJsonSchema(), null, 2)}\n`);
  return Promise.resolve();
}
