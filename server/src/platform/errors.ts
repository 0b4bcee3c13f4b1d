/** A field that is wrong and, in words, what it would accept. */
export interface FieldError {
  field: string;
  message: string;
}

/** Every refusal the services can answer with; one handler turns them into RFC 9457 problem details. */
export const ERRORS = {
  invalid: { status: 422, title: 'Something typed can’t be taken as it is' },
  malformed: { status: 400, title: 'The request can’t be read' },
  unauthenticated: { status: 401, title: 'Sign in first' },
  wrong_credentials: { status: 401, title: 'E-mail address and password don’t go together' },
  forbidden: { status: 403, title: 'Your role may not do this' },
  cross_site: { status: 403, title: 'Refused: the request came from another site' },
  not_found: { status: 404, title: 'There is no such thing on record' },
  conflict: { status: 409, title: 'This collides with what is already on record' },
  incomplete: { status: 409, title: 'Something is missing before this can be done' },
  changed_meanwhile: { status: 409, title: 'It changed after it was last seen here' },
  too_large: { status: 413, title: 'This is too large' },
  wrong_content_type: { status: 415, title: 'Only JSON is accepted' },
  unavailable: { status: 503, title: 'The database does not answer; nothing was saved. Try again in a moment' },
  busy: { status: 503, title: 'Too many ask at once; try again in a moment' },
  full: { status: 507, title: 'The disk of the database is full; nothing was saved. Tell whoever runs the server' },
  too_many: { status: 429, title: 'Too many attempts; wait a few minutes' },
} as const;

export type ApiErrorCode = keyof typeof ERRORS;

/** An expected failure of a service. */
export class ApiError extends Error {
  readonly code: ApiErrorCode;
  readonly errors: FieldError[];
  /** What is missing before it can be done, and where. */
  readonly missing: { step: string | null; text: string }[];
  constructor(
    code: ApiErrorCode,
    detail?: string,
    errors: FieldError[] = [],
    missing: { step: string | null; text: string }[] = [],
  ) {
    super(detail ?? errors[0]?.message ?? ERRORS[code].title);
    this.code = code;
    this.errors = errors;
    this.missing = missing;
  }
}

/** Comes too soon after others like it. */
export class TooSoon extends ApiError {
  /** So long is left, s. */
  readonly seconds: number;
  constructor(detail: string, seconds: number) {
    super('too_many', detail);
    this.seconds = seconds;
  }
}

/** Refuses for one field. */
export function invalidField(field: string, message: string): ApiError {
  return new ApiError('invalid', message, [{ field, message }]);
}
