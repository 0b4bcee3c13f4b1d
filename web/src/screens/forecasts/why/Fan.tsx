import type { ChartDataset } from 'chart.js';
import type { AxleDetail, PadDetail } from '@mile-mark/contract/forecasts';
import type { Me } from '@mile-mark/contract/people';
import type { WearFan } from '@mile-mark/core';
import { readerAxes } from '../../../drawings/readerAxes.ts';
import { axisOf, INK } from '../../../ui/charts.ts';
import { LineChart } from '../../../ui/LineChart.tsx';

const BANDS = [
  ['p05', 'p95', 'rgba(79,99,115,0.14)', '90 %'],
  ['p10', 'p90', 'rgba(79,99,115,0.2)', '80 %'],
  ['p25', 'p75', 'rgba(79,99,115,0.32)', '50 %'],
] as const;

interface Props {
  axle: AxleDetail;
  fan: WearFan;
  limitMm: number;
  marks: { label: string; miles: number; dashed: boolean }[];
  me: Me;
}
type Lines = ChartDataset<'line', { x: number; y: number }[]>[];
type Axes = ReturnType<typeof readerAxes>;

/** The intervals ahead, widest first, and the median. */
function bandsOf(fan: WearFan, { at }: Axes): Lines {
  const line = (share: (typeof BANDS)[number][0 | 1] | 'p50') =>
    fan.odometerMi.map((miles, i) => at(miles, fan.thinnestMm[i]?.[share] ?? 0));
  const bare = { pointRadius: 0, borderWidth: 0 };
  return [
    ...BANDS.flatMap(([low, high, colour, label]): Lines => [
      { label, data: line(high), ...bare, fill: '+1', backgroundColor: colour },
      { label: `${label} low`, data: line(low), ...bare, fill: false },
    ]),
    { label: 'median', data: line('p50'), borderColor: INK.line, borderWidth: 2, borderDash: [6, 3], pointRadius: 0 },
  ];
}

/** The limit across, and each mark as a post. */
function rulesOf({ axle, limitMm, marks }: Props, { at }: Axes, from: number, to: number): Lines {
  return [
    {
      label: 'limit',
      data: [
        { ...at(0, limitMm), x: from },
        { ...at(0, limitMm), x: to },
      ],
      borderColor: INK.limit,
      borderWidth: 1.5,
      pointRadius: 0,
    },
    ...marks.map(({ label, miles, dashed }): Lines[number] => ({
      label,
      data: [at(miles, 0), at(miles, axle.padNewMm)],
      borderColor: dashed ? INK.asked : INK.line,
      borderWidth: 2,
      borderDash: dashed ? [4, 3] : [],
      pointRadius: 0,
    })),
  ];
}

/** The thinnest pad of an axle: how it wore, and how it will, as a fan of intervals. */
export function Fan(props: Props) {
  const { axle, fan, marks, me } = props;
  const axes = readerAxes(me);
  const thinnest = axle.pads.reduce<PadDetail | undefined>(
    (least, pad) => (!least || pad.meanMm < least.meanMm ? pad : least),
    undefined,
  );
  const past = [
    ...(thinnest?.trace ?? []).map(({ miles, meanMm }) => axes.at(miles, meanMm)),
    ...(thinnest ? [axes.at(fan.odometerMi[0] ?? 0, thinnest.meanMm)] : []),
  ];
  const start = Math.floor((past[0]?.x ?? 0) / 1000) * 1000;
  const end = axes.distance(fan.odometerMi.at(-1) ?? 0);
  const datasets: Lines = [
    ...bandsOf(fan, axes),
    { label: 'so far', data: past, borderColor: INK.line, borderWidth: 2, pointRadius: 2 },
    ...rulesOf(props, axes, start, end),
  ];
  return (
    <section aria-label="Wear ahead">
      <h2 className="font-semibold">The thinnest pad, if nothing is done</h2>
      <div className="relative h-72 min-w-0 overflow-hidden bg-sheet p-1">
        <LineChart
          aria-label={`Thickness of the thinnest pad of axle ${axle.axle} over the odometer, with intervals ahead`}
          data={{ datasets }}
          options={{
            parsing: false,
            scales: {
              x: axisOf(axes.odometer, {
                min: start,
                max: Math.ceil(end / 1000) * 1000,
                ticks: { maxTicksLimit: 8, precision: 0 },
              }),
              y: axisOf(axes.material, { min: 0 }),
            },
            plugins: { legend: { display: false }, tooltip: { enabled: false } },
          }}
        />
      </div>
      <p className="text-[13px] text-soft">
        Bands hold 50, 80 and 90 % of what may come; broken line the median; red the limit; black post the mark
        {marks.some(({ dashed }) => dashed) && ', yellow where it would stand'}.
      </p>
    </section>
  );
}
