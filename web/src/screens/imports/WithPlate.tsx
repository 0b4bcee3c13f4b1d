import type { DraftPreview } from '@mile-mark/contract/imports';
import { countInWords } from '@mile-mark/contract/words';
import { Button } from '../../ui/Button.tsx';

interface Props {
  preview: Pick<DraftPreview, 'plates'>;
  /** The wheel whose figures are meant without the plate; null: all of the file. */
  onAnswer: (wheel: string | null) => void;
}

/** Figures that seem to include the backing plate, answered for a wheel or the whole file at once; each row has its own. */
export function WithPlate({ preview: { plates }, onAnswer }: Props) {
  const { rows, wheels } = plates;
  const figures = wheels.reduce((sum, wheel) => sum + wheel.figures, 0);
  if (figures < 2) return null;
  return (
    <section
      aria-label="Figures with the backing plate"
      className="flex shrink-0 flex-wrap items-center gap-x-3 gap-y-1 border-b border-line bg-sheet px-4 py-2"
    >
      <p>
        {countInWords(figures, 'figure')} in {countInWords(rows, 'row')} {figures === 1 ? 'seems' : 'seem'} to include
        the backing plate. They go in as typed unless you say:
      </p>
      <Button onClick={() => onAnswer(null)}>All {figures} without the plate</Button>
      {wheels.length > 1 &&
        wheels.map(({ wheel, figures: own }) => (
          <Button key={wheel} look="bare" onClick={() => onAnswer(wheel)}>
            Only {wheel} ({own})
          </Button>
        ))}
    </section>
  );
}
