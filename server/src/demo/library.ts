import { jointKindId } from '../features/specifications/index.ts';
import type { EntityManager } from '../platform/db/orm.ts';
import { STAFF } from './cast.ts';
import { type DemoJoint, DOCUMENTS, RELEASED, WAITING } from './libraryCast.ts';
import { TOOLS } from './toolCast.ts';
import { idOf, insert, personId } from './rows.ts';

/** Entered and released before the record begins, so that every job of the demo was done on it. */
const ENTERED_ON = '2025-04-28';
const RELEASED_ON = '2025-05-02';

const idOfPlace = (kind: string, { model, axle, joint, position = '' }: DemoJoint) =>
  idOf(kind, model, axle, joint ?? '', position);

/** Fills the library: two people's work, some of it waiting for the second; and the benches. */
export async function insertLibrary(em: EntityManager): Promise<void> {
  const coordinator = personId(STAFF[0].name);
  const technician = personId(STAFF[1].name);
  const places = [...new Map([...RELEASED, ...WAITING].map((one) => [idOfPlace('specification', one), one])).values()];
  const released = new Set(RELEASED.map((one) => idOfPlace('specification', one)));
  await insert(
    em,
    'specification',
    'id uuid, model_id uuid, axle int, joint_kind_id uuid, position text',
    places.map((one) => ({
      id: idOfPlace('specification', one),
      model_id: idOf('model', one.model),
      axle: one.axle,
      joint_kind_id: one.joint === null ? null : jointKindId(one.joint),
      position: one.position ?? '',
    })),
  );
  const revision = (one: DemoJoint, kind: string, rest: object) => ({
    id: idOfPlace(kind, one),
    specification_id: idOfPlace('specification', one),
    number: 1,
    detail: one.values,
    document: DOCUMENTS[one.model]?.document,
    page: one.page,
    revision: DOCUMENTS[one.model]?.revision,
    dated: DOCUMENTS[one.model]?.date,
    demo: true,
    entered_by: coordinator,
    entered_on: ENTERED_ON,
    ...rest,
  });
  await insert(
    em,
    'specification_revision',
    'id uuid, specification_id uuid, number int, detail jsonb, document text, page text, revision text, dated date, demo boolean, entered_by uuid, entered_on date',
    [
      ...RELEASED.map((one) => revision(one, 'revision', {})),
      ...WAITING.map((one) =>
        revision(one, 'waiting', {
          number: released.has(idOfPlace('specification', one)) ? 2 : 1,
          entered_by: personId(one.by),
          entered_on: one.on,
          ...(one.revision ? { revision: one.revision, dated: one.date } : {}),
        }),
      ),
    ],
  );
  await insert(
    em,
    'specification_attempt',
    'id uuid, revision_id uuid, person_id uuid, typed jsonb, differing jsonb, answer jsonb',
    RELEASED.map((one) => ({
      id: idOfPlace('attempt', one),
      revision_id: idOfPlace('revision', one),
      person_id: technician,
      typed: one.values,
      differing: [],
      answer: { released: true, differing: [], conflict: null },
    })),
  );
  await insert(
    em,
    'specification_release',
    'revision_id uuid, attempt_id uuid, entered_by uuid, released_by uuid, released_on date, detail jsonb, changes jsonb',
    RELEASED.map((one) => ({
      revision_id: idOfPlace('revision', one),
      attempt_id: idOfPlace('attempt', one),
      entered_by: coordinator,
      released_by: technician,
      released_on: RELEASED_ON,
      detail: one.values,
      changes: [],
    })),
  );
  for (const one of RELEASED) await point(em, 'released_revision_id', idOfPlace('revision', one), one);
  for (const one of WAITING) await point(em, 'open_revision_id', idOfPlace('waiting', one), one);
  await insertTools(em, coordinator);
}

/** Fills the library of a demo that was made before there were specifications; one with any is left as it is. */
export async function ensureDemoLibrary(em: EntityManager): Promise<void> {
  await em.transactional(async (inner) => {
    const [{ models, begun } = { models: 0, begun: true }] = await inner.execute<{ models: number; begun: boolean }[]>(
      `select (select count(*)::int from model where name in (?, ?, ?)) as models,
         exists (select 1 from specification) or exists (select 1 from torque_tool) as begun`,
      Object.keys(DOCUMENTS),
    );
    if (models === Object.keys(DOCUMENTS).length && !begun) await insertLibrary(inner);
  });
}

async function point(em: EntityManager, column: string, revisionId: string, one: DemoJoint): Promise<void> {
  await em.execute(`update specification set ${column} = ? where id = ?`, [
    revisionId,
    idOfPlace('specification', one),
  ]);
}

async function insertTools(em: EntityManager, coordinator: string): Promise<void> {
  await insert(
    em,
    'torque_tool',
    'id uuid, name text, kind text, type text, depot_id uuid, unit text, least numeric, most numeric, graduation numeric, length_mm numeric, extension_mm numeric, end_size text, ratio numeric, drive text, retired boolean',
    TOOLS.map(({ depot, ...tool }) => ({
      id: idOf('tool', tool.name),
      depot_id: idOf('depot', depot),
      name: tool.name,
      kind: tool.kind,
      type: tool.kind === 'wrench' ? tool.type : null,
      unit: tool.unit,
      least: tool.kind === 'wrench' ? tool.least : null,
      most: tool.most,
      graduation: tool.kind === 'wrench' ? tool.graduation : null,
      length_mm: tool.kind === 'wrench' ? tool.lengthMm : null,
      extension_mm: tool.kind === 'adapter' ? tool.extensionMm : null,
      end_size: tool.kind === 'adapter' ? tool.endSize : null,
      ratio: tool.kind === 'multiplier' ? tool.ratio : null,
      drive: tool.drive,
      retired: false,
    })),
  );
  await insert(
    em,
    'tool_calibration',
    'id uuid, tool_id uuid, due date, person_id uuid',
    TOOLS.flatMap((tool) =>
      tool.kind === 'adapter'
        ? []
        : [
            {
              id: idOf('calibration', tool.name),
              tool_id: idOf('tool', tool.name),
              due: tool.calibrationDue,
              person_id: coordinator,
            },
          ],
    ),
  );
}
