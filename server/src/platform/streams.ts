import type { FastifyReply } from 'fastify';
import { pipeline, type Duplex, type Readable } from 'node:stream';

/**
 * A source through any number of transforms, as one stream to send: an error anywhere reaches whoever reads the end,
 * and when nobody reads any more the source ends with it, so that what it holds (a connection, a transaction) is given
 * back.
 */
export function piped(source: Readable, ...through: readonly Duplex[]): Readable {
  if (through.length === 0) return source;
  // The reader of the last stream is told of every error by that stream itself; here it only must not be nobody's.
  pipeline([source, ...through] as unknown as [Readable, Duplex], () => undefined);
  return through.at(-1)!;
}

/**
 * The same items, of which the first is there already: a failure before anything is sent can still be answered as one.
 * When the reader stops, so does the source.
 */
export async function begun<T>(items: AsyncGenerator<T>): Promise<AsyncGenerator<T>> {
  const first = await items.next();
  return (async function* rest(): AsyncGenerator<T> {
    try {
      if (first.done === true) return;
      yield first.value;
      yield* items;
    } finally {
      await items.return(undefined);
    }
  })();
}

/** Milliseconds after which a download that nobody reads from is broken off: what it holds is wanted by others. */
const STALLED_MS = 60_000;

/**
 * Sends a stream as a file. A failure on the way ends the download visibly broken; a reader that no longer reads is let
 * go.
 */
export function sendFile(
  reply: FastifyReply,
  { type, name, body }: { readonly type: string; readonly name: string; readonly body: Readable },
): FastifyReply {
  reply.raw.setTimeout(STALLED_MS, () => reply.raw.destroy());
  return reply.header('content-type', type).header('content-disposition', `attachment; filename="${name}"`).send(body);
}

/** Sends a stream as a page that the browser shows by itself. */
export function sendPage(
  reply: FastifyReply,
  { type, name, body }: { readonly type: string; readonly name: string; readonly body: Readable },
): FastifyReply {
  reply.raw.setTimeout(STALLED_MS, () => reply.raw.destroy());
  return reply.header('content-type', type).header('content-disposition', `inline; filename="${name}"`).send(body);
}
