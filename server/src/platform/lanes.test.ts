import { describe, expect, it } from '@jest/globals';
import { lanes } from './lanes.ts';

const soon = () => new Promise((resolve) => setImmediate(resolve));

/** Work that ends when it is let. */
function slow(inLane: ReturnType<typeof lanes>) {
  const begun: string[] = [];
  const ends = new Map<string, { well: () => void; badly: () => void }>();
  const done = (name: string) =>
    inLane(async () => {
      begun.push(name);
      await new Promise<void>((resolve, reject) => {
        ends.set(name, { well: resolve, badly: () => reject(new Error(name)) });
      });
      return name;
    });
  return { begun, done, ends };
}

describe('lanes', () => {
  it('let so much be under way, and the rest in the order it came; what fails gives its place up too', async () => {
    const { begun, done, ends } = slow(lanes(2));
    const all = ['a', 'b', 'c', 'd', 'e'].map((name) => done(name).catch((error: Error) => `failed: ${error.message}`));
    await soon();
    expect(begun).toEqual(['a', 'b']);
    ends.get('b')?.badly();
    await soon();
    expect(begun).toEqual(['a', 'b', 'c']);
    ends.get('a')?.well();
    ends.get('c')?.well();
    await soon();
    expect(begun).toEqual(['a', 'b', 'c', 'd', 'e']);
    ends.get('d')?.well();
    ends.get('e')?.well();
    expect(await Promise.all(all)).toEqual(['a', 'failed: b', 'c', 'd', 'e']);
  });

  it('are at least one', async () => {
    expect(await lanes(0)(() => Promise.resolve('done'))).toBe('done');
  });
});
