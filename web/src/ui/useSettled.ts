import { useEffect, useState } from 'react';

/** As long after the last key a figure counts as finished, ms. */
const PAUSE_MS = 1500;

/**
 * Whether a figure is finished: nothing was typed for a while, or `finish` was called (Next, leaving the field). What is
 * said of it waits until then: a first digit is no figure.
 *
 * @param key which field: going to another one begins with its figure as it stands
 */
export function useSettled(value: string, key = ''): { settled: boolean; finish: () => void } {
  const [seen, setSeen] = useState({ key, value });
  if (seen.key !== key) setSeen({ key, value });
  const settled = seen.key !== key || seen.value === value;
  useEffect(() => {
    if (settled) return undefined;
    const timer = window.setTimeout(() => setSeen({ key, value }), PAUSE_MS);
    return () => window.clearTimeout(timer);
  }, [settled, key, value]);
  return { settled, finish: () => setSeen({ key, value }) };
}
