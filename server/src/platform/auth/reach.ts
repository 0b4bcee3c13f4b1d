import type { EntityManager } from '../db/orm.ts';
import { ApiError } from '../errors.ts';
import type { DomainEvent } from '../events/bus.ts';

/** Names under a key of answers and requests, by whether they are within somebody's reach. */
interface Names {
  key: string;
  own: ReadonlySet<string>;
  others: ReadonlySet<string>;
}

/** How far somebody reaches who is limited to a part of what is on record. Who is not limited has none. */
export interface Reach {
  /** What they are limited to, as it is told. */
  told: string;
  /** By what an object tells whose it is: the first key that it has decides. */
  names: readonly Names[];
  /** Whether what is written or asked for (`vehicle/ID`) is theirs; what is nobody's in particular is everybody's. */
  holds: (em: EntityManager, subject: string) => Promise<boolean>;
  /** Whether all that happened is. */
  holdsEvent: (event: DomainEvent) => boolean;
}

/** How somebody is told that something is out of their reach. */
export function outside({ told }: Pick<Reach, 'told'>, field?: string): ApiError {
  const message = `This is at another depot; you work at ${told}.`;
  return new ApiError('forbidden', message, field === undefined ? [] : [{ field, message }]);
}

const OUTSIDE = Symbol('out of reach');

/**
 * An answer without what is out of reach: a list is shorter, and what is about such a thing is not there at all. What an
 * object's own key decides, a weaker key of what stands in it does not undo: a vehicle of one's own that another depot does
 * is shown with where it is done.
 *
 * @returns undefined where nothing of it is within reach
 */
export function within(answer: unknown, { names }: Pick<Reach, 'names'>): unknown {
  const kept = cut(answer, names);
  return kept === OUTSIDE ? undefined : kept;
}

function cut(value: unknown, names: readonly Names[]): unknown {
  if (Array.isArray(value)) return value.map((one) => cut(one, names)).filter((one) => one !== OUTSIDE);
  if (!isPlain(value)) return value;
  const told = names.find(({ key, own, others }) => {
    const name = value[key];
    return typeof name === 'string' && (own.has(name) || others.has(name));
  });
  if (told?.others.has(value[told.key] as string)) return OUTSIDE;
  const inner = told ? names.slice(0, names.indexOf(told) + 1) : names;
  const kept: Record<string, unknown> = {};
  for (const [key, own] of Object.entries(value)) {
    const list = names.find((one) => `${one.key}s` === key);
    const left = list && Array.isArray(own) ? own.filter((one) => !list.others.has(one as string)) : own;
    const part = cut(left, inner);
    if (part === OUTSIDE) return OUTSIDE;
    kept[key] = part;
  }
  return kept;
}

/**
 * Refuses a request that names what is out of reach, at its field.
 *
 * @throws ApiError `forbidden`
 */
export function refuseOutside(reach: Reach, sent: unknown, at = ''): void {
  if (Array.isArray(sent)) sent.forEach((one, index) => refuseOutside(reach, one, `${at}${index}.`));
  if (!isPlain(sent)) return;
  for (const [key, value] of Object.entries(sent)) {
    const names = reach.names.find((one) => one.key === key);
    const field = `${at}${key}`;
    if (names && typeof value === 'string' && namesOther(names, value)) throw outside(reach, field);
    refuseOutside(reach, value, `${field}.`);
  }
}

/** As people type it: units in small letters, with blanks around. */
const namesOther = ({ others }: Names, typed: string): boolean =>
  others.has(typed) || others.has(typed.trim()) || others.has(typed.trim().toUpperCase());

function isPlain(value: unknown): value is Record<string, unknown> {
  if (typeof value !== 'object' || value === null) return false;
  const made: unknown = Object.getPrototypeOf(value);
  return made === Object.prototype || made === null;
}
