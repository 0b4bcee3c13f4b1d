import { describe, expect, it } from '@jest/globals';
import { randomUUID } from 'node:crypto';
import { readFileSync } from 'node:fs';
import { ARCHIVE_ENDPOINTS } from './archive/index.ts';
import { FORECASTS_ENDPOINTS } from './forecasts/endpoints.ts';
import { GAUGES_ENDPOINTS } from './gauges/endpoints.ts';
import { IMPORTS_ENDPOINTS } from './imports/endpoints.ts';
import { type Endpoint, ENDPOINTS } from './index.ts';
import { NewGauge, NewStudy } from './gauges/index.ts';
import { FINDINGS, NewInspection } from './inspections/index.ts';
import { Credentials, NewPerson } from './people/index.ts';
import { evidenceInWords, limitInWords, suspicionInWords, thicknessInWords } from './words/index.ts';
import { INSPECTIONS_ENDPOINTS } from './inspections/endpoints.ts';
import { TELEMATICS_ENDPOINTS } from './telematics/endpoints.ts';
import { openApiDocument } from './openapi.ts';
import { JOBS_ENDPOINTS } from './jobs/index.ts';
import { PARTS_ENDPOINTS } from './parts/index.ts';
import { PLAN_ENDPOINTS } from './plan/index.ts';
import { PEOPLE_ENDPOINTS } from './people/endpoints.ts';
import { REGISTER_ENDPOINTS } from './register/endpoints.ts';
import { SPECIFICATIONS_ENDPOINTS } from './specifications/endpoints.ts';

const endpoints = Object.values<Endpoint>(ENDPOINTS);

describe('endpoints', () => {
  it('have a path and method of their own, under /api', () => {
    const keys = endpoints.map(({ method, path }) => `${method} ${path}`);
    expect(new Set(keys).size).toBe(keys.length);
    for (const { path } of endpoints) expect(path).toMatch(/^\/api\//);
  });

  it('of one resource never hide those of another by their name', () => {
    const groups: object[] = [
      PEOPLE_ENDPOINTS,
      REGISTER_ENDPOINTS,
      TELEMATICS_ENDPOINTS,
      FORECASTS_ENDPOINTS,
      INSPECTIONS_ENDPOINTS,
      GAUGES_ENDPOINTS,
      IMPORTS_ENDPOINTS,
      SPECIFICATIONS_ENDPOINTS,
      JOBS_ENDPOINTS,
      PARTS_ENDPOINTS,
      PLAN_ENDPOINTS,
      ARCHIVE_ENDPOINTS,
    ];
    const names = groups.flatMap((group) => Object.keys(group));
    expect(names.sort()).toEqual(Object.keys(ENDPOINTS).sort());
  });

  it('that write take a body or nothing but a path, and never anyone but to sign in', () => {
    const open = endpoints
      .filter(({ action, method }) => action === 'anyone' && method !== 'get')
      .map(({ path }) => path);
    expect(open.sort()).toEqual(['/api/first-account', '/api/password-resets', '/api/session']);
  });

  it('name every parameter of their path', () => {
    for (const { path, params } of endpoints) {
      const named = [...path.matchAll(/\{(\w+)\}/g)].map(([, name]) => name);
      if (named.length > 0)
        expect(
          params
            ?.safeParse({})
            .error?.issues.map(({ path: [name] }) => name)
            .sort(),
        ).toEqual(named.sort());
    }
  });
});

describe('the OpenAPI description', () => {
  const document = openApiDocument('1.2.3') as {
    openapi: string;
    info: { version: string };
    paths: Record<string, Record<string, { operationId: string; responses: object; requestBody?: object }>>;
  };

  it('has every endpoint with its answers and refusals', () => {
    expect(document).toMatchObject({ openapi: '3.1.0', info: { version: '1.2.3' } });
    for (const [name, endpoint] of Object.entries<Endpoint>(ENDPOINTS)) {
      const operation = document.paths[endpoint.path]?.[endpoint.method];
      expect(operation?.operationId).toBe(name);
      expect(Object.keys(operation?.responses ?? {})).toEqual([String(endpoint.status), '4XX']);
      expect(operation?.requestBody !== undefined).toBe(endpoint.body !== undefined);
    }
  });
});

describe('the published description', () => {
  const published = JSON.parse(readFileSync(new URL('../../docs/openapi.json', import.meta.url), 'utf8')) as {
    info: { version: string };
    paths: Record<string, Record<string, unknown>>;
  };
  const { paths } = JSON.parse(JSON.stringify(openApiDocument(published.info.version))) as typeof published;

  it('has the routes that are served', () => expect(Object.keys(published.paths)).toEqual(Object.keys(paths)));
  it.each(Object.keys(paths))('of %s is what is accepted and answered (else: npm run openapi)', (path) =>
    expect(paths[path]).toEqual(published.paths[path]),
  );
});

describe('words', () => {
  it.each([
    [8.5, 'mm', '8.5 mm'],
    [8.73125, '1/32 in', '11/32 in'],
    [8.382, 'in', '0.330 in'],
  ] as const)('of %s mm in %s: %s', (mm, unit, words) => expect(thicknessInWords(mm, unit)).toBe(words));

  it('state a limit to the hundredth of a mm', () => {
    expect(limitInWords(2.75, 'mm')).toBe('2.75 mm');
    expect(limitInWords(3, 'mm')).toBe('3 mm');
    expect(limitInWords(3.175, '1/32 in')).toBe('0.125 in');
  });

  it('count readings and people', () => {
    expect(evidenceInWords(1, 1)).toBe('1 reading by 1 person');
    expect(evidenceInWords(28, 3)).toBe('28 readings by 3 people');
  });

  const suspicion = { probability: 0.9, expectedMm: 5.6, differenceMm: 5.5, insteadMm: 5.6 };

  it('ask about the backing plate with the arithmetic, and blame nobody', () => {
    expect(suspicionInWords({ ...suspicion, kind: 'plate' }, 'mm')).toBe(
      'Reads 5.5 mm thicker than expected (5.6 mm). Was the backing plate included? Without it: 5.6 mm.',
    );
  });

  it.each(['plate', 'inches', 'digits', 'thicker_than_new', 'thicker_than_expected', 'thinner_than_expected'] as const)(
    'put %s as a question or a request, in the person’s unit, without an exclamation mark',
    (kind) => {
      const words = suspicionInWords(
        { ...suspicion, kind, differenceMm: kind.startsWith('thinner') ? -2 : 5.5 },
        '1/32 in',
      );
      expect(words).toMatch(/\?|measure it again/);
      expect(words).toContain('/32 in');
      expect(words).not.toContain('!');
    },
  );
});

describe('what is parsed at the edge', () => {
  const reading = { id: randomUUID(), axle: 1, side: 'left', pad: 'inner', thickness: '8,5' };
  const inspection = { id: randomUUID(), unit: 'V1', gaugeId: randomUUID(), date: '2026-02-20', odometer: 41_200 };
  const problem = (
    schema: typeof NewInspection | typeof NewPerson | typeof NewGauge | typeof Credentials,
    value: unknown,
  ) => schema.safeParse(value).error?.issues[0]?.path.join('.');

  it('takes an inspection, miles where no unit is said', () => {
    expect(NewInspection.parse({ inspection, readings: [reading] }).inspection.odometerUnit).toBe('mi');
  });

  it.each([
    ['inspection.date', { inspection: { ...inspection, date: '2026-02-30' }, readings: [reading] }],
    ['inspection.unit', { inspection: { ...inspection, unit: ' ' }, readings: [reading] }],
    ['readings', { inspection, readings: [] }],
    ['readings.0.side', { inspection, readings: [{ ...reading, side: 'middle' }] }],
    ['readings.0.axle', { inspection, readings: [{ ...reading, axle: 0 }] }],
  ])('names %s where it is wrong', (field, value) => expect(problem(NewInspection, value)).toBe(field));

  it('wants address and password together, a long password, a step above nothing', () => {
    const person = { id: randomUUID(), name: 'Ada', role: 'viewer' };
    expect(problem(NewPerson, person)).toBeUndefined();
    expect(problem(NewPerson, { ...person, email: 'a@b.example' })).toBe('password');
    expect(problem(NewPerson, { ...person, email: 'a@b.example', password: 'short' })).toBe('password');
    expect(problem(NewPerson, { ...person, role: 'owner' })).toBe('role');
    expect(problem(NewGauge, { id: randomUUID(), name: 'G', kind: 'k', resolutionMm: 0, unit: 'mm' })).toBe(
      'resolutionMm',
    );
    expect(problem(Credentials, { email: 'not one', password: 'x' })).toBe('email');
  });
});

describe('a gauge study to be planned', () => {
  const plan = {
    id: randomUUID(),
    name: 'Verniers',
    gaugeId: randomUUID(),
    parts: ['a', 'b'],
    technicianIds: [randomUUID(), randomUUID()],
    repeats: 2,
    seed: 1,
  };
  const fault = (change: object) => NewStudy.safeParse({ ...plan, ...change }).error?.issues[0]?.path[0];

  it('is taken as it is, and refused at the field that is wrong', () => {
    expect(NewStudy.safeParse(plan).success).toBe(true);
    expect(fault({ parts: ['a'] })).toBe('parts');
    expect(fault({ parts: ['a', ' a '] })).toBe('parts');
    expect(fault({ technicianIds: [plan.gaugeId, plan.gaugeId] })).toBe('technicianIds');
    expect(fault({ repeats: 11 })).toBe('repeats');
    expect(fault({ seed: -1 })).toBe('seed');
  });
});

describe('an inspection', () => {
  const inspection = { id: randomUUID(), unit: 'P1', gaugeId: randomUUID(), date: '2026-02-20', odometer: '39,863 mi' };
  const place = { id: randomUUID(), axle: 1, side: 'left' };
  const parse = (more: object) => NewInspection.safeParse({ inspection, readings: [], ...more });

  it('may be of pads not seen, findings or rotors alone, not of nothing', () => {
    expect(parse({}).success).toBe(false);
    expect(parse({ unseen: [{ ...place, pad: 'inner' }] }).success).toBe(true);
    expect(parse({ findings: [{ ...place, item: 'leak', state: 'dry' }] }).success).toBe(true);
    expect(parse({ rotors: [{ ...place, thicknessUm: [31_000, null] }] }).success).toBe(true);
  });

  it('has findings whose state belongs to their item', () => {
    for (const [item, states] of Object.entries(FINDINGS))
      for (const state of states) expect(parse({ findings: [{ ...place, item, state }] }).success).toBe(true);
    expect(parse({ findings: [{ ...place, item: 'leak', state: 'torn' }] }).success).toBe(false);
  });

  it('has runout at 8 or 12 points or none', () => {
    const points = (n: number) =>
      parse({ rotors: [{ ...place, thicknessUm: [31_000], runoutUm: Array(n).fill(0) }] }).success;
    expect([0, 7, 8, 10, 12].map(points)).toEqual([true, false, true, false, true]);
  });
});
