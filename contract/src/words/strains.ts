import type { CalibratedView, StrainView } from '../forecasts/index.ts';

const CLASSES: Record<string, string> = { pickup: 'pickups', van: 'vans', heavy: 'heavy trucks' };

/** Vehicles of a class, in the plural: `heavy trucks`. */
export function classInWords(name: string): string {
  return CLASSES[name] ?? name;
}

/** How far ahead, in words. */
export function distanceInWords(distance: CalibratedView['distance']): string {
  return distance === 'near' ? 'up to 8,000 mi ahead' : 'farther ahead';
}

/** What was done to intervals that had not held, in words; undefined where they are as computed. */
export function wideningInWords({ class: name, distance, within80, factor }: CalibratedView): string | undefined {
  if (factor <= 1) return undefined;
  const share = Math.round(within80 * 100);
  return `Intervals of ${classInWords(name)} ${distanceInWords(distance)} have been too narrow (${share} % of looks fell within those that were to hold 80 %): widened ${factor.toFixed(2)} times.`;
}

/** What forecasts take for granted, as a sentence. */
export const ASSUMPTION_IN_WORDS: Record<StrainView['assumption'], string> = {
  technician: 'A technician reads as was learnt of him or her',
  season: 'Wear does not hang on the season beyond its duty',
  route: 'A new route wears as its duty says',
  age: 'Pads wear as fast new as worn',
  odometer: 'An old vehicle wears its pads as a young one',
  width: 'Errors are as wide as was said',
  run: 'The error of one look tells nothing of the next',
};

/** How a group strains what is taken for granted, in words. */
export function strainInWords({ assumption, group, mean, spread }: StrainView): string {
  if (assumption === 'width')
    return `${classInWords(group)}: errors are ${spread.toFixed(2)} times as wide as was said.`;
  if (assumption === 'run')
    return `The error of one look goes on at the next (correlation ${mean.toFixed(2)}): looks after a bad one are off the same way.`;
  const way = mean < 0 ? 'thinner' : 'thicker';
  return `${group}: readings come out ${Math.abs(mean).toFixed(2)} standard deviations ${way} than forecast.`;
}
