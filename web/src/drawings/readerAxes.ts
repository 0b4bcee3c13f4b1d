import { type DistanceUnit, METRES_PER_MILE, thicknessIn, type ThicknessUnit } from '@mile-mark/core';

/** Maps miles and millimetres to what a reader's axes show, with the axes' titles. */
export function readerAxes({
  distanceUnit,
  thicknessUnit,
}: {
  distanceUnit: DistanceUnit;
  thicknessUnit: ThicknessUnit;
}) {
  const distance = (miles: number) => (distanceUnit === 'mi' ? miles : (miles * METRES_PER_MILE) / 1000);
  return {
    distance,
    at: (miles: number, mm: number) => ({ x: distance(miles), y: thicknessIn(mm, thicknessUnit) }),
    odometer: `odometer, ${distanceUnit}`,
    material: `friction material, ${thicknessUnit === '1/32 in' ? '32nds of an inch' : thicknessUnit}`,
  };
}
