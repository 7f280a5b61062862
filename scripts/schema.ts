import { packJsonSchema } from '@crosspeen/contract';
import { describeApi } from '@crosspeen/server';
import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { ROOT } from './places.ts';

const write = (name: string, document: object): void =>
  writeFileSync(join(ROOT, 'docs', name), `${JSON.stringify(document, null, 2)}\n`);

/** Writes the published JSON Schema of library packs and the description of the API, both from the contract. */
export async function writeSchema(): Promise<void> {
  write('pack.schema.json', packJsonSchema());
  write('openapi.json', await describeApi());
}
