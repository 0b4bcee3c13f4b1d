import { DataTable } from '../../ui/DataTable.tsx';
import { useReader } from '../../api/reader.ts';
import { useState } from 'react';
import type { StudyDetail, StudyFigures, VariationView } from '@mile-mark/contract/gauges';
import { SegmentedControl } from '../../ui/SegmentedControl.tsx';
import { axisOf, INK } from '../../ui/charts.ts';
import { LineChart } from '../../ui/LineChart.tsx';

type Way = 'test' | 'pool' | 'keep';
const COLOURS = [INK.left, INK.right, INK.limit, INK.line, INK.soft, '#6d7f4b'];
const POINTS = ['circle', 'rectRot', 'triangle', 'rect', 'crossRot', 'star'] as const;

/** The figures of a complete study by both methods, the table of variances, charts, and a verdict in words. */
export function StudyResultView({ study, figures }: { study: StudyDetail; figures: Record<Way, StudyFigures> }) {
  const [way, setWay] = useState<Way>('test');
  const { fineUnit } = useReader();
  const shown = figures[way];
  return (
    <div className="grid gap-6 xl:grid-cols-2">
      <div className="flex flex-col gap-5">
        <Verdict study={study} figures={shown} />
        <section>
          <div className="mb-1 flex flex-wrap items-center justify-between gap-3">
            <h2 className="font-semibold">Variation, one standard deviation, {fineUnit}</h2>
            <SegmentedControl
              label="Interaction"
              value={way}
              options={[
                { value: 'test', label: 'by test' },
                { value: 'pool', label: 'pooled' },
                { value: 'keep', label: 'kept' },
              ]}
              onChange={setWay}
            />
          </div>
          <Figures figures={shown} tolerance={study.newMm === null ? null : study.newMm - study.limitMm} />
        </section>
        <section>
          <h2 className="mb-1 font-semibold">Analysis of variance</h2>
          <DataTable name="study-variation" className="figures w-full bg-sheet text-right">
            <thead>
              <tr className="border-b border-line text-soft">
                {['Source', 'df', 'Sum of squares', 'Mean square', 'F', 'p'].map((name) => (
                  <th key={name} className="px-2 py-1 font-medium first:text-left">
                    {name}
                  </th>
                ))}
              </tr>
            </thead>
            <tbody>
              {shown.table.map((line) => (
                <tr key={line.source} className="border-b border-hair">
                  <td className="px-2 py-1 text-left">
                    {line.source === 'interaction' ? 'technician × part' : line.source}
                  </td>
                  <td className="px-2">{line.df}</td>
                  <td className="px-2">{line.ss.toFixed(6)}</td>
                  <td className="px-2">{line.ms?.toFixed(6) ?? ''}</td>
                  <td className="px-2">{line.f?.toFixed(4) ?? ''}</td>
                  <td className="px-2">{line.p === null ? '' : line.p < 0.001 ? 'under 0.001' : line.p.toFixed(3)}</td>
                </tr>
              ))}
            </tbody>
          </DataTable>
          <p className="mt-1 text-[13px] text-soft">
            The interaction is pooled with the error where its p is over 0.25 (usual practice); here it is{' '}
            {shown.pooled ? 'pooled' : 'kept'}.
          </p>
        </section>
      </div>
      <div className="flex flex-col gap-5">
        {shown.byTechnician.length > 0 ? (
          <>
            <ByPart figures={shown} />
            <ByTechnician figures={shown} />
          </>
        ) : (
          <p className="text-soft">How each person measured is for that person and the coordinator.</p>
        )}
      </div>
    </div>
  );
}

const FIT = {
  fit: 'Fit to decide',
  conditional: 'Fit to decide with care',
  unfit: 'Not fit to decide alone',
} as const;

function Verdict({ study, figures: { verdict, anova } }: { study: StudyDetail; figures: StudyFigures }) {
  const reader = useReader();
  return (
    <section className="border-l-4 border-ink bg-sheet p-4">
      <h2 className="text-lg font-semibold">
        {FIT[verdict.fitness]} at a limit of {reader.limit(verdict.limitMm)}
      </h2>
      <p className="mt-1">
        A single reading by any of these people scatters by ± {reader.fine(1.645 * anova.grr)} (90 %) about the pad’s
        thickness, all sources together. A pad that reads{' '}
        <strong className="figures">{reader.fine(verdict.safeReadingMm)}</strong> or more is above{' '}
        {reader.limit(verdict.limitMm)} with 95 % certainty; under that, measure again or let another appraiser measure.
      </p>
      <p className="mt-1">
        {verdict.mainly === 'technicians'
          ? 'Most of it is between people: agree on where on the pad to measure and what to leave out, then repeat the study.'
          : 'Most of it is within one hand: another gauge, a steadier rest for it, or the mean of two readings helps.'}{' '}
        {anova.ndc !== null &&
          `It tells ${Math.floor(anova.ndc)} thicknesses of this range apart (5 and more are wanted).`}
      </p>
      {study.referenced && <p className="mt-1 text-soft">Values are deviations from true thicknesses.</p>}
    </section>
  );
}

/** Figures of the study; those without `ratio` are lengths. */
const ROWS: { field: keyof VariationView; name: string; digits: number; told: string; ratio?: true }[] = [
  { field: 'ev', name: 'EV', digits: 4, told: 'one hand on one part' },
  { field: 'av', name: 'AV', digits: 4, told: 'between technicians' },
  { field: 'interaction', name: 'Interaction', digits: 4, told: 'technician with part' },
  { field: 'grr', name: 'GRR', digits: 4, told: '√(EV² + AV² + interaction²)' },
  { field: 'pv', name: 'PV', digits: 4, told: 'between parts' },
  { field: 'tv', name: 'TV', digits: 4, told: '√(GRR² + PV²)' },
  { field: 'percentOfTotal', name: 'GRR, % of TV', digits: 2, told: 'up to 10 good, up to 30 with care', ratio: true },
  { field: 'percentOfTolerance', name: 'GRR, % of tolerance', digits: 2, told: '6·GRR ÷ (new − limit)', ratio: true },
  { field: 'ndc', name: 'ndc', digits: 4, told: '1.41·PV ÷ GRR, cut to a whole number', ratio: true },
];

function Figures({ figures, tolerance }: { figures: StudyFigures; tolerance: number | null }) {
  const reader = useReader();
  const cell = (value: number | null, digits: number, ratio?: boolean) => {
    if (value === null) return 'none';
    return ratio ? value.toFixed(digits) : reader.fineFigure(value, digits);
  };
  return (
    <DataTable name="study-figures" className="figures w-full bg-sheet text-right">
      <thead>
        <tr className="border-b border-line text-soft">
          <th className="px-2 py-1 text-left font-medium">Figure</th>
          <th className="px-2 font-medium">ANOVA</th>
          <th className="px-2 font-medium">Average and range</th>
          <th className="px-2 text-left font-medium">What it is</th>
        </tr>
      </thead>
      <tbody>
        {ROWS.filter(({ field }) => field !== 'percentOfTolerance' || tolerance !== null).map(
          ({ field, name, digits, told, ratio }) => (
            <tr key={field} className="border-b border-hair">
              <td className="px-2 py-1 text-left font-medium">{name}</td>
              <td className="px-2">{cell(figures.anova[field], digits, ratio)}</td>
              <td className="px-2">
                {field === 'interaction' ? '–' : cell(figures.averageAndRange[field], digits, ratio)}
              </td>
              <td className="px-2 text-left font-sans text-soft">
                {told}
                {field === 'percentOfTolerance' && tolerance !== null && ` = 6·GRR ÷ ${reader.fine(tolerance)}`}
              </td>
            </tr>
          ),
        )}
      </tbody>
    </DataTable>
  );
}

const AXES = (x: string, y: string) => ({
  scales: { x: { title: { display: true, text: x } }, y: axisOf(y) },
  plugins: { legend: { position: 'bottom' as const, labels: { usePointStyle: true } } },
});

function ByPart({ figures }: { figures: StudyFigures }) {
  const { fineUnit, fineIn } = useReader();
  return (
    <section>
      <h2 className="mb-1 font-semibold">By part: each technician’s mean</h2>
      <div className="h-64 bg-sheet p-2">
        <LineChart
          aria-label="Mean of each technician by part"
          options={AXES('part', `mean, ${fineUnit}`)}
          data={{
            labels: figures.byPart.map(({ part }) => part),
            datasets: figures.byTechnician.map(({ technician, byPart }, i) => ({
              label: technician,
              data: byPart.map((one) => fineIn(one.mean)),
              borderColor: COLOURS[i % COLOURS.length] ?? '#000',
              backgroundColor: COLOURS[i % COLOURS.length] ?? '#000',
              borderWidth: 1.5,
              pointStyle: POINTS[i % POINTS.length] ?? 'circle',
              pointRadius: 4,
            })),
          }}
        />
      </div>
    </section>
  );
}

function ByTechnician({ figures }: { figures: StudyFigures }) {
  const { fineUnit, fineIn, fineFigure } = useReader();
  return (
    <section>
      <h2 className="mb-1 font-semibold">By technician: range of repeats</h2>
      <div className="h-56 bg-sheet p-2">
        <LineChart
          aria-label="Range of each technician's repeats by part"
          options={AXES('part', `range, ${fineUnit}`)}
          data={{
            labels: figures.byPart.map(({ part }) => part),
            datasets: figures.byTechnician.map(({ technician, byPart }, i) => ({
              label: technician,
              data: byPart.map((one) => fineIn(one.range)),
              borderColor: COLOURS[i % COLOURS.length] ?? '#000',
              backgroundColor: COLOURS[i % COLOURS.length] ?? '#000',
              borderWidth: 1.5,
              borderDash: [4, 3],
              pointStyle: POINTS[i % POINTS.length] ?? 'circle',
              pointRadius: 4,
            })),
          }}
        />
      </div>
      <DataTable name="study-people" className="figures mt-2 w-full bg-sheet text-right">
        <thead>
          <tr className="border-b border-line text-soft">
            <th className="px-2 py-1 text-left font-medium">Technician</th>
            <th className="px-2 font-medium">Mean, {fineUnit}</th>
            <th className="px-2 font-medium">Against all, {fineUnit}</th>
            <th className="px-2 font-medium">Own scatter, {fineUnit}</th>
          </tr>
        </thead>
        <tbody>
          {figures.byTechnician.map(({ technician, mean, ev }) => {
            const all = figures.byPart.reduce((sum, part) => sum + part.mean, 0) / figures.byPart.length;
            return (
              <tr key={technician} className="border-b border-hair">
                <td className="px-2 py-1 text-left">{technician}</td>
                <td className="px-2">{fineFigure(mean, 3)}</td>
                <td className="px-2">
                  {mean - all >= 0 ? '+' : '−'}
                  {fineFigure(Math.abs(mean - all), 3)}
                </td>
                <td className="px-2">{fineFigure(ev, 3)}</td>
              </tr>
            );
          })}
        </tbody>
      </DataTable>
    </section>
  );
}
