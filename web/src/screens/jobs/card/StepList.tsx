import { Check } from 'lucide-react';
import { useEffect, useRef } from 'react';
import type { CardStep } from '@mile-mark/contract/jobs';
import { stepPlaceInWords } from '@mile-mark/contract/words';
import { END } from './end.ts';

/** All steps in working order, by corner; holds are marked, done ones ticked. */
export function StepList({ steps, at, onGo }: { steps: readonly CardStep[]; at: string; onGo: (id: string) => void }) {
  const here = useRef<HTMLButtonElement>(null);
  useEffect(() => {
    here.current?.scrollIntoView({ block: 'nearest' });
  }, [at]);
  return (
    <ol aria-label="Steps">
      {steps.map((step, index) => {
        const before = steps[index - 1];
        const opens = before?.corner !== step.corner;
        return (
          <li key={step.id}>
            {opens && (
              <p className="bg-ground px-4 pt-3 pb-1 font-semibold first-letter:uppercase">
                {step.corner ?? (index === 0 ? 'before' : 'to finish')}
              </p>
            )}
            <button
              ref={step.id === at ? here : undefined}
              type="button"
              aria-current={step.id === at ? 'step' : undefined}
              onClick={() => onGo(step.id)}
              className={`grid min-h-12 w-full grid-cols-[1.5rem_1fr_auto] items-center gap-2 border-b border-hair border-l-4 px-3 text-left ${step.id === at ? 'border-l-ink bg-raised' : 'border-l-transparent'}`}
            >
              {step.done ? (
                <Check aria-label="done" className="size-5" />
              ) : (
                <span aria-hidden className="size-4 rounded-sm border border-line" />
              )}
              <span className={step.done ? 'text-soft' : ''}>{stepPlaceInWords(step.id).split(',')[0]}</span>
              <span className="text-[13px] text-soft">{step.again ? 'again' : step.hold ? 'must' : ''}</span>
            </button>
          </li>
        );
      })}
      <li>
        <button
          type="button"
          aria-current={at === END ? 'step' : undefined}
          onClick={() => onGo(END)}
          className={`min-h-14 w-full border-l-4 px-4 text-left text-lg font-semibold ${at === END ? 'border-l-ink bg-raised' : 'border-l-transparent'}`}
        >
          Sign and close
        </button>
      </li>
    </ol>
  );
}
