import { describe, expect, it } from '@jest/globals';
import { seededRandom } from '@mile-mark/core';
import { readdirSync, readFileSync } from 'node:fs';
import path from 'node:path';
import { figure, minorOf } from './typed.ts';

describe('a figure that was typed', () => {
  it.each([
    ['8.5', 8.5],
    [' 8,5 ', 8.5],
    ['−0,56', -0.56],
    ['1,234.5', 1234.5],
    ['1.234,5', 1234.5],
    ['65 000', 65_000],
    ['12', 12],
  ])('is read as people write it: %s', (typed, value) => expect(figure(typed)).toBe(value));

  // What stands on record is written into a field as JavaScript writes it, and must come back as it was.
  it('comes back as it stood on record, untouched', () => {
    const random = seededRandom(7);
    for (let k = 0; k < 2000; k += 1) {
      const value = Number((10 ** (8 * random() - 2)).toPrecision(1 + Math.floor(6 * random())));
      for (const thousands of [false, true]) expect(figure(String(value), thousands)).toBe(value);
    }
    // Of a rotor 1 1/8 in thick.
    expect(figure('28.575')).toBe(28.575);
  });

  it('is none where it is blank, no figure, or could be two', () => {
    for (const typed of ['', '  ', 'two', '8.5 mm', '1.2.3', '1,200', '28,575']) expect(figure(typed)).toBeNaN();
  });

  it('runs to thousands where its quantity does: nobody means a kilogram by 1,200', () => {
    expect(figure('1,200', true)).toBe(1200);
    expect(figure('1,20', true)).toBe(1.2);
    expect(figure('0,200', true)).toBe(0.2);
    expect(figure('1.200', true)).toBe(1.2);
  });
});

describe('money that was typed', () => {
  it.each([
    ['1,200', 120_000],
    ['1,200.50', 120_050],
    ['12,5', 1250],
    ['0.29', 29],
    ['-3', -300],
  ])('is in hundredths: %s', (typed, minor) => expect(minorOf(typed)).toBe(minor));
  it('is none where it is no amount', () => expect(minorOf('dear')).toBeNaN());
});

// A comma made a point by hand reads `1,200` as one and a fifth.
it('no screen reads figures in a way of its own', () => {
  const src = path.join(import.meta.dirname, '..');
  const files = readdirSync(src, { recursive: true, encoding: 'utf8' }).filter((name) =>
    /(?<!\.test)\.tsx?$/.test(name),
  );
  expect(files.length).toBeGreaterThan(200);
  const own = files.filter((name) =>
    /replace(All)?\((','|\/,\/g?), ?'\.'\)/.test(readFileSync(path.join(src, name), 'utf8')),
  );
  expect(own).toEqual([]);
});
