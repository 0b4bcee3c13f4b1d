import { describe, expect, it } from '@jest/globals';
import { readFileSync } from 'node:fs';
import { GLOSSARY, glossaryMarkdown } from './glossary.ts';

describe('the glossary', () => {
  it('is in the docs as the interface tells it (else: npm run glossary)', () =>
    expect(readFileSync(new URL('../../../docs/glossary.md', import.meta.url), 'utf8')).toBe(glossaryMarkdown()));

  it('explains each term once, in whole sentences, and not by itself', () => {
    const terms = Object.values(GLOSSARY).map(({ term }) => term.toLowerCase());
    expect(new Set(terms).size).toBe(terms.length);
    for (const { term, told } of Object.values(GLOSSARY)) {
      expect(told).toMatch(/^[A-Z].*\.$/s);
      expect(told.length).toBeLessThan(260);
      expect(told.toLowerCase().startsWith(term.toLowerCase())).toBe(false);
    }
  });
});
