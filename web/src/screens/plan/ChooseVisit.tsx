import type { ReactNode } from 'react';
import type { PlanItem } from '@mile-mark/contract/plan';
import { axlesInWords } from './figures.ts';

/** A line of a list that chooses its visit: as tall as a finger needs, however close the lines stand. */
export function ChooseVisit({
  visit,
  onChoose,
  children,
}: {
  visit: PlanItem;
  onChoose: (id: string) => void;
  children: ReactNode;
}) {
  return (
    <button type="button" className="min-h-8 w-full text-left" onClick={() => onChoose(visit.id)}>
      <span className="figures font-semibold underline decoration-line">{visit.unit}</span> {axlesInWords(visit.axles)}:{' '}
      {children}
    </button>
  );
}
