import { useEffect, useRef, useState } from 'react';
import type { IfAnswer, IfTask } from '../../../workers/whatIf.ts';

/** Asks the worker; an answer to a question asked before the last is left out. */
export function useWhatIf(task: IfTask | undefined): IfAnswer | undefined {
  const worker = useRef<Worker>(undefined);
  const last = useRef(0);
  const [answer, setAnswer] = useState<IfAnswer>();
  useEffect(() => {
    const own = new Worker(new URL('../../../workers/whatIf.worker.ts', import.meta.url), { type: 'module' });
    own.onmessage = ({ data }: MessageEvent<{ id: number; answer: IfAnswer }>) => {
      if (data.id === last.current) setAnswer(data.answer);
    };
    own.onerror = () => setAnswer({ ok: false, message: 'The computation failed; reload the page and try again.' });
    worker.current = own;
    return () => own.terminate();
  }, []);
  useEffect(() => {
    if (!task) return;
    last.current += 1;
    worker.current?.postMessage({ id: last.current, task });
  }, [task]);
  return answer;
}
