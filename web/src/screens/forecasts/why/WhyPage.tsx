import { Slider } from '../../../ui/Slider.tsx';
import { useMemo, useState } from 'react';
import { Link, useParams } from 'react-router';
import type { AxleDetail, ForecastInput, MileMark, VehicleDetail } from '@mile-mark/contract/forecasts';
import type { Me } from '@mile-mark/contract/people';
import type { Duty } from '@mile-mark/contract/register';
import { limitInWords } from '@mile-mark/contract/words';
import { useForecastInput, useVehicle, useWhy } from '../../../api/forecasts.ts';
import { useMe } from '../../../api/people.ts';
import { useDuties } from '../../../api/register.ts';
import { Button } from '../../../ui/Button.tsx';
import { Choose } from '../../../ui/Choose.tsx';
import { State } from '../../../ui/State.tsx';
import { daysBetween, formatDate, formatMiles, formatWhole, inDays } from '../../../ui/format.ts';
import { Fan } from './Fan.tsx';
import { Waterfall } from './Waterfall.tsx';
import { AS_IT_IS, asked, inputOf, policyOf, type Question, stretchesOf } from './ask.ts';
import { useWhatIf } from './useWhatIf.ts';

/** Why an axle's mark is where it is: what moved it, what it rests on, what may come, and what would be if. */
export function WhyPage() {
  const { unit = '', axle = '1' } = useParams();
  const me = useMe();
  const vehicle = useVehicle(unit);
  const input = useForecastInput(unit);
  if (vehicle.isPending || input.isPending)
    return <State title={`Loading ${unit}`} what="Fetching what its mark rests on." quiet />;
  if (vehicle.isLoadingError || input.isLoadingError)
    return <State title={`${unit} couldn’t load`} what={(vehicle.error ?? input.error)?.message ?? ''} />;
  const detail = vehicle.data.axleDetails.find((one) => one.axle === Number(axle));
  if (!detail) return <State title={`${unit} has no axle ${axle}`} what="Choose one on the vehicle’s page." />;
  return <Page key={`${unit}/${axle}`} vehicle={vehicle.data} axle={detail} found={input.data} me={me} />;
}

function Page({
  vehicle,
  axle,
  found,
  me,
}: {
  vehicle: VehicleDetail;
  axle: AxleDetail;
  found: ForecastInput;
  me: Me;
}) {
  const why = useWhy(vehicle.unit);
  const [question, setQuestion] = useState<Question>(AS_IT_IS);
  const isAsked = JSON.stringify(question) !== JSON.stringify(AS_IT_IS);
  const task = useMemo(
    () => ({
      key: JSON.stringify([
        found.unit,
        inputOf(found).today,
        inputOf(found).readings.length,
        inputOf(found).odometers.length,
        inputOf(found).duty,
      ]),
      axle: axle.axle,
      asItIs: { input: inputOf(found), policy: policyOf(found) },
      ...asked(found, axle.axle, question),
    }),
    [found, axle.axle, question],
  );
  const answer = useWhatIf(task);
  const moved = why.data?.axles.find((one) => one.axle === axle.axle);
  const limitMm = question.limitMm ?? axle.limit.limitMm;
  return (
    <div className="h-full overflow-y-auto">
      <header className="flex flex-wrap items-baseline gap-x-5 gap-y-1 border-b border-line px-4 py-2">
        <h1 className="text-xl font-semibold">
          Why <span className="figures">{axle.mark ? formatDate(axle.mark.markDate) : 'no mark yet'}</span>
        </h1>
        <Link className="figures text-lg font-semibold underline" to={`/vehicles/${vehicle.unit}`}>
          {vehicle.unit}
        </Link>
        <nav aria-label="Axles" className="flex gap-1">
          {vehicle.axles.map((number) => (
            <Link
              key={number}
              to={`/vehicles/${vehicle.unit}/why/${number}`}
              aria-current={number === axle.axle ? 'page' : undefined}
              className={`border px-2 ${number === axle.axle ? 'border-ink bg-ink text-sheet' : 'border-line bg-raised'}`}
            >
              axle {number}
            </Link>
          ))}
        </nav>
        {axle.mark && (
          <span className="figures">
            {formatMiles(axle.mark.markOdometerMi, me.distanceUnit)}; {leftInWords(axle.mark, vehicle.today, me)}
          </span>
        )}
      </header>
      <div className="grid gap-6 p-4 xl:grid-cols-2">
        <div className="flex flex-col gap-5">
          {why.isPending && <p className="text-soft">Working out what moved it …</p>}
          {why.isError && <p role="alert">{why.error.message}</p>}
          {why.data?.since === null && <p className="text-soft">Nothing is kept of a month ago yet.</p>}
          {why.data?.since && moved && <Waterfall why={why.data} axle={moved} />}
          <EachMile vehicle={vehicle} axle={axle} found={found} me={me} />
        </div>
        <div className="flex flex-col gap-5">
          <WhatIf axle={axle} found={found} question={question} setQuestion={setQuestion} isAsked={isAsked} me={me}>
            {answer && !answer.ok && (
              <p role="alert" className="text-brick">
                {answer.message}
              </p>
            )}
            {answer?.ok && (
              <p role="status" aria-label="Answer" className="border-l-4 border-paint bg-sheet px-3 py-2 text-base">
                {isAsked ? (
                  <>
                    The mark would stand at{' '}
                    <strong className="figures">
                      {formatDate(answer.then.markDate)}, {formatMiles(answer.then.markMiles, me.distanceUnit)}
                    </strong>
                    : {differenceInWords(daysBetween(answer.now.markDate, answer.then.markDate))}. Nothing is saved.
                  </>
                ) : (
                  <>
                    As it is: <strong className="figures">{formatDate(answer.now.markDate)}</strong>, even odds by{' '}
                    {formatDate(answer.now.medianDate)}. Change something to see what would be.
                  </>
                )}
              </p>
            )}
          </WhatIf>
          {answer?.ok && (
            <Fan
              axle={axle}
              fan={answer.fan}
              limitMm={limitMm}
              me={me}
              marks={[
                { label: 'mark', miles: answer.now.markMiles, dashed: false },
                ...(isAsked ? [{ label: 'if', miles: answer.then.markMiles, dashed: true }] : []),
              ]}
            />
          )}
        </div>
      </div>
    </div>
  );
}

function leftInWords({ markOdometerMi, odometerNowMi, markDate }: MileMark, today: string, me: Me): string {
  const left = markOdometerMi - odometerNowMi;
  if (left <= 0) return `passed by ${formatMiles(-left, me.distanceUnit)}`;
  return `${formatMiles(left, me.distanceUnit)} and ${daysBetween(today, markDate)} days left`;
}

function differenceInWords(days: number): string {
  if (days === 0) return 'no day’s difference';
  return `${inDays(days)} ${days > 0 ? 'later' : 'sooner'}`;
}

interface WhatIfProps {
  axle: AxleDetail;
  found: ForecastInput;
  question: Question;
  setQuestion: (question: Question) => void;
  isAsked: boolean;
  me: Me;
  children: React.ReactNode;
}

function WhatIf({ axle, found, question, setQuestion, isAsked, me, children }: WhatIfProps) {
  const duties = useDuties();
  const present: Duty | null = question.duty ?? found.present;
  const payload = Math.round((question.payloadShare ?? present?.payloadShare ?? 0) * 100);
  const limit = question.limitMm ?? axle.limit.limitMm;
  const risk = Math.round((question.riskTarget ?? policyOf(found).riskTarget) * 1000) / 10;
  const set = (part: Partial<Question>) => setQuestion({ ...question, ...part });
  return (
    <section aria-label="What if" className="flex flex-col gap-2">
      <div className="flex items-baseline justify-between">
        <h2 className="font-semibold">What if, from tomorrow on</h2>
        {isAsked && (
          <Button look="bare" onClick={() => setQuestion(AS_IT_IS)}>
            As it is
          </Button>
        )}
      </div>
      <div className="grid grid-cols-2 gap-x-6 gap-y-2">
        <Choose
          label="Duty"
          value={question.duty?.id ?? ''}
          disabled={!found.reference}
          onChange={(event) => set({ duty: duties.data?.find(({ id }) => id === event.target.value) ?? null })}
        >
          <option value="">as it is ({found.present?.name ?? 'none stated'})</option>
          {duties.data?.map(({ id, name }) => (
            <option key={id} value={id}>
              {name}
            </option>
          ))}
        </Choose>
        <Slider
          label="Payload"
          value={payload}
          min={0}
          max={130}
          step={5}
          told={`${payload} % of the most`}
          onChange={(value) => set({ payloadShare: value / 100 })}
          disabled={!present || !found.reference}
        />
        <Slider
          label="Limit"
          value={limit}
          min={1}
          max={Math.round(axle.padNewMm * 0.6)}
          step={0.1}
          told={limitInWords(limit, me.thicknessUnit)}
          onChange={(value) => set({ limitMm: value })}
        />
        <Slider
          label="Risk"
          value={risk}
          min={0.5}
          max={50}
          step={0.5}
          told={`${risk} % chance below the limit`}
          onChange={(value) => set({ riskTarget: value / 100 })}
        />
      </div>
      {children}
    </section>
  );
}

/** From the mark back to each mile: what the present pads have done, under which duty, and what it wore. */
function EachMile({
  vehicle,
  axle,
  found,
  me,
}: {
  vehicle: VehicleDetail;
  axle: AxleDetail;
  found: ForecastInput;
  me: Me;
}) {
  const input = inputOf(found);
  const first = [...input.odometers, ...input.readings]
    .map(({ date, miles }) => ({ date, miles }))
    .sort((a, b) => a.date.localeCompare(b.date))[0];
  const since = axle.fitted ?? first;
  if (!since || !axle.mark) return null;
  const stretches = stretchesOf(input, axle.axle, axle.mark.odometerNowMi, since);
  const thinnest = axle.pads.reduce<AxleDetail['pads'][number] | undefined>(
    (least, pad) => (!least || pad.meanMm < least.meanMm ? pad : least),
    undefined,
  );
  const severityNow = stretches.at(-1)?.severity ?? 1;
  const perWeighted = thinnest ? thinnest.ratePer1000Mi / Math.max(0.01, severityNow) : 0;
  const total = stretches.reduce((sum, one) => sum + one.weightedMiles, 0);
  return (
    <section aria-label="Each mile">
      <h2 className="font-semibold">
        Each mile since{' '}
        {axle.fitted
          ? `the pads were fitted, ${formatDate(since.date)}`
          : `the record begins, ${formatDate(since.date)}`}
      </h2>
      <table className="w-full">
        <thead>
          <tr className="border-b border-line text-left text-soft">
            <th className="py-1 font-normal">From</th>
            <th className="text-right font-normal">driven</th>
            <th className="text-right font-normal">× severity</th>
            <th className="text-right font-normal">= duty-weighted</th>
            <th className="text-right font-normal">wears, mm</th>
          </tr>
        </thead>
        <tbody className="figures">
          {stretches.map((one) => (
            <tr key={one.from} className="border-b border-hair">
              <td className="py-0.5">{formatDate(one.from)}</td>
              <td className="text-right">{formatMiles(one.miles, me.distanceUnit)}</td>
              <td className="text-right">{one.severity.toFixed(2)}</td>
              <td className="text-right">{formatWhole(one.weightedMiles)}</td>
              <td className="text-right">{((one.weightedMiles / 1000) * perWeighted).toFixed(1)}</td>
            </tr>
          ))}
        </tbody>
        <tfoot>
          <tr>
            <td className="py-1" colSpan={3}>
              Thinnest pad: {perWeighted.toFixed(3)} mm per 1,000 duty-weighted miles today
            </td>
            <td className="figures text-right">{formatWhole(total)}</td>
            <td className="figures text-right">{((total / 1000) * perWeighted).toFixed(1)}</td>
          </tr>
        </tfoot>
      </table>
      <p className="mt-1 text-soft">
        {axle.mark.evidence.readings} readings since then, each with its way to today, stand on{' '}
        <Link className="underline" to={`/vehicles/${vehicle.unit}`}>
          {vehicle.unit}’s page
        </Link>
        .
      </p>
    </section>
  );
}
