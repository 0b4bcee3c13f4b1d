import { rolesThat } from '@mile-mark/contract';
import { findingDetailInWords } from '@mile-mark/contract/words';
import { findingOf } from '@mile-mark/core';
import { randomUUID } from 'node:crypto';
import { z } from 'zod';
import { vehiclesOf } from '../../events.ts';
import type { EntityManager } from '../../platform/db/orm.ts';
import { shared } from '../../platform/answers/shared.ts';
import { rowsOf } from '../../platform/db/rows.ts';
import { setsOf } from '../../platform/db/sets.ts';
import { uuidArray } from '../../platform/db/uuidArray.ts';
import type { Subscriber } from '../../platform/events/bus.ts';
import {
  limitRuleOf,
  LimitRuleEntity,
  ModelAxleEntity,
  ModelEntity,
  limitOf,
  readSettings,
} from '../register/index.ts';
import { DefectEntity, DefectSettlementEntity } from './entities.ts';

const FoundSql = z.object({
  source_id: z.string(),
  vehicle_id: z.string(),
  axle: z.number(),
  side: z.enum(['left', 'right']),
  item: z.string(),
  state: z.string(),
  person_id: z.string(),
  said_by: z.string(),
  found_on: z.string(),
  odometer_m: z.number(),
  places: z.array(z.string()).optional(),
  degree: z.string().nullish(),
  note: z.string().nullish(),
});
type FoundSql = z.output<typeof FoundSql>;

/** Findings since the axle's last pads that are no defect yet. */
const FINDINGS = `
  select f.id as source_id, f.vehicle_id, f.axle, f.side, f.item, f.state, f.places, f.degree, f.note, i.technician_id as person_id, p.name as said_by,
    i.measured_on::text as found_on, i.odometer_m
  from live_finding f join inspection i on i.id = f.inspection_id join person p on p.id = i.technician_id
  where f.vehicle_id = any(?::uuid[]) and not exists (select 1 from defect d where d.source_id = f.id)
    and not exists (select 1 from service s where s.vehicle_id = f.vehicle_id and s.axle = f.axle and s.fitted_on > i.measured_on)`;

const LastSql = FoundSql.omit({ item: true, state: true }).extend({
  pad: z.enum(['inner', 'outer']),
  model_id: z.string(),
  thickness_um: z.number(),
});
type LastSql = z.output<typeof LastSql>;

/** The last figure of each pad since its axle got new ones. */
const LAST = `
  select distinct on (r.vehicle_id, r.axle, r.side, r.pad) r.id as source_id, r.vehicle_id, v.model_id, r.axle, r.side, r.pad,
    r.thickness_um, r.technician_id as person_id, p.name as said_by, r.measured_on::text as found_on, r.odometer_m
  from reading r join vehicle v on v.id = r.vehicle_id join person p on p.id = r.technician_id
  where r.vehicle_id = any(?::uuid[]) and r.thickness_um is not null
    and not exists (select 1 from reading later where later.supersedes_id = r.id)
    and not exists (select 1 from service s where s.vehicle_id = r.vehicle_id and s.axle = r.axle and s.fitted_on >= r.measured_on and s.fitted <> 'rotors')
  order by r.vehicle_id, r.axle, r.side, r.pad, r.measured_on desc, r.entered_at desc`;

/** Makes defects of what readings and findings show, in the transaction that brings them: nothing found is only written down. */
export const defectSubscriber: Subscriber = {
  name: 'defects',
  within: async (em, event) => {
    const takesBack = event.name === 'reading corrected' || event.name === 'import taken back';
    if (event.name !== 'readings kept' && !takesBack) return;
    if (takesBack) await closeTakenBack(em, vehiclesOf(event));
    await raiseDefects(em, vehiclesOf(event));
  },
};

const GoneSql = z.object({ id: z.string(), person_id: z.string(), reason: z.string(), settled_on: z.string() });

/**
 * Open defects whose finding or figure was taken back: who did it, why, on which day. A figure that forbids driving ends
 * with it only where somebody entitled took it back, or where it was moved and forbids another vehicle.
 */
const GONE = `
  select distinct on (d.id) d.id, w.person_id, w.reason, w.at::date::text as settled_on
  from defect d join (
    select finding_id as source_id, person_id, reason, at from finding_withdrawal
    union all select f.id, i.person_id, i.reason, i.at from inspection_withdrawal i join finding f on f.inspection_id = i.inspection_id
    union all select r.supersedes_id, r.entered_by, coalesce(r.reason, 'corrected'), r.entered_at from reading r
      join person p on p.id = r.entered_by where r.supersedes_id is not null and (p.role = any(string_to_array(?, ','))
        or exists (select 1 from inspection_withdrawal m where m.inspection_id = r.inspection_id and m.moved_to is not null))
  ) w on w.source_id = d.source_id
  where d.vehicle_id = any(?::uuid[]) and not exists (select 1 from defect_settlement s where s.defect_id = d.id and s.how = 'closed')
  order by d.id, w.at`;

/** A defect ends with what it was raised from; what still holds is raised anew from what stands. */
async function closeTakenBack(em: EntityManager, vehicleIds: string[]): Promise<void> {
  const gone = await rowsOf(em, GoneSql, GONE, [rolesThat('decide').join(','), uuidArray(vehicleIds)]);
  await em.insertMany(
    DefectSettlementEntity,
    gone.map(({ id, person_id, reason, settled_on }) => ({
      id: randomUUID(),
      defectId: id,
      how: 'closed',
      until: null,
      reason: `Taken back: ${reason}`,
      jobId: null,
      personId: person_id,
      settledOn: settled_on,
      at: new Date(),
    })),
  );
}

async function raiseDefects(em: EntityManager, vehicleIds: string[]): Promise<void> {
  const params = [uuidArray(vehicleIds)];
  const { found, last } = await setsOf(em, {
    found: { row: FoundSql, sql: FINDINGS, params },
    last: { row: LastSql, sql: LAST, params },
  });
  const raised = found.flatMap((row) => {
    const severity = findingOf(row.item, row.state)?.severity ?? 'note';
    return severity === 'note' ? [] : [rowOf(row, 'finding', severity)];
  });
  const below = await belowLaw(em, vehicleIds, last);
  const rows = [...raised, ...below];
  if (rows.length > 0) await em.insertMany(DefectEntity, rows);
}

/** The least that the law lets a pad of an axle be; none where no rule says. */
const lawsOf = (em: EntityManager) =>
  shared(em, 'laws of pads', async () => {
    const own = () => em.fork({ keepTransactionContext: true });
    const [limits, { marginShare }, models, axles] = await Promise.all([
      own().find(LimitRuleEntity, {}),
      readSettings(own()),
      own().find(ModelEntity, {}),
      own().find(ModelAxleEntity, {}),
    ]);
    const rules = limits.map(limitRuleOf);
    const modelById = new Map(models.map((model) => [model.id, model]));
    return new Map(
      axles.map((axle) => {
        const model = modelById.get(axle.modelId);
        return [`${axle.modelId}/${axle.axle}`, model && limitOf(model, axle, rules, marginShare).legal];
      }),
    );
  });

async function belowLaw(em: EntityManager, vehicleIds: string[], last: readonly LastSql[]) {
  if (last.length === 0) return [];
  const laws = await lawsOf(em);
  const below = last.flatMap(({ pad, thickness_um, model_id, ...row }) => {
    const law = laws.get(`${model_id}/${row.axle}`);
    const mm = thickness_um / 1000;
    if (!law || (law.equalityPasses ? mm >= law.leastMm : mm > law.leastMm)) return [];
    const state = `${pad} pad ${mm.toFixed(1)} mm, at least ${law.leastMm.toFixed(1)} mm`;
    return [{ pad, row: rowOf({ ...row, item: 'pads', state }, 'limit', 'do not drive') }];
  });
  if (below.length === 0) return [];
  const open = await rowsOf(
    em,
    z.object({ key: z.string() }),
    `select vehicle_id || '/' || axle || '/' || side || '/' || coalesce(state, '') as key from defect d
     where kind = 'limit' and vehicle_id = any(?::uuid[])
       and not exists (select 1 from defect_settlement s where s.defect_id = d.id and s.how = 'closed')`,
    [uuidArray(vehicleIds)],
  );
  return below.flatMap(({ pad, row }) => {
    const place = `${row.vehicleId}/${row.axle}/${row.side}/${pad} pad`;
    return open.some(({ key }) => key.startsWith(place)) ? [] : [row];
  });
}

function rowOf(row: FoundSql, kind: 'finding' | 'limit', severity: string) {
  return {
    id: randomUUID(),
    vehicleId: row.vehicle_id,
    kind,
    axle: row.axle,
    side: row.side,
    item: row.item,
    state: row.state,
    severity,
    note: findingDetailInWords(row) || null,
    saidBy: row.said_by,
    foundOn: row.found_on,
    odometerM: row.odometer_m,
    sourceId: row.source_id,
    dueM: null,
    jobId: null,
    personId: row.person_id,
    at: new Date(),
  };
}
