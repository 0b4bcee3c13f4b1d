import { fineInWords, fineSpreadInWords } from '@mile-mark/contract/words';
import type { ThicknessUnit } from '@mile-mark/core';
import type { Appraisers, AppraiserView, ShareView } from '@mile-mark/contract/gauges';

/** A bias over this is worth doing something about: a month's driving and more (common practice, no source). */
const NOTABLE_MM = 0.25;
const Z90 = 1.645;

/** Whether an interval of 90 % keeps clear of nought, and the value matters. */
export function isNotable({ biasMm, biasSdMm }: { biasMm: number; biasSdMm: number }): boolean {
  return Math.abs(biasMm) >= NOTABLE_MM && Math.abs(biasMm) > Z90 * biasSdMm;
}

export const half90 = ({ biasSdMm }: { biasSdMm: number }): number => Z90 * biasSdMm;

/** How the last quarter stands against the first, where both were measured. */
function drifted(appraiser: AppraiserView): number | undefined {
  const [first, last] = [appraiser.drift[0], appraiser.drift.at(-1)];
  if (!first || !last || first === last) return undefined;
  const change = last.biasMm - first.biasMm;
  return Math.abs(change) > Z90 * Math.hypot(first.biasSdMm, last.biasSdMm) && Math.abs(change) > 0.15
    ? change
    : undefined;
}

export interface Help {
  about: string;
  finding: string;
  help: string;
}

/**
 * What stands out and what would help; calm and about the measuring, not about people. Everything named here is
 * taken into account already: the corrections are applied to every reading.
 */
export function whatHelps({ appraisers, gauges, technicians }: Appraisers, unit: ThicknessUnit = 'mm'): Help[] {
  const mm = (value: number) => fineInWords(Math.abs(value), unit);
  const way = (value: number) => (value > 0 ? 'high' : 'low');
  const helps: Help[] = [];
  const explained = new Set<string>();
  for (const gauge of gauges) {
    if (!isNotable(gauge) || gauge.partners < 2) continue;
    explained.add(gauge.id);
    helps.push({
      about: gauge.name,
      finding: `Reads ${mm(gauge.biasMm)} ${way(gauge.biasMm)} in the hands of ${gauge.partners} people: it is the gauge.`,
      help: 'Check its zero and have it calibrated. Until then every reading with it is corrected.',
    });
  }
  for (const appraiser of appraisers) {
    if (!isNotable({ biasMm: appraiser.biasMm, biasSdMm: appraiser.biasSdMm }) || explained.has(appraiser.gaugeId))
      continue;
    const person = technicians.find(({ id }) => id === appraiser.technicianId);
    const alone = (person?.partners ?? 1) < 2;
    helps.push({
      about: `${appraiser.technician} with ${appraiser.gauge}`,
      finding: `Reads ${mm(appraiser.biasMm)} ${way(appraiser.biasMm)}${alone ? '; appraiser and gauge can’t be told apart, because they always go together' : ''}.`,
      help: alone
        ? 'A few inspections with another gauge, or a gauge study, would tell which it is.'
        : 'A look at the technique together: the same pad, the same spot, plate or no plate. Readings are corrected meanwhile.',
    });
  }
  const coarse = new Map(
    appraisers.filter(({ resolutionMm }) => resolutionMm >= 0.5).map((appraiser) => [appraiser.gaugeId, appraiser]),
  );
  for (const appraiser of coarse.values())
    helps.push({
      about: appraiser.gauge,
      finding: `Reads in steps of ${mm(appraiser.resolutionMm)}: by itself ± ${mm(appraiser.resolutionMm / 2)}.`,
      help: 'A gauge that reads a tenth of a millimetre makes each look worth several of these. Its readings weigh less meanwhile.',
    });
  for (const appraiser of appraisers) {
    const change = drifted(appraiser);
    if (change !== undefined)
      helps.push({
        about: `${appraiser.technician} with ${appraiser.gauge}`,
        finding: `Has moved by ${mm(change)} ${change > 0 ? 'upwards' : 'downwards'} since ${appraiser.drift[0]?.quarter.slice(0, 7) ?? ''}.`,
        help: 'Look at the probe for wear and at the zero.',
      });
  }
  return helps;
}

/** How well a share is known, in words. */
export function shareInWords(
  { biasMm, biasSdMm, partners }: ShareView,
  what: 'gauge' | 'person',
  unit: ThicknessUnit = 'mm',
): string {
  const value = `${biasMm >= 0 ? '+' : '−'}${fineSpreadInWords(Math.abs(biasMm), Z90 * biasSdMm, unit)}`;
  if (partners < 2)
    return `${value}; ${what === 'gauge' ? 'one person uses it' : 'always the same gauge'}, so it is a guess`;
  return value;
}
