import type { JobCard } from '@mile-mark/contract/jobs';

const LEVELS = [1.1, 1, 0.75, 0.5, 0.25, 0, -0.2] as const;
const NAMES: Record<number, string> = {
  1.1: 'over MAX',
  1: 'MAX',
  0.75: 'three quarters',
  0.5: 'half',
  0.25: 'a quarter',
  0: 'MIN',
  [-0.2]: 'under MIN',
};

/** A reservoir with its marks: touch where the fluid stands. What wear explains is drawn beside it. */
export function LevelInput({ fluid, onLevel }: { fluid: JobCard['fluid']; onLevel: (level: number) => void }) {
  const expected = fluid ? 1 - fluid.expectedMl / fluid.betweenMarksMl : null;
  return (
    <div className="flex flex-wrap items-stretch gap-6">
      <div className="relative w-72 border-x-4 border-b-4 border-line" role="group" aria-label="Where the fluid stands">
        {LEVELS.map((level) => (
          <button
            key={level}
            type="button"
            onClick={() => onLevel(level)}
            className={`block min-h-13 w-full text-left text-lg hover:bg-raised ${level === 1 || level === 0 ? 'border-t-2 border-ink font-semibold' : 'border-t border-hair'}`}
          >
            <span className="pl-4">{NAMES[level]}</span>
          </button>
        ))}
      </div>
      {fluid && expected !== null && (
        <p className="max-w-sm self-center text-lg">
          Wear since the pads went on explains about {Math.round(fluid.expectedMl)} mL,{' '}
          {expected < 0 ? 'below MIN' : `${Math.round(expected * 100)} % of the way from MIN to MAX`}. About{' '}
          {Math.round(fluid.comesBackMl)} mL come back when the pistons go home.
          <span className="block text-[15px] text-soft">
            Never top up before this is known. {Math.round(fluid.betweenMarksMl)} mL between the marks is a usual
            reservoir (common practice); the model’s own is not on record.
          </span>
        </p>
      )}
    </div>
  );
}
