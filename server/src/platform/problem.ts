import { ERRORS, type ErrorCode, type ProblemDetails, type Said } from '@crosspeen/contract';

export interface FieldProblem {
  readonly path: string;
  readonly message: string;
}

/** The message of a code; where fields are at fault, what is wrong with each, as much as anybody reads. */
const messageOf = (code: ErrorCode, fields: readonly FieldProblem[] | undefined): string =>
  fields !== undefined && (code === 'bad_input' || code === 'taken')
    ? fields
        .map(({ path, message }) => `${path || 'request'}: ${message}`)
        .join('; ')
        .slice(0, 600)
    : ERRORS[code].message;

/** An expected failure of the catalogue, thrown by services and turned into problem details at the edge. */
export class Problem extends Error {
  readonly code: ErrorCode;

  constructor(
    what: ErrorCode | Said,
    readonly extra: {
      readonly fields?: readonly FieldProblem[];
      readonly current?: unknown;
      readonly retryAfterSeconds?: number;
    } = {},
  ) {
    super(typeof what === 'string' ? messageOf(what, extra.fields) : what.detail);
    this.code = typeof what === 'string' ? what : what.code;
  }

  /** What happened and the case of it, as it travels between threads. */
  get said(): Said {
    return { code: this.code, detail: this.message };
  }

  get status(): number {
    return ERRORS[this.code].status;
  }

  toDetails(): ProblemDetails {
    const { fields, current } = this.extra;
    return {
      type: `/docs/errors#${this.code}`,
      title: ERRORS[this.code].message,
      status: this.status,
      code: this.code,
      detail: this.message,
      ...(fields ? { fields: [...fields] } : {}),
      ...(current !== undefined ? { current } : {}),
    };
  }
}

/** A bad field of a request, with the mend. */
export const badField = (path: string, message: string): Problem =>
  new Problem('bad_input', { fields: [{ path, message }] });
