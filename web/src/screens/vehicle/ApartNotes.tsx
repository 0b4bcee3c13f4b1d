import { thicknessInWords, type Me, type VehicleDetail } from '@mile-mark/contract';
import { formatChance, formatDate } from '../../ui/format.ts';

/** What usually stands behind pads that wear apart, and what to look at (common practice, no source). */
const CAUSE = {
  inner: 'Usually the slide has seized: test pins and channels, then the caliper, before new pads go on.',
  outer: 'Usually pins or channels bind, or a piston sticks: test both pins and the channels.',
};

/** Wheels whose pads wear apart, with the evidence and what to look at. */
export function ApartNotes({ vehicle, me }: { vehicle: VehicleDetail; me: Me }) {
  if (vehicle.apart.length === 0) return null;
  const mm = (value: number) => thicknessInWords(value, me.thicknessUnit);
  return (
    <ul className="flex flex-col gap-2 px-4 pt-3">
      {vehicle.apart.map(({ axle, side, more, since, innerWearMm, outerWearMm, probability }) => (
        <li key={`${axle}${side}`} role="status" className="border-l-4 border-brick bg-sheet px-3 py-2">
          <strong>
            Axle {axle}, {side}: the {more} pad wears far more than its mate.
          </strong>{' '}
          Since {formatDate(since)} the inner wore {mm(Math.max(0, innerWearMm))}, the outer{' '}
          {mm(Math.max(0, outerWearMm))} (chance that it is so: {formatChance(probability)}). {CAUSE[more]}
        </li>
      ))}
    </ul>
  );
}
