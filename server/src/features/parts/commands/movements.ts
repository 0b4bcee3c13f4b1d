import type { Moved, NewMovement } from '@mile-mark/contract/parts';
import { z } from 'zod';
import { stockMoved } from '../../../events.ts';
import { command, type Transaction } from '../../../platform/command/command.ts';
import type { EntityManager } from '../../../platform/db/orm.ts';
import { firstRow, rowsOf } from '../../../platform/db/rows.ts';
import { ApiError, invalidField } from '../../../platform/errors.ts';
import { partOfNumber } from '../catalogue.ts';
import { StockMovementEntity } from '../entities.ts';
import { binOf, depotOfName, lockStock, onHandOf } from '../stock.ts';

type Input = z.output<typeof NewMovement>;

/** What a movement is about, its names looked up. */
interface About {
  partId: string;
  number: string;
  depotId: string;
  binId: string;
  lot: string | null;
}

export interface MovementRow {
  kind: string;
  partId: string;
  binId: string;
  units: number;
  requestId: string;
  lot?: string | null;
  expiresOn?: string | null;
  counted?: number | null;
  jobId?: string | null;
  orderLineId?: string | null;
  note?: string | null;
}

/** Writes movements down; what lies where follows from them. */
export async function writeMovements(
  { em, actor, today }: Pick<Transaction, 'em' | 'actor' | 'today'>,
  rows: readonly MovementRow[],
): Promise<void> {
  await em.insertMany(
    StockMovementEntity,
    rows.map((row) => ({ id: crypto.randomUUID(), personId: actor.id, movedOn: today, at: new Date(), ...row })),
  );
}

/** Moves stock by one of its kinds. What would leave less than nothing is refused: it is counted first. */
export const addMovement = command({
  name: 'addMovement',
  action: 'supply',
  clientId: 'id',
  run: async (tx, input: Input): Promise<Moved> => {
    const { em, audit, emit, today } = tx;
    const { id: partId, number, shelf_days } = await partOfNumber(em, input.part, 'part');
    const depotId = await depotOfName(em, input.depot);
    const about: About = {
      partId,
      number,
      depotId,
      binId: await binOf(em, depotId, input.bin),
      lot: input.lot ?? null,
    };
    await lockStock(em, depotId, [partId]);
    if (input.kind === 'receive') refuseLot(shelf_days !== null, input.expiresOn, today);
    const { rows, difference } = await rowsOfMovement(em, input, about);
    await writeMovements(tx, rows);
    const onHand = await onHandOf(em, depotId, partId);
    await audit(`stock: ${input.kind}`, `part/${partId}`, {
      number,
      depot: input.depot,
      bin: input.bin,
      units: rows.map(({ units }) => units),
    });
    await emit(stockMoved({}));
    return { id: input.id, onHand, difference };
  },
});

/** Of what expires the day is needed; what has expired is not put on a shelf. */
function refuseLot(expires: boolean, expiresOn: string | undefined, today: string, field = 'expiresOn'): void {
  if (expires && expiresOn === undefined)
    throw invalidField(field, 'This part expires: the last day on which it may be used is needed.');
  if (expiresOn !== undefined && expiresOn < today)
    throw invalidField(
      field,
      `It expired on ${expiresOn}; a lot that lasts until today (${today}) or longer is accepted.`,
    );
}

async function rowsOfMovement(
  em: EntityManager,
  input: Input,
  about: About,
): Promise<{ rows: MovementRow[]; difference: number | null }> {
  const { partId, binId, lot } = about;
  const base = { kind: input.kind, partId, binId, lot, requestId: input.id, note: input.note ?? null };
  switch (input.kind) {
    case 'receive':
      return { rows: [{ ...base, units: input.units, expiresOn: input.expiresOn ?? null }], difference: null };
    case 'return':
      await refuseReturn(em, input.jobId, about, input.units);
      return { rows: [{ ...base, units: input.units, jobId: input.jobId }], difference: null };
    case 'count': {
      const difference = input.counted - (await unitsIn(em, about));
      return { rows: [{ ...base, units: difference, counted: input.counted }], difference };
    }
    case 'transfer': {
      const toDepot = await depotOfName(em, input.toDepot, 'toDepot');
      const toBin = await binOf(em, toDepot, input.toBin);
      if (toBin === binId) throw invalidField('toBin', 'It lies there already; another bin is accepted.');
      await refuseShort(em, about, input.units);
      const { expiresOn } = await lotOf(em, about);
      return {
        rows: [
          { ...base, units: -input.units },
          { ...base, binId: toBin, units: input.units, expiresOn },
        ],
        difference: null,
      };
    }
    case 'scrap':
    case 'exchange':
      await refuseShort(em, about, input.units);
      return { rows: [{ ...base, units: -input.units }], difference: null };
  }
}

const Level = z.object({ units: z.number(), expiresOn: z.string().nullable() });

async function lotOf(em: EntityManager, { partId, binId, lot }: About): Promise<z.output<typeof Level>> {
  const row = await firstRow(
    em,
    Level,
    `select units, expires_on::text as "expiresOn" from stock_level where part_id = ? and bin_id = ? and lot = ?`,
    [partId, binId, lot ?? ''],
  );
  return row ?? { units: 0, expiresOn: null };
}

const unitsIn = async (em: EntityManager, about: About) => (await lotOf(em, about)).units;

async function refuseShort(em: EntityManager, about: About, units: number): Promise<void> {
  const there = await unitsIn(em, about);
  if (there < units)
    throw new ApiError(
      'conflict',
      `By the record ${there} of ${about.number} lie in that bin, not ${units}. Count it first.`,
      [
        {
          field: 'units',
          message: there > 0 ? `Up to ${there} is accepted.` : 'None lies there; count the bin first.',
        },
      ],
    );
}

async function refuseReturn(em: EntityManager, jobId: string, { partId, number }: About, units: number): Promise<void> {
  const row = await firstRow(
    em,
    z.object({ out: z.number() }),
    `select coalesce(-sum(units), 0)::int as out from stock_movement where job_id = ? and part_id = ? and kind in ('pick', 'return')`,
    [jobId, partId],
  );
  const out = row?.out ?? 0;
  if (out < units)
    throw invalidField(
      'units',
      out > 0
        ? `${out} of ${number} were picked for this job; up to that is accepted.`
        : `None of ${number} was picked for this job.`,
    );
}

const HeldSql = z.object({
  bin: z.string(),
  lot: z.string().nullable(),
  expiresOn: z.string().nullable(),
  units: z.number(),
});

/** What lies in a depot’s bins of a part. */
export async function heldOf(em: EntityManager, depotId: string, partId: string) {
  const rows = await rowsOf(
    em,
    HeldSql,
    `select b.id as bin, nullif(l.lot, '') as lot, l.expires_on::text as "expiresOn", l.units
     from stock_level l join bin b on b.id = l.bin_id where l.part_id = ? and b.depot_id = ? order by b.code`,
    [partId, depotId],
  );
  return rows.map(({ bin, lot, expiresOn, units }) => ({
    bin,
    lot: lot ?? undefined,
    expiresOn: expiresOn ?? undefined,
    units,
  }));
}
