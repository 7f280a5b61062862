import {
  type Address,
  addressOf,
  type AnswerOf,
  type BodyOf,
  type Endpoint,
  problemDetails,
  type ProblemDetails,
  UNEXPECTED,
  type ValueEndpoint,
} from '@crosspeen/contract';

/**
 * A failure of a call; `details.fields` names the fields at fault, `details.current` the row as it is now. `isOurs`
 * tells that the server itself explained it. Else nobody answered, or something on the way did: a proxy, the page of an
 * access point.
 */
export class ProblemError extends Error {
  constructor(
    readonly details: ProblemDetails,
    readonly isOurs = true,
  ) {
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

async function problemFrom(response: Response): Promise<ProblemError> {
  const parsed = problemDetails.safeParse(await response.json().catch(() => null));
  return parsed.success
    ? new ProblemError(parsed.data)
    : new ProblemError({ ...offline, status: response.status, title: UNEXPECTED, detail: UNEXPECTED }, false);
}

interface Sent {
  readonly method: Endpoint['method'];
  readonly address: string;
  readonly body?: BodyInit;
  readonly type?: string;
  readonly signal?: AbortSignal | undefined;
  readonly key?: string | undefined;
}

async function exchange({ method, address, body, type, signal, key }: Sent): Promise<Response> {
  try {
    return await fetch(address, {
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
    throw new ProblemError(offline, false);
  }
}

/** A key for one opening of a form: what is sent under it is written once, however often it is sent. */
export const formKey = (): string => crypto.randomUUID();

/** The address, the body (a file as a Blob) and the key of the form that a call is made from. */
type Asked<E extends Endpoint> = Address<E> &
  (undefined extends BodyOf<E, Blob> ? { readonly body?: undefined } : { readonly body: BodyOf<E, Blob> }) & {
    readonly signal?: AbortSignal | undefined;
    readonly key?: string | undefined;
  };

/** A body as it goes over the wire: a file as it is, everything else as JSON. */
function bodyOf(body: unknown): Pick<Sent, 'body' | 'type'> {
  if (body === undefined) return {};
  return body instanceof Blob
    ? { body, type: body.type || 'application/octet-stream' }
    : { body: JSON.stringify(body), type: 'application/json' };
}

/**
 * Calls an endpoint of the table and checks the answer against its schema. Throws ProblemError with the mend in words.
 * Example: `call(endpoints.vehicles.get, { params: { id } })`.
 */
export async function call<E extends ValueEndpoint>(
  endpoint: E,
  ...[asked]: object extends Asked<E> ? [asked?: Asked<E>] : [asked: Asked<E>]
): Promise<AnswerOf<E>> {
  const { body, signal, key, ...address } = (asked ?? {}) as Asked<Endpoint>;
  const response = await exchange({
    method: endpoint.method,
    address: addressOf(endpoint as Endpoint, address),
    ...bodyOf(body),
    signal,
    key,
  });
  if (!response.ok) throw await problemFrom(response);
  return endpoint.answer.parse(await response.json()) as AnswerOf<E>;
}
