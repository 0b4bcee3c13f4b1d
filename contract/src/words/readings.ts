import { type Suspicion, thicknessIn, type ThicknessUnit, type WearChange as Change } from '@mile-mark/core';

/** A thickness as a person of this unit reads it, with the unit: `8.5 mm`, `11/32 in`, `0.335 in`. */
export function thicknessInWords(mm: number, unit: ThicknessUnit): string {
  const figure = thicknessIn(mm, unit);
  if (unit === '1/32 in') return `${figure < 0 ? '−' : ''}${Math.round(Math.abs(figure))}/32 in`;
  return unit === 'in' ? `${figure.toFixed(3)} in` : `${figure.toFixed(1)} mm`;
}

/** A limit as a person of this unit reads it; in mm to the hundredth, as limits are stated. */
export function limitInWords(mm: number, unit: ThicknessUnit): string {
  return unit === 'mm' ? `${Number(mm.toFixed(2))} mm` : thicknessInWords(mm, 'in');
}

/**
 * A suspicion as a question to whoever measured, in their unit, without blame.
 *
 * @param unit the unit the person reads in
 */
export function suspicionInWords(suspicion: Suspicion, unit: ThicknessUnit): string {
  const size = thicknessInWords(Math.abs(suspicion.differenceMm), unit);
  const expected = thicknessInWords(Math.max(0, suspicion.expectedMm), unit);
  const instead = suspicion.insteadMm === undefined ? '' : thicknessInWords(suspicion.insteadMm, unit);
  const direction = suspicion.differenceMm > 0 ? 'thicker' : 'thinner';
  switch (suspicion.kind) {
    case 'plate':
      return `Reads ${size} thicker than expected (${expected}). Was the backing plate included? Without it: ${instead}.`;
    case 'sides':
      return `Left and right read the other way round than expected (${expected} here, ${instead} measured on the other side). Were the sides swapped?`;
    case 'inches':
      return `Reads ${size} ${direction} than expected (${expected}). Was it read in inches? Then it is ${instead}.`;
    case 'digits':
      return `Reads ${size} ${direction} than expected (${expected}). Were two digits swapped? Then it is ${instead}.`;
    case 'thicker_than_new':
      return `Thicker than a new pad: ${size} over what was expected (${expected}). Was something else measured along?`;
    case 'thicker_than_expected':
      return `Reads ${size} thicker than expected (${expected}) with no pads fitted since. Were pads changed, or is it another place?`;
    case 'thinner_than_expected':
      return `Reads ${size} thinner than expected (${expected}). If it is so, this pad wears faster than the others: measure it again.`;
  }
}

/** One pad's doubt, with the pad in words: `axle 1, left, inner`. */
interface PlacedSuspicion {
  place: string;
  suspicion: Suspicion;
}

/** The same doubt of several pads of one look as one question. */
export function suspicionsInWords(doubts: readonly PlacedSuspicion[], unit: ThicknessUnit): string {
  const [only] = doubts;
  if (!only) return '';
  const { kind, differenceMm } = only.suspicion;
  if (doubts.length === 1) return `${capitalised(only.place)}: ${suspicionInWords(only.suspicion, unit)}`;
  const places = capitalised(listInWords(doubts.map(({ place }) => place)));
  const sizes = doubts.map(({ suspicion }) => Math.abs(suspicion.differenceMm)).sort((a, b) => a - b);
  const [least = '', most = ''] = [sizes[0] ?? 0, sizes.at(-1) ?? 0].map((mm) => thicknessInWords(mm, unit));
  const size = least === most ? least : `${least.split(' ', 1).join()} to ${most}`;
  const instead = listInWords(doubts.map(({ suspicion: { insteadMm } }) => thicknessInWords(insteadMm ?? 0, unit)));
  const asked: Record<Suspicion['kind'], string> = {
    plate: `Were the backing plates included? Without them: ${instead}.`,
    sides: 'Left and right read the other way round. Were the sides swapped?',
    inches: `Were they read in inches? Then they are ${instead}.`,
    digits: `Were two digits swapped in each? Then they are ${instead}.`,
    thicker_than_new: 'That is thicker than new pads. Was something else measured along?',
    thicker_than_expected: 'No pads were fitted since. Were pads changed, or are these other places?',
    thinner_than_expected: 'If it is so, these pads wear faster than the others: measure them again.',
  };
  return `${places} each read ${size} ${differenceMm > 0 ? 'thicker' : 'thinner'} than expected. ${asked[kind]}`;
}

const LIST = new Intl.ListFormat('en-US', { type: 'conjunction' });
const listInWords = (items: readonly string[]) => LIST.format(items);

const capitalised = (text: string) => `${text.slice(0, 1).toUpperCase()}${text.slice(1)}`;

/** How evidence is told: "7 readings by 3 people". */
export function evidenceInWords(readings: number, people: number): string {
  return `${readings} ${readings === 1 ? 'reading' : 'readings'} by ${people} ${people === 1 ? 'person' : 'people'}`;
}

type Told = Pick<Change, 'kind' | 'factor' | 'looks'> & {
  axle?: number | null | undefined;
  side?: string | null | undefined;
  more?: string | null | undefined;
};

/** How many times, with its 90 % interval: `2.6 times (2.2 to 3.0)`. */
export function timesInWords({ p05, p50, p95 }: Change['factor']): string {
  return `${p50.toFixed(1)} times (${p05.toFixed(1)} to ${p95.toFixed(1)})`;
}

/** A drag is told from this factor on; less is a difference of the sides (common practice, no source). */
const DRAGS_FROM = 1.6;

/**
 * A change of wear in words: what is seen, what usually stands behind it, and what to look at (common practice, no
 * source). The technician decides; the maker's instructions come first.
 */
export function changeInWords({ kind, axle, side, more, factor }: Told): {
  seen: string;
  cause: string;
  check: string;
} {
  const times = timesInWords(factor);
  switch (kind) {
    case 'apart':
      return more === 'inner'
        ? {
            seen: `Axle ${axle}, ${side}: the inner pad wears ${times} its usual rate, its mate hardly.`,
            cause: 'Usually the slide has seized.',
            check: 'Test pins and channels by hand, then the caliper, before new pads go on.',
          }
        : {
            seen: `Axle ${axle}, ${side}: the outer pad wears ${times} its usual rate, its mate hardly.`,
            cause: 'Usually pins or channels bind, or a piston sticks.',
            check: 'Test both pins and the channels; see that the piston goes home smoothly.',
          };
    case 'wheel':
      return factor.p50 >= DRAGS_FROM
        ? {
            seen: `Axle ${axle}, ${side}: both pads wear ${times} their usual rate.`,
            cause: 'Usually the brake drags: a piston or hose does not let go, or a parking brake stays on.',
            check: 'Feel for a hot hub and a sluggish roll; see that piston and hose let go, before new pads go on.',
          }
        : {
            seen: `Axle ${axle}: left and right wear apart; ${side} ${times} its usual rate.`,
            cause: 'Usually one side’s pins, piston or hose work less freely than the other’s.',
            check: 'Compare pins, pistons and hoses of both sides.',
          };
    case 'axle':
      return {
        seen: `Axle ${axle}: the pads fitted last wear ${times} as fast as those before.`,
        cause: 'Usually other pads than before were fitted: another friction grade, or the wrong ones.',
        check: 'Compare the part number on the pads with the kit’s.',
      };
    case 'route':
      return {
        seen: `All its pads wear ${times} what the stated duty explains.`,
        cause: 'Usually the route, the load or the driver changed, and nobody wrote it down.',
        check: 'Ask what it drives since; state the duty from that day.',
      };
  }
}

/** A change that is likely but not sure, in words: what it would be, how likely, and what it does meanwhile. */
export function suspicionOfChange({
  kind,
  axle,
  side,
  more,
  probability,
}: {
  kind: Change['kind'];
  axle?: number | undefined;
  side?: string | undefined;
  more?: string | undefined;
  probability: number;
}): string {
  const where = axle === undefined ? '' : `axle ${axle}${side ? ` ${side}` : ''}: `;
  const what: Record<Change['kind'], string> = {
    apart: `${where}the ${more ?? 'one'} pad wears much faster than its mate (slide or pins)`,
    wheel: `${where}this wheel wears more than the other (drag)`,
    axle: `${where}the pads fitted last wear unlike those before (other pads)`,
    route: 'all its pads wear unlike what its duty explains (route)',
  };
  return `Not sure yet, ${Math.round(probability * 100)} %: ${what[kind]}. The forecast allows for it; one more look would tell.`;
}
