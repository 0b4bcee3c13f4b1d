import { useSyncExternalStore } from 'react';

const query = window.matchMedia('(max-width: 639px)');

function subscribe(changed: () => void): () => void {
  query.addEventListener('change', changed);
  return () => query.removeEventListener('change', changed);
}

/** Whether there is room for one column only: a phone, or a page magnified four times. */
export function useNarrow(): boolean {
  return useSyncExternalStore(subscribe, () => query.matches);
}
