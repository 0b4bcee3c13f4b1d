import { useState } from 'react';
import { mayDo } from '@mile-mark/contract';
import type { VehicleDetail } from '@mile-mark/contract/forecasts';
import type { Me } from '@mile-mark/contract/people';
import { useReader } from '../../../api/reader.ts';
import { Button } from '../../../ui/Button.tsx';
import { ChangeDuty } from './ChangeDuty.tsx';
import { CorrectDuty } from './CorrectDuty.tsx';
import { Why } from '../../../ui/Why.tsx';
import { formatDate, formatWhole } from '../../../ui/format.ts';

/** Brake work of a duty, kJ a mile. */
const workOf = (period: VehicleDetail['dutyPeriods'][number]) =>
  period.stopsKjPerMile + period.slowdownsKjPerMile + period.descentsKjPerMile;

/** From when to when a duty counts; of one dated ahead, from when. */
function daysOf({ from, to }: VehicleDetail['dutyPeriods'][number], { today, left }: VehicleDetail): string {
  if (from > today && !to) return `from ${formatDate(from)}`;
  return `${formatDate(from)} – ${to ? formatDate(to) : left ? formatDate(left.on) : 'now'}`;
}

/** The vehicle's duties by dates, with their brake work; the past keeps its duty. */
export function DutySection({ vehicle, me }: { vehicle: VehicleDetail; me: Me }) {
  const [changing, setChanging] = useState(false);
  const [correcting, setCorrecting] = useState<VehicleDetail['dutyPeriods'][number]>();
  const reader = useReader();
  const most = Math.max(1, ...vehicle.dutyPeriods.map(workOf));
  return (
    <section>
      <div className="mb-1 flex items-baseline justify-between">
        <h2 className="font-semibold">Duty and brake work</h2>
        {mayDo(me.role, 'register') && !vehicle.left && (
          <Button look="bare" onClick={() => setChanging(true)}>
            Begin another duty …
          </Button>
        )}
      </div>
      {vehicle.dutyPeriods.length === 0 && <p className="text-soft">No duty stated; miles are counted as they are.</p>}
      <ul>
        {[...vehicle.dutyPeriods].reverse().map((period) => {
          const work = workOf(period);
          return (
            <li
              key={period.id}
              className="grid grid-cols-[9rem_1fr_9.5rem] items-center max-sm:grid-cols-1 gap-3 border-b border-hair py-1"
            >
              <span>
                {period.duty.name}
                <br />
                <span className="figures text-soft">{daysOf(period, vehicle)}</span>
                {mayDo(me.role, 'register') && (
                  <span className="block">
                    <Button
                      look="bare"
                      aria-label={`Correct ${period.duty.name} of ${formatDate(period.from)}`}
                      onClick={() => setCorrecting(period)}
                    >
                      Correct …
                    </Button>
                  </span>
                )}
              </span>
              <span
                className="flex h-4"
                role="img"
                aria-label={`stops ${reader.per(period.stopsKjPerMile, 'kJ')}, descents ${reader.per(period.descentsKjPerMile, 'kJ')}`}
              >
                <span
                  className="bg-stops"
                  style={{ width: `${((period.stopsKjPerMile + period.slowdownsKjPerMile) / most) * 100}%` }}
                />
                <span className="bg-descents" style={{ width: `${(period.descentsKjPerMile / most) * 100}%` }} />
              </span>
              <Why
                label={`${period.duty.name}: severity ${period.severity.toFixed(2)}`}
                reason={
                  <>
                    <p>
                      {reader.per(period.duty.stopsPerMile, 'stops')} from {reader.speed(period.duty.mphBeforeStop)} and{' '}
                      {reader.per(period.duty.descentMPerMile, 'm of descent')}, at {formatWhole(period.massKg)} kg
                      (tare {formatWhole(vehicle.tareKg)} + {period.duty.payloadShare} of the payload
                      {period.duty.towedKg > 0 ? ` + ${formatWhole(period.duty.towedKg)} kg towed` : ''}); the retarder
                      takes {Math.round(period.duty.retarderShare * 100)} %.
                    </p>
                    <p>
                      Work of a stop: ½·m·k·v² less rolling and air; of a descent: weight along the slope less rolling
                      and air. Severity is the work over that of {vehicle.referenceDuty}.
                    </p>
                  </>
                }
              >
                <span className="figures">
                  {reader.per(work, 'kJ')}, severity {period.severity.toFixed(2)}
                </span>
              </Why>
            </li>
          );
        })}
      </ul>
      <MeasuredDuty vehicle={vehicle} />
      <p className="mt-1 text-[12px] text-soft">
        <span className="mr-1 inline-block h-2 w-4 bg-stops" /> stops and slowdowns{' '}
        <span className="mr-1 ml-3 inline-block h-2 w-4 bg-descents" /> descents
      </p>
      {correcting && <CorrectDuty vehicle={vehicle} period={correcting} onClose={() => setCorrecting(undefined)} />}
      {changing && <ChangeDuty vehicle={vehicle} me={me} onClose={() => setChanging(false)} />}
    </section>
  );
}

/** What telematics measured of its duty, and how it goes on from there. */
function MeasuredDuty({ vehicle }: { vehicle: VehicleDetail }) {
  if (vehicle.measuredDuty.length === 0) return null;
  const next = vehicle.dutyPeriods.find(({ from }) => from > vehicle.today);
  return (
    <p className="mt-1">
      Measured by telematics since {formatDate(vehicle.measuredDuty[0]?.from ?? vehicle.today)}: severity{' '}
      <span className="figures">{vehicle.measuredDuty.map(({ severity }) => severity.toFixed(2)).join(', ')}</span> by
      four weeks. What was measured counts instead of what is stated.
      {vehicle.dutyAhead && (
        <>
          {' '}
          Ahead the level of the present route goes on:{' '}
          <span className="figures">
            {vehicle.dutyAhead.severity.toFixed(2)} ({vehicle.dutyAhead.from.toFixed(2)} to{' '}
            {vehicle.dutyAhead.to.toFixed(2)}, nine times in ten)
          </span>
          {next && `, until ${next.duty.name} begins on ${formatDate(next.from)}`}.
        </>
      )}
    </p>
  );
}
