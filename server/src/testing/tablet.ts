import { baySigned } from '@crosspeen/contract';
import type { FastifyInstance, LightMyRequestResponse } from 'fastify';
import { webcrypto } from 'node:crypto';
import type { Client } from './harness.ts';

const base64url = (bytes: ArrayBuffer): string => Buffer.from(bytes).toString('base64url');

/** A browser that is a bay tablet: its cookie, and its key. */
export class TestTablet {
  private constructor(
    private readonly app: FastifyInstance,
    readonly cookie: string,
    private readonly key: webcrypto.CryptoKey,
  ) {}

  /** An owner makes a browser of its own a tablet. */
  static async made(app: FastifyInstance, owner: Client, name: string): Promise<TestTablet> {
    const pair = await webcrypto.subtle.generateKey({ name: 'ECDSA', namedCurve: 'P-256' }, false, ['sign', 'verify']);
    const publicKey = base64url(await webcrypto.subtle.exportKey('spki', pair.publicKey));
    const answer = await owner.send('POST', '/api/tablets', { name, publicKey });
    return new TestTablet(app, String(answer.headers['set-cookie']).split(';')[0]!, pair.privateKey);
  }

  /** The same key with another app or another cookie. */
  with(change: { readonly app?: FastifyInstance; readonly cookie?: string }): TestTablet {
    return new TestTablet(change.app ?? this.app, change.cookie ?? this.cookie, this.key);
  }

  private post(url: string, payload: object): Promise<LightMyRequestResponse> {
    return this.app.inject({ method: 'POST', url, headers: { cookie: this.cookie }, payload });
  }

  challenge(): Promise<LightMyRequestResponse> {
    return this.post('/api/bay/challenge', {});
  }

  async signed(challenge: string, personId: string): Promise<string> {
    const text = new TextEncoder().encode(baySigned(challenge, personId));
    return base64url(await webcrypto.subtle.sign({ name: 'ECDSA', hash: 'SHA-256' }, this.key, text));
  }

  /** Types a PIN; the answer of the first step that is refused, or of the last. */
  async enter(personId: string, pin: string): Promise<LightMyRequestResponse> {
    const asked = await this.challenge();
    if (asked.statusCode !== 200) return asked;
    const { challenge } = asked.json<{ challenge: string }>();
    const signature = await this.signed(challenge, personId);
    return this.post('/api/bay/enter', { personId, pin, challenge, signature });
  }

  /** Types a PIN with what is told instead of a challenge and signature of this tablet. */
  enterWith(told: {
    readonly personId: string;
    readonly pin: string;
    readonly challenge: string;
    readonly signature: string;
  }): Promise<LightMyRequestResponse> {
    return this.post('/api/bay/enter', told);
  }
}
