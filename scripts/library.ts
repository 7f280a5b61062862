import type { Pack } from '@crosspeen/contract';
import { familyKnowledge, loadPack, openDatabase } from '@crosspeen/server';
import type { EngineKnown } from '../bench/natures.ts';

/** What an empty database knows of its engines once the packs are imported. */
export async function knownEngines(url: string, packs: readonly Pack[]): Promise<EngineKnown[]> {
  const source = await openDatabase(url, 2);
  try {
    for (const pack of packs) await source.transaction((manager) => loadPack(manager, pack));
    const families = await source.query<{ id: string; code: string; interference: boolean }[]>(
      'select id, code, interference from engine_family',
    );
    return await Promise.all(
      families.map(async ({ id, code, interference }) => {
        const { variants, weakPoints, operations } = (await familyKnowledge(source.manager, id))!;
        return { code, interference, variants, weakPoints, operations };
      }),
    );
  } finally {
    await source.destroy();
  }
}
