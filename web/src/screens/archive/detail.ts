import { formatDate } from '../../ui/format.ts';

/** One thing that a deed's detail says. */
export interface Said {
  name: string;
  text: string;
}

/** `backOn` → `back on`. */
const inWords = (key: string) =>
  key.replace(/([a-z])([A-Z])/g, (_all, a: string, b: string) => `${a} ${b.toLowerCase()}`);

function textOf(value: unknown): string {
  if (value === null || value === undefined || value === '') return 'none';
  if (typeof value === 'boolean') return value ? 'yes' : 'no';
  if (Array.isArray(value)) return value.map(textOf).join('; ');
  if (typeof value === 'object')
    return Object.entries(value)
      .map(([key, one]) => `${inWords(key)} ${textOf(one)}`)
      .join(', ');
  const text = typeof value === 'string' ? value : JSON.stringify(value);
  return /^\d{4}-\d{2}-\d{2}$/.test(text) ? formatDate(text) : text;
}

const isId = (value: unknown) => typeof value === 'string' && /^[0-9a-f]{8}-[0-9a-f]{4}-/.test(value);
const isFields = (value: unknown): value is Record<string, unknown> =>
  typeof value === 'object' && value !== null && !Array.isArray(value);

/** What a deed says of itself, field by field: what it was and became is one line, ids are left out. */
export function saidIn(detail: Record<string, unknown> | null): Said[] {
  const { was, now, becomes, ...rest } = detail ?? {};
  const after = now ?? becomes;
  const said: Said[] = [];
  if (isFields(was) && isFields(after))
    for (const key of new Set([...Object.keys(was), ...Object.keys(after)]))
      said.push({ name: inWords(key), text: `${textOf(was[key])} → ${textOf(after[key])}` });
  else if (was !== undefined) said.push({ name: 'was', text: textOf(was) });
  for (const [key, value] of Object.entries(rest)) {
    if (isId(value) || (Array.isArray(value) && value.length === 0)) continue;
    said.push({ name: inWords(key), text: textOf(value) });
  }
  return said;
}
