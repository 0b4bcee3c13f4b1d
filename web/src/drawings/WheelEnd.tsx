import type { Pad, Side, ThicknessUnit } from '@mile-mark/core';
import { thicknessInWords } from '@mile-mark/contract/words';
import { shareLeft, wearLook } from './wear.ts';

interface PadFigure {
  mm: number;
  sdMm?: number | undefined;
}

interface Props {
  side: Side;
  pads: Partial<Record<Pad, PadFigure>>;
  newMm: number;
  limitMm: number;
  unit: ThicknessUnit;
  /** Pixels a millimetre of friction material. */
  scale?: number;
}

const ROTOR_PX = 12;
const PLATE = 5;
const HEIGHT = 54;

/**
 * A wheel end seen from above: two pads pressing on a rotor, each bar's thickness true to scale, the service
 * limit as a hairline, what a new pad would be as a ghost, the number beside. The outer pad lies towards the
 * outside of the vehicle.
 */
export function WheelEnd({ side, pads, newMm, limitMm, unit, scale = 4.2 }: Props) {
  const reach = newMm * scale + PLATE + 3;
  const width = reach * 2 + ROTOR_PX;
  const places: { pad: Pad; direction: 1 | -1 }[] =
    side === 'left'
      ? [
          { pad: 'outer', direction: -1 },
          { pad: 'inner', direction: 1 },
        ]
      : [
          { pad: 'inner', direction: -1 },
          { pad: 'outer', direction: 1 },
        ];
  const told = places
    .map(({ pad }) => (pads[pad] ? `${pad} ${thicknessInWords(pads[pad].mm, unit)}` : `${pad} not known`))
    .join(', ');
  return (
    <svg
      viewBox={`0 0 ${width} ${HEIGHT + 34}`}
      width={width}
      height={HEIGHT + 34}
      role="img"
      aria-label={`${side} wheel: ${told}; limit ${thicknessInWords(limitMm, unit)}`}
    >
      <rect x={reach} y={0} width={ROTOR_PX} height={HEIGHT} fill="none" stroke="var(--color-ink)" />
      <path d={`M${reach + ROTOR_PX / 2} 3V${HEIGHT - 3}`} stroke="var(--color-soft)" strokeDasharray="3 3" />
      {places.map(({ pad, direction }) => (
        <PadBar
          key={pad}
          figure={pads[pad]}
          face={direction < 0 ? reach : reach + ROTOR_PX}
          {...{ pad, direction, newMm, limitMm, unit, scale }}
        />
      ))}
    </svg>
  );
}

interface BarProps {
  pad: Pad;
  figure: PadFigure | undefined;
  face: number;
  direction: 1 | -1;
  newMm: number;
  limitMm: number;
  unit: ThicknessUnit;
  scale: number;
}

function PadBar({ pad, figure, face, direction, newMm, limitMm, unit, scale }: BarProps) {
  const from = (mm: number) => (direction < 0 ? face - mm * scale : face);
  const mm = figure ? Math.max(0, figure.mm) : 0;
  const plate = direction < 0 ? face - mm * scale - PLATE : face + mm * scale;
  const limitX = face + direction * limitMm * scale;
  const { colour } = wearLook(shareLeft(mm, limitMm, newMm));
  const middle = face + (direction * newMm * scale) / 2;
  return (
    <g>
      <rect
        x={from(newMm)}
        y={6}
        width={newMm * scale}
        height={HEIGHT - 12}
        fill="var(--color-raised)"
        stroke="var(--color-line)"
        strokeDasharray={figure ? undefined : '3 3'}
      />
      {figure && <rect x={from(mm)} y={6} width={mm * scale} height={HEIGHT - 12} fill={colour} />}
      {figure && <rect x={plate} y={3} width={PLATE} height={HEIGHT - 6} fill="var(--color-ink)" />}
      <line x1={limitX} x2={limitX} y1={1} y2={HEIGHT - 1} stroke="var(--color-ink)" strokeWidth={1} />
      <line
        x1={limitX}
        x2={limitX}
        y1={7}
        y2={HEIGHT - 7}
        stroke="var(--color-raised)"
        strokeWidth={1}
        strokeDasharray="2 2"
      />
      <text
        x={middle}
        y={HEIGHT + 11}
        textAnchor="middle"
        className="figures"
        fontSize={15}
        fontWeight={600}
        fill="var(--color-ink)"
      >
        {figure ? thicknessInWords(figure.mm, unit) : '?'}
      </text>
      <text x={middle} y={HEIGHT + 22} textAnchor="middle" fontSize={10.5} fill="var(--color-soft)">
        {figure?.sdMm === undefined
          ? ''
          : `± ${thicknessInWords(1.28 * figure.sdMm, unit === '1/32 in' ? 'in' : unit)}`}
      </text>
      <text x={middle} y={HEIGHT + 33} textAnchor="middle" fontSize={10.5} fill="var(--color-soft)">
        {pad}
      </text>
    </g>
  );
}
