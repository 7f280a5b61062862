import { pack, type Beginnings, type Changed, type PackChoice, type PackPreview } from '@crosspeen/contract';
import { readFile } from 'node:fs/promises';
import type { DataSource } from 'typeorm';
import type { Author } from '../../platform/once.ts';
import { Problem } from '../../platform/problem.ts';

/** What reads a pack in, wherever that is done. */
interface PackReader {
  readonly preview: (author: Author, name: string, text: string) => Promise<PackPreview>;
  readonly take: (author: Author, uploadId: string, choices: Readonly<Record<string, PackChoice>>) => Promise<Changed>;
}

/** Services that StartService works with. */
export interface StartServiceNeeds {
  readonly source: DataSource;
  readonly packs: PackReader;
  /** File of the pack that is offered as an example; null offers none. */
  readonly file: string | null;
}

/** How far a workshop has come, and the example it may begin with. */
export class StartService {
  private example: Promise<{ readonly key: string; readonly title: string; readonly text: string } | null> | null =
    null;

  constructor(private readonly needs: StartServiceNeeds) {}

  private examplePack(): Promise<{ readonly key: string; readonly title: string; readonly text: string } | null> {
    this.example ??= (async () => {
      if (this.needs.file === null) return null;
      const text = await readFile(this.needs.file, 'utf8');
      const { key, title } = pack.parse(JSON.parse(text));
      return { key, title, text };
    })().catch(() => null);
    return this.example;
  }

  /** What is there already. */
  async beginnings(): Promise<Beginnings> {
    const [counts] = await this.needs.source.query<Omit<Beginnings, 'example'>[]>(
      `select (select count(*)::int from engine_family) as engines,
          (select count(*)::int from vehicle where retracted_at is null) as vehicles,
          (select count(*)::int from app_user where active) as people,
          (select count(*)::int from weak_point where written_by is not null and pack_key is null) as written`,
    );
    return { ...counts!, example: await this.exampleState() };
  }

  private async exampleState(): Promise<Beginnings['example']> {
    const example = await this.examplePack();
    if (example === null) return { state: 'none' };
    const [taken] = await this.needs.source.query<{ id: string }[]>(
      `select c.id
        from library_change c
        where c.kind = 'pack' and c.pack_key = $1 and not exists (select 1 from library_change z where z.undoes = c.id)
        order by c.at desc
        limit 1`,
      [example.key],
    );
    return taken === undefined
      ? { state: 'offered', title: example.title }
      : { state: 'taken', title: example.title, changeId: taken.id as NonNullable<Changed['changeId']> };
  }

  /** Takes the example in, in one change that takes it out again. Throws not_found where none is offered. */
  async takeExample(author: Author): Promise<Changed> {
    const example = await this.examplePack();
    if (example === null) throw new Problem('not_found');
    const { uploadId } = await this.needs.packs.preview(author, 'example.json', example.text);
    return this.needs.packs.take(author, uploadId, {});
  }
}
