import type { ErrorRequestHandler, Response } from 'express';
import type { Logger } from 'pino';
import { ZodError } from 'zod';
import type { Problem } from '@mile-mark/contract';
import { isCrossed, isDatabaseGone, isOutOfSpace } from '../db/faults.ts';
import { ERRORS, ApiError, type ApiErrorCode, TooSoon } from '../errors.ts';

/** Answers with a problem detail. */
export function sendProblem(
  response: Response,
  code: ApiErrorCode,
  detail?: string,
  errors?: Problem['errors'],
  missing?: Problem['missing'],
): void {
  const { status, title } = ERRORS[code];
  const body: Problem = { type: `urn:mile-mark:problem:${code}`, title, status };
  if (detail && detail !== title) body.detail = detail;
  if (errors && errors.length > 0) body.errors = errors;
  if (missing && missing.length > 0) body.missing = missing;
  response.status(status).type('application/problem+json').send(JSON.stringify(body));
}

/** What a constraint of the database says in words, by its name, at the field it is about. */
export type ConstraintWords = Record<string, { field: string; message: string }>;

/** What Express and its parsers say of a request that they refuse. */
interface RequestFault {
  status?: number;
}

interface DatabaseFault {
  code?: string;
  constraint?: string;
}

/** The one handler that turns failures into problem details. Unexpected ones are logged and tell nothing. */
export function problemHandler(logger: Logger, constraints: ConstraintWords): ErrorRequestHandler {
  return (error: unknown, _request, response, next) => {
    if (response.headersSent) {
      next(error);
      return;
    }
    if (error instanceof TooSoon) response.setHeader('Retry-After', String(error.seconds));
    if (error instanceof ApiError) {
      sendProblem(response, error.code, error.message, error.errors, error.missing);
      return;
    }
    if (error instanceof ZodError) {
      const errors = error.issues.map(({ path, message }) => ({ field: path.join('.') || 'body', message }));
      sendProblem(response, 'invalid', errors[0] && `${errors[0].field}: ${errors[0].message}`, errors);
      return;
    }
    const fault = error as DatabaseFault & RequestFault;
    if (fault.status === 404) {
      sendProblem(response, 'not_found', 'There is no such file; load the page again.');
      return;
    }
    if (fault.status !== undefined && fault.status >= 400 && fault.status < 500) {
      sendProblem(response, 'malformed', 'The address or the way it is encoded can’t be read; UTF-8 is accepted.');
      return;
    }
    if (fault.code && /^23/.test(fault.code)) {
      const known = constraints[fault.constraint ?? ''];
      const conflict = fault.code === '23505' || fault.code === '23P01';
      logger.info({ constraint: fault.constraint, code: fault.code }, 'refused by the database');
      sendProblem(response, conflict ? 'conflict' : 'invalid', known?.message, known ? [known] : undefined);
      return;
    }
    if (fault.code && /^22/.test(fault.code)) {
      logger.info({ code: fault.code }, 'refused by the database');
      const message = 'A figure, a day or a text in it lies outside what can be kept.';
      sendProblem(response, 'invalid', message, [{ field: 'body', message }]);
      return;
    }
    if (isDatabaseGone(error)) {
      logger.warn({ err: error }, 'the database does not answer');
      response.setHeader('Retry-After', '2');
      sendProblem(response, 'unavailable');
      return;
    }
    if (isCrossed(error)) {
      logger.warn({ err: error }, 'given up for another, several times over');
      response.setHeader('Retry-After', '1');
      sendProblem(response, 'busy');
      return;
    }
    if (isOutOfSpace(error)) {
      logger.error({ err: error }, 'the disk of the database is full');
      sendProblem(response, 'full');
      return;
    }
    logger.error({ err: error }, 'unexpected failure');
    response
      .status(500)
      .type('application/problem+json')
      .send(
        JSON.stringify({
          type: 'urn:mile-mark:problem:fault',
          title: 'Something went wrong here; nothing was saved',
          status: 500,
        }),
      );
  };
}
