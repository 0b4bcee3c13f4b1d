import { figureOf } from '@mile-mark/core';

/**
 * The figure behind what was typed, as the core reads figures; NaN where it is blank, none, or could be two: it is then
 * refused at its field, never guessed. A point alone parts decimals, as in the figures that fields are filled with.
 *
 * @param thousandsLikely of what runs to thousands (miles, kilograms, pieces, money), where `1,200` is twelve hundred
 */
export function figure(typed: string, thousandsLikely = false): number {
  return figureOf(typed, { thousandsLikely, mark: typed.includes(',') ? undefined : '.' }) ?? NaN;
}

/** An amount of money as typed, in hundredths of its unit; NaN where it is no amount. */
export const minorOf = (typed: string): number => Math.round(figure(typed, true) * 100);
