import { useEffect, useRef } from 'react';
import type { DraftAnswer } from '../../../stores/device.ts';

/** A question at the field, with three answers: correct it, measured twice and it is so, or leave it. */
export function Asked({
  question,
  answer,
  onCorrect,
  onAnswer,
}: {
  question: string;
  answer: DraftAnswer | undefined;
  onCorrect: () => void;
  onAnswer: (answer: DraftAnswer) => void;
}) {
  const here = useRef<HTMLDivElement>(null);
  // On a phone the number pad stands over the foot: what is asked comes up above it.
  useEffect(() => {
    void here.current?.scrollIntoView({ block: 'nearest' });
  }, [question]);
  return (
    <div ref={here} role="alert" className="border-l-4 border-paint bg-sheet py-1 pl-3 max-[899px]:scroll-mb-[22rem]">
      <p className="text-[15px]">{question}</p>
      {answer ? (
        <p className="text-soft">
          {answer === 'measured_twice' ? 'Measured twice, same result.' : 'Left to the coordinator.'}{' '}
          <button type="button" className="min-h-12 px-2 underline" onClick={onCorrect}>
            Correct it after all
          </button>
        </p>
      ) : (
        <div className="mt-1 flex flex-wrap gap-2">
          <Reply onClick={onCorrect}>Correct it</Reply>
          <Reply onClick={() => onAnswer('measured_twice')}>Measured twice, same result</Reply>
          <Reply onClick={() => onAnswer('leave_to_coordinator')}>Leave to the coordinator</Reply>
        </div>
      )}
    </div>
  );
}

function Reply({ onClick, children }: { onClick: () => void; children: string }) {
  return (
    <button
      type="button"
      onClick={onClick}
      className="min-h-12 rounded border border-line bg-raised px-3 text-[15px] hover:border-ink"
    >
      {children}
    </button>
  );
}
