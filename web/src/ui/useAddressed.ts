import { useCallback, useState } from 'react';

/** Writes values into the query of the address without leaving the page: reload and a sent link show the same. */
export function writeAddress(values: Readonly<Record<string, string | undefined>>): void {
  const query = new URLSearchParams(window.location.search);
  for (const [key, value] of Object.entries(values))
    if (value === undefined || value === '') query.delete(key);
    else query.set(key, value);
  const text = query.toString();
  const { pathname, hash } = window.location;
  // The router's own state of this entry stays: going back leads where it led.
  window.history.replaceState(window.history.state, '', `${pathname}${text ? `?${text}` : ''}${hash}`);
}

/** What a key of the address says now. */
export function readAddress(key: string): string | undefined {
  return new URLSearchParams(window.location.search).get(key) ?? undefined;
}

/** A choice of a screen that lives in the address; what the address does not say is the fallback. */
export function useAddressed(key: string, fallback: string): [string, (value: string) => void] {
  const [value, setValue] = useState(() => readAddress(key) ?? fallback);
  const set = useCallback(
    (next: string) => {
      setValue(next);
      writeAddress({ [key]: next });
    },
    [key],
  );
  return [value, set];
}
