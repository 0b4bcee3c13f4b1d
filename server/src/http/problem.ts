import type { ErrorRequestHandler, Response } from 'express';
import type { Logger } from 'pino';
import { ZodError } from 'zod';
import type { Problem } from '@mile-mark/contract';
import { CATALOGUE, Refusal, type RefusalCode } from '../errors.ts';

/** Answers with a problem detail. */
export function sendProblem(response: Response, code: RefusalCode, detail?: string, errors?: Problem['errors']): void {
  const { status, title } = CATALOGUE[code];
  const body: Problem = { type: `urn:mile-mark:problem:${code}`, title, status };
  if (detail && detail !== title) body.detail = detail;
  if (errors && errors.length > 0) body.errors = errors;
  response.status(status).type('application/problem+json').send(JSON.stringify(body));
}

/** Constraints of the database in words, for what the code let through (two people at once, most often). */
const CONSTRAINTS: Record<string, { field: string; message: string }> = {
  reading_identity: {
    field: 'readings',
    message: 'This reading is already in: same technician, vehicle, place, day, odometer and value.',
  },
  odometer_rises: {
    field: 'odometer',
    message: 'The odometer would fall against another entry on record; a figure between its neighbours is accepted.',
  },
  duty_period_vehicle_id_daterange_excl: {
    field: 'from',
    message: 'The vehicle has another duty from this day on record; a later day is accepted.',
  },
  vehicle_unit_key: { field: 'unit', message: 'This unit number is taken; another is accepted.' },
  person_email: { field: 'email', message: 'This e-mail address has an account already.' },
  person_name: { field: 'name', message: 'A person of this name is on record already.' },
  gauge_name: { field: 'name', message: 'A gauge of this name is on record already.' },
  service_vehicle_id_axle_fitted_on_fitted_key: { field: 'date', message: 'This service is already in.' },
  gauge_study_name: { field: 'name', message: 'A study of this name is on record already.' },
  question_answer_reading: { field: 'id', message: 'Somebody settled this question meanwhile.' },
  question_answer_inspection: { field: 'id', message: 'Somebody settled this question meanwhile.' },
  inspection_supersedes_id_key: { field: 'id', message: 'Somebody corrected this odometer meanwhile.' },
  reading_supersedes_id_key: {
    field: 'id',
    message: 'Somebody corrected this reading meanwhile; look at the newer one.',
  },
};

/** What Express and its parsers say of a request that they refuse. */
interface RequestFault {
  type?: string;
  status?: number;
}

interface DatabaseFault {
  code?: string;
  constraint?: string;
}

/** The one handler that turns failures into problem details. Unexpected ones are logged and tell nothing. */
export function problemHandler(logger: Logger): ErrorRequestHandler {
  return (error: unknown, _request, response, next) => {
    if (response.headersSent) {
      next(error);
      return;
    }
    if (error instanceof Refusal) {
      sendProblem(response, error.code, error.message, error.errors);
      return;
    }
    if (error instanceof ZodError) {
      const errors = error.issues.map(({ path, message }) => ({ field: path.join('.') || 'body', message }));
      sendProblem(response, 'invalid', errors[0] && `${errors[0].field}: ${errors[0].message}`, errors);
      return;
    }
    const fault = error as DatabaseFault & RequestFault;
    if (fault.type === 'entity.too.large') {
      const { field, megabytes } = response.locals.accepted as { field: string; megabytes: number };
      const message = `Up to ${megabytes} MB is accepted.`;
      sendProblem(response, 'too_large', message, [{ field, message }]);
      return;
    }
    if (fault.type === 'entity.parse.failed') {
      sendProblem(response, 'malformed', 'The body is not JSON.');
      return;
    }
    if (fault.status === 404) {
      sendProblem(response, 'not_found', 'There is no such file; load the page again.');
      return;
    }
    if (fault.status !== undefined && fault.status >= 400 && fault.status < 500) {
      sendProblem(response, 'malformed', 'The address or the way it is encoded can’t be read; UTF-8 is accepted.');
      return;
    }
    if (fault.code && /^23/.test(fault.code)) {
      const known = CONSTRAINTS[fault.constraint ?? ''];
      const conflict = fault.code === '23505' || fault.code === '23P01';
      logger.info({ constraint: fault.constraint, code: fault.code }, 'refused by the database');
      sendProblem(response, conflict ? 'conflict' : 'invalid', known?.message, known ? [known] : undefined);
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
