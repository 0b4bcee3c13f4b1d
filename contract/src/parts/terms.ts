import { z } from 'zod';
import { IsoDate, SeenRevision } from '../common.ts';
import { Currency, Minor } from './fields.ts';

const Service = z
  .number('A share is needed.')
  .min(0.5, 'From 50 % on is accepted.')
  .max(0.999, 'Up to 99.9 % is accepted.');
const HoldingShare = z
  .number('A share is needed.')
  .min(0.01, 'From 1 % on is accepted.')
  .max(1, 'Up to 100 % is accepted.');

/** What the shop's orders rest on. */
export const PartsTerms = z.object({
  /** Share of order cycles that end without a shortage. */
  service: z.number(),
  /** What a year on the shelf costs, as a share of the price. */
  holdingShare: z.number(),
  /** What proposals of a calendar month may bind, with what was approved in it; null where nothing binds. */
  budget: z.object({ minor: z.int(), currency: z.string(), spentMinor: z.int() }).nullable(),
  revision: z.int(),
  by: z.string().nullable(),
  on: IsoDate.nullable(),
});
export type PartsTerms = z.infer<typeof PartsTerms>;

export const PartsTermsChange = z.object({
  revision: SeenRevision,
  service: Service,
  holdingShare: HoldingShare,
  budget: z.object({ minor: Minor, currency: Currency }).nullable(),
});
export type PartsTermsChange = z.input<typeof PartsTermsChange>;
