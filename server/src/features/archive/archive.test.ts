import { randomBytes } from 'node:crypto';
import { readdirSync } from 'node:fs';
import { connect, type AddressInfo, type Socket } from 'node:net';
import { tmpdir } from 'node:os';
import { Readable } from 'node:stream';
import { text } from 'node:stream/consumers';
import { spooled } from '../../platform/spool.ts';
import { testApp } from '../../testing/harness.ts';

const spools = (): string[] => readdirSync(tmpdir()).filter((name) => name.startsWith('crosspeen-spool-'));

test('a spool is read as it was written, has no name, and tells what went wrong on the way', async () => {
  const before = spools();
  expect(await text(await spooled(Readable.from(['one ', 'two'])))).toBe('one two');
  function* broken(): Generator<string> {
    yield 'one';
    throw new Error('the database went away');
  }
  await expect(spooled(Readable.from(broken()))).rejects.toThrow('the database went away');
  expect(spools()).toEqual(before);
});

/** Asks for the archive and never reads the answer, but for its first bytes. */
function unread(port: number, cookie: string): Promise<Socket> {
  return new Promise((resolve, reject) => {
    const socket = connect(port, '127.0.0.1', () =>
      socket.write(`GET /api/archive HTTP/1.1\r\nHost: 127.0.0.1:${port}\r\nCookie: ${cookie}\r\n\r\n`),
    );
    socket.once('error', reject);
    socket.once('readable', () => {
      socket.removeAllListeners('error').on('error', () => undefined);
      resolve(socket);
    });
  });
}

test('ten downloads that nobody reads hold no connection: the owner’s own comes, and pages do', async () => {
  const t = await testApp();
  const sockets: Socket[] = [];
  try {
    // More than sockets take by themselves, so that a reader who does not read holds the rest back.
    for (let i = 0; i < 16; i += 1)
      await t.services.source.query("insert into people_change (at, kind, before) values (now(), 'renamed', $1)", [
        randomBytes(900_000).toString('base64'),
      ]);
    const signedIn = await t.app.inject({
      method: 'POST',
      url: '/api/session',
      payload: { name: 'ruta', password: 'two' },
    });
    const cookie = String(signedIn.headers['set-cookie']).split(';')[0]!;
    await t.app.listen({ port: 0, host: '127.0.0.1' });
    const { port } = t.app.server.address() as AddressInfo;
    for (let i = 0; i < 10; i += 1) sockets.push(await unread(port, cookie));
    const owner = await t.signIn('ruta');
    expect((await owner.get('/api/vehicles')).statusCode).toBe(200);
    const own = await owner.get('/api/archive');
    expect([own.statusCode, own.rawPayload.length > 10_000_000]).toEqual([200, true]);
    const [held] = await t.services.source.query<[{ n: number }]>(
      "select count(*) as n from pg_stat_activity where datname = current_database() and state like 'idle in %'",
    );
    expect(held.n).toBe(0);
  } finally {
    for (const socket of sockets) socket.destroy();
    await t.close();
  }
});
