import { describe, expect, it } from '@jest/globals';
import type { CardStep } from '@mile-mark/contract/jobs';
import { type NewEntry, withPending } from './card.ts';

const ME = { id: 'me', name: 'Maren Ashdown' };
const AT = '2026-11-20T08:00:00.000Z';
const SIGNED = { by: 'Olin Reyes', byId: 'other', at: '2026-11-19T08:00:00.000Z', text: 'ok', entryId: 'e0' };
const step = (id: string, done: CardStep['done'] = null) => ({ id, done }) as CardStep;
const STEPS = [step('wheels off'), step('check pins', SIGNED), step('torque')];

const CLOSED = { refused: { kind: 'refused' as const, message: 'The job is closed.' } };
let count = 0;
/** Something written on this device that waits to be sent. */
function waiting(entry: NewEntry, more: { refused?: { kind: 'refused' | 'conflict'; message: string } } = {}) {
  count += 1;
  const id = `e${count}`;
  const body = { ...entry, id, doneAt: AT };
  return { kind: 'job entry' as const, id, personId: ME.id, unit: 'P18', keptAt: AT, jobId: 'j', body, ...more };
}
const laid = (...entries: ReturnType<typeof waiting>[]) =>
  Object.fromEntries(withPending(STEPS, entries, ME).map(({ id, done }) => [id, done]));

describe('what waits to be sent, laid over the steps of a card', () => {
  it('signs its step for whoever wrote it, and leaves the others as the server told them', () => {
    const entry = waiting({ kind: 'do', step: 'wheels off' });
    expect(laid(entry)).toEqual({
      'wheels off': { by: ME.name, byId: ME.id, at: AT, text: 'done', entryId: entry.id },
      'check pins': SIGNED,
      torque: null,
    });
    // What the server told is not written over.
    expect(STEPS[0]?.done).toBeNull();
  });

  it('counts as the last that was written of a step', () => {
    const first = waiting({ kind: 'check', step: 'check pins', state: 'free' });
    const second = waiting({ kind: 'check', step: 'check pins', state: 'stuck' });
    expect(laid(first, second)['check pins']).toMatchObject({ text: 'stuck', entryId: second.id });
    const taken = waiting({ kind: 'undo', step: 'check pins', reason: 'the wrong wheel' });
    expect(laid(second, taken)['check pins']).toBeNull();
    expect(laid(taken, second)['check pins']).toMatchObject({ text: 'stuck' });
  });

  it('counts for nothing where the server refused it', () => {
    const refused = waiting({ kind: 'do', step: 'wheels off' }, CLOSED);
    expect(laid(refused)['wheels off']).toBeNull();
    const undone = waiting({ kind: 'undo', step: 'check pins', reason: 'by mistake' }, CLOSED);
    expect(laid(undone)['check pins']).toEqual(SIGNED);
  });

  it('signs nothing by a note, a part that is needed, a pause, nor for a step the card does not have', () => {
    const entries: NewEntry[] = [
      { kind: 'note', text: 'rust under the boot', step: 'wheels off' },
      { kind: 'note', text: 'of the whole job' },
      { kind: 'part', what: 'a boot', quantity: 1 },
      { kind: 'pause' },
      { kind: 'do', step: 'no such step' },
    ];
    const got = laid(...entries.map((entry) => waiting(entry)));
    expect(got).toEqual({ 'wheels off': null, 'check pins': SIGNED, torque: null });
  });

  it.each<[NewEntry, string]>([
    [{ kind: 'check', step: 'torque', state: 'free' }, 'free'],
    [{ kind: 'level', step: 'torque', level: 0.5 }, '50 % of the way from MIN to MAX'],
    [{ kind: 'pads left', step: 'torque', innerMm: 11, outerMm: 10.96 }, 'inner 11.0 mm, outer 11.0 mm'],
    [{ kind: 'rotor left', step: 'torque', mm: 27.456 }, '27.46 mm'],
    [
      { kind: 'torque', step: 'torque', value: 109, unit: 'lbf·ft', toolId: 't', revision: 1, position: '' },
      '109 lbf·ft',
    ],
    [{ kind: 'count', step: 'torque', stops: 20 }, '20 stops'],
    [{ kind: 'second', step: 'torque' }, 'done'],
  ])('is told in words: %j', (entry, text) => {
    expect(laid(waiting(entry)).torque).toMatchObject({ text });
  });
});
