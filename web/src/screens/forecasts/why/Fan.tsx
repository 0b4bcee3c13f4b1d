import { Chart, type ChartDataset, Filler, LinearScale, LineElement, PointElement, Tooltip } from 'chart.js';
import { Line } from 'react-chartjs-2';
import type { AxleDetail, PadDetail } from '@mile-mark/contract/forecasts';
import type { Me } from '@mile-mark/contract/people';
import { thicknessIn, type WearFan } from '@mile-mark/core';

Chart.register(LinearScale, LineElement, PointElement, Filler, Tooltip);

const BANDS = [
  ['p05', 'p95', 'rgba(79,99,115,0.14)', '90 %'],
  ['p10', 'p90', 'rgba(79,99,115,0.2)', '80 %'],
  ['p25', 'p75', 'rgba(79,99,115,0.32)', '50 %'],
] as const;

/** The thinnest pad of an axle: how it wore, and how it will, as a fan of intervals. */
export function Fan({
  axle,
  fan,
  limitMm,
  marks,
  me,
}: {
  axle: AxleDetail;
  fan: WearFan;
  limitMm: number;
  marks: { label: string; miles: number; dashed: boolean }[];
  me: Me;
}) {
  const y = (mm: number) => thicknessIn(mm, me.thicknessUnit);
  const x = (miles: number) => (me.distanceUnit === 'mi' ? miles : miles * 1.609344);
  const thinnest = axle.pads.reduce<PadDetail | undefined>(
    (least, pad) => (!least || pad.meanMm < least.meanMm ? pad : least),
    undefined,
  );
  const line = (share: 'p05' | 'p10' | 'p25' | 'p50' | 'p75' | 'p90' | 'p95') =>
    fan.odometerMi.map((miles, i) => ({ x: x(miles), y: y(fan.thinnestMm[i]?.[share] ?? 0) }));
  const bare = { pointRadius: 0, borderWidth: 0 };
  const past = [
    ...(thinnest?.trace ?? []).map(({ miles, meanMm }) => ({ x: x(miles), y: y(meanMm) })),
    ...(thinnest ? [{ x: x(fan.odometerMi[0] ?? 0), y: y(thinnest.meanMm) }] : []),
  ];
  const start = Math.floor((past[0]?.x ?? 0) / 1000) * 1000;
  const end = x(fan.odometerMi.at(-1) ?? 0);
  const frame = Math.ceil(end / 1000) * 1000;
  const datasets: ChartDataset<'line', { x: number; y: number }[]>[] = [
    ...BANDS.flatMap(([low, high, colour, label]): ChartDataset<'line', { x: number; y: number }[]>[] => [
      { label, data: line(high), ...bare, fill: '+1', backgroundColor: colour },
      { label: `${label} low`, data: line(low), ...bare, fill: false },
    ]),
    { label: 'median', data: line('p50'), borderColor: '#26282a', borderWidth: 2, borderDash: [6, 3], pointRadius: 0 },
    { label: 'so far', data: past, borderColor: '#26282a', borderWidth: 2, pointRadius: 2 },
    {
      label: 'limit',
      data: [
        { x: start, y: y(limitMm) },
        { x: end, y: y(limitMm) },
      ],
      borderColor: '#98341f',
      borderWidth: 1.5,
      pointRadius: 0,
    },
    ...marks.map(({ label, miles, dashed }): ChartDataset<'line', { x: number; y: number }[]> => ({
      label,
      data: [
        { x: x(miles), y: 0 },
        { x: x(miles), y: y(axle.padNewMm) },
      ],
      borderColor: dashed ? '#c99700' : '#26282a',
      borderWidth: 2,
      borderDash: dashed ? [4, 3] : [],
      pointRadius: 0,
    })),
  ];
  return (
    <section aria-label="Wear ahead">
      <h2 className="font-semibold">The thinnest pad, if nothing is done</h2>
      <div className="h-72 bg-sheet p-1">
        <Line
          aria-label={`Thickness of the thinnest pad of axle ${axle.axle} over the odometer, with intervals ahead`}
          data={{ datasets }}
          options={{
            animation: false,
            parsing: false,
            maintainAspectRatio: false,
            scales: {
              x: {
                type: 'linear',
                min: start,
                max: frame,
                title: { display: true, text: `odometer, ${me.distanceUnit}` },
                ticks: { maxTicksLimit: 8, precision: 0 },
                grid: { color: '#dedad0' },
              },
              y: {
                min: 0,
                title: {
                  display: true,
                  text: `friction material, ${me.thicknessUnit === '1/32 in' ? '32nds of an inch' : me.thicknessUnit}`,
                },
                grid: { color: '#dedad0' },
              },
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
