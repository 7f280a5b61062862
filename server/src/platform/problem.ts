import { ERRORS, type ErrorCode, type ProblemDetails } from '@crosspeen/contract';

export interface FieldProblem {
  readonly path: string;
  readonly message: string;
}

/** An expected failure of the catalogue, thrown by services and turned into problem details at the edge. */
export class Problem extends Error {
  constructor(
    readonly code: ErrorCode,
    readonly extra: {
      readonly detail?: string;
      readonly fields?: readonly FieldProblem[];
      readonly current?: unknown;
      readonly retryAfterSeconds?: number;
    } = {},
  ) {
    super(extra.detail ?? ERRORS[code].message);
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
  new Problem('bad_input', { detail: `${path}: ${message}`, fields: [{ path, message }] });
