import pg from 'pg';

/** Where a bench finds a fresh server, the database behind it and somebody to sign in as. */
export interface ApiBench {
  readonly url: string;
  readonly address: string;
  readonly account: { readonly name: string; readonly password: string };
  readonly say: (line: string) => void;
}

export interface SignedIn {
  /** Straight at the database, to fill it and to read it bare. */
  readonly client: pg.Client;
  readonly headers: { readonly cookie: string; readonly 'x-csrf-token': string };
  /** The server's day. */
  readonly today: string;
}

/** Signs in, opens the database, and closes it after `work`. */
export async function signedIn(
  { url, address, account }: ApiBench,
  work: (session: SignedIn) => Promise<void>,
): Promise<void> {
  const client = new pg.Client({ connectionString: url });
  await client.connect();
  try {
    const answer = await fetch(`${address}/api/session`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify(account),
    });
    const { csrfToken, today } = (await answer.json()) as { csrfToken: string; today: string };
    await work({
      client,
      headers: { cookie: answer.headers.get('set-cookie')!.split(';')[0]!, 'x-csrf-token': csrfToken },
      today,
    });
  } finally {
    await client.end();
  }
}
