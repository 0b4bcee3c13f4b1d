import {
  FIELD_NAMES,
  fieldsWithTorque,
  type FigureChange,
  figuresToRetype,
  JointKindRow,
  type Revision,
  type Specification,
  SpecificationValues,
} from '@mile-mark/contract/specifications';
import { z } from 'zod';
import type { Actor } from '../../../platform/auth/policy.ts';
import type { EntityManager } from '../../../platform/db/orm.ts';
import { rowsOf } from '../../../platform/db/rows.ts';
import { uuidArray } from '../../../platform/db/uuidArray.ts';
import { ApiError } from '../../../platform/errors.ts';

const KIND = `case when k.id is null then null else jsonb_build_object('id', k.id, 'name', k.name, 'brake', k.brake,
  'expected', k.expected, 'hollow', k.hollow) end`;

/** Kinds of joints, in the order of the list. */
export async function listJointKinds(em: EntityManager): Promise<JointKindRow[]> {
  return rowsOf(em, JointKindRow, 'select id, name, brake, expected, hollow from joint_kind order by place');
}

const RevisionSql = z.object({
  id: z.string(),
  specification_id: z.string(),
  number: z.number(),
  detail: SpecificationValues,
  document: z.string(),
  page: z.string(),
  revision: z.string(),
  dated: z.string(),
  demo: z.boolean(),
  imported_from: z.string().nullable(),
  entered_by: z.string(),
  entered_by_name: z.string(),
  entered_on: z.string(),
  released_detail: SpecificationValues.nullable(),
  released_by: z.string().nullable(),
  released_on: z.string().nullable(),
  settled: z.object({ holds: z.string(), why: z.string() }).nullable(),
  withdrawn_by: z.string().nullable(),
  withdrawn_on: z.string().nullable(),
  reason: z.string().nullable(),
  is_open: z.boolean(),
  is_released: z.boolean(),
  attempts: z
    .array(
      z.object({
        by_id: z.string(),
        by: z.string(),
        at: z.string(),
        typed: SpecificationValues,
        differing: z.array(z.string()),
      }),
    )
    .nullable(),
});
type RevisionSql = z.output<typeof RevisionSql>;

const REVISIONS = `
  select r.id, r.specification_id, r.number, r.detail, r.document, r.page, r.revision, r.dated::text, r.demo, r.imported_from,
    r.entered_by, e.name as entered_by_name, r.entered_on::text, rel.detail as released_detail, rp.name as released_by,
    rel.released_on::text, rel.settled, wp.name as withdrawn_by, w.withdrawn_on::text, w.reason,
    s.open_revision_id is not distinct from r.id as is_open, s.released_revision_id is not distinct from r.id as is_released,
    (select jsonb_agg(jsonb_build_object('by_id', a.person_id, 'by', ap.name, 'at', to_char(a.at at time zone 'UTC',
       'YYYY-MM-DD"T"HH24:MI:SS"Z"'), 'typed', a.typed, 'differing', a.differing) order by a.at)
     from specification_attempt a join person ap on ap.id = a.person_id
     where a.revision_id = r.id and a.differing <> '[]') as attempts
  from specification_revision r join specification s on s.id = r.specification_id join person e on e.id = r.entered_by
    left join specification_release rel on rel.revision_id = r.id left join person rp on rp.id = rel.released_by
    left join specification_withdrawal w on w.revision_id = r.id left join person wp on wp.id = w.person_id`;

/** A revision's values without the figures that somebody else must type blind. */
function withoutFigures(values: SpecificationValues): SpecificationValues {
  return values.about === 'joint'
    ? { ...values, torque: null }
    : {
        ...values,
        padMinMm: null,
        rotorDiscardMm: null,
        rotorMachineToMm: null,
        runoutMm: null,
        thicknessVariationMm: null,
      };
}

const say = (value: number | string | null | undefined) => (value == null ? 'nothing' : String(value));

function revisionOf(row: RevisionSql, actor: Actor): Revision {
  const mine = row.entered_by === actor.id;
  const blind = row.is_open && !mine;
  const entered = SpecificationValues.parse(row.detail);
  const figures = figuresToRetype(entered);
  const values = row.released_detail ? SpecificationValues.parse(row.released_detail) : entered;
  return {
    id: row.id,
    number: row.number,
    state: row.is_open ? 'open' : row.is_released ? 'released' : row.withdrawn_on ? 'withdrawn' : 'replaced',
    values: blind ? withoutFigures(values) : values,
    blind,
    source: { document: row.document, page: row.page, revision: row.revision, date: row.dated },
    demo: row.demo,
    importedFrom: row.imported_from,
    enteredBy: row.entered_by_name,
    enteredOn: row.entered_on,
    mine,
    releasedBy: row.released_by,
    releasedOn: row.released_on,
    settled: row.settled?.why ?? null,
    withdrawn:
      row.withdrawn_on && row.withdrawn_by
        ? { by: row.withdrawn_by, on: row.withdrawn_on, reason: row.reason ?? '' }
        : null,
    attempts: (row.attempts ?? [])
      .filter(({ by_id }) => !blind || by_id === actor.id)
      .map(({ by, at, typed, differing }) => {
        const own = figuresToRetype(SpecificationValues.parse(typed));
        return {
          by,
          at,
          differing: differing.map((field) => ({
            field,
            entered: blind ? null : say(figures[field]),
            typed: say(own[field]),
          })),
        };
      }),
  };
}

const SpecificationSql = z.object({
  id: z.string(),
  model_id: z.string(),
  model: z.string(),
  axle: z.number(),
  position: z.string(),
  joint: JointKindRow.nullable(),
  revisions: z.number(),
});
type SpecificationSql = z.output<typeof SpecificationSql>;

const SPECIFICATIONS = `
  select s.id, s.model_id, m.name as model, s.axle, s.position, ${KIND} as joint,
    (select count(*)::int from specification_revision r where r.specification_id = s.id) as revisions
  from specification s join model m on m.id = s.model_id left join joint_kind k on k.id = s.joint_kind_id`;
const IN_ORDER = 'order by m.name, s.axle, k.place nulls last, s.position';

async function withRevisions(em: EntityManager, actor: Actor, rows: SpecificationSql[]): Promise<Specification[]> {
  const revisions = await rowsOf(
    em,
    RevisionSql,
    `${REVISIONS} where s.id = any(?::uuid[]) and r.id in (s.open_revision_id, s.released_revision_id)`,
    [uuidArray(rows.map(({ id }) => id))],
  );
  const of = new Map(revisions.map((row) => [`${row.specification_id} ${row.is_open}`, revisionOf(row, actor)]));
  return rows.map(({ id, model_id, model, axle, position, joint, revisions: count }) => ({
    id,
    modelId: model_id,
    model,
    axle,
    joint,
    position,
    released: of.get(`${id} false`) ?? null,
    open: of.get(`${id} true`) ?? null,
    revisions: count,
  }));
}

/** Specifications of a model that have at least one revision. */
export async function specificationsOf(em: EntityManager, actor: Actor, modelId: string): Promise<Specification[]> {
  const rows = await rowsOf(em, SpecificationSql, `${SPECIFICATIONS} where s.model_id = ? ${IN_ORDER}`, [modelId]);
  return withRevisions(em, actor, rows);
}

/** Specifications with a revision that waits for a second person. */
export async function openSpecifications(em: EntityManager, actor: Actor): Promise<Specification[]> {
  const rows = await rowsOf(em, SpecificationSql, `${SPECIFICATIONS} where s.open_revision_id is not null ${IN_ORDER}`);
  return withRevisions(em, actor, rows);
}

/** All revisions of one specification, newest first. */
export async function revisionsOf(em: EntityManager, actor: Actor, specificationId: string): Promise<Revision[]> {
  const rows = await rowsOf(em, RevisionSql, `${REVISIONS} where s.id = ? order by r.number desc`, [specificationId]);
  if (rows.length === 0) throw new ApiError('not_found', 'There is no such specification on record.');
  return rows.map((row) => revisionOf(row, actor));
}

/** The differences of two specifications' fields in words; the page and wording of the source are not among them. */
export function changesBetween(before: SpecificationValues, after: SpecificationValues): FigureChange[] {
  const from = fieldsWithTorque(before);
  const to = fieldsWithTorque(after);
  return Object.keys({ ...from, ...to })
    .filter((field) => from[field] !== to[field])
    .map((field) => ({
      field: FIELD_NAMES[field] ?? field,
      from: from[field] ?? 'unknown',
      to: to[field] ?? 'unknown',
    }));
}
