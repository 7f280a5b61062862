import { baySigned } from '@crosspeen/contract';
import { webcrypto } from 'node:crypto';

const CURVE = { name: 'ECDSA', namedCurve: 'P-256' } as const;
const SIGNATURE = { name: 'ECDSA', hash: 'SHA-256' } as const;

/** Tries at PINs since the last right ones, in SQL, for a row `t` of bay_tablet. */
export const WRONG_PINS_OF_T = '(select coalesce(sum(value::int), 0)::int from jsonb_each_text(t.wrong_pins))';

/** A tablet's public key, from SPKI in base64url; null for a text that is no such key. */
export const tabletKey = (publicKey: string): Promise<webcrypto.CryptoKey | null> =>
  webcrypto.subtle.importKey('spki', Buffer.from(publicKey, 'base64url'), CURVE, false, ['verify']).catch(() => null);

/** Whether a challenge for a person was signed by the browser that holds the private half of a key. */
export async function signedAtTablet(
  publicKey: string | null,
  told: { readonly challenge: string; readonly personId: string; readonly signature: string },
): Promise<boolean> {
  const key = publicKey === null ? null : await tabletKey(publicKey);
  if (key === null) return false;
  const text = new TextEncoder().encode(baySigned(told.challenge, told.personId));
  return webcrypto.subtle.verify(SIGNATURE, key, Buffer.from(told.signature, 'base64url'), text);
}
