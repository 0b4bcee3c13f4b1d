/** Figures that are typed twice by two people, by field; null where the document says nothing. */
export type Figures = Readonly<Record<string, number | string | null>>;

/**
 * The fields in which two people typed differently. A field that one of them left out is different too: what is blank
 * must be blank for both.
 *
 * @returns names of fields, in the order of `entered`, then what only `typed` has
 */
export function differingFigures(entered: Figures, typed: Figures): string[] {
  const fields = [...new Set([...Object.keys(entered), ...Object.keys(typed)])];
  return fields.filter((field) => (entered[field] ?? null) !== (typed[field] ?? null));
}
