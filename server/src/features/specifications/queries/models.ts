import type { Fitment, LibraryModel } from '@mile-mark/contract/specifications';
import { z } from 'zod';
import type { EntityManager } from '../../../platform/db/orm.ts';
import { rowsOf } from '../../../platform/db/rows.ts';
import { groupBy } from '../../../platform/groupBy.ts';
import { ModelEntity, type ModelRow } from '../../register/index.ts';

/** What tells a variant from its sisters. */
export function fitmentOf(row: ModelRow): Fitment {
  return {
    drive: row.drive ?? null,
    wheelbaseMm: row.wheelbaseMm ?? null,
    builtFrom: row.builtFrom ?? null,
    builtTo: row.builtTo ?? null,
    axleOption: row.axleOption ?? null,
  };
}

const AxleCount = z.object({
  model_id: z.string(),
  axle: z.number(),
  brake: z.enum(['hydraulic', 'air']),
  brake_detail: z.string(),
  released: z.number(),
  lacking: z.number(),
  open: z.number(),
});
type AxleCount = z.output<typeof AxleCount>;

/** Models with how far their specifications are, axle by axle. */
export async function libraryModels(em: EntityManager): Promise<LibraryModel[]> {
  const models = await em.find(ModelEntity, {}, { orderBy: { name: 'asc' } });
  const vehicles = new Map(
    (
      await rowsOf(
        em,
        z.object({ model_id: z.string(), vehicles: z.number() }),
        'select model_id, count(*)::int as vehicles from vehicle_in_fleet group by model_id',
      )
    ).map(({ model_id, vehicles: count }) => [model_id, count]),
  );
  const axles = await rowsOf(
    em,
    AxleCount,
    `select a.model_id, a.axle, a.brake, a.brake_detail,
       (select count(*)::int from specification s where s.model_id = a.model_id and s.axle = a.axle
         and s.released_revision_id is not null) as released,
       (select count(*)::int from specification s where s.model_id = a.model_id and s.axle = a.axle
         and s.open_revision_id is not null) as open,
       (select count(*)::int from joint_kind k where k.expected and (k.brake is null or k.brake = a.brake)
         and not exists (select 1 from specification s where s.model_id = a.model_id and s.axle = a.axle
           and s.joint_kind_id = k.id and s.released_revision_id is not null)) as lacking
     from model_axle a order by a.model_id, a.axle`,
  );
  const byModel = groupBy(axles, ({ model_id }) => model_id);
  return models.map((model) => ({
    id: model.id,
    name: model.name,
    class: model.class,
    gvwrKg: model.gvwrKg,
    revision: model.revision,
    fitment: fitmentOf(model),
    vehicles: vehicles.get(model.id) ?? 0,
    axles: (byModel.get(model.id) ?? []).map(({ axle, brake, brake_detail, released, lacking, open }) => ({
      axle,
      brake,
      detail: brake_detail,
      released,
      lacking,
      open,
    })),
  }));
}
