import type { BacktestView } from '@mile-mark/contract/forecasts';

/** Between these, an interval that is to hold 80 % keeps its word (four standard errors of a few hundred readings). */
const KEEPS = { from: 0.74, to: 0.88 };
/** Under this many, nothing is said. */
const FEW = 60;

export interface Verdict {
  word: string;
  told: string;
}

/** Whether a coordinator can trust the dates, in words. */
export function verdictOf(all: BacktestView): Verdict {
  if (all.readings < FEW)
    return {
      word: 'Too early to tell',
      told: `Only ${all.readings} readings could be checked so far; ${FEW} and more are wanted.`,
    };
  const share = `${Math.round(all.within80 * 100)} % of readings fell within the interval that was to hold 80 %`;
  if (all.within80 < KEEPS.from)
    return { word: 'Surer than it should be', told: `${share}: take the intervals as somewhat too narrow.` };
  if (all.within80 > KEEPS.to)
    return {
      word: 'More careful than it needs to be',
      told: `${share}: the intervals are wider than they need to be.`,
    };
  return { word: 'It keeps its word', told: `${share}.` };
}

/** How much nearer than another method, in words. */
export function againstInWords(medianMm: number, otherMm: number): string {
  const ratio = medianMm / otherMm;
  if (ratio > 0.97 && ratio < 1.03) return 'as near';
  return ratio < 1
    ? `${Math.round((1 - ratio) * 100)}\u00a0% nearer`
    : `${Math.round((ratio - 1) * 100)}\u00a0% farther off`;
}
