import { z } from 'zod';

/** Codes of Node and states of PostgreSQL that say that the database can't be reached, or ends what it was doing. */
const GONE = /^(ECONN\w+|EPIPE|ETIMEDOUT|ENOTFOUND|EHOSTUNREACH|080\d{2}|57P0[1-4]|53300)$/;
/** What the driver, its pool and a transaction whose connection was cut under it say without a code. */
const SAID =
  /connection terminated|connection ended|not queryable|write after end|timeout exceeded when trying to connect|timeout acquiring a connection|transaction query already complete/i;

const Fault = z.looseObject({
  code: z.string().optional(),
  message: z.string().optional(),
  cause: z.unknown().optional(),
});

/** Whether an error says that the database is away, whatever was asked of it. */
export function isDatabaseGone(error: unknown): boolean {
  const fault = Fault.safeParse(error).data;
  if (!fault) return false;
  if (GONE.test(fault.code ?? '') || SAID.test(fault.message ?? '')) return true;
  return fault.cause !== undefined && fault.cause !== error && isDatabaseGone(fault.cause);
}

/** Whether the database would not take a value for what it is: out of range, or against a rule of its table. */
export const isBadValue = (error: unknown): boolean => /^2[23]\d{3}$/.test(Fault.safeParse(error).data?.code ?? '');

/** Whether a transaction was given up because it and another waited for each other: nothing of it was written. */
export const isCrossed = (error: unknown): boolean => /^40(P01|001)$/.test(Fault.safeParse(error).data?.code ?? '');

/** PostgreSQL's states for a disk that is full, or memory that is used up. */
export const isOutOfSpace = (error: unknown): boolean => /^53[12]00$/.test(Fault.safeParse(error).data?.code ?? '');
