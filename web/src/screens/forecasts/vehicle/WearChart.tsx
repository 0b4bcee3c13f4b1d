import { ruledByInWords } from '@mile-mark/contract/words';
import type { ChartDataset } from 'chart.js';
import type { AxleDetail, PadDetail, VehicleDetail } from '@mile-mark/contract/forecasts';
import type { Me } from '@mile-mark/contract/people';
import { readerAxes } from '../../../drawings/readerAxes.ts';
import { axisOf, INK, legendBelow } from '../../../ui/charts.ts';
import { LineChart } from '../../../ui/LineChart.tsx';
import { formatDate } from '../../../ui/format.ts';

/** Line styles tell the pads apart without colour: side by colour and point, inner solid, outer dashed. */
const LOOK = {
  left: { colour: INK.left, point: 'circle' },
  right: { colour: INK.right, point: 'rectRot' },
} as const;

interface Point {
  x: number;
  y: number;
}

type Lines = ChartDataset<'line', Point[]>[];
type At = (miles: number, mm: number) => Point;

interface Props {
  axle: AxleDetail;
  vehicle: VehicleDetail;
  me: Me;
  riskTarget: number;
}

const HIDDEN = new Set(['lower', 'ahead']);

/** The thinnest pad's interval until now. */
function bandOf(thinnest: PadDetail, now: number, at: At): Lines {
  const edge = (direction: 1 | -1) => [
    ...thinnest.trace.map(({ miles, meanMm, sdMm }) => at(miles, meanMm + direction * 1.28 * sdMm)),
    at(now, thinnest.meanMm + direction * 1.28 * thinnest.sdMm),
  ];
  const plain = { borderWidth: 0, pointRadius: 0 };
  return [
    { label: 'thinnest pad, 80 %', data: edge(1), ...plain, fill: '+1', backgroundColor: INK.band },
    { label: 'lower', data: edge(-1), ...plain, fill: false },
  ];
}

/** A pad until now, and ahead at its present pace. */
function padLines(pad: PadDetail, { now, end, thick }: { now: number; end: number; thick: boolean }, at: At): Lines {
  const { colour, point } = LOOK[pad.side];
  const look = { borderColor: colour, borderWidth: thick ? 2.5 : 1.5 };
  const ahead = pad.meanMm - (pad.ratePer1000Mi * (end - now)) / 1000;
  return [
    {
      label: `${pad.side} ${pad.pad}`,
      data: [...pad.trace.map(({ miles, meanMm }) => at(miles, meanMm)), at(now, pad.meanMm)],
      ...look,
      backgroundColor: colour,
      borderDash: pad.pad === 'outer' ? [5, 3] : [],
      pointRadius: 2,
      pointStyle: point,
    },
    { label: 'ahead', data: [at(now, pad.meanMm), at(end, ahead)], ...look, borderDash: [1.5, 3], pointRadius: 0 },
  ];
}

/** Miles shown on a day, as the instrument of today would have shown them: the chart's other miles are its own. */
const onInstrumentNow = (instruments: VehicleDetail['instruments'], date: string, miles: number) =>
  instruments.reduce((sum, { on, oldMi, newMi }) => (on > date ? sum - (oldMi - newMi) : sum), miles);

/** Readings of the present pads that count. */
function readingsOf(axle: AxleDetail, { readings, instruments }: VehicleDetail, at: At): Lines[number] {
  return {
    label: 'readings',
    data: readings
      .filter(
        (one) =>
          one.axle === axle.axle &&
          one.mm !== null &&
          one.supersededBy === null &&
          (!axle.fitted || one.date > axle.fitted.date),
      )
      .map((one) => at(onInstrumentNow(instruments, one.date, one.odometerMi), one.mm ?? 0)),
    showLine: false,
    pointRadius: 2.5,
    pointStyle: 'cross',
    borderColor: INK.soft,
  };
}

/** The wear lines of an axle's four pads, with the thinnest pad's interval, the limit and the road to the mark. */
export function WearChart({ axle, vehicle, me, riskTarget }: Props) {
  const { distance, at, odometer, material } = readerAxes(me);
  const { mark, pads } = axle;
  if (!mark || pads.length === 0) return null;
  const now = mark.odometerNowMi;
  const end = Math.max(mark.medianOdometerMi, now + 1000);
  const thinnest = pads.reduce((least, pad) => (pad.meanMm < least.meanMm ? pad : least), pads[0] as PadDetail);
  const start = Math.min(...pads.flatMap((pad) => pad.trace.map(({ miles }) => miles)), now);
  const rule = (label: string, data: Point[], borderColor: string, borderWidth: number) => ({
    label,
    data,
    borderColor,
    borderWidth,
    pointRadius: 0,
  });
  const limit = [at(start, axle.limit.limitMm), at(end, axle.limit.limitMm)];
  const road = [at(mark.markOdometerMi, 0), at(mark.markOdometerMi, axle.padNewMm)];
  const datasets: Lines = [
    ...bandOf(thinnest, now, at),
    ...pads.flatMap((pad) => padLines(pad, { now, end, thick: pad === thinnest }, at)),
    readingsOf(axle, vehicle, at),
    rule('service limit', limit, INK.limit, 1.5),
    rule(`mile mark (${ruledByInWords(axle.mark ?? { ruledBy: 'risk' }, riskTarget)})`, road, INK.line, 2),
  ];
  return (
    <section>
      <h2 className="font-semibold">
        Axle {axle.axle}: wear so far and to the mark, {formatDate(mark.markDate)}
      </h2>
      <div className="relative h-64 min-w-0 overflow-hidden bg-sheet p-1">
        <LineChart
          aria-label={`Thickness of the four pads of axle ${axle.axle} over the odometer`}
          data={{ datasets }}
          options={{
            parsing: false,
            interaction: { mode: 'nearest', intersect: false },
            scales: {
              x: axisOf(odometer, {
                min: Math.floor(distance(start) / 1000) * 1000,
                ticks: { maxTicksLimit: 8, precision: 0 },
              }),
              y: axisOf(material, { min: 0 }),
            },
            plugins: {
              legend: legendBelow(HIDDEN),
              tooltip: { filter: ({ dataset }) => !HIDDEN.has(dataset.label ?? '') },
            },
          }}
        />
      </div>
    </section>
  );
}
