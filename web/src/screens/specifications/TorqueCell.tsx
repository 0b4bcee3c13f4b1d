import type { ReactNode } from 'react';
import {
  type JointTorque,
  torqueInOtherUnit,
  torqueInPieces,
  torqueInWords,
  torqueShownAs,
} from '@mile-mark/contract/specifications';
import { useMe } from '../../api/people.ts';

interface Props {
  torque: JointTorque | null;
  /** Least step in the other unit. */
  graduation: number;
  /** What stands where there is none. */
  unknown: ReactNode;
}

/** A torque in large print, in the unit somebody reads; what was stated, or the other unit, under it. */
export function TorqueCell({ torque, graduation, unknown }: Props) {
  const { torqueShown } = useMe();
  const shown = torque && torqueShownAs(torque, torqueShown);
  const pieces = shown && torqueInPieces(shown);
  return (
    <td className="py-2 pr-3 print:py-0.5">
      {torque && pieces ? (
        <>
          <span className="figures block text-3xl leading-tight font-semibold whitespace-nowrap print:text-lg">
            {pieces.main}
          </span>
          <span className="figures block text-xl text-soft print:text-sm">
            {shown === torque
              ? torqueInOtherUnit(
                  {
                    ...torque,
                    passes: [],
                    least: null,
                    most: null,
                    ...(torque.nominal === null ? { least: torque.least, most: torque.most } : {}),
                  },
                  graduation,
                )
              : `stated ${torqueInWords({ ...torque, passes: [], angleDeg: null })}`}
          </span>
          {pieces.before && <span className="figures block text-lg print:text-[12px]">{pieces.before}</span>}
          {pieces.range && <span className="figures block text-lg text-soft print:text-[12px]">{pieces.range}</span>}
        </>
      ) : (
        unknown
      )}
    </td>
  );
}
