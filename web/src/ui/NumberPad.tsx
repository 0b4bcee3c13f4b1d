import { Delete } from 'lucide-react';

interface Props {
  /** Marks besides the digits: a decimal point, a minus. */
  marks: readonly ('.' | '−')[];
  onKey: (key: string) => void;
  onErase: () => void;
  onNext: () => void;
  next: string;
}

/**
 * Figures for gloves: keys of 60 px and more; what is typed goes to the field in hand. It keeps its size and place
 * whatever is said beside it; on a phone it stands at the foot, Next in reach.
 */
export function NumberPad({ marks, onKey, onErase, onNext, next }: Props) {
  const left = marks.includes('−') ? '−' : marks.includes('.') ? '.' : undefined;
  const hold = (event: { preventDefault: () => void }) => event.preventDefault();
  const key = (label: string, act: () => void, content: React.ReactNode = label, look = 'bg-raised') => (
    <button
      key={label}
      type="button"
      aria-label={label}
      onPointerDown={hold}
      onClick={act}
      className={`figures flex min-h-15 items-center justify-center rounded border border-line text-3xl font-semibold active:bg-ink active:text-sheet ${look}`}
    >
      {content}
    </button>
  );
  return (
    <div
      role="group"
      aria-label="Number pad"
      className="grid grid-cols-3 content-start gap-1.5 bg-ground max-[899px]:sticky max-[899px]:bottom-0 max-[899px]:z-10 max-[899px]:pt-1.5 max-[899px]:pb-1"
    >
      {['1', '2', '3', '4', '5', '6', '7', '8', '9'].map((digit) => key(digit, () => onKey(digit)))}
      {left ? key(left === '−' ? 'minus' : 'point', () => onKey(left), left) : <span />}
      {key('0', () => onKey('0'))}
      {key('Erase', onErase, <Delete aria-hidden size={28} />)}
      <button
        type="button"
        onPointerDown={hold}
        onClick={onNext}
        className="col-span-3 min-h-16 rounded border border-[#c99700] bg-paint text-xl font-semibold text-[#26282a]"
      >
        {next}
      </button>
    </div>
  );
}
