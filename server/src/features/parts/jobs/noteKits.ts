import { dayInWords } from '@mile-mark/contract/words';
import { z } from 'zod';
import type { EntityManager } from '../../../platform/db/orm.ts';
import { rowsOf } from '../../../platform/db/rows.ts';
import type { Standing } from '../queries/standing.ts';
import { KitNoticeEntity } from '../entities.ts';

const KeptSql = z.object({ job_id: z.string(), state: z.string() });

/**
 * Keeps how each open job's kit stands, and tells those whose kit went to a job that needs it sooner: complete before,
 * short now, and nothing of it was picked meanwhile for anybody but that job.
 */
export async function noteKits(em: EntityManager, { jobs, states, catalogue }: Standing): Promise<void> {
  if (catalogue.parts.length === 0) return;
  const kept = new Map(
    (await rowsOf(em, KeptSql, 'select job_id, state from job_kit')).map((row) => [row.job_id, row.state]),
  );
  const notices: { id: string; jobId: string; text: string; at: Date }[] = [];
  const rows = jobs.flatMap((job) => {
    const state = states.get(job.id);
    if (!state) return [];
    const before = kept.get(job.id);
    if (before !== undefined && before !== 'short' && state.state === 'short') {
      const lost = state.needs.filter(({ now }) => now.state !== 'there').map(({ kind }) => kind);
      const sooner = jobs
        .filter(({ id, depotId, day }) => id !== job.id && depotId === job.depotId && day <= job.day)
        .map(({ unit }) => unit);
      notices.push({
        id: crypto.randomUUID(),
        jobId: job.id,
        text: `The kit of ${job.unit} is no longer complete: ${lost.join(', ')}${sooner.length > 0 ? `; ${sooner.slice(0, 3).join(', ')} ${sooner.length === 1 ? 'needs' : 'need'} theirs by ${dayInWords(job.day)} or sooner` : ''}.`,
        at: new Date(),
      });
    }
    return [
      {
        job_id: job.id,
        state: state.state,
        until: state.until ?? null,
        needs: state.needs.map(({ kind, now }) => ({ kind, now })),
      },
    ];
  });
  await em.execute(
    `insert into job_kit (job_id, state, until, needs) select job_id, state, until, needs
       from jsonb_to_recordset(?::jsonb) as t(job_id uuid, state text, until date, needs jsonb)
     on conflict (job_id) do update set state = excluded.state, until = excluded.until, needs = excluded.needs, computed_at = clock_timestamp()
     where job_kit.state <> excluded.state or job_kit.until is distinct from excluded.until or job_kit.needs <> excluded.needs`,
    [JSON.stringify(rows)],
  );
  if (notices.length > 0) await em.insertMany(KitNoticeEntity, notices);
}
