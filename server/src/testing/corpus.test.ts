import { afterAll, beforeAll, describe, expect, it } from '@jest/globals';
import { randomUUID } from 'node:crypto';
import type { ImportNeed, Understanding } from '@mile-mark/contract/imports';
import { METRES_PER_MILE } from '@mile-mark/core';
import type { Draft } from '../features/imports/assess.ts';
import { look, type Looked, readSheet } from '../features/imports/index.ts';
import type { ReadingRecord } from '../features/imports/index.ts';
import { createTestApp, type TestApp } from './app.ts';
import { CASES, type Case } from './corpus/cases.ts';
import { CORPUS_LISTS, CORPUS_TODAY } from './corpus/fleet.ts';
import { randomCase } from './corpus/random.ts';

/**
 * Sheets as people keep them, each with its truth: every reading goes in as it was, or is asked about, or is refused with
 * a true reason. None goes in wrong, and none is lost. Nothing of a file is written here, so that none leans on another.
 */

let test: TestApp;
let people: Map<string, string>;
let gaugeId: string;

beforeAll(async () => {
  test = await createTestApp();
  const coordinator = await test.as('coordinator');
  for (const text of CORPUS_LISTS) {
    const { body } = await coordinator.post('/api/imports').send({ fileName: 'list.csv', text }).expect(200);
    expect(body.open).toBe(0);
  }
  people = new Map();
  for (const name of ['Ilse Brandt', 'Rowan Peake']) {
    const id = randomUUID();
    await coordinator.post('/api/people').send({ id, name, role: 'technician' }).expect(201);
    people.set(name, id);
  }
  gaugeId = randomUUID();
  const gauge = { id: gaugeId, name: 'Depth gauge', kind: 'gauge', resolutionMm: 0.1, unit: 'mm' };
  await coordinator.post('/api/gauges').send(gauge).expect(201);
});
afterAll(async () => test.close());

const WHO = 'Ilse Brandt';
const lookAt = async (bytes: Uint8Array, understanding: Partial<Understanding>): Promise<Looked> =>
  look(test.orm.em.fork(), await readSheet(bytes, understanding), { understanding }, CORPUS_TODAY);

/** What the writer of the sheet answers to what is asked; undefined where the sheet gave no ground to ask it. */
function answer(
  { kind, name }: ImportNeed,
  { understanding: now }: Looked,
  { answers }: Case,
): Partial<Understanding> | undefined {
  if (kind === 'column') {
    const fields = answers['columns']?.split(',');
    return (
      fields && { columns: now.columns.map(({ header }, index) => ({ header, field: fields[index] ?? 'ignore' })) }
    );
  }
  const said = answers[name === null ? kind : `${kind} ${name}`];
  if (said === undefined) return undefined;
  if (kind === 'person') return { personNames: { ...now.personNames, [name ?? '']: people.get(said) ?? '' } };
  if (kind !== 'wheel') return { [kind]: said };
  const [axle = '', side = ''] = said.split(':');
  const place = { axle: axle === 'rear' ? ('rear' as const) : Number(axle), side: side as 'left' | 'right' };
  return { wheelNames: { ...now.wheelNames, [name ?? '']: place } };
}

/** Answers what is asked until nothing is; tells what was asked. */
async function understood(file: Case): Promise<{ looked: Looked; asked: Set<string> }> {
  const bytes = await file.bytes();
  const asked = new Set<string>();
  // Who measured, and with what, no sheet is guessed to tell; it is said from the start, as the walk in the browser asks it.
  let stated: Partial<Understanding> = { technicianId: people.get(WHO) ?? null, gaugeId };
  for (let turn = 0; turn < 12; turn += 1) {
    const looked = await lookAt(bytes, stated);
    if (looked.needs.length === 0) return { looked, asked };
    for (const need of looked.needs) {
      asked.add(need.kind);
      const said = answer(need, looked, file);
      if (!said) throw new Error(`Asked without need: ${need.message}`);
      for (const [key, value] of Object.entries(said))
        stated = {
          ...stated,
          [key]:
            key === 'wheelNames' || key === 'personNames'
              ? { ...(stated[key] ?? {}), ...(value as Record<string, unknown>) }
              : value,
        };
    }
  }
  throw new Error('Asked again and again.');
}

interface Told {
  unit: string;
  axle: number;
  side: string;
  pad: string;
  date: string;
  miles: number;
  mm: number;
  who: string | undefined;
}
const keyOf = ({ unit, axle, side, pad, date }: Told) => [unit, date, axle, side, pad].join(' ');

const told = (drafts: Looked['drafts']): Told[] =>
  (drafts as Draft<ReadingRecord>[]).flatMap(({ records }) =>
    records.map(({ unitNumber: unit, axle, side, pad, date, odometerM, mm, technicianId }) => ({
      ...{ unit, axle, side, pad, date, mm, miles: odometerM / METRES_PER_MILE },
      who: [...people].find(([, id]) => id === technicianId)?.[0],
    })),
  );

const truthOf = ({ looks, style }: Case): Told[] =>
  looks.flatMap(({ unit, date, miles, technician, pads }) =>
    pads.map((pad) => ({ ...pad, unit, date, miles, who: style.beside.includes('technician') ? technician : WHO })),
  );

/** What went in wrong: no such reading, another figure, another person. */
function wrongly(file: Case, looked: Looked): string[] {
  const truth = new Map(truthOf(file).map((one) => [keyOf(one), one]));
  return told(looked.drafts).flatMap((one) => {
    const real = truth.get(keyOf(one));
    if (!real) return [`${keyOf(one)} was never measured`];
    const alike = Math.abs(one.miles - real.miles) < 0.6 && Math.abs(one.mm - real.mm) < 0.06 && one.who === real.who;
    return alike
      ? []
      : [`${keyOf(one)} ${one.miles} mi ${one.mm} mm by ${one.who}, was ${real.miles} mi ${real.mm} mm by ${real.who}`];
  });
}

/** Lines against which something stands, that hold a slip of the case or not. */
function against({ slips }: Case, { drafts }: Looked): { unfounded: string[]; missed: string[] } {
  const slipped = new Map(slips.map((slip) => [slip.line, slip]));
  const refused = drafts.filter(({ reasons }) => reasons.some(({ outcome, bars }) => outcome === 'refused' || bars));
  const unfounded = refused.flatMap(({ line, reasons }) =>
    slipped.has(line) ? [] : [`line ${line}: ${reasons[0]?.message}`],
  );
  const missed = slips.flatMap(({ line, says }) => {
    const reasons = drafts.find((draft) => draft.line === line)?.reasons ?? [];
    return reasons.some(({ message }) => says.test(message))
      ? []
      : [`line ${line}: ${reasons.map(({ message }) => message).join(' ')}`];
  });
  return { unfounded, missed };
}

async function judge(file: Case) {
  const { looked, asked } = await understood(file);
  const inFile = truthOf(file).length;
  const kept = told(looked.drafts).length;
  const refusedLines = looked.drafts.filter(({ reasons }) =>
    reasons.some(({ outcome }) => outcome === 'refused'),
  ).length;
  return {
    asked: [...asked].sort(),
    wrong: wrongly(file, looked),
    ...against(file, looked),
    lost: file.slips.length === 0 ? inFile - kept : refusedLines - file.slips.length,
  };
}

describe('a sheet', () => {
  it('is of more than ninety kinds, each by its own name', () => {
    expect(CASES.length).toBeGreaterThan(90);
    expect(new Set(CASES.map(({ name }) => name)).size).toBe(CASES.length);
  });

  it.each(CASES.map((file) => [file.name, file] as const))('with %s goes in as it was', async (_, file) => {
    expect(await judge(file)).toEqual({ asked: [...file.asks].sort(), wrong: [], unfounded: [], missed: [], lost: 0 });
  });

  it.each(Array.from({ length: 60 }, (_, seed) => [seed, randomCase(seed)] as const))(
    'of chance (%i) goes in as it was',
    async (_, file) => {
      const { asked, ...judged } = await judge(file);
      expect({ name: file.name, ...judged }).toEqual({
        name: file.name,
        wrong: [],
        unfounded: [],
        missed: [],
        lost: 0,
      });
      expect(file.asks).toEqual(expect.arrayContaining(asked));
    },
  );
});
