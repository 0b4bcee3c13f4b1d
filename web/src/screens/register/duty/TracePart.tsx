import { useEffect, useRef, useState } from 'react';
import type { Model } from '@mile-mark/contract/register';
import { type Duty, METRES_PER_MILE } from '@mile-mark/core';
import { useReader } from '../../../api/reader.ts';
import { Button } from '../../../ui/Button.tsx';
import { Field } from '../../../ui/Field.tsx';
import { figure } from '../../../api/typed.ts';
import { axisOf } from '../../../ui/charts.ts';
import { LineChart } from '../../../ui/LineChart.tsx';
import { formatWhole } from '../../../ui/format.ts';
import type { TraceAnswer, TraceTask } from '../../../workers/lookThrough.ts';

const MOST_BYTES = 60_000_000;
const COLOURS = { stop: '#4f6373', slowdown: '#8ea3b3', descent: '#b77a12' };

type Found = Extract<TraceAnswer, { ok: true }>;

/** A recorded drive, looked through in a worker: what was found in it, drawn, and the duty that stands for it. */
export function TracePart({
  model,
  onDuty,
}: {
  model: Model;
  onDuty: (duty: Duty, note: string, milesPerDay: number) => void;
}) {
  const [mass, setMass] = useState(String(Math.round(model.tareKg + 0.5 * (model.gvwrKg - model.tareKg))));
  const [retarder, setRetarder] = useState('0');
  const [file, setFile] = useState<{ name: string; csv: string }>();
  const [answer, setAnswer] = useState<TraceAnswer>();
  const [busy, setBusy] = useState(false);
  const worker = useRef<Worker>(undefined);
  const massKg = figure(mass, true);
  const retarderShare = figure(retarder) / 100;
  useEffect(() => {
    if (!file || !(massKg > 0) || !(retarderShare >= 0 && retarderShare < 1)) return undefined;
    const own = new Worker(new URL('../../../workers/trace.worker.ts', import.meta.url), { type: 'module' });
    worker.current = own;
    setBusy(true);
    own.onmessage = ({ data }: MessageEvent<TraceAnswer>) => {
      setAnswer(data);
      setBusy(false);
      own.terminate();
    };
    own.onerror = () => {
      setAnswer({ ok: false, message: 'The file could not be looked through.' });
      setBusy(false);
    };
    const task: TraceTask = { csv: file.csv, vehicleClass: model.class, masses: model, massKg, retarderShare };
    own.postMessage(task);
    return () => own.terminate();
  }, [file, massKg, retarderShare, model]);

  const take = async (chosen: File | undefined) => {
    if (!chosen) return;
    setAnswer(undefined);
    if (chosen.size > MOST_BYTES) {
      setAnswer({ ok: false, message: 'Larger than 60 MB; a day or a week at one line a second is accepted.' });
      return;
    }
    setFile({ name: chosen.name, csv: await chosen.text() });
  };
  return (
    <section aria-label="From a trace" className="flex flex-col gap-3">
      <p className="max-w-prose text-soft">
        A CSV with one line a second: <span className="figures">time_s</span>, a speed (
        <span className="figures">speed_kmh</span>, <span className="figures">speed_mph</span> or{' '}
        <span className="figures">speed_mps</span>), <span className="figures">altitude_m</span>, and{' '}
        <span className="figures">mass_kg</span> where it is known. It stays in this browser; only the duty is kept.
      </p>
      <div className="grid max-w-2xl grid-cols-[1fr_9rem_9rem] items-end gap-3">
        <label className="flex flex-col gap-1">
          <span className="text-soft">Trace</span>
          <input
            type="file"
            accept=".csv,text/csv,text/plain"
            className="min-h-8 rounded-sm border border-line bg-raised p-1"
            onChange={(event) => void take(event.target.files?.[0])}
          />
        </label>
        <Field
          label="Mass, where it has none, kg"
          value={mass}
          inputMode="decimal"
          onChange={(e) => setMass(e.target.value)}
        />
        <Field
          label="Retarder, % of work"
          value={retarder}
          inputMode="decimal"
          onChange={(e) => setRetarder(e.target.value)}
        />
      </div>
      {busy && <p role="status">Looking through {file?.name} …</p>}
      {answer && !answer.ok && (
        <p role="alert" className="font-medium text-brick">
          {answer.message}
        </p>
      )}
      {answer?.ok && !busy && file && <TraceShown found={answer} name={file.name} onDuty={onDuty} />}
    </section>
  );
}

function TraceShown({
  found: { findings, profile, tookMs, samples },
  name,
  onDuty,
}: {
  found: Found;
  name: string;
  onDuty: (duty: Duty, note: string, milesPerDay: number) => void;
}) {
  const { events, miles, seconds, duty } = findings;
  const reader = useReader();
  const [metresPerUnit, speedUnit] = reader.distanceUnit === 'km' ? [1000, 'km/h'] : [METRES_PER_MILE, 'mph'];
  const inUnit = (mph: number) => (mph * METRES_PER_MILE) / metresPerUnit;
  const distance = `${inUnit(miles).toFixed(1)} ${reader.distanceUnit}`;
  /** What comes by the mile, by the unit the person reads: `0.47 stops a km`. */
  const each = (perMile: number, digits: number, what: string) =>
    `${((perMile * metresPerUnit) / METRES_PER_MILE).toFixed(digits)} ${what}`;
  const a = reader.distanceUnit === 'km' ? 'a km' : 'a mile';
  const count = (kind: 'stop' | 'slowdown' | 'descent') => events.filter((one) => one.kind === kind).length;
  const minutes = (at: number) => at / 60;
  const note = `${name}: ${distance}, ${count('stop')} stops, ${count('slowdown')} slowdowns, ${count('descent')} descents`;
  const marks = (['stop', 'slowdown', 'descent'] as const).map((kind) => ({
    label: kind,
    data: events
      .filter((one) => one.kind === kind)
      .map((one) => ({ x: minutes(one.fromSeconds), y: (one.fromMps / metresPerUnit) * 3600 })),
    showLine: false,
    pointStyle: { stop: 'rectRot', slowdown: 'triangle', descent: 'circle' }[kind],
    pointRadius: events.length > 120 ? 2.5 : 4,
    borderColor: COLOURS[kind],
    backgroundColor: COLOURS[kind],
    yAxisID: 'y',
  }));
  return (
    <>
      <p>
        <strong className="figures">{distance}</strong> in {Math.round(seconds / 60)} min of {formatWhole(samples)}{' '}
        lines, looked through in {(tookMs / 1000).toFixed(2)} s: {count('stop')} stops, {count('slowdown')} slowdowns,{' '}
        {count('descent')} descents.
        {findings.gaps > 0 && ` ${findings.gaps} gaps; nothing is made up for them.`}
      </p>
      <div className="h-60 bg-sheet p-1">
        <LineChart
          aria-label="Speed and altitude over time, with stops, slowdowns and descents"
          data={{
            datasets: [
              ...marks,
              {
                label: `speed, ${speedUnit}`,
                data: profile.seconds.map((t, i) => ({ x: minutes(t), y: inUnit(profile.mph[i] ?? 0) })),
                borderColor: '#26282a',
                borderWidth: 1,
                pointRadius: 0,
                yAxisID: 'y',
              },
              {
                label: 'altitude, m',
                data: profile.seconds.map((t, i) => ({ x: minutes(t), y: profile.altitudeM[i] ?? 0 })),
                borderColor: '#a39c8a',
                backgroundColor: 'rgba(163,156,138,0.18)',
                fill: 'start',
                borderWidth: 1,
                pointRadius: 0,
                yAxisID: 'high',
              },
            ],
          }}
          options={{
            parsing: false,
            scales: {
              x: axisOf('minutes', { grid: { display: false } }),
              y: axisOf(`speed, ${speedUnit}`, { min: 0 }),
              high: axisOf('altitude, m', { position: 'right', grid: { display: false } }),
            },
            plugins: { legend: { display: false } },
          }}
        />
      </div>
      <TraceLegend />
      <p>
        As a duty: {each(duty.stopsPerMile, 2, 'stops')} {a} from {reader.speed(duty.mphBeforeStop)},{' '}
        {each(duty.slowdownsPerMile ?? 0, 2, 'slowdowns')}, {each(duty.descentMPerMile, 1, 'm of descent')} {a},{' '}
        {Math.round(duty.payloadShare * 100)} % of the payload. Its work by the formulas of a stated duty is{' '}
        {reader.per(findings.dutyJPerMile / 1000, 'kJ')}; summed over the trace second by second it is{' '}
        {reader.per(findings.workJPerMile / 1000, 'kJ')}.
      </p>
      <div>
        <Button look="next" onClick={() => onDuty(duty, note, Math.round(miles))}>
          Make it a duty
        </Button>
      </div>
    </>
  );
}

function TraceLegend() {
  return (
    <p className="text-[13px] text-soft">
      <span className="mr-3" style={{ color: COLOURS.stop }}>
        ◆ stop
      </span>
      <span className="mr-3" style={{ color: COLOURS.slowdown }}>
        ▲ slowdown
      </span>
      <span className="mr-3" style={{ color: COLOURS.descent }}>
        ● descent begins
      </span>
      black speed, grey altitude
    </p>
  );
}
