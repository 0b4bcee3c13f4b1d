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
  /** Set in smaller type, down to 7.5 pt, where that spares the second page; for what hangs on a wall. */
  onOnePage?: true;
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

/** A heading nearer the foot than this goes to the next page: it, a table's head and two lines, in points. */
const BELOW_HEADING = 64;
const INK = '#26282a';
const SOFT = '#55585c';
const LINE = '#c9c5bb';

/** How a page is set, in points: type, what stands above a heading, above and below a row, and the page's margins. */
interface Setting {
  type: number;
  heading: number;
  row: number;
  edge: number;
}
const USUAL: Setting = { type: 9.5, heading: 10, row: 2, edge: 44 };
const CLOSER: readonly Setting[] = [
  { type: 8.5, heading: 6, row: 1, edge: 36 },
  { type: 7.5, heading: 4, row: 0.5, edge: 30 },
];

/** Prints a document as PDF on A4. Letters outside Latin script are left blank by the font. */
export async function writePdf(document: PrintedDocument): Promise<Buffer> {
  const usual = await printed(document, USUAL);
  if (!document.onOnePage || usual.pages === 1) return usual.pdf;
  for (const setting of CLOSER) {
    const closer = await printed(document, setting);
    if (closer.pages === 1) return closer.pdf;
  }
  return usual.pdf;
}

async function printed(
  { title, subtitle, blocks, foot }: PrintedDocument,
  setting: Setting,
): Promise<{ pdf: Buffer; pages: number }> {
  prepare();
  let counted = 0;
  const definition: TDocumentDefinitions = {
    info: { title: `${title}, ${subtitle}` },
    pageSize: 'A4',
    pageMargins: [40, setting.edge, 40, setting.edge + 4],
    defaultStyle: { font: 'Barlow', fontSize: setting.type, color: INK, lineHeight: 1.15 },
    // A heading goes with what it heads.
    pageBreakBefore: ({ headlineLevel, startPosition: { verticalRatio, pageInnerHeight } }) =>
      headlineLevel === 1 && (1 - verticalRatio) * pageInnerHeight < BELOW_HEADING,
    content: [
      { text: title, fontSize: 18, bold: true },
      { text: subtitle, color: SOFT, margin: [0, 0, 0, 8] },
      ...blocks.map((block) => contentOf(block, setting)),
    ],
    footer: (page: number, pages: number) => {
      counted = pages;
      return {
        margin: [40, 8, 40, 0],
        columns: [
          { text: foot, color: SOFT, fontSize: 7.5 },
          { text: `${title} · page ${page} of ${pages}`, color: SOFT, fontSize: 7.5, alignment: 'right', width: 150 },
        ],
      };
    },
  };
  const pdf = await pdfmake.createPdf(definition).getBuffer();
  return { pdf, pages: counted };
}

function contentOf(block: Block, { type, heading, row }: Setting): Content {
  switch (block.kind) {
    case 'heading':
      return {
        text: block.text,
        headlineLevel: 1,
        fontSize: type + 2.5,
        bold: true,
        margin: [0, heading, 0, heading / 3],
      };
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
          keepWithHeaderRows: 1,
          dontBreakRows: true,
          widths: block.widths ?? block.head.map(() => '*' as const),
          body: [
            block.head.map((text) => ({ text, bold: true, color: SOFT })),
            ...block.rows.map((cells) => cells.map((text) => ({ text }))),
          ],
        },
        layout: {
          hLineWidth: (line: number) => (line === 1 ? 1 : 0.5),
          vLineWidth: () => 0,
          hLineColor: () => LINE,
          paddingTop: () => row,
          paddingBottom: () => row * 0.75,
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
