import { DriverException } from '@mikro-orm/core';
import { type DestinationStream, type Logger, pino } from 'pino';

/** What is written down of a failure. */
interface Failure {
  type: string;
  /** Left out where the database refused a statement: its words repeat the statement and its values. */
  message?: string;
  code?: string;
  constraint?: string;
  table?: string;
  stack?: string[];
  cause?: Failure;
}

/** By what the library makes of it, or by its code (SQLSTATE). */
function isOfDatabase(error: Error): boolean {
  const { code } = error as { code?: unknown };
  return error instanceof DriverException || (typeof code === 'string' && /^[0-9A-Z]{5}$/.test(code));
}

/** A message that holds no value: none of the database's own, and of its driver what stands behind the statement. */
function wordsOf(error: Error): string | undefined {
  if (!isOfDatabase(error)) return error.message;
  const { code } = error as { code?: unknown };
  return typeof code === 'string' ? undefined : error.message.split(' - ').at(-1)?.slice(-120);
}

/** A failure as it may stand in a log: where it happened and what kind it is, and no value that anybody entered. */
export function failureOf(error: unknown): Failure {
  if (!(error instanceof Error)) return { type: typeof error };
  const { code, constraint, table } = error as { code?: unknown; constraint?: unknown; table?: unknown };
  const text = (value: unknown) => (typeof value === 'string' ? value : undefined);
  const kept = {
    type: error.name === 'Error' ? error.constructor.name : error.name,
    message: wordsOf(error),
    code: text(code),
    constraint: text(constraint),
    table: text(table),
    stack: (error.stack ?? '').split('\n').filter((line) => /^\s+at /.test(line)),
    cause: error.cause === undefined || error.cause === error ? undefined : failureOf(error.cause),
  };
  return Object.fromEntries(Object.entries(kept).filter(([, value]) => value !== undefined)) as unknown as Failure;
}

/** Lines of JSON; failures as `failureOf` tells them. */
export function createLogger(level: string, stream?: DestinationStream): Logger {
  const options = { level, serializers: { err: failureOf } };
  return stream ? pino(options, stream) : pino(options);
}
