import { z } from 'zod';
import { anyText, paged, paging, rowVersion, shortText } from './common.ts';
import { mixesAlphabets } from './lookalike.ts';
import { ROLES } from './roles.ts';

export const personId = z.uuid({ message: 'must be an id' });

/** Shortest password that is taken; how guessable it is counts besides. */
export const LEAST_PASSWORD = 10;
const MOST_PASSWORD = 200;

/** A password as it is chosen; whether others guess it is judged by the server. */
export const newPassword = anyText(MOST_PASSWORD).min(LEAST_PASSWORD, {
  message: `must have at least ${LEAST_PASSWORD} characters; three or four words that do not belong together are good`,
});
/** A password as it is given to prove who it is. */
export const givenPassword = anyText(MOST_PASSWORD).min(1, { message: 'must not be empty' });

/** The name a person signs in with: one word, lower case. */
export const signInName = shortText(40)
  .transform((name) => name.toLowerCase())
  .refine((name) => /^[\p{L}\p{N}][\p{L}\p{N}._-]*$/u.test(name), {
    message: 'must be one word of letters, digits, dots or dashes',
  })
  .refine((name) => !mixesAlphabets(name), { message: 'mixes letters of two alphabets; write it in one' });

const EASY_PIN = /^(\d)\1+$|^(?:0123|1234|2345|3456|4567|5678|6789|9876|8765|7654|6543|5432|4321|3210)/;
/** PIN for changing over at a bay tablet. */
export const pin = z
  .string()
  .regex(/^\d{4,8}$/, { message: 'must be 4 to 8 digits', abort: true })
  .refine((digits) => !EASY_PIN.test(digits), {
    message: 'is too easily guessed; take digits that neither repeat nor count up or down',
  });

export const oneTimeToken = anyText(100).min(20, { message: 'is no link of this workshop' });

export const person = z
  .object({
    id: personId,
    name: z.string(),
    displayName: z.string(),
    role: z.enum(ROLES),
    active: z.boolean(),
    hasPassword: z.boolean(),
    hasPin: z.boolean(),
    /** Until when a one-time link that was made is good. */
    linkUntil: z.string().nullable(),
    seenAt: z.string().nullable(),
    version: rowVersion,
  })
  .meta({ id: 'Person' });
export type Person = z.infer<typeof person>;

export const personCreate = z.object({ name: signInName, displayName: shortText(60), role: z.enum(ROLES) });
export const personUpdate = z.object({
  displayName: shortText(60),
  role: z.enum(ROLES),
  active: z.boolean(),
  version: rowVersion,
});

/** A person with the one-time link that was made: it is shown once, and only its hash is kept. */
export const personWithLink = z.object({ person, token: z.string().nullable() }).meta({ id: 'PersonWithLink' });
export type PersonWithLink = z.infer<typeof personWithLink>;

export const PEOPLE_CHANGE_KINDS = [
  'set_up',
  'added',
  'renamed',
  'role',
  'deactivated',
  'reactivated',
  'link_made',
  'link_ended',
  'password_set',
  'password_changed',
  'pin_set',
  'pin_removed',
  'signed_out',
  'tablet_added',
  'tablet_ended',
  'tablet_locked',
  'tablet_opened',
] as const;
export type PeopleChangeKind = (typeof PEOPLE_CHANGE_KINDS)[number];

/** One entry of the trail of people and rights; who did it is null where it came by a code or a link. */
const peopleChange = z
  .object({
    id: z.int(),
    at: z.string(),
    by: z.string().nullable(),
    person: z.string().nullable(),
    kind: z.enum(PEOPLE_CHANGE_KINDS),
    before: z.string().nullable(),
    after: z.string().nullable(),
  })
  .meta({ id: 'PeopleChange' });
export type PeopleChange = z.infer<typeof peopleChange>;
export const peopleChangeQuery = paging;
export const peopleChanges = paged(peopleChange);

/** Person for whom a link is, before it is used. */
export const linkLook = z.object({ token: oneTimeToken });
export const linkMeaning = z
  .object({ name: z.string(), displayName: z.string(), workshopName: z.string(), until: z.string() })
  .meta({ id: 'LinkMeaning' });
export type LinkMeaning = z.infer<typeof linkMeaning>;
export const linkUse = z.object({ token: oneTimeToken, password: newPassword });

export const passwordChange = z.object({ current: givenPassword, password: newPassword });
/** Setting a PIN asks for the password again; null takes the PIN away. */
export const pinChange = z.object({ current: givenPassword, pin: pin.nullable() });

/** Sessions in which a person is signed in. */
const signedInAt = z
  .object({
    id: z.string(),
    agent: z.string().nullable(),
    tablet: z.string().nullable(),
    beganAt: z.string(),
    seenAt: z.string(),
    here: z.boolean(),
  })
  .meta({ id: 'SignedInAt' });
export type SignedInAt = z.infer<typeof signedInAt>;
export const signIns = z.object({ rows: z.array(signedInAt) });

const bayTablet = z
  .object({
    id: z.uuid(),
    name: z.string(),
    madeAt: z.string(),
    seenAt: z.string().nullable(),
    here: z.boolean(),
    /** Too many wrong PINs were typed at it; signing in there with a password opens it. */
    locked: z.boolean(),
  })
  .meta({ id: 'BayTablet' });
export type BayTablet = z.infer<typeof bayTablet>;
export const bayTablets = z.object({ rows: z.array(bayTablet) });
/** Bytes in base64url, without padding. */
const bytes = (most: number) =>
  z
    .string()
    .max(most)
    .regex(/^[\w-]+$/, { message: 'must be base64url' });
/** A tablet's public key: ECDSA on P-256, SPKI. Its private half stays in the browser, out of reach of scripts. */
export const bayTabletCreate = z.object({ name: shortText(40), publicKey: bytes(400) });
/** What a tablet signs: it proves that the browser is the one that was made a tablet. */
export const bayChallenge = z.object({ challenge: bytes(100) });
/** Wrong PINs, of all people together, after which a tablet is locked. */
export const WRONG_PINS = 5;
export const bayEnter = z.object({
  personId,
  pin: anyText(20).min(1, { message: 'must not be empty' }),
  challenge: bytes(100),
  signature: bytes(200),
});
/** The text that a tablet signs for one sign-in: its challenge for this person. */
export const baySigned = (challenge: string, personId: string): string => `crosspeen bay ${challenge} ${personId}`;
