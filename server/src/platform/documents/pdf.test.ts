import { describe, expect, it } from '@jest/globals';
import { readPdf } from '../../testing/pdf.ts';
import { type PrintedDocument, writePdf } from './pdf.ts';

const withRows = (rows: number, rest: Partial<PrintedDocument> = {}): PrintedDocument => ({
  title: 'A list',
  subtitle: 'of rows',
  foot: 'Nothing else.',
  blocks: [
    { kind: 'heading', text: 'Rows' },
    { kind: 'table', head: ['Number', 'Name'], rows: Array.from({ length: rows }, (_, i) => [String(i), `row ${i}`]) },
  ],
  ...rest,
});
const pagesOf = async (document: PrintedDocument) => {
  const { pages } = await readPdf(await writePdf(document));
  return pages.map((page) => page.replace(/\s+/g, ' '));
};

describe('a printed document', () => {
  it('goes on to a second page, and says on each which of how many it is', async () => {
    const pages = await pagesOf(withRows(48));
    expect(pages).toHaveLength(2);
    expect(pages[1]).toContain('page 2 of 2');
  });

  it('is set closer where it is to hang on a wall, and loses no row by it', async () => {
    const pages = await pagesOf(withRows(48, { onOnePage: true }));
    expect(pages).toHaveLength(1);
    for (let i = 0; i < 48; i += 1) expect(pages[0]).toContain(`row ${i}`);
  });

  it('is set as usual where even the closest takes two pages', async () => {
    const pages = await pagesOf(withRows(200, { onOnePage: true }));
    expect(pages).toEqual(await pagesOf(withRows(200)));
    expect(pages.join(' ')).toContain('row 199');
  });

  it.each(Array.from({ length: 12 }, (_, i) => 34 + i))(
    'never leaves a heading alone at the foot: after %i rows',
    async (rows) => {
      const { blocks } = withRows(rows);
      const next: PrintedDocument['blocks'] = [
        { kind: 'heading', text: 'What comes next' },
        { kind: 'table', head: ['Of it'], rows: [['all of it']] },
      ];
      const pages = await pagesOf(withRows(rows, { blocks: [...blocks, ...next] }));
      const headed = pages.filter((page) => page.includes('What comes next'));
      expect(headed).toHaveLength(1);
      expect(headed[0]).toContain('all of it');
    },
  );
});
