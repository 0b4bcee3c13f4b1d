import { describe, expect, it } from '@jest/globals';
import { z } from 'zod';
import { callersOf, ENDPOINTS, POLICY, rolesThat, type Action, type Endpoint } from './index.ts';

const endpoints = Object.entries<Endpoint>(ENDPOINTS);

interface Check {
  field: string;
  bound: number;
  /** What is said where it is passed. */
  said: string | undefined;
}

/** A node of a schema as Zod keeps it; only what is read here. */
interface Definition {
  type: string;
  shape?: Record<string, z.ZodType>;
  element?: z.ZodType;
  innerType?: z.ZodType;
  options?: z.ZodType[];
  valueType?: z.ZodType;
  in?: z.ZodType;
  out?: z.ZodType;
  checks?: {
    _zod: { def: { value?: number; maximum?: number; minimum?: number; error?: (issue: object) => unknown } };
  }[];
}

/** Every bound of a schema's figures and texts, with what is said where it is passed. */
function boundsOf(schema: z.ZodType, field: string, seen = new Set<z.ZodType>()): Check[] {
  if (seen.has(schema)) return [];
  seen.add(schema);
  const definition = schema._zod.def as unknown as Definition;
  const own = (definition.checks ?? []).flatMap(({ _zod: { def } }): Check[] => {
    const bound = def.value ?? def.maximum ?? def.minimum;
    const said = def.error?.({ input: '' });
    return bound === undefined ? [] : [{ field, bound, said: typeof said === 'string' ? said : undefined }];
  });
  const { shape = {}, element, innerType, options = [], valueType } = definition;
  const inner = [element, innerType, valueType, definition.in, definition.out, ...options].filter(
    (one) => one !== undefined,
  );
  return [
    ...own,
    ...Object.entries(shape).flatMap(([name, part]) => boundsOf(part, `${field}.${name}`, seen)),
    ...inner.flatMap((part) => boundsOf(part, field, seen)),
  ];
}

const bounds = endpoints.flatMap(([name, { body }]) => (body ? boundsOf(body, name) : []));
/** The figures of a sentence: `1,500`, `0.5`, `−5`, `12 MB`. */
const figuresIn = (text: string) =>
  [
    ...text
      .replaceAll('−', '-')
      .replace(/(\d),(\d{3})/g, '$1$2')
      .matchAll(/-?\d+(\.\d+)?/g),
  ].map(([figure]) => Number(figure));
const MEGABYTE = 1024 * 1024;

describe('a bound', () => {
  it('is there for many fields', () => expect(bounds.length).toBeGreaterThan(100));

  const told = bounds.filter(({ said, bound }) => said !== undefined && figuresIn(said).length > 0 && bound > 1);
  it.each(told.map((one) => [`${one.field}: ${one.said}`, one] as const))(
    'is the one that is said: %s',
    (_, { bound, said }) => {
      const figures = figuresIn(said ?? '');
      const same = (figure: number) =>
        [1, 1000, 100, 1 / 1000, MEGABYTE].some((unit) => Math.abs(figure * unit - bound) < 1e-9 * bound) ||
        // A file comes as text, a third longer, with a little room.
        Math.abs((figure * 1e6 * 4) / 3 / bound - 1) < 0.06;
      expect(figures.some(same)).toBe(true);
    },
  );
});

describe('an endpoint', () => {
  it.each(endpoints)('%s answers as its method does', (_name, { method, status, response, body }) => {
    const nothing = response instanceof z.ZodNull;
    expect(status).toBe(nothing ? 204 : method === 'post' && [200, 201].includes(status) ? status : 200);
    if (method === 'get') expect(body).toBeUndefined();
    // What makes something under an id of the client's says that it made it.
    const made =
      method === 'post' &&
      body !== undefined &&
      'shape' in response &&
      Object.keys(response.shape as object).join() === 'id';
    if (made) expect(status).toBe(201);
  });

  it.each(endpoints)('%s is called by those whom the policy lets', (_name, endpoint) => {
    const roles = callersOf(endpoint);
    expect(roles).toEqual(endpoint.action === 'anyone' ? undefined : rolesThat(endpoint.action));
  });
});

describe('the policy', () => {
  it('lets the coordinator do everything, and a viewer look and complain only', () => {
    for (const action of Object.keys(POLICY) as Action[]) {
      expect(rolesThat(action)).toContain('coordinator');
      expect(rolesThat(action).includes('viewer')).toBe(action === 'read' || action === 'complain');
    }
  });

  it('keeps from technicians what is not theirs to decide', () => {
    const theirs = (Object.keys(POLICY) as Action[]).filter((action) => rolesThat(action).includes('technician'));
    // Which files a technician may take in, the file's kind decides (server/src/testing/partsSheets.test.ts).
    expect(theirs.sort()).toEqual(['complain', 'import', 'measure', 'pick', 'read', 'specify', 'work']);
  });
});
