import { randomUUID } from 'node:crypto';
import { crc32, deflateSync } from 'node:zlib';
import { workerOf } from '../worker.ts';
import { healthDuring } from './files.ts';
import { count, type AbuseCount, type Shop } from './shop.ts';

/** Health is answered within so many milliseconds while photos, and while sheets are made. */
const HEALTH_MS = { photos: 250, sheets: 100 } as const;

/** A chunk of a PNG (RFC 2083). */
function chunk(type: string, data: Buffer): Buffer {
  const body = Buffer.concat([Buffer.from(type, 'latin1'), data]);
  const ends = Buffer.alloc(8);
  ends.writeUInt32BE(data.length, 0);
  ends.writeUInt32BE(crc32(body), 4);
  return Buffer.concat([ends.subarray(0, 4), body, ends.subarray(4)]);
}

/** A small file that is a picture of so many pixels a side: one grey, one bit a pixel. */
function pictureOf(side: number): Buffer {
  const head = Buffer.alloc(13);
  head.writeUInt32BE(side, 0);
  head.writeUInt32BE(side, 4);
  head[8] = 1;
  const rows = Buffer.alloc((Math.ceil(side / 8) + 1) * side);
  return Buffer.concat([
    Buffer.from([0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a]),
    chunk('IHDR', head),
    chunk('IDAT', deflateSync(rows, { level: 9 })),
    chunk('IEND', Buffer.alloc(0)),
  ]);
}

const firstVehicle = async (shop: Shop): Promise<string> =>
  ((await (await shop.send('GET', '/api/vehicles?page=1&pageSize=1')).json()) as { rows: { id: string }[] }).rows[0]!
    .id;

/** Twelve photos at once that are small files and huge pictures: the server stays well, and people sign in. */
export async function photoBombs(shop: Shop, folder: string, say: (line: string) => void): Promise<AbuseCount> {
  const counted = count();
  const vehicleId = await firstVehicle(shop);
  const begin = await workerOf('health-worker', folder);
  const [before] = await shop.pids();
  for (const side of [30_000, 12_000, 6300]) {
    const picture = pictureOf(side);
    let seen = '';
    const slowest = await healthDuring(begin(`${shop.address}/api/health`), async () => {
      const answers = await Promise.all(
        Array.from({ length: 12 }, async () => {
          counted.tries += 1;
          const query = `vehicleId=${vehicleId}&day=2026-11-24`;
          const { status } = await shop.send('PUT', `/api/photos/${randomUUID()}?${query}`, picture, {
            headers: { 'content-type': 'image/png' },
          });
          return status;
        }),
      );
      seen = [...new Set(answers)].join(', ');
      for (const status of answers) if (status >= 500) counted.failures.push(`${side} pixels a side: ${status}`);
    });
    if (slowest > HEALTH_MS.photos) counted.failures.push(`${side} a side: health took ${slowest.toFixed(0)} ms`);
    say(`  12 of ${side} x ${side} pixels: answered ${seen}; health within ${slowest.toFixed(0)} ms`);
  }
  const [after] = await shop.pids();
  if (before !== after) counted.failures.push('the server was started anew');
  return counted;
}

/** Ten sheets at once, again and again: whoever asks meanwhile does not wait for them. */
export async function manySheets(shop: Shop, folder: string, say: (line: string) => void): Promise<AbuseCount> {
  const counted = count();
  const vehicleId = await firstVehicle(shop);
  const begin = await workerOf('health-worker', folder);
  const slowest = await healthDuring(begin(`${shop.address}/api/health`), async () => {
    for (let round = 0; round < 5; round += 1)
      await Promise.all(
        Array.from({ length: 10 }, async () => {
          counted.tries += 1;
          const answer = await shop.send('GET', `/api/vehicles/${vehicleId}/walk.pdf`);
          const bytes = (await answer.arrayBuffer()).byteLength;
          if (!answer.ok || bytes < 1000) counted.failures.push(`a sheet: ${answer.status}, ${bytes} bytes`);
        }),
      );
  });
  if (slowest > HEALTH_MS.sheets) counted.failures.push(`health took ${slowest.toFixed(0)} ms meanwhile`);
  say(`  health within ${slowest.toFixed(0)} ms while ten sheets at a time were made`);
  return counted;
}
