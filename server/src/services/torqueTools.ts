import type { NewTorqueTool, TorqueTool } from '@mile-mark/contract';
import { mustBeAllowed, type Actor } from '../auth/policy.ts';
import type { EntityManager } from '../db/orm.ts';
import { Refusal, refuseField } from '../errors.ts';
import { recordDeed } from './audit.ts';
import { refuseFuture } from './lookups.ts';

const TOOLS = `
  select t.id, t.name, t.kind, t.type, d.name as depot, t.unit, t.least::float8, t.most::float8, t.graduation::float8,
    t.length_mm::float8 as "lengthMm", t.extension_mm::float8 as "extensionMm", t.end_size as "endSize", t.ratio::float8, t.drive,
    (select c.due::text from tool_calibration c where c.tool_id = t.id order by c.at desc limit 1) as "calibrationDue", t.retired
  from torque_tool t join depot d on d.id = t.depot_id`;

/** Torque tools of all yards, or of one. */
export async function listTorqueTools(em: EntityManager, depot?: string): Promise<TorqueTool[]> {
  const where = depot === undefined ? '' : 'where d.name = ? and not t.retired';
  const order = 'order by t.retired, d.name, t.kind desc, t.most / t.least nulls last, t.most, t.name';
  return em.execute(`${TOOLS} ${where} ${order}`, depot === undefined ? [] : [depot]);
}

async function depotId(em: EntityManager, name: string): Promise<string> {
  const [row] = await em.execute<{ id: string }[]>('select id from depot where lower(name) = lower(?)', [name]);
  if (!row) throw refuseField('depot', `There is no yard “${name}” on record; one of the list is accepted.`);
  return row.id;
}

/** Puts a torque tool on record; a repeat with the same id adds nothing. */
export async function addTorqueTool(em: EntityManager, actor: Actor, input: NewTorqueTool): Promise<{ id: string }> {
  mustBeAllowed(actor, 'register');
  await em.transactional(async (inner) => {
    const [there] = await inner.execute<{ id: string }[]>('select id from torque_tool where lower(name) = lower(?)', [
      input.name,
    ]);
    if (there?.id === input.id) return;
    if (there) throw refuseField('name', `There is a tool “${input.name}” already; another name is accepted.`);
    const own = {
      type: input.kind === 'wrench' ? input.type : null,
      least: input.kind === 'wrench' ? input.least : null,
      graduation: input.kind === 'wrench' ? input.graduation : null,
      lengthMm: input.kind === 'wrench' ? input.lengthMm : null,
      extensionMm: input.kind === 'adapter' ? input.extensionMm : null,
      endSize: input.kind === 'adapter' ? input.endSize : null,
      ratio: input.kind === 'multiplier' ? input.ratio : null,
      due: input.kind === 'adapter' ? null : input.calibrationDue,
    };
    await inner.execute(
      `insert into torque_tool (id, name, kind, type, depot_id, unit, least, most, graduation, length_mm, extension_mm, end_size, ratio, drive)
       values (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)`,
      [
        input.id,
        input.name,
        input.kind,
        own.type,
        await depotId(inner, input.depot),
        input.unit,
        own.least,
        input.most,
        own.graduation,
        own.lengthMm,
        own.extensionMm,
        own.endSize,
        own.ratio,
        input.drive,
      ],
    );
    if (own.due)
      await inner.execute('insert into tool_calibration (id, tool_id, due, person_id) values (?, ?, ?::date, ?)', [
        crypto.randomUUID(),
        input.id,
        own.due,
        actor.id,
      ]);
    await recordDeed(inner, actor.id, 'put a torque tool on record', `torque-tool/${input.id}`, { name: input.name });
  });
  return { id: input.id };
}

/** Moves a tool to another yard, or retires it. */
export async function changeTorqueTool(
  em: EntityManager,
  actor: Actor,
  id: string,
  input: { depot: string; retired: boolean },
): Promise<{ id: string }> {
  mustBeAllowed(actor, 'register');
  await em.transactional(async (inner) => {
    const rows = await inner.execute<{ id: string }[]>(
      'update torque_tool set depot_id = ?, retired = ? where id = ? returning id',
      [await depotId(inner, input.depot), input.retired, id],
    );
    if (rows.length === 0) throw new Refusal('not_found', 'There is no such torque tool on record.');
    await recordDeed(inner, actor.id, 'changed a torque tool', `torque-tool/${id}`, input);
  });
  return { id };
}

/** Records a calibration; the newest tells when the next is due. */
export async function addCalibration(
  em: EntityManager,
  actor: Actor,
  toolId: string,
  { id, doneOn, due }: { id: string; doneOn: string; due: string },
  today: string,
): Promise<{ id: string }> {
  mustBeAllowed(actor, 'register');
  refuseFuture(doneOn, today, 'doneOn');
  await em.transactional(async (inner) => {
    const [tool] = await inner.execute<{ kind: string }[]>('select kind from torque_tool where id = ? for update', [
      toolId,
    ]);
    if (!tool) throw new Refusal('not_found', 'There is no such torque tool on record.');
    if (tool.kind === 'adapter') throw refuseField('doneOn', 'An adapter has no scale; it is not calibrated.');
    await inner.execute(
      `insert into tool_calibration (id, tool_id, done_on, due, person_id) values (?, ?, ?::date, ?::date, ?)
       on conflict (id) do nothing`,
      [id, toolId, doneOn, due, actor.id],
    );
    await recordDeed(inner, actor.id, 'recorded a calibration', `torque-tool/${toolId}`, { doneOn, due });
  });
  return { id };
}
