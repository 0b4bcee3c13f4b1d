import { describe, expect, it } from '@jest/globals';
import { ApiError } from '../errors.ts';
import { refuseUnreadable } from './text.ts';

const fieldsOf = (...parts: unknown[]) => {
  try {
    refuseUnreadable(...parts);
    return [];
  } catch (error) {
    return error instanceof ApiError ? error.errors.map(({ field }) => field) : ['another fault'];
  }
};

describe('text that no person types', () => {
  it.each([
    ['NUL', 'a\u0000b'],
    ['a bell', 'a\u0007b'],
    ['delete', 'a\u007fb'],
    ['half of a character', 'a\ud83d'],
    ['the other half', '\ude00b'],
  ])('is refused at its field: %s', (_, text) => {
    expect(fieldsOf({ name: text })).toEqual(['name']);
    expect(fieldsOf({ id: 'x' }, undefined, { axles: [{ note: 'ok' }, { note: text }] })).toEqual(['axles.1.note']);
    expect(fieldsOf(text)).toEqual(['body']);
    expect(fieldsOf({ cells: { [text]: 'x' } })).toEqual(['cells']);
  });

  it.each(['Łódź, 東京, Ærø', 'one\ttwo\r\nthree', 'smile 😀', '11/32 in ± 0,5 “x”', '', 'e\u0301 \u200b'])(
    'is not what anybody may type: %j',
    (text) => expect(fieldsOf({ name: text, list: [text] })).toEqual([]),
  );

  it('of a whole file is judged where its cells are read, but for what nothing keeps', () => {
    expect(fieldsOf({ text: 'a\u000cb' })).toEqual([]);
    expect(fieldsOf({ text: 'a\u0000b' })).toEqual(['text']);
  });

  it('and values deeper than any route asks for are refused before they are parsed', () => {
    let deep: unknown = 'x';
    for (let i = 0; i < 5000; i += 1) deep = [deep];
    expect(fieldsOf({ a: deep })).toEqual(['a']);
  });
});
