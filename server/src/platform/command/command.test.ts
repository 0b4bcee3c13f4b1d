import { afterAll, beforeAll, describe, expect, it, jest } from '@jest/globals';
import { randomUUID } from 'node:crypto';
import { eventKind } from '../events/bus.ts';
import { z } from 'zod';
import { DepotEntity } from '../../features/register/index.ts';
import { createTestApp, TODAY, type TestApp } from '../../testing/app.ts';
import { command, type Caller, type Command } from './command.ts';

let test: TestApp;
beforeAll(async () => {
  test = await createTestApp();
});
afterAll(async () => test.close());

const callerAs = (role: 'coordinator' | 'technician'): Caller => ({
  em: test.orm.em.fork(),
  actor: { id: test.idOf(role), name: `The ${role}`, role },
  today: TODAY,
  events: test.events,
});
interface NewDepot {
  id: string;
  name: string;
}
const work = jest.fn<(name: string) => void>();
const happened = eventKind('settings changed', z.object({}));

/** A command of the test's own: puts a depot on record, told and written down unless it is to fail. */
const addDepot = command({
  name: 'addDepot',
  action: 'register',
  clientId: 'id',
  run: async ({ em, audit, emit }, { id, name }: NewDepot) => {
    work(name);
    await em.insert(DepotEntity, { id, name, timeZone: 'UTC' });
    await emit(happened({}));
    if (name.startsWith('fails')) throw new Error('it failed half-way');
    if (!name.startsWith('silent')) await audit('put a depot on record', `depot/${id}`, { name });
    return { id, at: work.mock.calls.length };
  },
});
const depot = (name: string): NewDepot => ({ id: randomUUID(), name: `${name} ${randomUUID()}` });
const onRecord = (id: string) => test.orm.em.fork().count(DepotEntity, { id });
const rows = async (sql: string, values: unknown[]) =>
  (await test.orm.em.fork().execute<{ count: number }[]>(`select count(*)::int as count from ${sql}`, values))[0]
    ?.count;
const codeOf = (attempt: Promise<unknown>) =>
  attempt.then(
    () => 'done',
    (error: { code?: string; message: string }) => error.code ?? error.message,
  );

describe('a command', () => {
  it('answers the same id as it did the first time, and does its work once', async () => {
    const input = depot('twice');
    const first = await addDepot.run(callerAs('coordinator'), input);
    work.mockClear();
    expect(await addDepot.run(callerAs('coordinator'), { ...input })).toEqual(first);
    expect(work).not.toHaveBeenCalled();
    expect(await rows('audit where subject = ?', [`depot/${input.id}`])).toBe(1);
  });

  it('refuses the same id with other content, and for another command', async () => {
    const input = depot('other');
    await addDepot.run(callerAs('coordinator'), input);
    expect(await codeOf(addDepot.run(callerAs('coordinator'), { ...input, name: 'another name' }))).toBe('conflict');
    const another: Command<NewDepot, unknown> = command({
      name: 'anotherCommand',
      action: 'register',
      clientId: 'id',
      run: async ({ changedNothing }, _input: NewDepot) => changedNothing(),
    });
    expect(await codeOf(another.run(callerAs('coordinator'), input))).toBe('conflict');
  });

  it('sent twice at once works once, and both hear the same', async () => {
    const input = depot('at once');
    work.mockClear();
    const answers = await Promise.all(Array.from({ length: 5 }, () => addDepot.run(callerAs('coordinator'), input)));
    expect(work).toHaveBeenCalledTimes(1);
    for (const answer of answers) expect(answer).toEqual(answers[0]);
  });

  it('is not begun for a role the policy does not let', async () => {
    work.mockClear();
    expect(await codeOf(addDepot.run(callerAs('technician'), depot('forbidden')))).toBe('forbidden');
    expect(work).not.toHaveBeenCalled();
  });

  it('that fails leaves nothing: no row, no event, no reply; it may come again', async () => {
    const input = { ...depot('x'), name: `fails ${randomUUID()}` };
    const before = await rows('outbox where true', []);
    expect(await codeOf(addDepot.run(callerAs('coordinator'), input))).toBe('it failed half-way');
    expect(await onRecord(input.id)).toBe(0);
    expect(await rows('outbox where true', [])).toBe(before);
    const mended = { id: input.id, name: `mended ${randomUUID()}` };
    expect(await codeOf(addDepot.run(callerAs('coordinator'), mended))).toBe('done');
  });

  it('that ends without writing down what it did is a fault, and did nothing', async () => {
    const input = { ...depot('x'), name: `silent ${randomUUID()}` };
    expect(await codeOf(addDepot.run(callerAs('coordinator'), input))).toMatch(/without writing down/);
    expect(await onRecord(input.id)).toBe(0);
  });

  it('that edits refuses what was seen at an older revision, and takes what says none', async () => {
    const edit = command({
      name: 'edit',
      action: 'register',
      revisionOf: async (_em, { seen }: { seen: number | undefined }) => ({ seen, onRecord: 3 }),
      run: async ({ changedNothing }, _input: { seen: number | undefined }) => changedNothing(),
    });
    expect(await codeOf(edit.run(callerAs('coordinator'), { seen: 2 }))).toBe('changed_meanwhile');
    expect(await codeOf(edit.run(callerAs('coordinator'), { seen: 3 }))).toBe('done');
    expect(await codeOf(edit.run(callerAs('coordinator'), { seen: undefined }))).toBe('done');
  });
});
