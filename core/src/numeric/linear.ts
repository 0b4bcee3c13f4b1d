/**
 * Typed arrays are dense: an index the caller has checked has a value, though the type of an element says it may not.
 * These are the one place where that is said.
 */

/** Element of a typed array. @param index within it; outside the answer is not a number */
export function valueAt(values: Float64Array, index: number): number {
  return values[index] as number;
}

/** Element of a list. @param index within it */
export function itemAt<T>(items: ArrayLike<T>, index: number): T {
  return items[index] as T;
}
