import { useSyncExternalStore } from 'react';

let printing = false;

function subscribe(changed: () => void): () => void {
  const set = (now: boolean) => () => {
    printing = now;
    changed();
  };
  const [before, after] = [set(true), set(false)];
  window.addEventListener('beforeprint', before);
  window.addEventListener('afterprint', after);
  return () => {
    window.removeEventListener('beforeprint', before);
    window.removeEventListener('afterprint', after);
  };
}

/** Whether the page is being printed: what scrolls is drawn whole then. */
export function usePrinting(): boolean {
  return useSyncExternalStore(subscribe, () => printing);
}
