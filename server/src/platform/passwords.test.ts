import { FAULTS } from '@crosspeen/contract';
import { bareCode, digestOf, fits, hashed, newCode, newToken, weaknessOf } from './passwords.ts';

test.each(['password', 'qwertyuiop', 'iloveyou123', 'Password1!'])(
  '%s stands on the list or is soon guessed',
  async (word) => {
    expect(await weaknessOf(word, [])).not.toBeNull();
  },
);
test('one of the list is called so', async () => expect(await weaknessOf('password1', [])).toBe(FAULTS.commonPassword));
test.each(['quay lantern forty ropes', 'zH8-quiver-mast', 'gravel tuesday mast'])('%s is good', async (word) => {
  expect(await weaknessOf(word, ['marit', 'Marit Dunne', 'Tarred Quay Garage'])).toBeNull();
});
test('names and the shop make a password no stronger', async () => {
  expect(await weaknessOf('maritdunne', ['marit', 'Marit Dunne'])).toBe(FAULTS.weakPassword);
});

test('a hash fits its own password alone; without one nothing fits', async () => {
  const known = await hashed('4821');
  expect(known).toMatch(/^\$argon2id\$/);
  expect(await fits(known, '4821')).toBe(true);
  expect(await fits(known, '4822')).toBe(false);
  expect(await fits(null, '4821')).toBe(false);
});

test('a code is read off and typed however people do', () => {
  const code = newCode();
  expect(code).toMatch(/^[2-9A-HJ-NP-Z]{4}-[2-9A-HJ-NP-Z]{4}$/);
  expect(bareCode(` ${code.toLowerCase().replace('-', ' ')} `)).toBe(code.replace('-', ''));
  expect(new Set(Array.from({ length: 200 }, newCode)).size).toBe(200);
});

test('a token has 192 bits and its digest tells nothing of it', () => {
  const token = newToken();
  expect(Buffer.from(token, 'base64url')).toHaveLength(24);
  expect(digestOf(token)).not.toContain(token.slice(0, 8));
  expect(digestOf(token)).toBe(digestOf(token));
});
