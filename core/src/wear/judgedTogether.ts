import type { SuspicionKind } from '../measure/index.ts';
import { appraiserKeyOf } from './appraiserKey.ts';
import type { ReadingInput, ReadingJudgement, VehicleInput } from './types.ts';

/** What a hand does to a whole look rather than to one figure of it. */
const OF_A_LOOK: readonly SuspicionKind[] = [
  'plate',
  'thicker_than_new',
  'thicker_than_expected',
  'thinner_than_expected',
];

/** How far one pad's difference may be from the others' and still be the same doubt, mm (common practice, no source). */
const SAME_DOUBT_MM = 1.5;

/**
 * The doubts of one look told together: a figure whose digits could as well have been swapped, among pads of the same
 * look that are all off alike for another reason, is off for that reason. Two slips of the pen in one look are rarer
 * than one way of measuring it. Weights and estimates stay as they are; what is asked changes.
 */
export function judgedTogether(
  judgements: readonly ReadingJudgement[],
  { readings, axles }: Pick<VehicleInput, 'readings' | 'axles'>,
): ReadingJudgement[] {
  const readingOf = new Map(readings.map((reading) => [reading.id, reading]));
  const plateOf = new Map(axles.map(({ axle, plateMm }) => [axle, plateMm]));
  const looks = new Map<string, ReadingJudgement[]>();
  for (const judgement of judgements) {
    const reading = readingOf.get(judgement.id);
    if (!reading || !judgement.suspicion) continue;
    looks.set(lookOf(reading), [...(looks.get(lookOf(reading)) ?? []), judgement]);
  }
  return judgements.map((judgement) => {
    const reading = readingOf.get(judgement.id);
    const { suspicion } = judgement;
    if (!reading || suspicion?.kind !== 'digits') return judgement;
    const others = (looks.get(lookOf(reading)) ?? []).filter(({ id }) => id !== judgement.id);
    const kind = sharedBy(others, suspicion.differenceMm);
    if (!kind) return judgement;
    const insteadMm = kind === 'plate' ? reading.mm - (plateOf.get(reading.axle) ?? 0) : undefined;
    return { ...judgement, suspicion: { ...suspicion, kind, insteadMm } };
  });
}

/**
 * The doubt that most of the others share, at least two of them and off by about as much. Digits swapped at several pads
 * alike are none: those pads are thicker or thinner.
 */
function sharedBy(others: readonly ReadingJudgement[], differenceMm: number): SuspicionKind | undefined {
  const alike = others.filter(
    ({ suspicion }) => suspicion !== undefined && Math.abs(suspicion.differenceMm - differenceMm) <= SAME_DOUBT_MM,
  );
  const count = (kind: SuspicionKind) => alike.filter(({ suspicion }) => suspicion?.kind === kind).length;
  const shared = OF_A_LOOK.find((kind) => count(kind) >= 2 && count(kind) > others.length / 2);
  if (shared || count('digits') < 2) return shared;
  return differenceMm < 0 ? 'thinner_than_expected' : 'thicker_than_expected';
}

function lookOf(reading: ReadingInput): string {
  return [reading.date, reading.miles, appraiserKeyOf(reading)].join('/');
}
