import { seededRandom } from '@mile-mark/core';
import { z } from 'zod';

/** Requests as nobody should send them, made from the schemas of the contract: a route that is new is covered unasked. */

interface Schema {
  type?: string | string[];
  const?: unknown;
  enum?: unknown[];
  anyOf?: Schema[];
  oneOf?: Schema[];
  allOf?: Schema[];
  format?: string;
  pattern?: string;
  minLength?: number;
  minimum?: number;
  exclusiveMinimum?: number;
  minItems?: number;
  items?: Schema;
  prefixItems?: Schema[];
  properties?: Record<string, Schema>;
  required?: string[];
  additionalProperties?: Schema | boolean;
  default?: unknown;
}

export const schemaOf = (of: z.ZodType): Schema =>
  z.toJSONSchema(of, { io: 'input', unrepresentable: 'any', reused: 'inline' }) as Schema;

/** What is on record, by the name of the field that asks for it. */
export type Known = Record<string, string | number>;

/** A value that a schema describes, all optional parts included, as far as a schema tells. */
export function plausible(schema: Schema, known: Known, name = ''): unknown {
  const { properties, items, prefixItems } = schema;
  if (known[name] !== undefined && !properties && !items) return known[name];
  if (schema.const !== undefined) return schema.const;
  if (schema.enum) return schema.enum[0];
  const one = schema.anyOf?.[0] ?? schema.oneOf?.[0];
  if (one) return plausible(one, known, name);
  if (properties) {
    const own = Object.entries(properties).map(([key, of]) => [key, plausible(of, known, key)]);
    return Object.fromEntries(own) as unknown;
  }
  if (prefixItems) return prefixItems.map((of) => plausible(of, known, name));
  if (items) return [plausible(items, known, name)];
  if (typeof schema.additionalProperties === 'object') return { '1': plausible(schema.additionalProperties, known) };
  const type = Array.isArray(schema.type) ? schema.type[0] : schema.type;
  if (type === 'integer' || type === 'number') return Math.max(1, schema.minimum ?? (schema.exclusiveMinimum ?? 0) + 1);
  if (type === 'boolean') return true;
  if (type === 'null') return null;
  return textFor(schema);
}

function textFor({ format, pattern, minLength = 0 }: Schema): string {
  if (format === 'uuid') return '6f9619ff-8b86-4d01-b42d-00cf4fc964ff';
  if (format === 'email') return 'somebody@dairy.example';
  if (format === 'date-time') return '2026-05-05T10:00:00.000Z';
  if (pattern?.includes('\\d{4}-\\d{2}-\\d{2}')) return '2026-05-05';
  return 'something typed'.padEnd(minLength, ' x');
}

/** What comes in the place of any value. */
const HOSTILE: unknown[] = [
  'a\u0000b',
  'a\u0007b',
  '\ud800',
  '\u200b\u200b\u200b',
  '\u202edesrever',
  '',
  ' ',
  'x'.repeat(20_000),
  '0000-01-01',
  '0001-01-01',
  '9999-12-31',
  '2026-02-30',
  "'; drop table vehicle; --",
  '../../etc/passwd',
  '%00',
  '-0',
  '1e400',
  '6f9619ff-8b86-4d01-b42d-00cf4fc964fe',
  0,
  -1,
  0.1,
  5e-324,
  1e308,
  2 ** 31,
  2 ** 53,
  true,
  null,
  [],
  {},
  [[[]]],
];

type Path = (string | number)[];

export function leavesOf(value: unknown, path: Path = []): Path[] {
  if (Array.isArray(value)) return [path, ...value.flatMap((one, k) => leavesOf(one, [...path, k]))];
  if (typeof value === 'object' && value !== null)
    return [path, ...Object.entries(value).flatMap(([key, one]) => leavesOf(one, [...path, key]))];
  return [path];
}

export function withAt(value: unknown, [step, ...rest]: Path, put: unknown): unknown {
  if (step === undefined) return put;
  if (Array.isArray(value)) return value.map((one, k) => (k === step ? withAt(one, rest, put) : (one as unknown)));
  return { ...(value as object), [step]: withAt((value as Record<string, unknown>)[step], rest, put) };
}

/** A body with one of its values replaced, and where; so many for each value, drawn by a seed. */
export function spoilt(body: unknown, each: number, seed: number): { path: Path; put: unknown; body: unknown }[] {
  const random = seededRandom(seed);
  return leavesOf(body).flatMap((path) =>
    Array.from({ length: each }, () => {
      const put = HOSTILE[Math.floor(random() * HOSTILE.length)];
      return { path, put, body: withAt(body, path, put) };
    }),
  );
}
