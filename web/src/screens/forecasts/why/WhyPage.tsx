import { useMemo, useState } from 'react';
import { Link, useParams } from 'react-router';
import type { AxleDetail, ForecastInput, VehicleDetail } from '@mile-mark/contract/forecasts';
import type { Me } from '@mile-mark/contract/people';
import { useForecastInput, useVehicle, useWhy } from '../../../api/forecasts.ts';
import { leftInWords, milesInWords } from '@mile-mark/contract/words';
import { useMe } from '../../../api/people.ts';
import { State } from '../../../ui/State.tsx';
import { daysBetween, formatDate } from '../../../ui/format.ts';
import { EachMile } from './EachMile.tsx';
import { Fan } from './Fan.tsx';
import { Waterfall } from './Waterfall.tsx';
import { differenceInWords, WhatIf } from './WhatIf.tsx';
import { AS_IT_IS, asked, inputOf, policyOf, type Question } from './ask.ts';
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

interface Props {
  vehicle: VehicleDetail;
  axle: AxleDetail;
  found: ForecastInput;
  me: Me;
}

function Page({ vehicle, axle, found, me }: Props) {
  const why = useWhy(vehicle.unit);
  const moved = why.data?.axles.find((one) => one.axle === axle.axle);
  return (
    <div className="h-full overflow-y-auto">
      <Head vehicle={vehicle} axle={axle} me={me} />
      <div className="grid gap-6 p-4 xl:grid-cols-2">
        <div className="flex flex-col gap-5">
          {why.isPending && <p className="text-soft">Working out what moved it …</p>}
          {why.isError && <p role="alert">{why.error.message}</p>}
          {why.data?.since === null && <p className="text-soft">Nothing is kept of a month ago yet.</p>}
          {why.data?.since && moved && <Waterfall why={why.data} axle={moved} />}
          <EachMile vehicle={vehicle} axle={axle} found={found} me={me} />
          {!found.whole && (
            <p className="text-soft">
              The coordinator can try here what other duties, loads, limits and risks would do.
            </p>
          )}
        </div>
        {found.whole && (
          <div className="flex flex-col gap-5">
            <Tried axle={axle} found={found} me={me} />
          </div>
        )}
      </div>
    </div>
  );
}

/** What would be if something were otherwise, and what may come. */
function Tried({ axle, found, me }: Omit<Props, 'vehicle'>) {
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
  const limitMm = question.limitMm ?? axle.limit.limitMm;
  return (
    <>
      <WhatIf axle={axle} found={found} question={question} setQuestion={setQuestion} isAsked={isAsked} me={me}>
        {answer && <AnswerGiven answer={answer} isAsked={isAsked} me={me} />}
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
    </>
  );
}

function Head({ vehicle, axle, me }: Omit<Props, 'found'>) {
  return (
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
          {milesInWords(axle.mark.markOdometerMi, me.distanceUnit)};{' '}
          {leftInWords(axle.mark, vehicle.today, me.distanceUnit)}
        </span>
      )}
    </header>
  );
}

interface AnswerProps {
  answer: NonNullable<ReturnType<typeof useWhatIf>>;
  isAsked: boolean;
  me: Me;
}

/** Where the mark would stand, or why that can't be said. */
function AnswerGiven({ answer, isAsked, me }: AnswerProps) {
  if (!answer.ok)
    return (
      <p role="alert" className="text-brick">
        {answer.message}
      </p>
    );
  return (
    <p role="status" aria-label="Answer" className="border-l-4 border-ink bg-sheet px-3 py-2 text-base">
      {isAsked ? (
        <>
          The mark would stand at{' '}
          <strong className="figures">
            {formatDate(answer.then.markDate)}, {milesInWords(answer.then.markMiles, me.distanceUnit)}
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
  );
}
