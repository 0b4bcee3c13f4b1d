import { useCallback } from 'react';
import { useSearchParams } from 'react-router';

/** What the query of the address says, and how it is changed without a step in the history: a blank value goes out of it. */
export function useAddressValues(): [URLSearchParams, (values: Readonly<Record<string, string>>) => void] {
  const [address, setAddress] = useSearchParams();
  const set = useCallback(
    (values: Readonly<Record<string, string>>) =>
      setAddress(
        (old) => {
          const next = new URLSearchParams(old);
          for (const [key, value] of Object.entries(values))
            if (value) next.set(key, value);
            else next.delete(key);
          return next;
        },
        { replace: true },
      ),
    [setAddress],
  );
  return [address, set];
}
