import { TorqueTool } from '@mile-mark/contract/specifications';
import type { EntityManager } from '../../../platform/db/orm.ts';
import { rowsOf } from '../../../platform/db/rows.ts';

const TOOLS = `
  select t.id, t.name, t.kind, t.type, d.name as depot, t.unit, t.least::float8, t.most::float8, t.graduation::float8,
    t.length_mm::float8 as "lengthMm", t.extension_mm::float8 as "extensionMm", t.end_size as "endSize", t.ratio::float8, t.drive,
    (select c.due::text from tool_calibration c where c.tool_id = t.id order by c.at desc limit 1) as "calibrationDue", t.retired, t.revision
  from torque_tool t join depot d on d.id = t.depot_id`;

/** Torque tools of all depots, or of one. */
export async function listTorqueTools(em: EntityManager, depot?: string): Promise<TorqueTool[]> {
  const where = depot === undefined ? '' : 'where d.name = ? and not t.retired';
  const order = 'order by t.retired, d.name, t.kind desc, t.most / t.least nulls last, t.most, t.name';
  return rowsOf(em, TorqueTool, `${TOOLS} ${where} ${order}`, depot === undefined ? [] : [depot]);
}
