import { useState } from 'react';
import { mayDo } from '@mile-mark/contract';
import { findingDetailInWords, fineInWords, milesInWords } from '@mile-mark/contract/words';
import { Button } from '../../../ui/Button.tsx';
import type { VehicleDetail } from '@mile-mark/contract/forecasts';
import type { FindingSeen, RotorMeasured } from '@mile-mark/contract/inspections';
import type { Me } from '@mile-mark/contract/people';
import { indexRotor, rotorRunout, type ThicknessUnit } from '@mile-mark/core';
import { pathOf } from '../../../api/request.ts';
import { useBenchOfVehicle } from '../../../api/specifications.ts';
import { discInWords, RotorDisc } from '../../../drawings/RotorDisc.tsx';
import { formatDate } from '../../../ui/format.ts';
import { WithdrawFinding } from './WithdrawFinding.tsx';

/** Rotors as measured, findings, photos and pads that could not be seen. */
export function FoundSection({ vehicle, me }: { vehicle: VehicleDetail; me: Me }) {
  const { rotors, findings, photos, unseen } = vehicle;
  const [chosen, setChosen] = useState<FindingSeen>();
  if ([rotors, findings, photos, unseen].every((list) => list.length === 0)) return null;
  return (
    <section className="flex flex-col gap-4">
      <h2 className="font-semibold">Rotors, findings and photos</h2>
      <div className="flex flex-wrap gap-4">
        {rotors.map((rotor) => (
          <Rotor key={rotor.id} rotor={rotor} vehicle={vehicle} me={me} />
        ))}
      </div>
      {(findings.length > 0 || unseen.length > 0) && (
        <ul>
          {findings.map((one) => (
            <li key={one.id} className="flex gap-4 border-b border-hair py-1">
              <span className="figures w-24">{formatDate(one.date)}</span>
              <span className="w-28">
                Axle {one.axle} {one.side}
              </span>
              <span>
                {one.item}: <span className="font-medium">{one.state}</span>
                {findingDetailInWords(one) && `, ${findingDetailInWords(one)}`}
              </span>
              <span className="ml-auto text-soft">{one.technician}</span>
              {mayDo(me.role, 'measure') && (
                <Button look="bare" onClick={() => setChosen(one)}>
                  Withdraw
                </Button>
              )}
            </li>
          ))}
          {unseen.map((one) => (
            <li key={one.id} className="flex gap-4 border-b border-hair py-1">
              <span className="figures w-24">{formatDate(one.date)}</span>
              <span className="w-28">
                Axle {one.axle} {one.side}
              </span>
              <span>{one.pad} pad could not be seen</span>
              <span className="ml-auto text-soft">{one.technician}</span>
            </li>
          ))}
        </ul>
      )}
      {chosen && <WithdrawFinding finding={chosen} onClose={() => setChosen(undefined)} />}
      {photos.length > 0 && (
        <ul className="flex flex-wrap gap-3">
          {photos.map(({ id, date, axle, side, technician }) => (
            <li key={id}>
              <a href={pathOf('photo', { id })} target="_blank" rel="noreferrer">
                <img
                  src={pathOf('photo', { id })}
                  alt={`Axle ${axle ?? ''} ${side ?? ''}, ${date}`}
                  className="h-28 border border-line"
                />
              </a>
              <span className="text-[12px] text-soft">
                {axle && `Axle ${axle} ${side ?? ''}, `}
                {formatDate(date)}, {technician}
              </span>
            </li>
          ))}
        </ul>
      )}
    </section>
  );
}

/** Limits where none of the model is released, mm (typical for light vehicles, from memory). */
const TYPICAL = { runoutMm: 0.05, variationMm: 0.02 };

function Rotor({ rotor, vehicle, me }: { rotor: RotorMeasured; vehicle: VehicleDetail; me: Me }) {
  const axle = vehicle.axleDetails.find((one) => one.axle === rotor.axle);
  const bench = useBenchOfVehicle(vehicle.unit).data;
  const released = bench?.model.axles.find((one) => one.axle === rotor.axle)?.sheet?.values;
  const shown = {
    thicknessMm: rotor.thicknessUm.map((um) => (um === null ? undefined : um / 1000)),
    runoutMm: rotor.runoutUm.map((um) => um / 1000),
    discardMm: axle?.rotorDiscardMm ?? undefined,
    limits: { runoutMm: released?.runoutMm ?? null, variationMm: released?.thicknessVariationMm ?? null },
  };
  return (
    <article className="flex max-w-md items-start gap-3 bg-sheet p-2">
      <RotorDisc {...shown} size={170} />
      <div>
        <p className="font-semibold">
          Axle {rotor.axle} {rotor.side}
        </p>
        <p className="figures text-soft">
          {formatDate(rotor.date)}, {milesInWords(rotor.odometerMi, me.distanceUnit)}, {rotor.technician}
        </p>
        <p className="mt-1">{discInWords(shown, me.thicknessUnit)}</p>
        <p className="mt-1">{advice(rotor, released?.runoutMm ?? null, me.thicknessUnit)}</p>
        {bench && released?.runoutMm == null && (
          <p className="mt-1 text-[12px] text-soft">
            No limit of this model is released; typical ones are {fineInWords(TYPICAL.runoutMm, me.thicknessUnit)}{' '}
            runout, {fineInWords(TYPICAL.variationMm, me.thicknessUnit)} variation (from memory).
          </p>
        )}
      </div>
    </article>
  );
}

/** What to do about runout: seat it better, or the rotor itself. */
function advice({ runoutUm, hubRunoutUm, studs }: RotorMeasured, limitMm: number | null, unit: ThicknessUnit): string {
  if (runoutUm.length < 4) return '';
  const points = runoutUm.map((um) => um / 1000);
  const { tirMm, first, remainderTirMm } = rotorRunout(points);
  if (tirMm <= (limitMm ?? TYPICAL.runoutMm))
    return limitMm === null ? 'Within the typical limit.' : 'Within its limit.';
  if (hubRunoutUm.length === runoutUm.length && studs !== null) {
    const [best] = indexRotor(
      points,
      hubRunoutUm.map((um) => um / 1000),
      studs,
    );
    if (best && best.turnStuds > 0)
      return `Turn the rotor ${best.turnStuds} ${best.turnStuds === 1 ? 'stud' : 'studs'} clockwise on the hub: ${fineInWords(best.runoutMm, unit)} once a turn is left of ${fineInWords(2 * first.amplitudeMm, unit)}.`;
  }
  return 2 * first.amplitudeMm >= remainderTirMm
    ? 'Mostly once a turn: clean hub and rotor seat, turn the rotor on the hub, measure again.'
    : 'Mostly in the rotor itself: turning it on the hub will not help.';
}
