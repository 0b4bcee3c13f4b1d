import { getDocument } from 'pdfjs-dist/legacy/build/pdf.mjs';

/** The text of a PDF, page by page, and how many pictures it holds. */
export async function readPdf(bytes: Buffer): Promise<{ pages: string[]; text: string }> {
  const document = await getDocument({ data: new Uint8Array(bytes), useSystemFonts: false, verbosity: 0 }).promise;
  const pages: string[] = [];
  for (let i = 1; i <= document.numPages; i += 1) {
    const content = await (await document.getPage(i)).getTextContent();
    pages.push(content.items.map((item) => ('str' in item ? item.str : '')).join(' '));
  }
  return { pages, text: pages.join('\n').replace(/\s+/g, ' ') };
}
