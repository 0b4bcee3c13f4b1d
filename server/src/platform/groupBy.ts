/** Rows by a key, in the order they came. */
export function groupBy<T, K>(rows: readonly T[], key: (row: T) => K): Map<K, T[]> {
  const groups = new Map<K, T[]>();
  for (const row of rows) {
    const own = groups.get(key(row));
    if (own) own.push(row);
    else groups.set(key(row), [row]);
  }
  return groups;
}
