import { DataTable } from '../../ui/DataTable.tsx';
import { mayDo } from '@mile-mark/contract';
import { Link } from 'react-router';
import type { Appraisers, AppraiserView } from '@mile-mark/contract/gauges';
import type { Me } from '@mile-mark/contract/people';
import { useAppraisers } from '../../api/gauges.ts';
import { useReader } from '../../api/reader.ts';
import { formatWhole } from '../../ui/format.ts';
import { State } from '../../ui/State.tsx';
import { Why } from '../../ui/Why.tsx';
import { half90, shareInWords, whatHelps } from './helps.ts';

/** How each appraiser reads: bias with its interval, repeatability, drift, and what would help. */
export function AppraisersView({ me }: { me: Me }) {
  const appraisers = useAppraisers();
  if (appraisers.isPending)
    return <State title="Loading" what="Fetching what is known of appraisers and gauges." quiet />;
  if (appraisers.isLoadingError) return <State title="It couldn’t load" what={appraisers.error.message} />;
  if (appraisers.data.appraisers.length === 0) {
    return (
      <State
        title="Nothing is known yet"
        what={
          !mayDo(me.role, 'seeEverybody')
            ? 'Once you have measured a few vehicles, how you read shows here.'
            : 'Once a few vehicles were measured by more than one person, how each reads shows here.'
        }
      >
        <Link className="underline" to="/fleet/gauges">
          Put people and gauges on record
        </Link>
      </State>
    );
  }
  return <Known data={appraisers.data} me={me} />;
}

function Known({ data, me }: { data: Appraisers; me: Me }) {
  const helps = whatHelps(data, me.thicknessUnit);
  const since = data.appraisers.flatMap(({ drift }) => drift.map(({ quarter }) => quarter.slice(0, 7))).sort()[0];
  return (
    <div className="grid gap-6 xl:grid-cols-[minmax(0,1.7fr)_minmax(20rem,1fr)]">
      <section>
        <h2 className="font-semibold">
          {!mayDo(me.role, 'seeEverybody') ? 'How you read' : 'How each appraiser reads, from everyday readings'}
        </h2>
        <p className="mb-2 text-soft">
          Bar: 90 % interval of how much higher (right) or lower (left) than the true thickness, mm. Every reading is
          corrected by it and weighs by its scatter.
        </p>
        <DataTable name="appraisers" className="w-full bg-sheet">
          <thead>
            <tr className="border-b border-line text-left text-soft">
              <th className="px-2 py-1 font-medium">Technician, gauge</th>
              <th className="w-56 px-2 font-medium">
                <Axis />
              </th>
              <th className="px-2 font-medium">Reads high by</th>
              <th className="px-2 font-medium">Scatter</th>
              <th className="px-2 font-medium">By quarter{since && `, from ${since}`}</th>
              <th className="px-2 text-right font-medium">Readings</th>
            </tr>
          </thead>
          <tbody>
            {data.appraisers.map((appraiser) => (
              <Row key={`${appraiser.technicianId}${appraiser.gaugeId}`} appraiser={appraiser} />
            ))}
          </tbody>
        </DataTable>
        <div className="mt-4 grid gap-4 sm:grid-cols-2">
          <Shares
            title={!mayDo(me.role, 'seeEverybody') ? 'Your own share' : 'Of it, the technician’s own'}
            what="person"
            shares={data.technicians}
          />
          <Shares title="Of it, the gauge’s own" what="gauge" shares={data.gauges} />
        </div>
      </section>
      <section>
        <h2 className="mb-2 font-semibold">What would help</h2>
        {helps.length === 0 && (
          <p className="text-soft">Nothing stands out. Differences between appraisers are small.</p>
        )}
        <ul className="flex flex-col gap-3">
          {helps.map(({ about, finding, help }) => (
            <li key={about + finding} className="border-l-4 border-slate bg-sheet py-2 pl-3">
              <p className="font-semibold">{about}</p>
              <p>{finding}</p>
              <p className="text-soft">{help}</p>
            </li>
          ))}
        </ul>
        <p className="mt-3 text-[13px] text-soft">
          Learnt anew as readings come. A difference says how a gauge sits in a hand, not how good anybody is. A
          technician sees their own; the coordinator sees all.
        </p>
      </section>
    </div>
  );
}

/** Half of the scale of the bias bars, mm. */
const REACH_MM = 1;
const at = (mm: number) => 50 + (50 * Math.max(-REACH_MM, Math.min(REACH_MM, mm))) / REACH_MM;

function Axis() {
  return (
    <span className="figures relative block h-4">
      {[-1, -0.5, 0, 0.5, 1].map((mm) => (
        <span key={mm} className="absolute -translate-x-1/2" style={{ left: `${at(mm) * 0.94 + 3}%` }}>
          {mm > 0 ? `+${mm}` : mm === 0 ? '0' : `−${-mm}`}
        </span>
      ))}
    </span>
  );
}

function Row({ appraiser }: { appraiser: AppraiserView }) {
  const half = half90(appraiser);
  const reader = useReader();
  const sign = appraiser.biasMm >= 0 ? '+' : '−';
  return (
    <tr className="border-b border-hair">
      <td className="px-2 py-1 whitespace-nowrap">
        {appraiser.technician}
        <br />
        <span className="text-soft">{appraiser.gauge}</span>
      </td>
      <td className="px-2">
        <span
          role="img"
          aria-label={`reads ${sign}${reader.fineSpread(Math.abs(appraiser.biasMm), half)}`}
          className="relative mx-[3%] block h-6"
        >
          <span className="absolute inset-y-0 left-1/2 border-l border-soft" />
          <span
            className="absolute top-2 h-2 bg-slate/45"
            style={{
              left: `${at(appraiser.biasMm - half)}%`,
              width: `${at(appraiser.biasMm + half) - at(appraiser.biasMm - half)}%`,
            }}
          />
          <span
            className="absolute top-1 h-4 w-1 -translate-x-1/2 bg-ink"
            style={{ left: `${at(appraiser.biasMm)}%` }}
          />
        </span>
      </td>
      <td className="figures px-2 whitespace-nowrap">
        <Why
          label={`${appraiser.technician} with ${appraiser.gauge}: ${sign}${reader.fine(Math.abs(appraiser.biasMm))}`}
          reason={
            <>
              <p>
                From {formatWhole(appraiser.readings)} readings of pads that others measured too, jointly with the wear
                of every pad; few readings are drawn towards nought.
              </p>
              <p>
                Against the mean of all appraisers: {appraiser.against.biasMm >= 0 ? '+' : '−'}
                {reader.fineSpread(Math.abs(appraiser.against.biasMm), half90(appraiser.against))}. What all appraisers
                share is known from newly fitted pads only, so the interval against the truth is wider.
              </p>
            </>
          }
        >
          {sign}
          {reader.fineSpread(Math.abs(appraiser.biasMm), half)}
        </Why>
      </td>
      <td className="figures px-2 whitespace-nowrap">
        <Why
          label={`Scatter: one standard deviation ${reader.fine(appraiser.repeatabilityMm)}`}
          reason={
            <p>
              How far repeated readings of one pad scatter (90 %: {reader.fine(appraiser.repeatabilityFromMm)} to{' '}
              {reader.fine(appraiser.repeatabilityToMm)}), apart from the gauge’s step of{' '}
              {reader.fine(appraiser.resolutionMm)}.
            </p>
          }
        >
          {reader.fine(appraiser.repeatabilityMm)}
        </Why>
        <br />
        <span className="text-soft">step {reader.fine(appraiser.resolutionMm)}</span>
      </td>
      <td className="px-2">
        <Drift appraiser={appraiser} />
      </td>
      <td className="figures px-2 text-right">{formatWhole(appraiser.readings)}</td>
    </tr>
  );
}

/** Bias quarter by quarter, with its 90 % interval, on the same scale for all appraisers. */
function Drift({ appraiser }: { appraiser: AppraiserView }) {
  const width = 16;
  const y = (mm: number) => 17 - (15 * Math.max(-REACH_MM, Math.min(REACH_MM, mm))) / REACH_MM;
  const told = appraiser.drift.map((one) => `${one.quarter.slice(0, 7)} ${one.biasMm.toFixed(2)}`).join(', ');
  return (
    <svg
      width={Math.max(1, appraiser.drift.length) * width}
      height={34}
      role="img"
      aria-label={`By quarter, mm: ${told}`}
    >
      <line x1={0} x2={appraiser.drift.length * width} y1={17} y2={17} stroke="var(--color-line)" />
      {appraiser.drift.map((one, i) => (
        <g key={one.quarter}>
          <line
            x1={(i + 0.5) * width}
            x2={(i + 0.5) * width}
            y1={y(one.biasMm - half90(one))}
            y2={y(one.biasMm + half90(one))}
            stroke="var(--color-slate)"
            strokeWidth={2}
            opacity={0.5}
          />
          <circle cx={(i + 0.5) * width} cy={y(one.biasMm)} r={2.5} fill="var(--color-ink)" />
        </g>
      ))}
    </svg>
  );
}

function Shares({ title, what, shares }: { title: string; what: 'gauge' | 'person'; shares: Appraisers['gauges'] }) {
  const reader = useReader();
  return (
    <div>
      <h3 className="font-semibold">{title}</h3>
      <ul>
        {shares.map((share) => (
          <li key={share.id} className="flex justify-between gap-3 border-b border-hair py-1">
            <span>{share.name}</span>
            <span className="figures text-right text-soft">
              {shareInWords(share, what, reader.thicknessUnit)}
              <br />
              scatter {share.repeatabilityMm.toFixed(2)} ({share.repeatabilityFromMm.toFixed(2)} to{' '}
              {share.repeatabilityToMm.toFixed(2)}) mm
            </span>
          </li>
        ))}
      </ul>
    </div>
  );
}
