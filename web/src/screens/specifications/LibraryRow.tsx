import { useMe } from '../../api/people.ts';
import { torqueInOtherUnit, torqueInWords, torqueShownAs } from '@mile-mark/contract/specifications';
import { Button } from '../../ui/Button.tsx';
import { fastenerInWords, type Row } from './libraryRows.ts';

export function LibraryRow({
  row: { kind, name, specification },
  chosen,
  onChoose,
  onEnter,
}: {
  row: Row;
  chosen: boolean;
  onChoose: () => void;
  onEnter: (() => void) | undefined;
}) {
  const { torqueShown } = useMe();
  const released = specification?.released;
  const values = released?.values;
  const joint = values?.about === 'joint' ? values : undefined;
  const limits = values?.about === 'axle' ? values : undefined;
  const unknown = <span className="text-soft">unknown</span>;
  return (
    <tr className={`border-b border-hair align-top ${chosen ? 'bg-raised' : ''}`}>
      <th scope="row" className="px-2 py-1.5 text-left font-medium">
        {specification ? (
          <button
            className="text-left underline decoration-line underline-offset-2 hover:decoration-ink"
            aria-expanded={chosen}
            onClick={onChoose}
          >
            {name}
          </button>
        ) : (
          name
        )}
      </th>
      <td className="figures px-2 py-1.5">
        {joint
          ? joint.absent
            ? 'not on this axle'
            : fastenerInWords(joint.fastener) || unknown
          : limits
            ? `pads ${limits.padMinMm ?? '?'} mm, rotor ${limits.rotorDiscardMm ?? '?'} mm`
            : kind
              ? unknown
              : ''}
      </td>
      <td className="figures px-2 py-1.5">
        {joint?.torque ? (
          <>
            <span className="font-semibold">{torqueInWords(torqueShownAs(joint.torque, torqueShown))}</span>
            <span className="block text-soft">
              {torqueShown === 'as stated' || torqueShown === joint.torque.unit
                ? torqueInOtherUnit(joint.torque)
                : `stated ${torqueInWords(joint.torque)}`}
            </span>
          </>
        ) : kind && !joint?.absent ? (
          unknown
        ) : (
          ''
        )}
      </td>
      <td className="px-2 py-1.5">
        {joint && !joint.absent ? (joint.preparation ?? unknown) : ''}
        {joint?.oneTimeUse && <span className="block font-medium">new each time</span>}
      </td>
      <td className="px-2 py-1.5 text-soft">
        {released && (
          <>
            p. {released.source.page}, rev. {released.source.revision}
            {released.demo && ' · demo value'}
          </>
        )}
      </td>
      <td className="px-2 py-1.5">
        {released && `released, revision ${released.number}`}
        {specification?.open && (
          <span className="block font-medium text-ochre">
            revision {specification.open.number} waits to be released
          </span>
        )}
        {!specification?.open && !released && onEnter && <Button onClick={onEnter}>Enter it …</Button>}
        {!specification?.open && !released && !onEnter && unknown}
      </td>
    </tr>
  );
}
