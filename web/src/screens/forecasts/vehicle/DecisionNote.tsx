import { useState } from 'react';
import { Link } from 'react-router';
import { mayDo } from '@mile-mark/contract';
import type { AxleDetail, VehicleDetail } from '@mile-mark/contract/forecasts';
import type { Me } from '@mile-mark/contract/people';
import {
  countInWords,
  leftInWords,
  limitInWords,
  percentOf,
  ruledByInWords,
  thicknessSpreadInWords,
  chanceInWords,
  milesInWords,
} from '@mile-mark/contract/words';
import { usePrefetchWhy } from '../../../api/forecasts.ts';
import { Button } from '../../../ui/Button.tsx';
import { Why } from '../../../ui/Why.tsx';
import { formatDate } from '../../../ui/format.ts';
import { PolicySheet } from './PolicySheet.tsx';
import { Widened } from '../ahead/Width.tsx';

type Decision = NonNullable<AxleDetail['decision']>;

interface Props {
  axle: AxleDetail;
  vehicle: VehicleDetail;
  me: Me;
}

/** What the mark was decided by, when to look next, what is left, and whether the rotors last. */
export function DecisionNote({ axle, vehicle, me }: Props) {
  const [open, setOpen] = useState(false);
  const nearWhy = usePrefetchWhy(vehicle.unit);
  const { decision, mark, temperature } = axle;
  if (!decision || !mark) return null;
  const { rotor } = decision;
  const risk = percentOf(vehicle.riskTarget);
  return (
    <section>
      <div className="mb-1 flex items-baseline justify-between">
        <h2 className="font-semibold">Axle {axle.axle}: mark and what it rests on</h2>
        <Link className="underline" to={`/vehicles/${vehicle.unit}/why/${axle.axle}`} {...nearWhy}>
          {mayDo(me.role, 'seeEverybody') ? 'Why, and what if …' : 'Why'}
        </Link>
      </div>
      <dl className="grid grid-cols-[8rem_1fr] gap-x-3 gap-y-1">
        <dt className="text-soft">Left to the mark</dt>
        <dd className="figures">{leftInWords(mark, vehicle.today, me.distanceUnit)}</dd>
        <dt className="text-soft">Ruled by</dt>
        <dd className="flex flex-wrap items-baseline gap-x-2 gap-y-3">
          <RuledBy decision={decision} vehicle={vehicle} me={me} />
          {mayDo(me.role, 'register') && (
            <Button look="bare" onClick={() => setOpen(true)}>
              Risk and costs …
            </Button>
          )}
          {open && <PolicySheet onClose={() => setOpen(false)} />}
        </dd>
        <dt className="text-soft">Look again by</dt>
        <dd>
          <Why
            label="Latest day for the next look"
            reason={
              <p>
                Until then the chance of a pad below what law or the shop’s policy allows on the road stays under {risk}
                ; never later than the mark.
              </p>
            }
          >
            {formatDate(mark.nextInspectionDue)}
          </Why>
        </dd>
        <dt className="text-soft">First pad at limit</dt>
        <dd>
          50 % {formatDate(decision.dates.p25)} – {formatDate(decision.dates.p75)}; 80 %{' '}
          {formatDate(decision.dates.p10)} – {formatDate(decision.dates.p90)}; 90 % {formatDate(decision.dates.p05)} –{' '}
          {formatDate(decision.dates.p95)}
          {decision.widened && (
            <span className="block">
              <Widened factor={decision.widened} />
            </span>
          )}
        </dd>
        <dt className="text-soft">Rotors</dt>
        <dd>{rotor ? <RotorsLast rotor={rotor} me={me} /> : 'not on record for this model'}</dd>
        {temperature && (
          <>
            <dt className="text-soft">Rotor heat</dt>
            <dd className={temperature.fades ? 'font-medium text-brick' : ''}>
              <RotorHeat temperature={temperature} />
            </dd>
          </>
        )}
      </dl>
    </section>
  );
}

/** Which of the two marks is the earlier one, and where both lie. */
function RuledBy({ decision, vehicle, me }: { decision: Decision; vehicle: VehicleDetail; me: Me }) {
  const miles = (value: number) => milesInWords(value, me.distanceUnit);
  const risk = percentOf(vehicle.riskTarget);
  return (
    <Why
      label="The earlier of two marks"
      reason={
        <>
          <p>
            Risk: where the chance of a pad below the limit reaches {risk}, at {miles(decision.riskMarkMi)}.
          </p>
          <p>
            Cost:{' '}
            {decision.costMarkMi === null
              ? vehicle.currency === null
                ? 'the shop’s costs are not entered yet.'
                : 'waiting never costs more than it saves, or it is not known when the pads were fitted.'
              : `where planned service and the chance of a late one cost least a mile, at ${miles(decision.costMarkMi)}${
                  decision.costPerMileMinor === null
                    ? ''
                    : ` (${(decision.costPerMileMinor / 100).toFixed(3)} ${vehicle.currency ?? ''} a mile)`
                }.`}
          </p>
        </>
      }
    >
      {ruledByInWords(decision, vehicle.riskTarget)}
    </Why>
  );
}

function RotorsLast({ rotor, me }: { rotor: NonNullable<Decision['rotor']>; me: Me }) {
  // Rotors are not read in 32nds: who reads pads so reads them in inches.
  const rotorUnit = me.thicknessUnit === 'mm' ? 'mm' : 'in';
  return (
    <Why
      label="Will the rotors last"
      reason={
        <p>
          Thickness falls with the wear of the pads beside it, about a tenth of theirs until measured;{' '}
          {rotor.measured === 0
            ? 'none of these was measured yet, so it is a guess.'
            : `${countInWords(rotor.measured, 'measurement')} of the worse side ${rotor.measured === 1 ? 'is' : 'are'} taken in.`}{' '}
          Discard is {limitInWords(rotor.discardMm, me.thicknessUnit)}; the figure cast on the rotor comes first.
        </p>
      }
    >
      {rotor.side} about {thicknessSpreadInWords(rotor.meanMm, 1.28 * rotor.sdMm, rotorUnit)}; below discard by the end
      of these pads: {chanceInWords(rotor.belowWithThesePads)}, of the next: {chanceInWords(rotor.belowWithNextPads)}
    </Why>
  );
}

function RotorHeat({ temperature }: { temperature: NonNullable<AxleDetail['temperature']> }) {
  return (
    <Why
      label="Rotor temperature under the present duty"
      reason={
        <p>
          Mean from brake power and cooling; a stop adds {Math.round(temperature.stopRiseK)} K, the longest descent{' '}
          {Math.round(temperature.descentRiseK)} K. Friction may fade from about {Math.round(temperature.fadeC)} °C.
          Rotor mass and cooling are typical of the class.
        </p>
      }
    >
      {Math.round(temperature.meanC)} °C on average, up to {Math.round(temperature.peakC)} °C
      {temperature.fades && `: beyond ${Math.round(temperature.fadeC)} °C the brakes may fade`}
    </Why>
  );
}
