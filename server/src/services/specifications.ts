import { judgeJoint } from '@mile-mark/core';
import {
  FIELD_NAMES,
  fieldsWithTorque,
  jointDoubtInWords,
  jointFacts,
  SpecificationValues,
  figuresToRetype,
  type FigureChange,
  type JointKindRow,
  type NewRevision,
  type Revision,
  type Specification,
} from '@mile-mark/contract';
import { mustBeAllowed, type Actor } from '../auth/policy.ts';
import { ModelAxleEntity, type ModelAxleRow } from '../db/entities.ts';
import type { EntityManager } from '../db/orm.ts';
import { uuidArray } from '../db/uuidArray.ts';
import { Refusal, refuseField, type FieldError } from '../errors.ts';
import { recordDeed } from './audit.ts';

const KIND = `case when k.id is null then null else jsonb_build_object('id', k.id, 'name', k.name, 'brake', k.brake,
  'expected', k.expected, 'hollow', k.hollow) end`;

/** Kinds of joints, in the order of the list. */
export async function listJointKinds(em: EntityManager): Promise<JointKindRow[]> {
  return em.execute('select id, name, brake, expected, hollow from joint_kind order by place');
}

/** Puts a kind of joint on the list. */
export async function addJointKind(em: EntityManager, actor: Actor, input: JointKindRow): Promise<{ id: string }> {
  mustBeAllowed(actor, 'register');
  const { id, name, brake, expected, hollow } = input;
  await em.transactional(async (inner) => {
    const [there] = await inner.execute<{ id: string }[]>('select id from joint_kind where lower(name) = lower(?)', [
      name,
    ]);
    if (there?.id === id) return;
    if (there) throw refuseField('name', `“${name}” is on the list already; another name is accepted.`);
    await inner.execute('insert into joint_kind (id, name, brake, expected, hollow) values (?, ?, ?, ?, ?)', [
      id,
      name,
      brake,
      expected,
      hollow,
    ]);
    await recordDeed(inner, actor.id, 'put a kind of joint on the list', `joint-kind/${id}`, { name });
  });
  return { id };
}

interface RevisionSql {
  id: string;
  specification_id: string;
  number: number;
  detail: SpecificationValues;
  document: string;
  page: string;
  revision: string;
  dated: string;
  demo: boolean;
  imported_from: string | null;
  entered_by: string;
  entered_by_name: string;
  entered_on: string;
  released_detail: SpecificationValues | null;
  released_by: string | null;
  released_on: string | null;
  settled: { holds: string; why: string } | null;
  withdrawn_by: string | null;
  withdrawn_on: string | null;
  reason: string | null;
  is_open: boolean;
  is_released: boolean;
  attempts: { by_id: string; by: string; at: string; typed: SpecificationValues; differing: string[] }[] | null;
}

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

interface SpecificationSql {
  id: string;
  model_id: string;
  model: string;
  axle: number;
  position: string;
  joint: JointKindRow | null;
  revisions: number;
}

const SPECIFICATIONS = `
  select s.id, s.model_id, m.name as model, s.axle, s.position, ${KIND} as joint,
    (select count(*)::int from specification_revision r where r.specification_id = s.id) as revisions
  from specification s join model m on m.id = s.model_id left join joint_kind k on k.id = s.joint_kind_id`;
const IN_ORDER = 'order by m.name, s.axle, k.place nulls last, s.position';

async function withRevisions(em: EntityManager, actor: Actor, rows: SpecificationSql[]): Promise<Specification[]> {
  const revisions = await em.execute<RevisionSql[]>(
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
  const rows = await em.execute<SpecificationSql[]>(`${SPECIFICATIONS} where s.model_id = ? ${IN_ORDER}`, [modelId]);
  return withRevisions(em, actor, rows);
}

/** Specifications with a revision that waits for a second person. */
export async function openSpecifications(em: EntityManager, actor: Actor): Promise<Specification[]> {
  const rows = await em.execute<SpecificationSql[]>(
    `${SPECIFICATIONS} where s.open_revision_id is not null ${IN_ORDER}`,
  );
  return withRevisions(em, actor, rows);
}

/** All revisions of one specification, newest first. */
export async function revisionsOf(em: EntityManager, actor: Actor, specificationId: string): Promise<Revision[]> {
  const rows = await em.execute<RevisionSql[]>(`${REVISIONS} where s.id = ? order by r.number desc`, [specificationId]);
  if (rows.length === 0) throw new Refusal('not_found', 'There is no such specification on record.');
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

interface Place {
  modelId: string;
  axle: number;
  jointKindId: string | null;
  position: string;
}

/** What entries are judged against: the axles of models, and the kinds of joints. */
export interface SpecificationGround {
  axles: ReadonlyMap<string, ModelAxleRow>;
  kinds: ReadonlyMap<string, JointKindRow>;
}

const axleKey = (modelId: string, axle: number) => `${modelId} ${axle}`;

/** Reads what entries about these models are judged against. */
export async function readGround(em: EntityManager, modelIds: readonly string[]): Promise<SpecificationGround> {
  const axles = await em.find(ModelAxleEntity, { modelId: { $in: [...modelIds] } });
  const kinds = await listJointKinds(em);
  return {
    axles: new Map(axles.map((row) => [axleKey(row.modelId, row.axle), row])),
    kinds: new Map(kinds.map((kind) => [kind.id, kind])),
  };
}

/** What is wrong or still to be confirmed in what was entered, by field. */
export function faultsOf(
  ground: SpecificationGround,
  { modelId, axle, jointKindId, values, confirmed }: Place & Pick<NewRevision, 'values' | 'confirmed'>,
): { refused: FieldError[]; questions: FieldError[] } {
  const refused: FieldError[] = [];
  const questions: FieldError[] = [];
  const refuse = (field: string, message: string) => refused.push({ field, message });
  const own = ground.axles.get(axleKey(modelId, axle));
  const kind = jointKindId === null ? undefined : ground.kinds.get(jointKindId);
  if (!own) refuse('axle', 'The model has no such axle on record; one that it has is accepted.');
  if (jointKindId && !kind) refuse('jointKindId', 'There is no such joint on the list; one of the list is accepted.');
  if ((values.about === 'joint') !== (jointKindId !== null))
    refuse('values.about', 'A joint has values of a joint, an axle as a whole those of an axle.');
  if (kind?.brake && own && kind.brake !== own.brake)
    refuse('jointKindId', `${kind.name} belongs to ${kind.brake} brakes; this axle's are ${own.brake}.`);
  if (values.about === 'joint') {
    if (values.absent && values.torque)
      refuse(
        'values.absent',
        'A joint that is not there has no torque; leave the torque blank, or say that it is there.',
      );
    for (const doubt of judgeJoint(jointFacts(values, kind?.hollow ?? false))) {
      const entry = { field: `values.${doubt.field}`, message: jointDoubtInWords(doubt) };
      if (doubt.weight === 'refused') refused.push(entry);
      if (doubt.weight === 'question' && !confirmed.includes(doubt.code)) questions.push(entry);
    }
  } else if (own) {
    const { padMinMm, rotorDiscardMm, rotorMachineToMm } = values;
    const discard = rotorDiscardMm ?? (own.rotorDiscardUm == null ? null : own.rotorDiscardUm / 1000);
    if (padMinMm !== null && padMinMm >= own.padNewUm / 1000)
      refuse('values.padMinMm', `New pads have ${own.padNewUm / 1000} mm; less than that is accepted.`);
    if (rotorDiscardMm !== null && own.rotorNewUm != null && rotorDiscardMm >= own.rotorNewUm / 1000)
      refuse('values.rotorDiscardMm', `A new rotor has ${own.rotorNewUm / 1000} mm; less than that is accepted.`);
    if (rotorMachineToMm !== null && own.rotorNewUm != null && rotorMachineToMm > own.rotorNewUm / 1000)
      refuse('values.rotorMachineToMm', `A new rotor has ${own.rotorNewUm / 1000} mm; at most that is accepted.`);
    if (rotorMachineToMm !== null && discard !== null && rotorMachineToMm < discard)
      refuse('values.rotorMachineToMm', `Less than discard (${discard} mm); at least that is accepted.`);
  }
  return { refused, questions };
}

/** A revision to be kept, and the file it came from. */
export type RevisionToKeep = NewRevision & { importedFrom?: string };

const ENTRY = `jsonb_to_recordset(?::jsonb) as e(id uuid, model_id uuid, axle int, joint_kind_id uuid, position text,
  detail jsonb, document text, page text, revision text, dated date, confirmed jsonb, imported_from text)`;
const AT_PLACE = `s.model_id = e.model_id and s.axle = e.axle and s.joint_kind_id is not distinct from e.joint_kind_id
  and s.position = e.position`;

/** Keeps new revisions, each of another joint; inside a transaction. Those that are in already add nothing. */
export async function keepRevisions(
  em: EntityManager,
  actor: Actor,
  inputs: readonly RevisionToKeep[],
  today: string,
): Promise<void> {
  const entries = JSON.stringify(
    inputs.map(({ id, modelId, axle, jointKindId, position, values, source, confirmed, importedFrom }) => ({
      id,
      model_id: modelId,
      axle,
      joint_kind_id: jointKindId,
      position,
      detail: values,
      document: source.document,
      page: source.page,
      revision: source.revision,
      dated: source.date,
      confirmed,
      imported_from: importedFrom ?? null,
    })),
  );
  await em.execute(
    `insert into specification (id, model_id, axle, joint_kind_id, position)
     select gen_random_uuid(), e.model_id, e.axle, e.joint_kind_id, e.position from ${ENTRY}
     on conflict on constraint specification_place do nothing`,
    [entries],
  );
  const places = await em.execute<{ revision_id: string; open_revision_id: string | null }[]>(
    `select e.id as revision_id, s.open_revision_id from specification s join ${ENTRY} on ${AT_PLACE}
     order by s.id for update of s`,
    [entries],
  );
  const taken = places.find((one) => one.open_revision_id !== null && one.open_revision_id !== one.revision_id);
  if (taken) throw await waitsAlready(em, taken.open_revision_id ?? '');
  const fresh = places.filter((one) => one.open_revision_id === null).map((one) => one.revision_id);
  if (fresh.length === 0) return;
  await em.execute(
    `insert into specification_revision (id, specification_id, number, detail, document, page, revision, dated, confirmed,
       imported_from, entered_by, entered_on)
     select e.id, s.id, (select coalesce(max(r.number), 0) + 1 from specification_revision r where r.specification_id = s.id),
       e.detail, e.document, e.page, e.revision, e.dated, e.confirmed, e.imported_from, ?, ?::date
     from specification s join ${ENTRY} on ${AT_PLACE} where e.id = any(?::uuid[])`,
    [actor.id, today, entries, uuidArray(fresh)],
  );
  await em.execute(
    `update specification s set open_revision_id = r.id from specification_revision r
     where r.specification_id = s.id and r.id = any(?::uuid[])`,
    [uuidArray(fresh)],
  );
  await em.execute(
    `insert into audit (at, person_id, action, subject, detail)
     select now(), ?, 'entered a specification', 'specification/' || r.specification_id, jsonb_build_object('revision', r.id)
     from specification_revision r where r.id = any(?::uuid[])`,
    [actor.id, uuidArray(fresh)],
  );
}

async function waitsAlready(em: EntityManager, revisionId: string): Promise<Refusal> {
  const [open] = await em.execute<{ number: number; name: string; entered_on: string }[]>(
    `select r.number, p.name, r.entered_on::text from specification_revision r join person p on p.id = r.entered_by where r.id = ?`,
    [revisionId],
  );
  const message = `Revision ${open?.number}, entered by ${open?.name} on ${open?.entered_on}, still waits to be released. Two can't wait at once: release it or take it back first.`;
  return new Refusal('conflict', message, [{ field: 'jointKindId', message }]);
}

/** Refuses a revision that says, from the same page of the same document, what counts already. */
async function refuseSame(em: EntityManager, input: NewRevision): Promise<void> {
  const [counts] = await em.execute<
    { detail: unknown; document: string; page: string; revision: string; dated: string }[]
  >(
    `select rel.detail, r.document, r.page, r.revision, r.dated::text from specification s
       join specification_release rel on rel.revision_id = s.released_revision_id
       join specification_revision r on r.id = s.released_revision_id
     where s.model_id = ? and s.axle = ? and s.joint_kind_id is not distinct from ?::uuid and s.position = ?`,
    [input.modelId, input.axle, input.jointKindId, input.position],
  );
  const { document, page, revision, date } = input.source;
  const sameSource =
    counts?.document === document && counts.page === page && counts.revision === revision && counts.dated === date;
  if (counts && sameSource && changesBetween(SpecificationValues.parse(counts.detail), input.values).length === 0)
    throw refuseField(
      'values',
      'What counts already says the same, from the same page; a change, or a newer document, is accepted.',
    );
}

/** Enters a revision; it counts only once somebody else has released it. */
export async function addRevision(
  em: EntityManager,
  actor: Actor,
  input: NewRevision,
  today: string,
): Promise<{ id: string }> {
  mustBeAllowed(actor, 'specify');
  if (input.source.date > today)
    throw refuseField('source.date', `${input.source.date} is in the future; the document's own date is accepted.`);
  const { refused, questions } = faultsOf(await readGround(em, [input.modelId]), input);
  const faults = [...refused, ...questions];
  if (faults.length > 0) throw new Refusal('invalid', undefined, faults);
  await refuseSame(em, input);
  await em.transactional(async (inner) => keepRevisions(inner, actor, [input], today));
  return { id: input.id };
}

/** Takes back a revision: one that waits, or a released one that proved wrong, whose joint is unknown from then on. */
export async function withdrawRevision(
  em: EntityManager,
  actor: Actor,
  revisionId: string,
  reason: string,
  today: string,
): Promise<{ id: string }> {
  mustBeAllowed(actor, 'specify');
  await em.transactional(async (inner) => {
    const [own] = await inner.execute<{ id: string; open: boolean; released: boolean }[]>(
      `select s.id, s.open_revision_id is not distinct from r.id as open, s.released_revision_id is not distinct from r.id as released
       from specification_revision r join specification s on s.id = r.specification_id where r.id = ? for update of s`,
      [revisionId],
    );
    if (!own) throw new Refusal('not_found', 'There is no such revision on record.');
    if (!own.open && !own.released) {
      const [gone] = await inner.execute('select 1 from specification_withdrawal where revision_id = ?', [revisionId]);
      if (gone) return;
      throw new Refusal('conflict', 'This revision was replaced meanwhile; there is nothing to take back.');
    }
    if (own.released) mustBeAllowed(actor, 'register');
    await inner.execute(
      'insert into specification_withdrawal (revision_id, person_id, withdrawn_on, reason) values (?, ?, ?::date, ?)',
      [revisionId, actor.id, today, reason],
    );
    const pointer = own.open ? 'open_revision_id' : 'released_revision_id';
    await inner.execute(`update specification set ${pointer} = null where id = ?`, [own.id]);
    await recordDeed(inner, actor.id, 'took back a specification', `specification/${own.id}`, { revisionId, reason });
  });
  return { id: revisionId };
}
