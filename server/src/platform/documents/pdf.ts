import { createRequire } from 'node:module';
import pdfmake from 'pdfmake';
import type { Content, TDocumentDefinitions } from 'pdfmake/interfaces.js';

/** A document as what it says, whatever it is printed with. */
export interface PrintedDocument {
  title: string;
  /** Under the title, and at the foot of every page. */
  subtitle: string;
  blocks: Block[];
  /** Stands at the foot of every page. */
  foot: string;
}

export type Block =
  | { kind: 'heading'; text: string }
  | { kind: 'text'; text: string; strong?: boolean }
  /** Names with what they are, side by side. */
  | { kind: 'facts'; facts: [name: string, value: string][] }
  | { kind: 'table'; head: string[]; rows: string[][]; widths?: (number | 'auto' | '*')[] }
  | { kind: 'photos'; photos: { jpeg: Buffer; caption: string }[] };

const files = createRequire(import.meta.url);
const barlow = (weight: 400 | 600) => files.resolve(`@fontsource/barlow/files/barlow-latin-${weight}-normal.woff`);

let ready = false;
function prepare(): void {
  if (ready) return;
  pdfmake.setFonts({
    Barlow: { normal: barlow(400), bold: barlow(600), italics: barlow(400), bolditalics: barlow(600) },
  });
  // Nothing is fetched from anywhere; files are the two fonts alone.
  pdfmake.setUrlAccessPolicy(() => false);
  const allowed = new Set([barlow(400), barlow(600)]);
  pdfmake.setLocalAccessPolicy((path) => allowed.has(path));
  ready = true;
}

const INK = '#26282a';
const SOFT = '#55585c';
const LINE = '#c9c5bb';

/** Prints a document as PDF on A4. Letters outside Latin script are left blank by the font. */
export async function writePdf({ title, subtitle, blocks, foot }: PrintedDocument): Promise<Buffer> {
  prepare();
  const definition: TDocumentDefinitions = {
    info: { title: `${title}, ${subtitle}` },
    pageSize: 'A4',
    pageMargins: [40, 44, 40, 48],
    defaultStyle: { font: 'Barlow', fontSize: 9.5, color: INK, lineHeight: 1.15 },
    content: [
      { text: title, fontSize: 18, bold: true },
      { text: subtitle, color: SOFT, margin: [0, 0, 0, 8] },
      ...blocks.map(contentOf),
    ],
    footer: (page: number, pages: number) => ({
      margin: [40, 8, 40, 0],
      columns: [
        { text: foot, color: SOFT, fontSize: 7.5 },
        { text: `${title} · page ${page} of ${pages}`, color: SOFT, fontSize: 7.5, alignment: 'right', width: 150 },
      ],
    }),
  };
  return pdfmake.createPdf(definition).getBuffer();
}

function contentOf(block: Block): Content {
  switch (block.kind) {
    case 'heading':
      return { text: block.text, fontSize: 12, bold: true, margin: [0, 10, 0, 3] };
    case 'text':
      return { text: block.text, bold: block.strong ?? false, margin: [0, 0, 0, 3] };
    case 'facts':
      return {
        columnGap: 14,
        columns: chunks(block.facts, Math.ceil(block.facts.length / 2)).map((facts) => ({
          stack: facts.map(([name, value]) => ({
            columns: [
              { text: name, color: SOFT, width: 84 },
              { text: value, width: '*' },
            ],
          })),
        })),
      };
    case 'table':
      return {
        margin: [0, 2, 0, 4],
        table: {
          headerRows: 1,
          dontBreakRows: true,
          widths: block.widths ?? block.head.map(() => '*' as const),
          body: [
            block.head.map((text) => ({ text, bold: true, color: SOFT })),
            ...block.rows.map((row) => row.map((text) => ({ text }))),
          ],
        },
        layout: {
          hLineWidth: (line: number) => (line === 1 ? 1 : 0.5),
          vLineWidth: () => 0,
          hLineColor: () => LINE,
          paddingTop: () => 2,
          paddingBottom: () => 1.5,
        },
      };
    case 'photos':
      return {
        stack: chunks(block.photos, 2).map((pair) => ({
          unbreakable: true,
          columnGap: 12,
          margin: [0, 4, 0, 4] as [number, number, number, number],
          columns: pair.map(({ jpeg, caption }) => ({
            width: 250,
            stack: [
              { image: `data:image/jpeg;base64,${jpeg.toString('base64')}`, fit: [250, 190] as [number, number] },
              { text: caption, color: SOFT, fontSize: 8 },
            ],
          })),
        })),
      };
  }
}

function chunks<T>(items: readonly T[], size: number): T[][] {
  const found: T[][] = [];
  for (let i = 0; i < items.length; i += Math.max(1, size)) found.push(items.slice(i, i + Math.max(1, size)));
  return found;
}
