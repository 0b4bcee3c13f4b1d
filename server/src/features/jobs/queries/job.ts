import { JobAction, ScopeItem, type JobDetail, type StoryLine } from '@mile-mark/contract/jobs';
import { actionInWords, dayInWords, scopeInWords, stepPlaceInWords } from '@mile-mark/contract/words';
import { metresToMiles } from '@mile-mark/core';
import { z } from 'zod';
import type { EntityManager } from '../../../platform/db/orm.ts';
import { rowsOf } from '../../../platform/db/rows.ts';
import { ApiError } from '../../../platform/errors.ts';
import { JobEntity } from '../entities.ts';
import { entriesOf, toldAt, type EntryRow } from '../entries.ts';
import { valueInWords } from './cardValues.ts';
import { openDefects } from './defects.ts';
import { listJobs } from './jobs.ts';

const MoveSql = z.object({
  verb: z.string(),
  detail: z.record(z.string(), z.unknown()),
  by: z.string(),
  on: z.string(),
  at: z.string(),
});
const Why = z.array(
  z.object({ axle: z.number(), because: z.array(z.object({ action: JobAction, text: z.string() })) }),
);

/** One job with its story in order: why, decided, booked, done, signed. */
export async function jobDetail(em: EntityManager, id: string, today: string): Promise<JobDetail> {
  const own = () => em.fork({ keepTransactionContext: true });
  const [job, rows, moves, entries] = await Promise.all([
    own().findOne(JobEntity, { id }),
    listJobs(own(), { id }),
    rowsOf(
      own(),
      MoveSql,
      `select m.verb, m.detail, p.name as by, m.moved_on::text as on, to_char(m.at at time zone 'UTC', 'YYYY-MM-DD"T"HH24:MI:SS"Z"') as at
       from job_move m join person p on p.id = m.person_id where m.job_id = ? order by m.at`,
      [id],
    ),
    entriesOf(own(), id),
  ]);
  const [row] = rows;
  if (!job || !row) throw new ApiError('not_found', 'There is no such job on record.');
  const [around] = await rowsOf(
    own(),
    z.object({ class: z.enum(['pickup', 'van', 'heavy']), now: z.number().nullable() }),
    `select m.class, (select (f.detail->>'odometerNowMi')::float8 from vehicle_forecast f where f.vehicle_id = v.id) as now
     from vehicle v join model m on m.id = v.model_id where v.id = ?`,
    [job.vehicleId],
  );
  if (!around) throw new ApiError('not_found');
  const photos = await rowsOf(
    own(),
    z.object({ id: z.string(), step: z.string(), takenAt: z.string(), by: z.string() }),
    `select x.id, x.step, to_char(x.taken_at at time zone 'UTC', 'YYYY-MM-DD"T"HH24:MI:SS"Z"') as "takenAt", p.name as by
     from job_photo x join person p on p.id = x.person_id where x.job_id = ? order by x.taken_at`,
    [id],
  );
  const because = Why.parse(job.why).flatMap((one) => one.because.map((own) => ({ axle: one.axle, ...own })));
  const first = moves[0];
  return {
    ...row,
    class: around.class,
    today,
    because,
    odometerNowMi: around.now === null ? null : Math.round(around.now),
    odometerMi: job.odometerM == null ? null : Math.round(metresToMiles(job.odometerM)),
    story: [
      ...(first ? because.map(({ axle, text }) => line(first, 'why', `Axle ${axle}: ${text}`)) : []),
      ...together(
        [
          ...moves.flatMap((move) => movesInWords(move)),
          ...entries.filter(({ kind }) => kind !== 'take up').map((entry) => entryLine(entry)),
        ].sort((a, b) => a.at.localeCompare(b.at)),
      ),
    ],
    defects: await openDefects(own(), today, job.vehicleId),
    photos,
  };
}

/** Ticks of one person that follow each other are one line: what was only done, and says no figure. */
function together(lines: readonly StoryLine[]): StoryLine[] {
  const merged: StoryLine[] = [];
  for (const one of lines) {
    const last = merged.at(-1);
    const plain = (story: StoryLine) => story.kind === 'done' && story.text.endsWith(TICKED);
    if (last && plain(last) && plain(one) && last.by === one.by && last.on === one.on)
      merged[merged.length - 1] = { ...last, text: `${last.text.slice(0, -TICKED.length)}; ${one.text}` };
    else merged.push(one);
  }
  return merged;
}
const TICKED = ': done.';

type Move = z.output<typeof MoveSql>;
const line = ({ at, on, by }: Pick<Move, 'at' | 'on' | 'by'>, kind: StoryLine['kind'], text: string): StoryLine => ({
  at,
  on,
  by,
  kind,
  text,
});
const Axles = z.array(z.object({ axle: z.number(), scope: z.array(z.any()), declined: z.array(z.any()) }));

function movesInWords(move: Move): StoryLine[] {
  const { verb, detail } = move;
  const text = (key: string) => (typeof detail[key] === 'string' ? detail[key] : '');
  const booked = `for ${text('day') ? dayInWords(text('day')) : ''}${text('bay') ? `, ${text('bay')}` : ''}`;
  switch (verb) {
    case 'propose': {
      const axles = Axles.parse(detail.axles ?? []);
      const left = axles.flatMap(({ axle, declined }) =>
        (declined as { action: string; reason: string }[]).map(
          (one) => `axle ${axle}: ${one.action} left out (${one.reason})`,
        ),
      );
      return [
        line(move, 'decided', [scopeInWords(axles), ...left].join('; ')),
        ...(text('day') ? [line(move, 'booked', `Booked ${booked}.`)] : []),
      ];
    }
    case 'book':
      return [line(move, 'booked', `Booked ${booked}.`)];
    case 'move':
      return [
        line(
          move,
          'booked',
          `Moved to ${dayInWords(text('day'))}${text('bay') ? `, ${text('bay')}` : ''}${text('reason') ? `: ${text('reason')}` : ''}.`,
        ),
      ];
    case 'start':
      return [line(move, 'done', 'Work begun.')];
    case 'add':
    case 'leave out':
      return [
        line(
          move,
          'decided',
          `Axle ${String(detail.axle)}: ${changedInWords(detail)} ${verb === 'add' ? 'added' : 'left out'} (${text('reason')}).`,
        ),
      ];
    case 'call off':
      return [line(move, 'booked', `Called off: ${text('reason')}.`)];
    case 'close':
      return [
        line(
          move,
          'signed',
          `Signed and closed at ${Math.round(metresToMiles(Number(detail.odometerM))).toLocaleString('en-US')} mi.${text('note') ? ` ${text('note')}` : ''}`,
        ),
      ];
    default:
      return [line(move, 'note', verb)];
  }
}

const Changed = z.object({
  action: JobAction,
  sides: ScopeItem.shape.sides,
  also: z.array(ScopeItem).default([]),
});

/** What was added or left out, with the wheel where it is of one, and what the rules asked for with it. */
function changedInWords(detail: Record<string, unknown>): string {
  const read = Changed.safeParse(detail);
  if (!read.success) return String(detail.action);
  const { also } = read.data;
  const besides = also.length > 0 ? `, and with it ${also.map(actionInWords).join(', ')},` : '';
  return `${actionInWords(read.data)}${besides}`;
}

function entryLine(entry: EntryRow): StoryLine {
  const at = toldAt(entry);
  const place = entry.step === null ? '' : stepPlaceInWords(entry.step);
  const told = (key: string) => {
    const value = entry.detail[key];
    return typeof value === 'string' || typeof value === 'number' ? String(value) : '';
  };
  const own = { at, on: at.slice(0, 10), by: entry.by };
  switch (entry.kind) {
    case 'note':
      return line(own, 'note', `${place ? `${place}: ` : ''}${told('text')}`);
    case 'part':
      return line(own, 'note', `Asked for: ${told('quantity')} × ${told('what')}.`);
    case 'pause':
      return line(own, 'note', `Paused${told('reason') ? `: ${told('reason')}` : ''}.`);
    case 'hand over':
      return line(own, 'note', `Handed over to ${told('toName')}${told('note') ? `: ${told('note')}` : ''}.`);
    case 'undo':
      return line(own, 'done', `${place}: taken back (${told('reason')}).`);
    default:
      return line(own, 'done', `${place}: ${valueInWords(entry)}.`);
  }
}
