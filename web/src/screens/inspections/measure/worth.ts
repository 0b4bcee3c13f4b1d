import type { Bay, BayAxle, BayVehicle } from '@mile-mark/contract/inspections';

/** A vehicle worth a look, with why. */
export interface WorthLooking {
  vehicle: BayVehicle;
  axle: BayAxle;
  daysToMark: number | undefined;
}

/** A mark this far off is decided later anyway, days. */
const HORIZON_DAYS = 150;

/**
 * The axles of which a look today would narrow a decision most: what the coordinator asked for first, then by the
 * miles that the 80 % interval would shrink, a mark that is near counting more.
 *
 * @returns one axle a vehicle, at most `most`
 */
export function worthLooking({ vehicles, today }: Bay, depot: string, most: number): WorthLooking[] {
  const score = ({ axle, daysToMark }: WorthLooking): number => {
    const shrinks = axle.worth ? axle.worth.width80Mi - axle.worth.width80AfterMi : 0;
    return (axle.asked ? 1e9 : 0) + shrinks * Math.exp(-Math.max(0, daysToMark ?? HORIZON_DAYS) / 60);
  };
  return vehicles
    .filter((vehicle) => depot === '' || vehicle.depot === depot)
    .flatMap((vehicle) => {
      const own = vehicle.axles
        .map((axle) => ({
          vehicle,
          axle,
          daysToMark: axle.markDate === null ? undefined : (Date.parse(axle.markDate) - Date.parse(today)) / 86_400_000,
        }))
        .filter(
          ({ daysToMark, axle }) => axle.asked !== null || (axle.worth !== null && (daysToMark ?? 0) < HORIZON_DAYS),
        )
        .sort((a, b) => score(b) - score(a));
      return own.slice(0, 1);
    })
    .sort((a, b) => score(b) - score(a))
    .slice(0, most);
}
