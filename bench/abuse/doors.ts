import { request } from 'node:http';
import { setTimeout as sleep } from 'node:timers/promises';
import { between, count, type AbuseBench, type AbuseCount, type Shop } from './shop.ts';

const HOW_OFTEN = { strangers: 500, resets: 100 } as const;

/**
 * A hundred wrong passwords at once: only the few that are free are looked at, and the right one is let in when the
 * wait is over.
 */
export async function parallelGuesses(
  shop: Shop,
  accounts: AbuseBench['accounts'],
  say: (line: string) => void,
): Promise<AbuseCount> {
  const counted = count();
  const { name, password } = accounts.find(({ role }) => role === 'mechanic')!;
  const guess = (word: string): Promise<Response> =>
    fetch(`${shop.address}/api/session`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ name, password: word }),
    });
  const answers = await Promise.all(Array.from({ length: 100 }, (_, at) => guess(`wrong ${at}`)));
  counted.tries += answers.length;
  const looked = answers.filter(({ status }) => status === 401).length;
  if (looked > 8) counted.failures.push(`${looked} of 100 guesses at once were looked at`);
  const wait = Math.max(...answers.map(({ headers }) => Number(headers.get('retry-after') ?? 0)));
  if (answers.some(({ status, headers }) => status === 429 && !headers.has('retry-after')))
    counted.failures.push('somebody is sent away without being told for how long');
  await sleep(wait * 1000 + 100);
  counted.tries++;
  if (!(await guess(password)).ok) counted.failures.push('the right password is not let in after the wait');
  say(`  ${looked} of 100 wrong passwords at once were looked at; the right one was let in after ${wait} s`);
  return counted;
}

/** A sign-in from an address of this machine; its status and cookie. */
function signInFrom(
  { address }: Shop,
  from: string,
  account: { readonly name: string; readonly password: string },
): Promise<{ readonly status: number; readonly cookie: string }> {
  const body = JSON.stringify(account);
  return new Promise((resolve, reject) => {
    const sent = request(
      `${address}/api/session`,
      { method: 'POST', localAddress: from, headers: { 'content-type': 'application/json' } },
      (answer) => {
        answer.resume();
        answer.once('end', () =>
          resolve({
            status: answer.statusCode ?? 0,
            cookie: String(answer.headers['set-cookie'] ?? '').split(';')[0]!,
          }),
        );
      },
    );
    sent.once('error', reject);
    sent.end(body);
  });
}

/** While strangers guess at an owner's name without end, the owner signs in with the right password and comes in. */
export async function strangersAtTheDoor(shop: Shop, { accounts, say }: AbuseBench): Promise<AbuseCount> {
  const counted = count();
  const { name, password } = accounts.find(({ role }) => role === 'owner')!;
  let going = true;
  let guesses = 0;
  const strangers = Array.from({ length: 24 }, async (_, at) => {
    while (going) {
      await signInFrom(shop, `127.0.1.${10 + at}`, { name, password: `wrong ${at}` }).catch(() => undefined);
      guesses += 1;
    }
  });
  for (let at = 0; at < HOW_OFTEN.strangers; at += 1) {
    counted.tries += 1;
    const { status } = await signInFrom(shop, '127.0.2.1', { name, password }).catch(() => ({ status: 0 }));
    if (status !== 200) counted.failures.push(`sign-in ${at}: ${status}`);
  }
  going = false;
  await Promise.all(strangers);
  say(`  ${guesses} guesses by 24 strangers meanwhile`);
  return counted;
}

/** A sign-in with the old password that races with its reset never leaves a session that lives. */
export async function signInsAcrossResets(shop: Shop, { accounts, say }: AbuseBench): Promise<AbuseCount> {
  const counted = count();
  const mechanic = accounts.find(({ role }) => role === 'mechanic')!;
  const people = (await (await shop.send('GET', '/api/people')).json()) as { rows: { id: string; name: string }[] };
  const { id } = people.rows.find(({ name }) => name === mechanic.name)!;
  let { password } = mechanic;
  let came = 0;
  for (let at = 0; at < HOW_OFTEN.resets; at += 1) {
    counted.tries += 1;
    const signingIn = signInFrom(shop, `127.0.3.${1 + (at % 250)}`, { name: mechanic.name, password });
    await sleep(between(0, 120));
    const reset = await shop.send('POST', `/api/people/${id}/link`, {});
    const { token } = (await reset.json()) as { token: string };
    const { status, cookie } = await signingIn;
    if (status === 200) came += 1;
    const after = await fetch(`${shop.address}/api/vehicles`, { headers: { cookie } });
    if (after.status !== 401) counted.failures.push(`reset ${at}: the old session answers ${after.status}`);
    password = `gravel tuesday mast ${at}`;
    const used = await shop.send('POST', '/api/links/use', { token, password }, { headers: { cookie: '' } });
    if (!used.ok) counted.failures.push(`reset ${at}: the link answers ${used.status}`);
  }
  say(`  ${came} of the old passwords came in just before their reset`);
  return counted;
}
