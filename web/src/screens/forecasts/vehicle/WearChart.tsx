import { Chart, type ChartDataset, Filler, Legend, LinearScale, LineElement, PointElement, Tooltip } from 'chart.js';
import { Line } from 'react-chartjs-2';
import type { AxleDetail, PadDetail } from '@mile-mark/contract/forecasts';
import type { Reading } from '@mile-mark/contract/inspections';
import type { Me } from '@mile-mark/contract/people';
import { thicknessIn } from '@mile-mark/core';
import { formatDate } from '../../../ui/format.ts';

Chart.register(LinearScale, LineElement, PointElement, Filler, Legend, Tooltip);
Chart.defaults.font.family = "'Barlow', sans-serif";

/** Line styles tell the pads apart without colour: side by colour and point, inner solid, outer dashed. */
const LOOK = {
  left: { colour: '#4f6373', point: 'circle' },
  right: { colour: '#96660f', point: 'rectRot' },
} as const;

interface Point {
  x: number;
  y: number;
}

/** The wear lines of an axle's four pads, with the thinnest pad's interval, the limit and the road to the mark. */
export function WearChart({
  axle,
  readings,
  me,
  riskTarget,
}: {
  axle: AxleDetail;
  readings: Reading[];
  me: Me;
  riskTarget: number;
}) {
  const inUnit = (mm: number) => thicknessIn(mm, me.thicknessUnit);
  const distance = (miles: number) => (me.distanceUnit === 'mi' ? miles : miles * 1.609344);
  const { mark, pads } = axle;
  if (!mark || pads.length === 0) return null;
  const now = mark.odometerNowMi;
  const end = Math.max(mark.medianOdometerMi, now + 1000);
  const thinnest = pads.reduce((least, pad) => (pad.meanMm < least.meanMm ? pad : least), pads[0] as PadDetail);
  const lineOf = (pad: PadDetail): Point[] => [
    ...pad.trace.map(({ miles, meanMm }) => at(miles, meanMm)),
    at(now, pad.meanMm),
  ];
  const aheadOf = (pad: PadDetail): Point[] => [
    at(now, pad.meanMm),
    at(end, pad.meanMm - (pad.ratePer1000Mi * (end - now)) / 1000),
  ];
  function at(miles: number, mm: number): Point {
    return { x: distance(miles), y: inUnit(mm) };
  }
  const band = (direction: 1 | -1): Point[] => [
    ...thinnest.trace.map(({ miles, meanMm, sdMm }) => at(miles, meanMm + direction * 1.28 * sdMm)),
    at(now, thinnest.meanMm + direction * 1.28 * thinnest.sdMm),
  ];
  const start = Math.min(...pads.flatMap((pad) => pad.trace.map(({ miles }) => miles)), now);
  const datasets: ChartDataset<'line', Point[]>[] = [
    {
      label: 'thinnest pad, 80 %',
      data: band(1),
      borderWidth: 0,
      pointRadius: 0,
      fill: '+1',
      backgroundColor: 'rgba(38,40,42,0.10)',
    },
    { label: 'lower', data: band(-1), borderWidth: 0, pointRadius: 0, fill: false },
    ...pads.flatMap((pad): ChartDataset<'line', Point[]>[] => {
      const { colour, point } = LOOK[pad.side];
      const dash = pad.pad === 'outer' ? [5, 3] : [];
      const width = pad === thinnest ? 2.5 : 1.5;
      return [
        {
          label: `${pad.side} ${pad.pad}`,
          data: lineOf(pad),
          borderColor: colour,
          backgroundColor: colour,
          borderDash: dash,
          borderWidth: width,
          pointRadius: 2,
          pointStyle: point,
        },
        {
          label: 'ahead',
          data: aheadOf(pad),
          borderColor: colour,
          borderDash: [1.5, 3],
          borderWidth: width,
          pointRadius: 0,
        },
      ];
    }),
    {
      label: 'readings',
      data: readings
        .filter(
          (one) =>
            one.axle === axle.axle &&
            one.mm !== null &&
            one.supersededBy === null &&
            (!axle.fitted || one.date > axle.fitted.date),
        )
        .map((one) => at(one.odometerMi, one.mm ?? 0)),
      showLine: false,
      pointRadius: 2.5,
      pointStyle: 'cross',
      borderColor: '#7b7e81',
    },
    {
      label: 'service limit',
      data: [at(start, axle.limit.limitMm), at(end, axle.limit.limitMm)],
      borderColor: '#98341f',
      borderWidth: 1.5,
      pointRadius: 0,
    },
    {
      label: `mile mark (${Math.round(riskTarget * 100)} % chance)`,
      data: [at(mark.markOdometerMi, 0), at(mark.markOdometerMi, axle.padNewMm)],
      borderColor: '#26282a',
      borderWidth: 2,
      pointRadius: 0,
    },
  ];
  const hidden = new Set(['lower', 'ahead']);
  return (
    <section>
      <h2 className="font-semibold">
        Axle {axle.axle}: wear so far and to the mark, {formatDate(mark.markDate)}
      </h2>
      <div className="h-64 bg-sheet p-1">
        <Line
          aria-label={`Thickness of the four pads of axle ${axle.axle} over the odometer`}
          data={{ datasets }}
          options={{
            animation: false,
            parsing: false,
            maintainAspectRatio: false,
            interaction: { mode: 'nearest', intersect: false },
            scales: {
              x: {
                type: 'linear',
                min: Math.floor(distance(start) / 1000) * 1000,
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
            plugins: {
              legend: {
                position: 'bottom',
                labels: { boxWidth: 22, boxHeight: 1, padding: 8, filter: ({ text }) => !hidden.has(text) },
              },
              tooltip: { filter: ({ dataset }) => !hidden.has(dataset.label ?? '') },
            },
          }}
        />
      </div>
    </section>
  );
}
