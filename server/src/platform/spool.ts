import { createReadStream, createWriteStream } from 'node:fs';
import { mkdtemp, open, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';

/**
 * A stream that is written whole to a file first and read from there: what makes it is done before anybody reads, so
 * that a reader who does not read holds no connection of the database. The file has no name any more, is gone when its
 * reader is, and is readable by this server's user alone. Throws what the stream throws, and where the disk is full.
 */
export async function spooled(body: Readable): Promise<Readable> {
  const folder = await mkdtemp(join(tmpdir(), 'crosspeen-spool-'));
  try {
    const file = join(folder, 'spool');
    await pipeline(body, createWriteStream(file, { mode: 0o600 }));
    const handle = await open(file, 'r');
    return createReadStream('', { fd: handle });
  } finally {
    await rm(folder, { recursive: true, force: true });
  }
}
