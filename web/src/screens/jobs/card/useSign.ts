import { useRef, useState } from 'react';
import type { NewEntry } from '../../../stores/card.ts';

/**
 * Signing a step: what is signed is kept, and the card goes on by itself. While it does, the step is not to be shown as
 * done: its buttons would be gone before they are pressed, and what is pressed then would be the next step's.
 */
export function useSign(write: (...entries: NewEntry[]) => Promise<void>, onNext: () => void) {
  const [goingOn, setGoingOn] = useState(false);
  const begun = useRef(false);
  const sign = async (...entries: NewEntry[]) => {
    // A second tap on what is being kept signs nothing twice.
    if (begun.current) return;
    begun.current = true;
    setGoingOn(true);
    try {
      await write(...entries);
    } catch (error) {
      begun.current = false;
      setGoingOn(false);
      throw error;
    }
    // The next step comes in its place a moment later: until then this one stays as it is.
    onNext();
  };
  return { sign, goingOn };
}
