import type { AxleDetail, MileMark, PadDetail, VehicleDetail } from '@mile-mark/contract/forecasts';
import type { Me } from '@mile-mark/contract/people';
import {
  changeInWords,
  countInWords,
  evidenceInWords,
  limitInWords,
  milesSpreadInWords,
  perDistanceInWords,
  percentOf,
  rateInWords,
  ruledByInWords,
  suspicionOfChange,
  thicknessSpreadInWords,
  chanceInWords,
} from '@mile-mark/contract/words';
import { useBenchOfVehicle } from '../../../api/specifications.ts';
import { WheelEnd } from '../../../drawings/WheelEnd.tsx';
import { Why } from '../../../ui/Why.tsx';
import { onceIn, PaceReason, RouteLevel } from './DutyReasons.tsx';
import { formatDate } from '../../../ui/format.ts';
import { Torques } from './Torques.tsx';
import { Widened, Width } from './Width.tsx';

interface Props {
  mark: MileMark;
  axle: AxleDetail;
  vehicle: VehicleDetail;
  me: Me;
  riskTarget: number;
}

/** A line of the chain: its name, and what stands there; nothing where it is not known. */
type Line = [string, React.ReactNode];

/** What was measured, how thin that makes the thinnest pad, and how thin it may be. */
function wearLines({ mark: { evidence }, axle, vehicle, me }: Props): Line[] {
  const unit = me.thicknessUnit;
  const thinnest = axle.pads.reduce<PadDetail | undefined>(
    (least, pad) => (!least || pad.meanMm < least.meanMm ? pad : least),
    undefined,
  );
  return [
    [
      'Evidence',
      evidence.readings > 0
        ? `${evidenceInWords(evidence.readings, evidence.technicians)} since the pads were fitted, last on ${formatDate(evidence.lastDate ?? vehicle.today)}`
        : `No reading of these pads yet: from this vehicle’s earlier pads (${countInWords(evidence.earlierReadings, 'reading')}) and its model’s`,
    ],
    [
      'Thinnest pad',
      thinnest && (
        <Why
          label="Thinnest pad today"
          reason={
            <p>
              All readings of this pad, each weighed by its gauge’s step and the appraiser’s repeatability, carried to
              today’s odometer by the wear since. ± holds 80 %.
            </p>
          }
        >
          {thicknessSpreadInWords(thinnest.meanMm, 1.28 * thinnest.sdMm, unit)}, {thinnest.side} {thinnest.pad}
        </Why>
      ),
    ],
    [
      'Service limit',
      <Why
        key="limit"
        label="Service limit: the largest of these"
        reason={
          <ul>
            {axle.limit.candidates.map((candidate) => (
              <li key={candidate.source}>
                {limitInWords(candidate.leastMm, unit)}: {candidate.source}
              </li>
            ))}
            <li className="mt-1">Local codes and licensed practice come first.</li>
          </ul>
        }
      >
        {limitInWords(axle.limit.limitMm, unit)} ({axle.limit.ruling.source})
      </Why>,
    ],
    [
      'Wears',
      thinnest && (
        <Why
          label="Wear under the present duty"
          reason={
            <p>
              From this pad’s own readings, its vehicle and its model’s axle group, sharing what each knows; straight in
              duty-weighted miles, so that a change of duty bends it.
            </p>
          }
        >
          {rateInWords(thinnest.ratePer1000Mi, me)}
        </Why>
      ),
    ],
  ];
}

const nextDuty = ({ duty, from, severity }: VehicleDetail['dutyPeriods'][number]) =>
  `${duty.name} from ${formatDate(from)}, severity ${severity.toFixed(2)}`;

/** What it drives, and how far. */
function dutyLines({ vehicle, me }: Props): Line[] {
  const duty = vehicle.dutyPeriods.findLast(({ from }) => from <= vehicle.today);
  const next = vehicle.dutyPeriods.find(({ from }) => from > vehicle.today);
  const { dutyAhead } = vehicle;
  const stated = duty ? (
    <Why
      label={`${duty.duty.name} since ${formatDate(duty.from)}`}
      reason={
        <p>
          Brake work {perDistanceInWords(duty.stopsKjPerMile + duty.descentsKjPerMile, 'kJ', me.distanceUnit)} at{' '}
          {Math.round(duty.massKg).toLocaleString('en-US')} kg: stops{' '}
          {perDistanceInWords(duty.stopsKjPerMile, 'kJ', me.distanceUnit)}, descents{' '}
          {perDistanceInWords(duty.descentsKjPerMile, 'kJ', me.distanceUnit)}. Severity is that over the work of the
          model’s reference duty ({vehicle.referenceDuty}).
          {vehicle.statedChangesAYear !== null &&
            ` In this class another duty begins ${onceIn(vehicle.statedChangesAYear)}; the forecast takes that in.`}
        </p>
      }
    >
      {duty.duty.name}, severity {duty.severity.toFixed(2)}
    </Why>
  ) : (
    next && 'none on record before'
  );
  return [
    ['Duty', duty && dutyAhead ? <RouteLevel ahead={dutyAhead} name={duty.duty.name} /> : stated],
    ...(next ? [['Then', nextDuty(next)] satisfies Line] : []),
    [
      'Drives',
      vehicle.milesPerDay && (
        <Why label="Miles a day" reason={<PaceReason pace={vehicle.milesPerDay} />}>
          {milesSpreadInWords(vehicle.milesPerDay.mean, 1.28 * vehicle.milesPerDay.sd, me.distanceUnit)} a day
        </Why>
      ),
    ],
  ];
}

/** What set the mark, and how sure it is. */
function markLines({ mark, axle, riskTarget }: Props): Line[] {
  const { width, widened } = axle.decision ?? {};
  return [
    ['Ruled by', ruledByInWords(mark, riskTarget)],
    ['Look again by', formatDate(mark.nextInspectionDue)],
    ['Chance below limit today', chanceInWords(mark.probabilityBelowNow)],
    [
      'Even odds by',
      <Why
        key="median"
        label="When the first of the four pads reaches the limit"
        reason={
          <p>
            {mark.ruledBy === 'cost'
              ? 'The mark is where a mile costs least, before the chance reaches what you allow.'
              : `The mark is where the chance reaches ${percentOf(riskTarget)}.`}{' '}
            The median is where it is as likely as not; eight times in ten it happens between the two ends.
          </p>
        }
      >
        {formatDate(mark.medianDate)}; 80 % between {formatDate(mark.interval80.fromDate)} and{' '}
        {formatDate(mark.interval80.toDate)}
      </Why>,
    ],
    ...(widened ? [['Interval', <Widened key="widened" factor={widened} />] satisfies Line] : []),
    ...(width ? [['Wide by', <Width key="width" width={width} />] satisfies Line] : []),
  ];
}

/** Why this mark: every figure that leads to it, in order. */
export function Chain(props: Props) {
  const { mark, axle, vehicle, me } = props;
  const { data: bench, isPending: loading } = useBenchOfVehicle(mark.unit);
  const unit = me.thicknessUnit;
  const figureOf = (side: 'left' | 'right', pad: 'inner' | 'outer') => {
    const found = axle.pads.find((one) => one.side === side && one.pad === pad);
    return found ? { [pad]: { mm: found.meanMm, sdMm: found.sdMm } } : {};
  };
  const [ruledBy, ...sureness] = markLines(props);
  const torques: Line = ['Torques', bench && <Torques bench={bench} axle={mark.axle} today={vehicle.today} />];
  const rows = [...wearLines(props), ...dutyLines(props), ...(ruledBy ? [ruledBy] : []), torques, ...sureness];
  const changes = vehicle.changes.filter(({ open, axle: at }) => open && (at === null || at === mark.axle));
  return (
    <>
      {changes.map((change) => (
        <p key={change.id} className="border-l-4 border-brick bg-sheet px-2 py-1">
          <strong>{changeInWords(change).seen}</strong> {changeInWords(change).cause}
        </p>
      ))}
      {vehicle.suspected && (vehicle.suspected.axle === undefined || vehicle.suspected.axle === mark.axle) && (
        <p className="border-l-4 border-ochre bg-sheet px-2 py-1">{suspicionOfChange(vehicle.suspected)}</p>
      )}
      <div className="flex justify-between">
        {(['left', 'right'] as const).map((side) => (
          <figure key={side} className="text-center">
            <WheelEnd
              side={side}
              pads={{ ...figureOf(side, 'inner'), ...figureOf(side, 'outer') }}
              newMm={axle.padNewMm}
              limitMm={axle.limit.limitMm}
              unit={unit}
              scale={axle.padNewMm > 15 ? 2.4 : 4.4}
            />
            <figcaption className="text-soft">{side}</figcaption>
          </figure>
        ))}
      </div>
      <dl className="grid grid-cols-[6.2rem_1fr] gap-x-2 gap-y-1.5">
        {rows.map(([name, value]) => (
          <div key={name} className="contents">
            <dt className="text-soft">{name}</dt>
            <dd>{value ?? (loading ? '…' : 'not known yet')}</dd>
          </div>
        ))}
      </dl>
    </>
  );
}
