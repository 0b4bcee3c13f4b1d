import { useEffect, useRef } from 'react';
import { isForControl } from '../../ui/typing.ts';

/** Keys of the desk, outside fields: / to type, arrows for the axle, P to print. */
export function useDeskKeys({
  find,
  step,
  print,
}: {
  find: () => void;
  step: (by: number) => void;
  print: () => void;
}) {
  const now = useRef({ find, step, print });
  useEffect(() => {
    now.current = { find, step, print };
  });
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if (isForControl(event)) {
        if (event.key === 'Escape') (event.target as HTMLElement).blur();
        return;
      }
      if (event.ctrlKey || event.metaKey || document.querySelector('[role="dialog"]')) return;
      if (event.key === '/') {
        event.preventDefault();
        now.current.find();
      } else if (event.key === 'ArrowRight') now.current.step(1);
      else if (event.key === 'ArrowLeft') now.current.step(-1);
      else if (event.key === 'p') now.current.print();
    };
    window.addEventListener('keydown', onKey);
    return () => window.removeEventListener('keydown', onKey);
  }, []);
}
