import type { AxleDetail, VehicleDetail } from '@mile-mark/contract/forecasts';
import type { Me } from '@mile-mark/contract/people';
import { evidenceInWords, limitInWords, awayInWords, chanceInWords, milesInWords } from '@mile-mark/contract/words';
import { WheelEnd } from '../../../drawings/WheelEnd.tsx';
import { shareLeft, wearLook } from '../../../drawings/wear.ts';
import { daysBetween, formatDate } from '../../../ui/format.ts';

interface Props {
  vehicle: VehicleDetail;
  me: Me;
  selected: number;
  onSelect: (axle: number) => void;
}

/** The vehicle from above, front at the top: its wheel ends at their places along the chassis. */
export function Chassis({ vehicle, me, selected, onSelect }: Props) {
  return (
    <section aria-label="Wheel ends along the chassis" className="bg-sheet">
      <p className="border-b border-hair px-3 py-1 text-center text-[11px] tracking-wide text-soft">front</p>
      {vehicle.axleDetails.map((axle) => (
        <AxleRow
          key={axle.axle}
          {...{ axle, vehicle, me }}
          chosen={axle.axle === selected}
          onSelect={() => onSelect(axle.axle)}
        />
      ))}
      <p className="px-3 py-1 text-center text-[11px] text-soft">
        Pads true to scale; dotted line: service limit; ghost: new. ± holds 80 %.
      </p>
    </section>
  );
}

function AxleRow({
  axle,
  vehicle,
  me,
  chosen,
  onSelect,
}: {
  axle: AxleDetail;
  vehicle: VehicleDetail;
  me: Me;
  chosen: boolean;
  onSelect: () => void;
}) {
  const { mark } = axle;
  const pads = (side: 'left' | 'right') =>
    Object.fromEntries(
      axle.pads.filter((pad) => pad.side === side).map((pad) => [pad.pad, { mm: pad.meanMm, sdMm: pad.sdMm }]),
    );
  const scale = axle.padNewMm > 15 ? 3.4 : 5.6;
  const away = mark ? daysBetween(vehicle.today, mark.markDate) : 0;
  return (
    <button
      onClick={onSelect}
      aria-pressed={chosen}
      aria-label={`Axle ${axle.axle}: show its wear`}
      className={`flex w-full items-center gap-2 max-sm:flex-wrap max-sm:justify-between border-b border-hair px-3 py-3 text-left ${chosen ? 'border-l-4 border-l-ink bg-raised' : 'border-l-4 border-l-transparent'}`}
    >
      <WheelEnd
        side="left"
        pads={pads('left')}
        newMm={axle.padNewMm}
        limitMm={axle.limit.limitMm}
        unit={me.thicknessUnit}
        scale={scale}
      />
      <span className="relative flex min-w-0 flex-1 flex-col max-sm:order-first max-sm:basis-full max-sm:border-x-0 items-center border-x-[3px] border-soft px-2 py-1 text-center">
        <span aria-hidden className="absolute top-1/2 -left-4 h-[3px] w-4 bg-soft max-sm:hidden" />
        <span aria-hidden className="absolute top-1/2 -right-4 h-[3px] w-4 bg-soft max-sm:hidden" />
        <span className="font-semibold">Axle {axle.axle}</span>
        {mark ? (
          <>
            <span className="figures text-[17px] leading-tight font-semibold">{formatDate(mark.markDate)}</span>
            <span className="figures">{milesInWords(mark.markOdometerMi, me.distanceUnit)}</span>
            <span className="text-soft">
              {away < 0 ? 'mark passed ' : 'mark '}
              {awayInWords(away)}
            </span>
            <span className="text-[12px] text-soft">
              {wearLook(shareLeft(mark.thinnestMm, mark.serviceLimitMm, mark.newMm)).word}; below limit now:{' '}
              {chanceInWords(mark.probabilityBelowNow)}
            </span>
            <span className="text-[12px] text-soft">
              {mark.evidence.readings > 0
                ? `from ${evidenceInWords(mark.evidence.readings, mark.evidence.technicians)}`
                : 'new pads not measured yet'}
            </span>
          </>
        ) : (
          <span className="text-soft">{vehicle.left ? `no mark: ${vehicle.left.how}` : 'being computed'}</span>
        )}
        <span className="text-[12px] text-soft">limit {limitInWords(axle.limit.limitMm, me.thicknessUnit)}</span>
      </span>
      <WheelEnd
        side="right"
        pads={pads('right')}
        newMm={axle.padNewMm}
        limitMm={axle.limit.limitMm}
        unit={me.thicknessUnit}
        scale={scale}
      />
    </button>
  );
}
