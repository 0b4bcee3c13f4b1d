import { describe, expect, it } from '@jest/globals';
import { isCrossed, isDatabaseGone, isOutOfSpace } from './faults.ts';

const fault = (code: string | undefined, message = '', cause?: unknown) =>
  Object.assign(new Error(message), code === undefined ? {} : { code }, cause === undefined ? {} : { cause });

/** States by PostgreSQL's manual, appendix A (error codes), and Node's system errors; both from memory. */
describe('a database that is away', () => {
  it.each([
    ['refuses connections', fault('ECONNREFUSED')],
    ['resets them', fault('ECONNRESET')],
    ['is shut down by its administrator (57P01 admin_shutdown)', fault('57P01')],
    ['crashed (57P02 crash_shutdown)', fault('57P02')],
    ['starts up (57P03 cannot_connect_now)', fault('57P03')],
    ['breaks off (08006 connection_failure)', fault('08006')],
    ['takes no more connections (53300)', fault('53300')],
    ['ended what the driver held', fault(undefined, 'Connection terminated unexpectedly')],
    ['broke a client', fault(undefined, 'Client has encountered a connection error and is not queryable')],
    [
      'cut a transaction’s connection',
      fault(undefined, 'begin - Transaction query already complete, run with DEBUG=knex:tx'),
    ],
    ['gives the pool nothing', fault(undefined, 'Knex: Timeout acquiring a connection. The pool is probably full.')],
    ['is said so by another error’s cause', fault(undefined, 'could not read', fault('ECONNREFUSED'))],
  ])('that %s is told from a fault', (_what, error) => expect(isDatabaseGone(error)).toBe(true));

  it.each([
    ['a broken rule (23505)', fault('23505', 'duplicate key')],
    ['a fault of a statement (42601)', fault('42601')],
    ['a cancelled statement (57014)', fault('57014')],
    ['a message that breaks the protocol (08P01)', fault('08P01')],
    ['any other error', new TypeError('x is not a function')],
    ['nothing', undefined],
  ])('is not %s', (_what, error) => expect(isDatabaseGone(error)).toBe(false));

  it('that gave a transaction up for another (40P01, 40001) says so', () => {
    expect(['40P01', '40001', '40003', '23505'].map((code) => isCrossed(fault(code)))).toEqual([
      true,
      true,
      false,
      false,
    ]);
  });

  it('whose disk is full (53100) says so', () => {
    expect([isOutOfSpace(fault('53100')), isOutOfSpace(fault('53300')), isOutOfSpace(fault('23505'))]).toEqual([
      true,
      false,
      false,
    ]);
  });
});
