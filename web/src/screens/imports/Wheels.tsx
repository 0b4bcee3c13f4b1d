import type { ImportPreview, Understanding } from '@mile-mark/contract/imports';
import { Choose } from '../../ui/Choose.tsx';
import { placeOf } from './Needs.tsx';

/** Which wheel is meant by each name. */
export function Wheels({
  understanding,
  onState,
}: Pick<ImportPreview, 'understanding'> & { onState: (part: Partial<Understanding>) => void }) {
  return (
    <div className="mt-3 flex flex-wrap gap-3">
      {Object.entries(understanding.wheelNames).map(([name, spot]) => (
        <Choose
          key={name}
          label={`Wheel “${name}”`}
          value={`${spot.axle}:${spot.side}`}
          onChange={(event) =>
            onState({
              wheelNames: { [name]: { ...placeOf(event.target.value), pad: spot.pad ?? null } },
            })
          }
        >
          {(['rear', 1, 2, 3, 4, 5, 6] as const).flatMap((axle) =>
            (['left', 'right'] as const).map((side) => (
              <option key={`${axle}:${side}`} value={`${axle}:${side}`}>
                {axle === 'rear' ? `rear axle of two, ${side}` : `axle ${axle}, ${side}`}
              </option>
            )),
          )}
        </Choose>
      ))}
    </div>
  );
}
