import { ChangedSince } from '@mile-mark/contract/specifications';
import type { EntityManager } from '../../../platform/db/orm.ts';
import { rowsOf } from '../../../platform/db/rows.ts';

/**
 * Jobs done while an earlier revision of a specification counted, whose figures have changed or were taken back since.
 * A job counts for the variant its vehicle was then. Of one day, the moments decide.
 */
const CHANGED = `
  with change as (
    select rel.revision_id, r.specification_id, rel.released_on as changed_on, rel.released_at as at, rel.changes
    from specification_release rel join specification_revision r on r.id = rel.revision_id
    where rel.replaces is not null and rel.changes <> '[]'
    union all
    select w.revision_id, r.specification_id, w.withdrawn_on, w.at,
      jsonb_build_array(jsonb_build_object('field', 'Withdrawn', 'from', 'released', 'to', w.reason))
    from specification_withdrawal w join specification_release rel on rel.revision_id = w.revision_id
      join specification_revision r on r.id = w.revision_id
  )
  select c.revision_id as "revisionId", sv.id as "serviceId", v.unit, s.axle, m.name as model, sv.fitted_on::text as "fittedOn",
    case when k.id is null then 'Limits, fluid, bed-in' when s.position = '' then k.name else k.name || ', ' || s.position end as joint,
    c.changed_on::text as "changedOn", c.changes,
    (select min(n.fitted_on)::text from service n where n.vehicle_id = sv.vehicle_id and n.axle = sv.axle
      and (n.fitted_on > c.changed_on or (n.fitted_on = c.changed_on and n.recorded_at > c.at))) as "doneAgainOn"
  from change c join specification s on s.id = c.specification_id join model m on m.id = s.model_id
    left join joint_kind k on k.id = s.joint_kind_id
    join service sv on sv.axle = s.axle
      and sv.fitted_on >= (select min(rel.released_on) from specification_release rel
        join specification_revision r on r.id = rel.revision_id where r.specification_id = s.id)
      and (sv.fitted_on < c.changed_on or (sv.fitted_on = c.changed_on and sv.recorded_at < c.at))
    join vehicle_in_fleet v on v.id = sv.vehicle_id
      and s.model_id = coalesce((select x.from_model_id from vehicle_model_change x where x.vehicle_id = v.id
        and (x.changed_on > sv.fitted_on or (x.changed_on = sv.fitted_on and x.at > sv.recorded_at)) order by x.changed_on, x.at limit 1), v.model_id)
  where not exists (select 1 from specification_changed_answer a where a.revision_id = c.revision_id and a.service_id = sv.id)
  order by "doneAgainOn" nulls first, sv.fitted_on desc, v.unit`;

/** Jobs done on what has changed since, not settled yet; those not done again since first. */
export async function changedSince(em: EntityManager): Promise<ChangedSince[]> {
  return rowsOf(em, ChangedSince, CHANGED);
}
