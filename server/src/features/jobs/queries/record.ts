import type { Reader } from '@mile-mark/contract/people';
import { dayInWords, milesInWords, scopeInWords, stepPlaceInWords, thicknessInWords } from '@mile-mark/contract/words';
import { placesAcross, SEVERITIES } from '@mile-mark/core';
import { z } from 'zod';
import type { EntityManager } from '../../../platform/db/orm.ts';
import { rowsOf } from '../../../platform/db/rows.ts';
import { uuidArray } from '../../../platform/db/uuidArray.ts';
import type { Block, PrintedDocument } from '../../../platform/documents/pdf.ts';
import { JobMoveEntity, JobPhotoEntity } from '../entities.ts';
import { toldAt } from '../entries.ts';
import { doneSteps, loadJob, textOfStep, type JobState } from './card.ts';
import { valueInWords } from './cardValues.ts';
import { jobDetail } from './job.ts';

const moment = (iso: string) => `${dayInWords(iso.slice(0, 10))} ${iso.slice(11, 16)}`;

/** The record of a job, to be printed: why, decided, booked, done, signed; torques with their wrench; photos. */
export async function jobRecord(
  em: EntityManager,
  id: string,
  today: string,
  reader: Reader,
): Promise<PrintedDocument> {
  const detail = await jobDetail(em, id, today);
  const state = await loadJob(em, id);
  const photos = await em.find(JobPhotoEntity, { jobId: id }, { orderBy: { takenAt: 'asc' } });
  const card = (await signedCard(em, id)) ?? cardRows(state);
  const signed = detail.story.filter(({ kind }) => kind === 'signed').at(-1);
  const blocks: Block[] = [
    {
      kind: 'facts',
      facts: [
        ['State', detail.state],
        ['Day', detail.day === null ? 'not booked' : dayInWords(detail.day)],
        ['Bay', detail.bay ?? 'not said'],
        ['Odometer', detail.odometerMi === null ? 'not yet' : milesInWords(detail.odometerMi, reader.distanceUnit)],
        ['People', detail.people.join(', ') || 'not said'],
        ['Scope', scopeInWords(detail.axles)],
      ],
    },
    ...(signed
      ? [{ kind: 'text' as const, text: `Signed by ${signed.by}, ${moment(signed.at)} UTC.`, strong: true }]
      : []),
    { kind: 'heading', text: 'Story' },
    {
      kind: 'table',
      head: ['When (UTC)', 'Who', '', 'What'],
      widths: [86, 82, 44, '*'],
      rows: detail.story
        .filter(({ kind, text }) => kind !== 'done' || !isOnCard(card, text))
        .map(({ at, by, kind, text }) => [moment(at), by, kind, text]),
    },
    ...(await foundBlocks(em, state, reader)),
    ...torqueBlocks(state),
    { kind: 'heading', text: 'Card' },
    {
      kind: 'table',
      head: ['Step', 'What', 'Signed', 'Found or reached'],
      widths: [96, '*', 96, 96],
      rows: card,
    },
    ...(detail.defects.length > 0
      ? [
          { kind: 'heading' as const, text: 'Defects still open' },
          {
            kind: 'table' as const,
            head: ['What', 'Severity', 'Since', 'Put off'],
            rows: [...detail.defects]
              .sort((a, b) => SEVERITIES.indexOf(b.severity) - SEVERITIES.indexOf(a.severity))
              .map((one) => [
                one.text,
                one.severity,
                dayInWords(one.foundOn),
                one.deferred ? `until ${dayInWords(one.deferred.until)}: ${one.deferred.reason}` : 'no',
              ]),
          },
        ]
      : []),
    ...(photos.length > 0
      ? [
          { kind: 'heading' as const, text: 'Photos' },
          {
            kind: 'photos' as const,
            photos: photos.map(({ jpeg, step, takenAt }) => ({
              jpeg: Buffer.from(jpeg),
              caption: `${stepPlaceInWords(step)}, ${moment(takenAt.toISOString())} UTC`,
            })),
          },
        ]
      : []),
  ];
  return {
    title: `Job record, ${detail.unit}`,
    subtitle: `${detail.model}, ${detail.depot}`,
    blocks,
    foot: 'The maker’s instructions, local codes and licensed practice come first. Corrections supersede; nothing is erased.',
  };
}

/** Steps stand in the card’s own table, as it was when it was signed; the story keeps what is said besides. */
function isOnCard(card: readonly string[][], text: string): boolean {
  return card.some(([place = '']) => text.startsWith(place)) && !text.includes('taken back');
}

/** The card as it was signed; undefined while the job is open. */
async function signedCard(em: EntityManager, jobId: string): Promise<string[][] | undefined> {
  const closing = await em.findOne(JobMoveEntity, { jobId, verb: 'close' });
  const kept = SignedCard.safeParse(closing?.detail);
  return kept.success ? kept.data.card : undefined;
}
const SignedCard = z.object({ card: z.array(z.array(z.string())) });

/** The card as it stands, a row a step; kept with the signature, so that a record never changes with what is revised later. */
export function cardRows(state: JobState): string[][] {
  const done = doneSteps(state);
  return state.steps.map((step) => {
    const entries = state.signed.get(step.id) ?? [];
    const last = entries.at(-1);
    const measured = step.kind === 'measure' && step.axle !== undefined ? state.measured.get(step.axle) : undefined;
    const who = measured
      ? `${measured.by}, ${moment(measured.at)}`
      : last
        ? `${last.by}, ${moment(toldAt(last))}`
        : 'open';
    const value = entries
      .map(valueInWords)
      .filter((text) => text !== 'done')
      .join('; ');
    return [
      stepPlaceInWords(step.id),
      textOfStep(state, step),
      done.has(step.id) ? who : 'open',
      measured ? 'measured' : value,
    ];
  });
}

const ReadingSql = z.object({
  axle: z.number(),
  side: z.string(),
  pad: z.string(),
  mm: z.number(),
  gauge: z.string(),
  by: z.string(),
  on: z.string(),
});
const AS_FOUND = `
  select r.axle, r.side, r.pad, r.thickness_um / 1000.0::float8 as mm, g.name as gauge, p.name as by, r.measured_on::text as on
  from reading r join inspection i on i.id = r.inspection_id join gauge g on g.id = i.gauge_id join person p on p.id = r.technician_id
  where r.inspection_id = any(?::uuid[]) and r.thickness_um is not null
    and not exists (select 1 from reading later where later.supersedes_id = r.id)
  order by r.axle, r.side, r.pad`;

/** The pads as they were found, axle by axle, as they lie across the vehicle. */
async function foundBlocks(em: EntityManager, { measured, scopes }: JobState, reader: Reader): Promise<Block[]> {
  const ids = [...measured].flatMap(([axle, { id }]) => (scopes.has(axle) ? [id] : []));
  const readings = await rowsOf(em, ReadingSql, AS_FOUND, [uuidArray(ids)]);
  const axles = [...new Set(readings.map(({ axle }) => axle))].filter((axle) => scopes.has(axle));
  if (axles.length === 0) return [];
  const unit = reader.thicknessUnit;
  return [
    { kind: 'heading', text: 'Pads as found' },
    {
      kind: 'table',
      head: ['Axle', 'Left outer', 'Left inner', 'Right inner', 'Right outer', 'Gauge', 'Measured'],
      widths: [28, 52, 52, 56, 56, '*', 118],
      rows: axles.map((axle) => {
        const own = readings.filter((one) => one.axle === axle);
        const at = (side: string, pad: string) =>
          own
            .filter((one) => one.side === side && one.pad === pad)
            .map(({ mm }) => thicknessInWords(mm, unit))
            .join(', ');
        return [
          String(axle),
          ...placesAcross([axle]).map(({ side, pad }) => at(side, pad)),
          own[0]?.gauge ?? '',
          `${own[0]?.by ?? ''}, ${dayInWords(own[0]?.on ?? '')}`,
        ];
      }),
    },
  ];
}

function torqueBlocks(state: JobState): Block[] {
  const rows = [...state.signed].flatMap(([step, entries]) =>
    entries
      .filter(({ kind }) => kind === 'torque')
      .map((entry) => [
        stepPlaceInWords(step),
        `${Number(entry.detail.value)} ${String(entry.detail.unit)}`,
        String(entry.detail.tool),
        `revision ${String(entry.detail.revision)}`,
        `${entry.by}, ${moment(toldAt(entry))}`,
      ]),
  );
  if (rows.length === 0) return [];
  return [
    { kind: 'heading', text: 'Torques' },
    {
      kind: 'table',
      head: ['Joint', 'Reached', 'Wrench', 'Specification', 'Signed'],
      widths: ['*', 66, 120, 66, 110],
      rows,
    },
  ];
}
