import { fineInWords } from '@mile-mark/contract/words';
import { rotorRunout, rotorThickness, type ThicknessUnit } from '@mile-mark/core';

interface Props {
  /** mm, eight points from twelve o'clock, clockwise; undefined where not measured. */
  thicknessMm: readonly (number | undefined)[];
  /** mm, 8 or 12 points; empty where not measured. */
  runoutMm: readonly number[];
  discardMm: number | undefined;
  /** Of the model's released specification, mm. */
  limits?: { runoutMm: number | null; variationMm: number | null };
  size?: number;
}

const RADIUS = 78;
const HUB = 30;
/** How far a hundredth of a millimetre of runout stands out, in drawing units. */
const EXAGGERATION = 2.2;

/**
 * A rotor seen from outside: thickness written where it was measured, runout as the rim standing out or in
 * (enlarged), its high spot marked, the once-a-turn part as a dashed circle set off the centre.
 */
export function RotorDisc({ thicknessMm, runoutMm, discardMm, size = 240 }: Props) {
  const thickness = rotorThickness(thicknessMm);
  const runout = runoutMm.length >= 4 ? rotorRunout(runoutMm) : undefined;
  const level = runoutMm.reduce((sum, mm) => sum + mm, 0) / Math.max(1, runoutMm.length);
  const at = (turn: number, radius: number) => ({
    x: radius * Math.sin(2 * Math.PI * turn),
    y: -radius * Math.cos(2 * Math.PI * turn),
  });
  const rim = runoutMm.map((mm, i) =>
    at(i / runoutMm.length, RADIUS + Math.max(-25, Math.min(25, (mm - level) * 100 * EXAGGERATION))),
  );
  const first = runout && at(runout.first.highAtTurn, Math.min(25, runout.first.amplitudeMm * 100 * EXAGGERATION));
  const high = runout && at(runout.first.highAtTurn, RADIUS + 14);
  return (
    <svg
      viewBox="-120 -120 240 240"
      width={size}
      height={size}
      role="img"
      aria-label={discInWords({ thicknessMm, runoutMm, discardMm })}
    >
      <circle r={RADIUS} fill="var(--color-raised)" stroke="var(--color-line)" strokeWidth={2} />
      <circle r={HUB} fill="var(--color-sheet)" stroke="var(--color-line)" strokeWidth={2} />
      {[0, 1, 2, 3, 4].map((stud) => {
        const { x, y } = at(stud / 5, HUB * 0.62);
        return <circle key={stud} cx={x} cy={y} r={3} fill="var(--color-soft)" />;
      })}
      {first && (
        <circle
          cx={first.x}
          cy={first.y}
          r={RADIUS}
          fill="none"
          stroke="var(--color-slate)"
          strokeDasharray="5 4"
          strokeWidth={1.5}
        />
      )}
      {rim.length > 0 && (
        <polygon
          points={rim.map(({ x, y }) => `${x.toFixed(1)},${y.toFixed(1)}`).join(' ')}
          fill="none"
          stroke="var(--color-ochre)"
          strokeWidth={2.5}
          strokeLinejoin="round"
        />
      )}
      {high && <circle cx={high.x} cy={high.y} r={5} fill="var(--color-ochre)" />}
      {thicknessMm.map((mm, i) => {
        if (mm === undefined) return null;
        const { x, y } = at(i / thicknessMm.length, (RADIUS + HUB) / 2);
        const least = thickness?.leastAt === i;
        const below = discardMm !== undefined && mm < discardMm;
        return (
          <text
            key={i}
            x={x}
            y={y + 5}
            textAnchor="middle"
            className="figures"
            fontSize={least ? 17 : 14}
            fontWeight={least ? 700 : 500}
            fill={below ? 'var(--color-brick)' : 'var(--color-ink)'}
          >
            {mm.toFixed(2)}
          </text>
        );
      })}
      {['12', '3', '6', '9'].map((hour, i) => {
        const { x, y } = at(i / 4, 112);
        return (
          <text key={hour} x={x} y={y + 4} textAnchor="middle" fontSize={11} fill="var(--color-soft)">
            {hour}
          </text>
        );
      })}
    </svg>
  );
}

/** A share of a turn as a clock reading: `4 o’clock`, `half past 4`. */
function clockInWords(turn: number): string {
  const halves = Math.round(turn * 24) % 24;
  const hour = Math.floor(halves / 2) === 0 ? 12 : Math.floor(halves / 2);
  return halves % 2 === 0 ? `${hour} o’clock` : `half past ${hour}`;
}

/** What a rotor's figures say, in a technician's words. */
export function discInWords(
  { thicknessMm, runoutMm, discardMm, limits }: Omit<Props, 'size'>,
  unit: ThicknessUnit = 'mm',
): string {
  const fine = (mm: number) => fineInWords(mm, unit);
  const against = (mm: number, limit: number | null | undefined) =>
    limit == null
      ? ''
      : mm > limit + 1e-9
        ? `, over its limit of ${fine(limit)}`
        : `, within its limit of ${fine(limit)}`;
  const parts: string[] = [];
  const thickness = rotorThickness(thicknessMm);
  if (thickness) {
    parts.push(`Thinnest ${fine(thickness.leastMm)} at ${clockInWords(thickness.leastAt / thicknessMm.length)}`);
    if (discardMm !== undefined)
      parts.push(
        thickness.leastMm < discardMm
          ? `below the discard thickness of ${fine(discardMm)}: replace`
          : `${fine(thickness.leastMm - discardMm)} above discard`,
      );
    if (thickness.points > 1)
      parts.push(`varies ${fine(thickness.variationMm)} around${against(thickness.variationMm, limits?.variationMm)}`);
  }
  if (runoutMm.length >= 4) {
    const { tirMm, first, remainderTirMm } = rotorRunout(runoutMm);
    parts.push(
      `runout ${fine(tirMm)}${against(tirMm, limits?.runoutMm)}: ${fine(2 * first.amplitudeMm)} once a turn, high at ${clockInWords(first.highAtTurn)} (seating or hub), ${fine(remainderTirMm)} in the rotor itself`,
    );
  }
  return parts.length > 0 ? `${parts.join('; ')}.` : 'Not measured.';
}
