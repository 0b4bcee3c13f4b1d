/** The words of a cell as they are read, buttons left out. */
function textOf(cell: Element): string {
  const copy = cell.cloneNode(true) as HTMLElement;
  for (const verb of copy.querySelectorAll('[data-verb], script, svg:not([aria-label])')) verb.remove();
  for (const picture of copy.querySelectorAll('svg[aria-label], [role="img"][aria-label]'))
    picture.replaceWith(` ${picture.getAttribute('aria-label') ?? ''} `);
  for (const line of copy.querySelectorAll('br, .block, p, li')) line.prepend(' ');
  return (copy.textContent ?? '').replace(/\s+/g, ' ').trim();
}

/** The rows of a table as they are shown, heads first; a cell over several columns is followed by empty ones. */
export function rowsOfTable(table: HTMLTableElement): string[][] {
  return [...table.rows].map((row) =>
    [...row.cells].flatMap((cell) => [textOf(cell), ...Array<string>(Math.max(0, cell.colSpan - 1)).fill('')]),
  );
}

/** A figure below nought, with its unit where it has one: no formula. */
const BELOW_NOUGHT = /^-[\d.,]+(?: [\p{L}%·/]+)?$/u;

/**
 * The rows as CSV. What a spreadsheet would take for a formula is kept as text.
 *
 * @param stringify writes rows as CSV
 */
export function csvOf(rows: readonly string[][], stringify: (rows: string[][]) => string): string {
  const safe = (cell: string) => (/^[=+@\t\r-]/.test(cell) && !BELOW_NOUGHT.test(cell) ? `'${cell}` : cell);
  return `\uFEFF${stringify(rows.map((row) => row.map(safe)))}`;
}
