import { readFileSync } from 'node:fs';
import path from 'node:path';
import { fileURLToPath } from 'node:url';
import { describe, expect, it } from '@jest/globals';

/** What a file imports when it runs: types alone are gone by then. */
function importsOf(file: string): string[] {
  const text = readFileSync(file, 'utf8').replace(/^\s*(?:\/\/|\*|\/\*).*$/gm, '');
  const found = text.matchAll(/^(?:import|export)\s+(?!type\b)(?:[^'";]*?\sfrom\s+)?'([^']+)'/gm);
  return [...found].map(([, from = '']) => from);
}

/** Packages that loading a file loads, by way of our own files. */
function packagesOf(start: string): Set<string> {
  const [packages, seen, waiting] = [new Set<string>(), new Set<string>(), [start]];
  for (let file = waiting.pop(); file !== undefined; file = waiting.pop()) {
    if (seen.has(file)) continue;
    seen.add(file);
    for (const from of importsOf(file))
      if (from.startsWith('.')) waiting.push(path.resolve(path.dirname(file), from));
      else
        packages.add(
          from
            .split('/')
            .slice(0, from.startsWith('@') ? 2 : 1)
            .join('/'),
        );
  }
  return packages;
}

const here = path.dirname(fileURLToPath(import.meta.url));
/** What only answers, stores and prints; a thread with it takes three times the memory and a second to begin. */
const HEAVY = ['@mikro-orm/core', '@mikro-orm/postgresql', 'express', 'pg-boss', 'pdfmake', 'sharp', '@node-rs/argon2'];

describe('a thread that computes', () => {
  it('loads what it computes with, and nothing that answers, stores or prints', () => {
    const packages = packagesOf(path.join(here, 'computeWorker.ts'));
    expect([...packages]).toContain('@mile-mark/core');
    expect(HEAVY.filter((name) => packages.has(name))).toEqual([]);
    // The same walk finds them where they are.
    expect(HEAVY.filter((name) => !packagesOf(path.join(here, 'main.ts')).has(name))).toEqual([]);
  });
});
