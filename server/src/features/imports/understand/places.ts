import type { NamedAxle } from '@mile-mark/contract/imports';
import type { Pad, Side } from '@mile-mark/core';

/** A place at a vehicle as a name of it tells: an axle and a side, and the pad where it is told too. */
export interface Place {
  axle: NamedAxle;
  side: Side;
  pad: Pad | null;
}

type Meaning = { axle: NamedAxle } | { side: Side } | { pad: Pad } | 'nothing';

const LEFT: Meaning = { side: 'left' };
const RIGHT: Meaning = { side: 'right' };
const FRONT: Meaning = { axle: 1 };
const REAR: Meaning = { axle: 'rear' };
const INNER: Meaning = { pad: 'inner' };
const OUTER: Meaning = { pad: 'outer' };

/** Words and letters of names of places. Which side is the near one depends on the country: it is asked. */
const MEANINGS: readonly [Meaning, string][] = [
  [LEFT, 'l left lh lhs links linke linkes linker gauche izquierda sinistra'],
  [RIGHT, 'r right rh rhs rechts rechte rechtes rechter droite derecha destra'],
  [FRONT, 'f front frt fr vorn vorne vorder vorderachse vorderrad steer avant'],
  [REAR, 'rear rr back hinten hinter hinterachse hinterrad arriere'],
  [INNER, 'i inner inboard inside innen ib'],
  [OUTER, 'o out outer outboard outside aussen ob'],
  ['nothing', 'wheel pad brake axle ax end corner position pos rad achse belag bremsbelag the thickness reading mm'],
];
const WORDS = new Map(MEANINGS.flatMap(([meaning, words]) => words.split(' ').map((word) => [word, meaning] as const)));

/** Corners in two letters, the axle's and the side's in either order; V and H are vorne and hinten. */
const CORNER = /^(?:([fvh])([lr])|([lr])([fr])|(r)(l))(in|i|inner|out|o|outer)?$/;
/** An axle's number with its side: `L1`, `2R`, `A1L`, with the pad behind it. */
const NUMBERED = /^(?:a?([1-6])([lr])|([lr])a?([1-6]))(i|o|in|out)?$/;

const padOf = (letters: string | undefined): Pad | null =>
  letters ? (letters.startsWith('i') ? 'inner' : 'outer') : null;

/** Words of a name, small and without marks: `Rad vorne links` is `rad`, `vorne`, `links`. */
function wordsOf(name: string): string[] {
  const plain = name
    .replaceAll('ß', 'ss')
    .normalize('NFD')
    .replace(/[\u0300-\u036f]/g, '')
    .toLowerCase()
    .replace(/(axle|achse|ax)(?=\d)/g, '$1 ');
  return plain.slice(0, 60).match(/[a-z]+(?:\d[a-z]*)?|\d(?:[a-z]+|\d*)/g) ?? [];
}

/**
 * The place a name tells, undefined where it does not tell axle and side, tells one of them twice, or holds a word
 * that is not understood.
 *
 * @param besideOut whether the sheet has an `out` beside an `in`: alone, `in` may be inches
 */
export function placeOf(name: string, besideOut = false): Place | undefined {
  let axle: NamedAxle | undefined;
  let side: Side | undefined;
  let pad: Pad | null = null;
  const words = wordsOf(name);
  for (const [index, word] of words.entries()) {
    const corner = cornerOf(word);
    const meaning: Meaning | undefined =
      word === 'in'
        ? besideOut && pad === null
          ? INNER
          : 'nothing'
        : /^[1-6]$/.test(word)
          ? { axle: Number(word) }
          : WORDS.get(word);
    // `fr` and `rr` are corners where they stand alone, front and rear beside a side: `FR left`.
    const sideBeside = words.some((other, at) => at !== index && hasSide(other));
    const parts: Partial<Place> | undefined =
      corner && !(sideBeside && meaning !== undefined) ? corner : meaning === 'nothing' ? {} : meaning;
    if (!parts) return undefined;
    if ((parts.axle && axle) || (parts.side && side) || (parts.pad && pad)) return undefined;
    axle = parts.axle ?? axle;
    side = parts.side ?? side;
    pad = parts.pad ?? pad;
  }
  return axle !== undefined && side !== undefined ? { axle, side, pad } : undefined;
}

function hasSide(word: string): boolean {
  const meaning = WORDS.get(word);
  return meaning !== undefined && meaning !== 'nothing' && 'side' in meaning;
}

function cornerOf(word: string): Partial<Place> | undefined {
  const numbered = NUMBERED.exec(word);
  if (numbered) {
    const side = (numbered[2] ?? numbered[3]) === 'l' ? 'left' : 'right';
    return { axle: Number(numbered[1] ?? numbered[4]), side, pad: padOf(numbered[5]) };
  }
  const corner = CORNER.exec(word);
  if (!corner) return undefined;
  const end = corner[1] ?? corner[4] ?? corner[5];
  const side = (corner[2] ?? corner[3] ?? corner[6]) === 'l' ? 'left' : 'right';
  return { axle: end === 'f' || end === 'v' ? 1 : 'rear', side, pad: padOf(corner[7]) };
}

/** A column of one place's figures, as a field's name: `at:1:left:inner`; the pad is blank where it is not told. */
export function fieldAt({ axle, side, pad }: Place): string {
  return `at:${axle}:${side}:${pad ?? ''}`;
}

/** The place of such a field. */
export function placeOfField(field: string): Place | undefined {
  const parts = /^at:([1-6]|rear):(left|right):(inner|outer)?$/.exec(field);
  if (!parts) return undefined;
  const axle = parts[1] === 'rear' ? 'rear' : Number(parts[1]);
  return { axle, side: parts[2] as Side, pad: (parts[3] as Pad | undefined) ?? null };
}

/** A place in words. */
export function placeInWords({ axle, side, pad }: Place): string {
  return `${axle === 'rear' ? 'rear axle' : `axle ${axle}`}, ${side}${pad ? `, ${pad}` : ''}`;
}
