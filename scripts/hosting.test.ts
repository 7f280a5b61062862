import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { generate } from 'selfsigned';
import { addressOf, hostingFrom, ON_LOOPBACK } from './hosting.ts';

const folder = mkdtempSync(join(tmpdir(), 'crosspeen-tls-'));
async function certificate(
  name: string,
  days = { from: '2026-01-01', to: '2027-12-31' },
): Promise<{ cert: string; key: string }> {
  const made = await generate([{ name: 'commonName', value: name }], {
    notBeforeDate: new Date(days.from),
    notAfterDate: new Date(days.to),
    extensions: [{ name: 'subjectAltName', altNames: [{ type: 2, value: name }] }],
  });
  const [cert, key] = ['cert', 'key'].map((kind) => join(folder, `${name}-${days.to}.${kind}`)) as [string, string];
  writeFileSync(cert, made.cert);
  writeFileSync(key, made.private);
  return { cert, key };
}
const NOW = new Date('2026-11-24');
let good: { cert: string; key: string };
let other: { cert: string; key: string };
let ended: { cert: string; key: string };
beforeAll(async () => {
  good = await certificate('shop.example');
  other = await certificate('other.example');
  ended = await certificate('shop.example', { from: '2025-01-01', to: '2026-10-01' });
});

test('by itself it is on loopback alone', () => {
  expect(hostingFrom({}, undefined, NOW)).toEqual(ON_LOOPBACK);
  expect(addressOf(ON_LOOPBACK, 8460)).toBe('http://127.0.0.1:8460');
});

test('with a certificate it is on the network, under the names of the certificate', () => {
  const hosting = hostingFrom({ host: '0.0.0.0', 'tls-cert': good.cert, 'tls-key': good.key }, 8443, NOW);
  expect(hosting).toMatchObject({ host: '0.0.0.0', port: 8443, names: ['shop.example'], proxy: null });
  expect(addressOf(hosting, 8443)).toBe('https://shop.example:8443');
});

test('behind a proxy that is named it is reached under the name that is said', () => {
  const hosting = hostingFrom({ behind: '127.0.0.1', name: 'shop.example' }, 8470, NOW);
  expect(hosting).toMatchObject({ host: '127.0.0.1', proxy: '127.0.0.1', names: ['shop.example'] });
  expect(addressOf(hosting, 8470)).toBe('https://shop.example');
});

test.each<[string, () => Record<string, string>, RegExp]>([
  ['a network without TLS', () => ({ host: '0.0.0.0' }), /could read passwords.*nothing was started/],
  ['a name for an address', () => ({ host: 'shop' }), /must be an address/],
  ['half a pair', () => ({ 'tls-cert': good.cert }), /go together/],
  ['a key of another', () => ({ 'tls-cert': good.cert, 'tls-key': other.key }), /does not belong to the certificate/],
  ['no certificate', () => ({ 'tls-cert': good.key, 'tls-key': good.key }), /is no certificate/],
  ['no key', () => ({ 'tls-cert': good.cert, 'tls-key': good.cert }), /is no private key/],
  ['a file that is not there', () => ({ 'tls-cert': '/no/such', 'tls-key': good.key }), /cannot be read: ENOENT/],
  ['one that has ended', () => ({ 'tls-cert': ended.cert, 'tls-key': ended.key }), /ended on Oct/],
  [
    'one for another name',
    () => ({ 'tls-cert': good.cert, 'tls-key': good.key, name: 'garage.example' }),
    /is not for garage\.example; it is for DNS:shop\.example/,
  ],
  ['a proxy without a name', () => ({ behind: '127.0.0.1' }), /--name/],
  ['a proxy by its name', () => ({ behind: 'front', name: 'shop.example' }), /by its address/],
])('%s is refused with the reason', (_words, values, message) => {
  expect(() => hostingFrom(values(), undefined, NOW)).toThrow(message);
});
