import { expect, it } from '@jest/globals';
import fc from 'fast-check';
import pg from 'pg';
import { createTestApp } from '../../testing/app.ts';
import { Driver, literalOf } from './driver.ts';

const texts = fc.string({ unit: fc.constantFrom('a', "'", '\\', '"', '?', '$1', '\n', 'é', '𝄞', '{', '\u2028', 'E') });

it('a text is written into a statement letter for letter as the database’s own client writes it', () => {
  fc.assert(
    fc.property(texts, (text) => {
      expect(literalOf(text)).toBe(pg.escapeLiteral(text));
    }),
  );
});

it('what is written into a statement comes back as it was, on its own and among others', async () => {
  const test = await createTestApp();
  try {
    const em = test.orm.em.fork();
    expect(em.getDriver()).toBeInstanceOf(Driver);
    for (const text of [...fc.sample(texts, 50), `${'x'.repeat(100_000)}'\\'?`]) {
      const [row] = await em.execute<{ own: string; held: { text: string } }[]>('select ?::text own, ?::jsonb held', [
        text,
        JSON.stringify({ text }),
      ]);
      expect(row).toEqual({ own: text, held: { text } });
    }
  } finally {
    await test.close();
  }
});
