/** A name as it is written in a statement. */
export const quoted = (name: string): string => `"${name.replaceAll('"', '""')}"`;
