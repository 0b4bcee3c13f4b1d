import { failureInWords } from '@mile-mark/contract/words';
import type { z } from 'zod';
import type { NewStudy, NewStudyValue } from '@mile-mark/contract/gauges';
import { parseThickness } from '@mile-mark/core';
import { studyMeasured } from '../../../events.ts';
import { command } from '../../../platform/command/command.ts';
import type { EntityManager } from '../../../platform/db/orm.ts';
import { invalidField } from '../../../platform/errors.ts';
import { MEASURERS, PersonEntity } from '../../people/index.ts';
import { GaugeEntity } from '../entities.ts';
import { planOf } from '../queries/studies.ts';
import { insertStudy, insertValues, refuseTolerance, runsOf, studyOf } from '../studyRows.ts';

/** Plans a study; the order of its runs is random, by the seed. */
export const addStudy = command({
  name: 'addStudy',
  action: 'study',
  clientId: 'id',
  run: async (tx, input: z.output<typeof NewStudy>) => {
    refuseTolerance(input);
    if (!(await tx.em.findOne(GaugeEntity, { id: input.gaugeId })))
      throw invalidField('gaugeId', 'There is no such gauge on record; one of the gauge list is accepted.');
    const technicians = await whoMeasure(tx.em, input.technicianIds);
    await insertStudy(tx, { ...input, technicians, referenced: false });
    return { id: input.id };
  },
});

async function whoMeasure(em: EntityManager, ids: string[]): Promise<{ id: string; name: string }[]> {
  const people = await em.find(PersonEntity, { id: { $in: ids }, role: { $in: MEASURERS } });
  return ids.map((id) => {
    const person = people.find((one) => one.id === id);
    if (!person)
      throw invalidField('technicianIds', 'Somebody in the list does not measure; technicians on record are accepted.');
    return { id, name: person.name };
  });
}

/** Enters one measurement of a planned study, in the gauge's unit; the newest of a run counts. */
export const addStudyValue = command({
  name: 'addStudyValue',
  action: 'measure',
  clientId: 'id',
  run: async (tx, { studyId, ...input }: z.output<typeof NewStudyValue> & { studyId: string }) => {
    const study = await studyOf(tx.em, studyId);
    const run = planOf(study)[input.run - 1];
    if (!run) throw invalidField('run', `This study has ${runsOf(study)} runs.`);
    const parsed = parseThickness(input.value, { unit: study.unit ?? 'mm' });
    if (!parsed.ok) throw invalidField('value', failureInWords(parsed.failure));
    if (parsed.value.mm > MOST_MM)
      throw invalidField(
        'value',
        `${input.value} is ${parsed.value.mm.toFixed(1)} mm; up to ${MOST_MM} mm is accepted.`,
      );
    await insertValues(tx, studyId, [{ id: input.id, ...run, valueUm: parsed.value.mm * 1000, typed: input.value }]);
    await tx.audit('measured a run of a study', `study/${studyId}`, { run: input.run });
    await tx.emit(studyMeasured({}));
    return { id: input.id };
  },
});

/** No pad is thicker than this with its plate, mm. */
const MOST_MM = 60;
