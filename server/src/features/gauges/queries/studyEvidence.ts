import { analyseStudy, type Appraiser, type AppraiserEvidence, studyEvidence, studyGaps } from '@mile-mark/core';
import type { EntityManager } from '../../../platform/db/orm.ts';
import { rowsOf } from '../../../platform/db/rows.ts';
import { appraiserKey } from '../appraiserKey.ts';
import { readingsOf, runsOf, STUDIES, StudySql, valuesOf } from '../studyRows.ts';

/** What finished studies with a gauge and people on record say of the appraisers in them. */
export async function studyEvidenceOf(
  em: EntityManager,
  present: (key: string) => Appraiser,
): Promise<AppraiserEvidence[]> {
  const studies = await rowsOf(em, StudySql, `${STUDIES} where s.gauge_id is not null`);
  const values = await valuesOf(
    em,
    studies.map(({ id }) => id),
  );
  return studies.flatMap((study) => {
    const readings = readingsOf(
      study,
      values.filter(({ study_id }) => study_id === study.id),
    );
    const known = study.technicians.every(({ id }) => id !== null);
    if (!known || readings.length !== runsOf(study) || studyGaps(readings).length > 0) return [];
    const { byTechnician } = analyseStudy(readings, { interaction: 'test' });
    const idOf = new Map(study.technicians.map(({ id, name }) => [name, id ?? '']));
    return [
      studyEvidence(
        byTechnician.map(({ technician }) => appraiserKey(idOf.get(technician) ?? '', study.gauge_id ?? '')),
        byTechnician.map(({ mean }) => mean),
        byTechnician.map(({ ev }) => ev ** 2),
        { parts: study.parts.length, trials: study.repeats },
        study.referenced,
        present,
      ),
    ];
  });
}
