import { useCallback, useState } from 'react';

/**
 * The id of what a form makes: the same at every press until it is made, so that a press after a lost answer makes
 * nothing twice. `renew` when it is made and the form goes on to the next.
 */
export function useNewId(): [id: string, renew: () => void] {
  const [id, setId] = useState<string>(() => crypto.randomUUID());
  const renew = useCallback(() => setId(crypto.randomUUID()), []);
  return [id, renew];
}
