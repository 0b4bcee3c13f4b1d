import { afterEach, beforeEach, describe, expect, it, jest } from '@jest/globals';
import { doneWithUndo, UNDO_WITHIN_MS, undoOne, useUndoables } from './undo.ts';

const standing = () => useUndoables.getState().list.map(({ done }) => done);
const idOf = (done: string) => useUndoables.getState().list.find((one) => one.done === done)?.id ?? '';

describe('what can be undone', () => {
  beforeEach(() => {
    jest.useFakeTimers({ now: new Date('2026-11-20T08:00:00Z') });
    useUndoables.setState({ list: [] });
  });
  afterEach(() => {
    jest.useRealTimers();
  });

  it('stands for a minute, each for its own', () => {
    const quiet = { said: true };
    doneWithUndo('first', async () => undefined, quiet);
    jest.setSystemTime(Date.now() + UNDO_WITHIN_MS / 2);
    doneWithUndo('second', async () => undefined, quiet);
    const { expire } = useUndoables.getState();
    expire(Date.now() + UNDO_WITHIN_MS / 2 - 1);
    expect(standing()).toEqual(['first', 'second']);
    expire(Date.now() + UNDO_WITHIN_MS / 2);
    expect(standing()).toEqual(['second']);
    expire(Date.now() + UNDO_WITHIN_MS);
    expect(standing()).toEqual([]);
  });

  it('is undone once, however often it is pressed, and no other with it', async () => {
    const undo = jest.fn(async () => undefined);
    const other = jest.fn(async () => undefined);
    doneWithUndo('moved', undo, { said: true });
    doneWithUndo('sold', other, { said: true });
    const id = idOf('moved');
    await Promise.all([undoOne(id), undoOne(id)]);
    await undoOne(id);
    expect([undo.mock.calls.length, other.mock.calls.length]).toEqual([1, 0]);
    expect(standing()).toEqual(['sold']);
  });

  it('that fails ends quietly for the program and is offered no more', async () => {
    doneWithUndo('moved', () => Promise.reject(new Error('It moved on since.')), { said: true });
    await expect(undoOne(idOf('moved'))).resolves.toBeUndefined();
    expect(standing()).toEqual([]);
  });
});
