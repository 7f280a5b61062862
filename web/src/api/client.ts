import { UNEXPECTED, problemDetails, type ProblemDetails } from '@crosspeen/contract';
import type { z } from 'zod';

/**
 * A failure the server explained; `details.fields` names the fields at fault, `details.current` the row as it is now.
 */
export class ProblemError extends Error {
  constructor(readonly details: ProblemDetails) {
    super(details.detail);
  }
}

const offline: ProblemDetails = {
  type: 'about:blank',
  title: 'No connection',
  status: 0,
  code: 'unexpected',
  detail: 'The workshop’s server does not answer. What you typed is kept; try again when the Wi-Fi is back.',
};

let csrfToken: string | null = null;
/** The token of the session, sent with every request that changes something. */
export const rememberCsrfToken = (token: string | null): void => {
  csrfToken = token;
};

async function problemFrom(response: Response): Promise<ProblemDetails> {
  const parsed = problemDetails.safeParse(await response.json().catch(() => null));
  return parsed.success ? parsed.data : { ...offline, status: response.status, title: UNEXPECTED, detail: UNEXPECTED };
}

interface Sent {
  readonly body?: BodyInit;
  readonly type?: string;
  readonly signal?: AbortSignal | undefined;
  readonly key?: string | undefined;
}

async function exchange<T extends z.ZodType>(
  schema: T,
  method: 'GET' | 'POST' | 'PUT' | 'DELETE',
  path: string,
  { body, type, signal, key }: Sent,
): Promise<z.output<T>> {
  let response: Response;
  try {
    response = await fetch(path, {
      method,
      credentials: 'same-origin',
      ...(signal ? { signal } : {}),
      headers: {
        ...(type === undefined ? {} : { 'content-type': type }),
        ...(key === undefined ? {} : { 'idempotency-key': key }),
        ...(method === 'GET' || csrfToken === null ? {} : { 'x-csrf-token': csrfToken }),
      },
      ...(body === undefined ? {} : { body }),
    });
  } catch (error) {
    if (signal?.aborted) throw error;
    throw new ProblemError(offline);
  }
  if (!response.ok) throw new ProblemError(await problemFrom(response));
  return schema.parse(await response.json());
}

/** A key for one opening of a form: what is sent under it is written once, however often it is sent. */
export const formKey = (): string => crypto.randomUUID();

/**
 * Sends one request and checks the answer against its schema; `key` is that of the form it comes from. Throws
 * ProblemError with the mend in words.
 */
export const send = <T extends z.ZodType>(
  schema: T,
  method: 'GET' | 'POST' | 'PUT' | 'DELETE',
  path: string,
  { body, ...options }: { readonly body?: unknown; readonly signal?: AbortSignal; readonly key?: string } = {},
): Promise<z.output<T>> =>
  exchange(schema, method, path, {
    ...options,
    ...(body === undefined ? {} : { body: JSON.stringify(body), type: 'application/json' }),
  });

/** Sends a file as it is. Throws as `send` does. */
export const sendFile = <T extends z.ZodType>(
  schema: T,
  path: string,
  file: Blob,
  signal?: AbortSignal,
): Promise<z.output<T>> => exchange(schema, 'POST', path, { body: file, type: 'application/octet-stream', signal });

/** Sends a picture to be kept under the address. Throws as `send` does. */
export const sendPicture = <T extends z.ZodType>(schema: T, path: string, picture: Blob): Promise<z.output<T>> =>
  exchange(schema, 'PUT', path, { body: picture, type: picture.type || 'application/octet-stream' });

/** Query string from values; empty ones are left out. */
export function query(values: Record<string, string | number | null | undefined>): string {
  const params = new URLSearchParams();
  for (const [name, value] of Object.entries(values))
    if (value !== null && value !== undefined && value !== '') params.set(name, String(value));
  const text = params.toString();
  return text === '' ? '' : `?${text}`;
}
