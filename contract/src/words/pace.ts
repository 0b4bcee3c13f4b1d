import { METRES_PER_MILE, type DistanceUnit, type PaceDoubt } from '@mile-mark/core';

const whole = new Intl.NumberFormat('en-US', { maximumFractionDigits: 0 });
const distance = (miles: number, unit: DistanceUnit) =>
  `${whole.format(unit === 'mi' ? miles : (miles * METRES_PER_MILE) / 1000)} ${unit}`;

/** What an odometer that runs ahead of the vehicle's pace is asked, in the reader's unit. */
export function paceInWords({ expectedMi, milesPerDay, usualPerDay, days }: PaceDoubt, unit: DistanceUnit): string {
  const told = (miles: number) => distance(miles, unit);
  return `Runs ahead: about ${told(expectedMi)} was expected. That would be ${told(milesPerDay)} a day for ${days} days where it drives about ${told(usualPerDay)}. Was the odometer read rightly?`;
}
