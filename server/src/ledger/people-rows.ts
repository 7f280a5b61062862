import type { Role } from '@crosspeen/contract';
import { entity, instant, json, nullable, text, uuidKey } from '../platform/entity.ts';

export interface UserRow {
  id: string;
  name: string;
  displayName: string;
  role: Role;
  passwordHash: string;
  demoPassword: string | null;
}
export const UserEntity = entity<UserRow>('app_user', {
  id: uuidKey,
  name: text,
  displayName: text,
  role: text,
  passwordHash: text,
  demoPassword: nullable(text),
});

export interface SessionRow {
  sid: string;
  data: Record<string, unknown>;
  expiresAt: Date;
}
export const SessionEntity = entity<SessionRow>('session', {
  sid: { type: 'text', primary: true },
  data: json,
  expiresAt: instant,
});
