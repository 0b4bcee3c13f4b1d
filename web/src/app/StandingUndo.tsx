import { Undo2 } from 'lucide-react';
import { useEffect, useState } from 'react';
import { useLocation } from 'react-router';
import { undoOne, useUndoables } from '../stores/undo.ts';
import { isForControl } from '../ui/typing.ts';

/** The last thing that was done within a minute, and the way back, whatever screen one is on. */
export function StandingUndo() {
  const { list, expire } = useUndoables();
  const last = list.at(-1);
  const [now, setNow] = useState(Date.now());
  const stands = last !== undefined;
  const ownSteps = /^\/measure\/./.test(useLocation().pathname);
  useEffect(() => {
    if (!stands) return undefined;
    const tick = () => {
      setNow(Date.now());
      expire(Date.now());
    };
    const timer = window.setInterval(tick, 1000);
    return () => window.clearInterval(timer);
  }, [stands, expire]);
  // Whoever signs in next on this device has nothing to do with it.
  useEffect(() => () => useUndoables.setState({ list: [] }), []);
  useEffect(() => {
    if (!last) return undefined;
    const onKey = (event: KeyboardEvent) => {
      const wanted =
        !ownSteps && (event.ctrlKey || event.metaKey) && !event.shiftKey && event.key.toLowerCase() === 'z';
      // Where one types, or a screen undoes its own steps, the key is theirs.
      if (!wanted || isForControl(event) || document.querySelector('[role="dialog"]')) return;
      event.preventDefault();
      void undoOne(last.id);
    };
    window.addEventListener('keydown', onKey);
    return () => window.removeEventListener('keydown', onKey);
  }, [last, ownSteps]);
  // A screen that undoes its own steps shows one way back, its own.
  if (!last || ownSteps) return null;
  const left = Math.max(1, Math.ceil((last.until - now) / 1000));
  return (
    <button
      type="button"
      aria-label={`${last.label}: ${last.done}`}
      title={`${last.done} (Ctrl Z)`}
      onClick={() => void undoOne(last.id)}
      className="flex shrink-0 items-center gap-1.5 rounded-sm border border-[#d5d3cc] px-2 py-0.5 focus-visible:outline-white"
    >
      <Undo2 aria-hidden size={16} />
      <span className="max-sm:sr-only">{last.label}</span>
      <span aria-hidden className="figures text-[#d5d3cc] max-[1400px]:hidden">
        {left} s
      </span>
    </button>
  );
}
