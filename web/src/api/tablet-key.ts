import { baySigned } from '@crosspeen/contract';
import { openDB, type DBSchema } from 'idb';

interface Kept extends DBSchema {
  key: { key: 'tablet'; value: CryptoKey };
}

const CURVE = { name: 'ECDSA', namedCurve: 'P-256' } as const;
const SIGNATURE = { name: 'ECDSA', hash: 'SHA-256' } as const;

const database = () =>
  openDB<Kept>('crosspeen-tablet', 1, {
    upgrade: (made) => {
      made.createObjectStore('key');
    },
  });

const base64url = (bytes: ArrayBuffer): string =>
  btoa(String.fromCharCode(...new Uint8Array(bytes)))
    .replaceAll('+', '-')
    .replaceAll('/', '_')
    .replaceAll('=', '');

/**
 * Makes the key by which this browser proves that it is the tablet; answers its public half (SPKI, base64url). The
 * private half stays in the browser's own store, where no script can read it out. Throws an Error with the mend where
 * the browser offers no keys, as on a page that came without encryption.
 */
export async function makeTabletKey(): Promise<string> {
  // The types promise it, but a page that came by plain http has none.
  if ((globalThis.crypto as { subtle?: SubtleCrypto }).subtle === undefined)
    throw new Error(
      'This page came without encryption, and a browser then keeps no key. Open Crosspeen by its https address.',
    );
  const pair = await crypto.subtle.generateKey(CURVE, false, ['sign', 'verify']);
  await (await database()).put('key', pair.privateKey, 'tablet');
  return base64url(await crypto.subtle.exportKey('spki', pair.publicKey));
}

/**
 * Signs a challenge for a person as this tablet (base64url). Throws an Error with the mend where the browser has lost
 * its key.
 */
export async function signAsTablet(challenge: string, personId: string): Promise<string> {
  const key = await (await database()).get('key', 'tablet');
  if (key === undefined)
    throw new Error(
      'This browser has lost its key as a tablet. Sign in with name and password; the owner makes it a bay tablet again.',
    );
  return base64url(await crypto.subtle.sign(SIGNATURE, key, new TextEncoder().encode(baySigned(challenge, personId))));
}
