import type { NewPick, Picked } from '@mile-mark/contract/parts';
import { isOpen, takeFrom, type JobState } from '@mile-mark/core';
import { z } from 'zod';
import { stockMoved } from '../../../events.ts';
import { command } from '../../../platform/command/command.ts';
import type { EntityManager } from '../../../platform/db/orm.ts';
import { firstRow, rowsOf } from '../../../platform/db/rows.ts';
import { uuidArray } from '../../../platform/db/uuidArray.ts';
import { ApiError, type FieldError } from '../../../platform/errors.ts';
import { JobEntity } from '../../jobs/index.ts';
import { partOfNumber } from '../catalogue.ts';
import { CountRequestEntity } from '../entities.ts';
import { lockStock } from '../stock.ts';
import { heldOf, writeMovements, type MovementRow } from './movements.ts';

type Line = z.output<typeof NewPick>['lines'][number] & { partId: string; number: string };

/**
 * Takes parts for a job, all of it or nothing. Two pickers of the last one wait for each other: one gets it, the other is
 * told who has it. What lies there against the record is taken where somebody says that they see it, and the bin is to be
 * counted.
 */
export const addPick = command({
  name: 'addPick',
  action: 'pick',
  clientId: 'id',
  run: async (tx, input: z.output<typeof NewPick>): Promise<Picked> => {
    const { em, actor, today, audit, emit } = tx;
    const job = await em.findOne(JobEntity, { id: input.jobId });
    if (!job) throw new ApiError('not_found', 'There is no such job on record.');
    if (!isOpen(job.state as JobState))
      throw new ApiError('conflict', `This job is ${job.state}; nothing is picked for it any more.`);
    const lines: Line[] = [];
    for (const [i, line] of input.lines.entries()) {
      const { id: partId, number } = await partOfNumber(em, line.part, `lines.${i}.part`);
      lines.push({ ...line, partId, number });
    }
    await lockStock(
      em,
      job.depotId,
      lines.map(({ partId }) => partId),
    );
    const rows: MovementRow[] = [];
    const errors: FieldError[] = [];
    for (const [i, line] of lines.entries()) {
      const { takes, missing } = takeFrom(await leftOf(em, job.depotId, line, rows), line.units, today);
      const base = { kind: 'pick', partId: line.partId, requestId: input.id, jobId: input.jobId };
      rows.push(...takes.map(({ bin, lot, units }) => ({ ...base, binId: bin, lot: lot ?? null, units: -units })));
      if (missing === 0) continue;
      const bin = line.seen ? await usualBin(em, job.depotId, line.partId) : undefined;
      if (bin === undefined)
        errors.push({ field: `lines.${i}.units`, message: await missingInWords(em, line, missing, job.depotId) });
      else {
        rows.push({ ...base, binId: bin, units: -missing });
        await em.insert(CountRequestEntity, {
          id: crypto.randomUUID(),
          partId: line.partId,
          binId: bin,
          reason: `${missing} more taken than the record says lie there`,
          personId: actor.id,
          at: new Date(),
        });
      }
    }
    if (errors.length > 0) throw new ApiError('conflict', errors[0]?.message, errors);
    await writeMovements(tx, rows);
    await audit('picked parts', `job/${input.jobId}`, {
      lines: lines.map(({ number, units }) => `${units} × ${number}`),
    });
    await emit(stockMoved({}));
    return { id: input.id, takes: await takesInWords(em, rows) };
  },
});

/** What lies there less what the lines before took. */
async function leftOf(em: EntityManager, depotId: string, { partId }: Line, rows: readonly MovementRow[]) {
  const held = await heldOf(em, depotId, partId);
  return held.map((one) => ({
    ...one,
    units: rows
      .filter((row) => row.partId === partId && row.binId === one.bin && (row.lot ?? undefined) === one.lot)
      .reduce((left, { units }) => left + units, one.units),
  }));
}

async function usualBin(em: EntityManager, depotId: string, partId: string): Promise<string | undefined> {
  const row = await firstRow(
    em,
    z.object({ id: z.string() }),
    `select b.id from bin b join stock_movement m on m.bin_id = b.id where m.part_id = ? and b.depot_id = ? order by m.serial desc limit 1`,
    [partId, depotId],
  );
  return row?.id;
}

/** Who took the last of it, and where there is more. */
async function missingInWords(
  em: EntityManager,
  { partId, number, units }: Line,
  missing: number,
  depotId: string,
): Promise<string> {
  const last = await firstRow(
    em,
    z.object({ by: z.string(), unit: z.string().nullable() }),
    `select p.name as by, v.unit from stock_movement m join bin b on b.id = m.bin_id join person p on p.id = m.person_id
       left join job j on j.id = m.job_id left join vehicle v on v.id = j.vehicle_id
     where m.part_id = ? and b.depot_id = ? and m.units < 0 order by m.serial desc limit 1`,
    [partId, depotId],
  );
  const [elsewhere] = await rowsOf(
    em,
    z.object({ depot: z.string(), units: z.number() }),
    `select d.name as depot, sum(l.units)::int as units from stock_level l join bin b on b.id = l.bin_id join depot d on d.id = b.depot_id
     where l.part_id = ? and b.depot_id <> ? group by d.name having sum(l.units) > 0 order by units desc limit 1`,
    [partId, depotId],
  );
  return [
    `${missing === units ? 'None' : `Only ${units - missing}`} of ${number} ${missing === units ? 'is' : 'are'} left here`,
    last ? `; the last went to ${last.by}${last.unit ? ` for ${last.unit}` : ''}` : '',
    elsewhere ? `; ${elsewhere.depot} has ${elsewhere.units}` : '',
    '.',
  ].join('');
}

async function takesInWords(em: EntityManager, rows: readonly MovementRow[]): Promise<Picked['takes']> {
  const names = await rowsOf(
    em,
    z.object({ id: z.string(), name: z.string() }),
    `select id, number as name from part where id = any(?::uuid[]) union all select id, code from bin where id = any(?::uuid[])`,
    [uuidArray(rows.map(({ partId }) => partId)), uuidArray(rows.map(({ binId }) => binId))],
  );
  const nameOf = new Map(names.map(({ id, name }) => [id, name]));
  return rows.map(({ partId, binId, lot, units }) => ({
    part: nameOf.get(partId) ?? '',
    bin: nameOf.get(binId) ?? '',
    lot: lot ?? null,
    units: -units,
  }));
}
