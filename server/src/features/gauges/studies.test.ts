import { afterAll, beforeAll, describe, expect, it } from '@jest/globals';
import { randomUUID } from 'node:crypto';
import { readFileSync } from 'node:fs';
import path from 'node:path';
import type { Appraisers, StudyDetail } from '@mile-mark/contract/gauges';
import { randomNormal, seededRandom } from '@mile-mark/core';
import { localComputer, smallFleetApp, type SmallFleetApp } from '../../testing/app.ts';
import { refreshFleet } from '../forecasts/jobs/refresh.ts';

/** The worked example of the MSA reference manual, 4th ed. (AIAG, 2010), values from memory. */
const EXAMPLE = readFileSync(path.join(import.meta.dirname, '../../../../e2e/fixtures/gauge-study.csv'), 'utf8');

let { test, gaugeId, coordinator, technician } = {} as SmallFleetApp;
beforeAll(async () => {
  ({ test, gaugeId, coordinator, technician } = await smallFleetApp());
});
afterAll(async () => test.close());

const detail = async (id: string) => (await coordinator.get(`/api/studies/${id}`).expect(200)).body as StudyDetail;
const importing = (csv: string, more: object = {}) =>
  coordinator
    .post('/api/studies/imports')
    .send({ id: randomUUID(), name: `study ${randomUUID()}`, csv, referenced: true, ...more });

describe('a study from a file', () => {
  it('has the published figures by both methods, negative values and all', async () => {
    const { body } = await importing(EXAMPLE).expect(201);
    const { figures, plan } = await detail(body.id as string);
    expect(plan).toHaveLength(90);
    expect(figures?.test.anova).toMatchObject({ interaction: 0 });
    expect(figures?.test.anova.grr).toBeCloseTo(0.302372, 4);
    expect(figures?.keep.anova.grr).toBeCloseTo(0.313217, 4);
    expect(figures?.test.averageAndRange.tv).toBeCloseTo(1.146135, 4);
    expect(figures?.test.byPart.map(({ part }) => part)).toEqual(['1', '2', '3', '4', '5', '6', '7', '8', '9', '10']);
    expect(figures?.test.verdict).toMatchObject({ fitness: 'conditional', limitMm: 3 });
  });

  it.each([
    [
      'a missing measurement',
      EXAMPLE.split('\n')
        .filter((_, i) => i !== 5)
        .join('\n'),
      /is missing/,
    ],
    ['one that is there twice', `${EXAMPLE.trim()}\n1,A,1,0.3\n`, /there twice/],
    ['a value that is none', EXAMPLE.replace('0.29', 'thick'), /Line 2: “thick”/],
    ['a column that lacks', EXAMPLE.replace('appraiser', 'shift'), /No column for the technician/],
    ['a trial that is none', EXAMPLE.replace('1,A,1,', '1,A,first,'), /not a trial/],
    ['one technician', 'part,technician,trial,value\n1,A,1,2\n1,A,2,2\n2,A,1,3\n2,A,2,3\n', /At least 2 technicians/],
  ])('is refused in words: %s', async (_name, csv, message) => {
    const { status, body } = await importing(csv);
    expect(status).toBe(422);
    expect(JSON.stringify(body)).toMatch(message);
  });

  it('reads semicolons and decimal commas', async () => {
    const csv = EXAMPLE.replaceAll(',', ';').replaceAll('.', ',');
    const { body } = await importing(csv).expect(201);
    expect((await detail(body.id as string)).figures?.test.anova.ev).toBeCloseTo(0.199933, 4);
  });
});

describe('a planned study', () => {
  const plan = () => ({
    id: randomUUID(),
    name: `depot ${randomUUID()}`,
    gaugeId,
    parts: ['Pad 1', 'Pad 2', 'Pad 3', 'Pad 4', 'Pad 5'],
    technicianIds: [test.idOf('technician'), test.idOf('coordinator')],
    repeats: 2,
    seed: 42,
    newMm: 12,
    limitMm: 3,
  });

  it('is measured run by run; the newest value of a run counts; then it has figures and teaches the appraisers', async () => {
    const study = plan();
    await coordinator.post('/api/studies').send(study).expect(201);
    const before = await detail(study.id);
    expect(before).toMatchObject({ runs: 20, measured: 0, seed: 42, figures: null });
    const random = seededRandom(6);
    for (const { run, part, technician: who } of before.plan) {
      const truth = 3 + 2 * Number(part.split(' ')[1]);
      const value = truth + (who === 'The technician' ? 0.5 : 0) + 0.08 * randomNormal(random);
      await technician
        .post(`/api/studies/${study.id}/values`)
        .send({ id: randomUUID(), run, value: run === 3 ? '19.9' : value.toFixed(2) })
        .expect(201);
    }
    const third = before.plan[2];
    const again = 3 + 2 * Number(third?.part.split(' ')[1]) + (third?.technician === 'The technician' ? 0.5 : 0);
    await technician
      .post(`/api/studies/${study.id}/values`)
      .send({ id: randomUUID(), run: 3, value: again.toFixed(1) })
      .expect(201);
    const { figures, measured } = await detail(study.id);
    expect(measured).toBe(20);
    expect(figures?.test.anova.ev).toBeLessThan(0.16);
    expect(figures?.test.anova.percentOfTolerance).toBeCloseTo((600 * (figures?.test.anova.grr ?? 0)) / 9, 9);
    await refreshFleet(test.orm.em.fork(), localComputer(), '2026-11-20');
    const appraisers = (await coordinator.get('/api/appraisers').expect(200)).body as Appraisers;
    const bias = (name: string) => appraisers.appraisers.find((one) => one.technician === name)?.biasMm ?? NaN;
    expect(bias('The technician') - bias('The coordinator')).toBeGreaterThan(0.3);
    // Ten readings each tell a repeatability to within a factor of three, nine times in ten.
    expect(appraisers.technicians.length).toBeGreaterThan(1);
    for (const { repeatabilityFromMm, repeatabilityMm, repeatabilityToMm } of appraisers.technicians) {
      expect(repeatabilityToMm / repeatabilityMm).toBeCloseTo(repeatabilityMm / repeatabilityFromMm, 6);
      expect(repeatabilityToMm / repeatabilityMm).toBeGreaterThan(1.1);
      expect(repeatabilityToMm / repeatabilityMm).toBeLessThan(3);
    }
    // A technician sees their own only.
    const own = (await technician.get('/api/appraisers').expect(200)).body as Appraisers;
    expect(own.appraisers.map((one) => one.technician)).toEqual(['The technician']);
    await (await test.as('viewer')).get('/api/appraisers').expect(403);
  });

  it.each([
    ['fewer than two people', { technicianIds: [] }, 'technicianIds'],
    ['parts of the same name', { parts: ['Pad', 'Pad'] }, 'parts'],
    ['a limit over new', { newMm: 2 }, 'newMm'],
    ['an unknown gauge', { gaugeId: randomUUID() }, 'gaugeId'],
    ['one repeat', { repeats: 1 }, 'repeats'],
  ])('is refused at its field: %s', async (_name, change, field) => {
    const { status, body } = await coordinator.post('/api/studies').send({ ...plan(), ...change });
    expect(status).toBe(422);
    expect(body.errors[0].field).toBe(field);
  });

  it('refuses a run that there is not, and a value that is none', async () => {
    const study = plan();
    await coordinator.post('/api/studies').send(study).expect(201);
    const send = (body: object) =>
      technician.post(`/api/studies/${study.id}/values`).send({ id: randomUUID(), ...body });
    expect((await send({ run: 21, value: '8' })).body.errors[0].field).toBe('run');
    expect((await send({ run: 1, value: 'thick' })).body.errors[0].field).toBe('value');
    expect((await send({ run: 1, value: '80' })).body.errors[0].field).toBe('value');
    await technician.get(`/api/studies/${randomUUID()}`).expect(404);
    await technician.post('/api/studies').send(plan()).expect(403);
  });
});
