import { z } from 'zod';
import { loadVehicleRecords, readVehicleRecords } from '../features/forecasts/index.ts';
import { type Answers, createAnswers } from '../platform/answers/answers.ts';
import type { EntityManager } from '../platform/db/orm.ts';
import { rowsOf } from '../platform/db/rows.ts';

/** What tells of the moment at which an answer was made, and of nothing else. */
const moment = (body: string) => body.replace(/"at":"[^"]*"/, '').replace(/"cursor":"[^"]*"/, '');

/**
 * Answers as the application keeps them, each held against one made anew, and kept records of vehicles against the
 * database: every test that asks after a change tells whether something was left that they rest on.
 */
export function checkedAnswers(): Answers {
  const answers = createAnswers();
  return {
    of: async (em, asked) => {
      // Somebody may write between the two: an old answer stays old.
      for (let turn = 0; ; turn += 1) {
        const given = await answers.of(em, turn === 0 ? asked : { ...asked, stands: undefined });
        const anew = JSON.stringify(await asked.make());
        if (moment(given.prepared) === moment(anew) && (await recordsStand(em))) return given;
        if (turn === 2) throw new Error(`the answer kept for ${asked.key}, or a record it rests on, is old`);
      }
    },
  };
}

const Vehicle = z.object({ id: z.string() });
/** So many are kept at a time, see `loadVehicleRecords`. */
const SOME = 'select id from vehicle order by unit limit 30';

async function recordsStand(em: EntityManager): Promise<boolean> {
  const ids = (await rowsOf(em, Vehicle, SOME)).map(({ id }) => id);
  const kept = await loadVehicleRecords(em, ids);
  return JSON.stringify(kept) === JSON.stringify(await readVehicleRecords(em, ids));
}
