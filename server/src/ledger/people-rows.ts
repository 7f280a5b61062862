import type { PeopleChangeKind, Role } from '@crosspeen/contract';
import { entity, flag, instant, integer, json, nullable, text, uuid, uuidKey, writtenAt } from '../platform/entity.ts';

export interface UserRow {
  id: string;
  name: string;
  displayName: string;
  role: Role;
  /** Null until a one-time link was used. */
  passwordHash: string | null;
  demoPassword: string | null;
  active: boolean;
  pinHash: string | null;
  version: number;
}
export const UserEntity = entity<UserRow>('app_user', {
  id: uuidKey,
  name: text,
  displayName: text,
  role: text,
  passwordHash: nullable(text),
  demoPassword: nullable(text),
  active: flag,
  pinHash: nullable(text),
  version: integer,
});

export interface SessionRow {
  sid: string;
  data: Record<string, unknown>;
  expiresAt: Date;
  personId: string | null;
  tabletId: string | null;
  beganAt: Date;
  seenAt: Date;
  /** When somebody last touched the screen: a bay tablet asks for a PIN again after a rest. */
  awakeAt: Date;
  agent: string | null;
}
export const SessionEntity = entity<SessionRow>('session', {
  sid: { type: 'text', primary: true },
  data: json,
  expiresAt: instant,
  personId: nullable(uuid),
  tabletId: nullable(uuid),
  beganAt: instant,
  seenAt: instant,
  awakeAt: instant,
  agent: nullable(text),
});

export interface BayTabletRow {
  id: string;
  name: string;
  tokenHash: string;
  writtenBy: string;
  madeAt: Date;
  endedAt: Date | null;
  /** SPKI in base64url; null for one of an earlier version, which has ended. */
  publicKey: string | null;
  /** What it was asked to sign last, until that was used. */
  challenge: string | null;
  challengeAt: Date | null;
  /** Tries at PINs since the last right one, by person. */
  wrongPins: Record<string, number>;
}
export const BayTabletEntity = entity<BayTabletRow>('bay_tablet', {
  id: uuidKey,
  name: text,
  tokenHash: text,
  writtenBy: uuid,
  madeAt: writtenAt,
  endedAt: nullable(instant),
  publicKey: nullable(text),
  challenge: nullable(text),
  challengeAt: nullable(instant),
  wrongPins: json,
});

export interface OneTimeLinkRow {
  id: string;
  personId: string;
  tokenHash: string;
  writtenBy: string | null;
  madeAt: Date;
  expiresAt: Date;
}
export const OneTimeLinkEntity = entity<OneTimeLinkRow>('one_time_link', {
  id: uuidKey,
  personId: uuid,
  tokenHash: text,
  writtenBy: nullable(uuid),
  madeAt: writtenAt,
  expiresAt: instant,
});

export interface PeopleChangeRow {
  id: number;
  at: Date;
  userId: string | null;
  personId: string | null;
  kind: PeopleChangeKind;
  before: string | null;
  after: string | null;
}
export const PeopleChangeEntity = entity<PeopleChangeRow>('people_change', {
  id: { type: 'bigint', primary: true, generated: 'increment' },
  at: instant,
  userId: nullable(uuid),
  personId: nullable(uuid),
  kind: text,
  before: nullable(text),
  after: nullable(text),
});
