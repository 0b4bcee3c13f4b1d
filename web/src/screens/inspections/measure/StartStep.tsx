import type { Bay, BayVehicle } from '@mile-mark/contract/inspections';
import type { Me } from '@mile-mark/contract/people';
import { paceInWords, milesInWords } from '@mile-mark/contract/words';
import type { Draft } from '../../../stores/device.ts';
import { Choose } from '../../../ui/Choose.tsx';
import { DateField } from '../../../ui/DateField.tsx';
import { formatDate } from '../../../ui/format.ts';
import { Asked } from './Asked.tsx';
import { NumberPad } from '../../../ui/NumberPad.tsx';
import { useSettled } from '../../../ui/useSettled.ts';
import { askedInWords } from './asked.ts';
import type { Action } from './draft.ts';
import { judgeOdometer } from './judgeDraft.ts';

interface Props {
  draft: Draft;
  bay: Bay;
  vehicle: BayVehicle;
  me: Me;
  act: (action: Action) => void;
  onNext: () => void;
}

/** Once for the whole inspection: odometer, gauge, who and when. */
export function StartStep({ draft, bay, vehicle, me, act, onNext }: Props) {
  const { settled, finish } = useSettled(draft.odometer);
  const judged = judgeOdometer(draft, vehicle);
  const state: typeof judged = settled ? judged : { kind: 'fine' };
  const goOn = () => {
    const asks = judged.kind === 'wrong' || (judged.kind === 'ahead' && !draft.odometerAnswer);
    if (!settled && asks) finish();
    else onNext();
  };
  const type = (odometer: string) => act({ kind: 'head', set: { odometer } });
  return (
    <div className="grid gap-4 min-[900px]:grid-cols-[1fr_21rem]">
      <div className="flex flex-col gap-4">
        {draft.refusal && (
          <p role="alert" className="border-l-4 border-brick bg-sheet py-2 pl-3 font-medium">
            It came back: {draft.refusal}
          </p>
        )}
        {askedInWords(vehicle).map((told) => (
          <p key={told} className="border-l-4 border-slate bg-sheet py-2 pl-3">
            {told}
          </p>
        ))}
        <Odometer {...{ draft, vehicle, me, state, act }} onBlur={finish} onEnter={goOn} />
        {state.kind === 'ahead' && (
          <Asked
            question={paceInWords(state.pace, me.distanceUnit)}
            answer={draft.odometerAnswer}
            onCorrect={() => act({ kind: 'head', set: { odometer: '' } })}
            onAnswer={(odometerAnswer) => act({ kind: 'head', set: { odometerAnswer } })}
          />
        )}
        <Choose
          label="Gauge"
          large
          value={draft.gaugeId}
          onChange={(event) => act({ kind: 'head', set: { gaugeId: event.target.value } })}
        >
          <option value="">Choose …</option>
          {bay.gauges.map(({ id, name, unit }) => (
            <option key={id} value={id}>
              {name} ({unit})
            </option>
          ))}
        </Choose>
        <div className="grid grid-cols-2 gap-3">
          {me.role === 'technician' ? (
            <p>
              <span className="text-soft">Measured by</span>
              <br />
              <span className="text-lg">{me.name}</span>
            </p>
          ) : (
            <Choose
              label="Who measures"
              large
              value={draft.technicianId}
              onChange={(event) => act({ kind: 'head', set: { technicianId: event.target.value } })}
            >
              <option value="">Choose …</option>
              {bay.people.map(({ id, name }) => (
                <option key={id} value={id}>
                  {name}
                </option>
              ))}
            </Choose>
          )}
          <DateField
            label={draft.date === bay.today ? 'Today' : `Measured on ${formatDate(draft.date)}`}
            large
            max={bay.today}
            value={draft.date}
            onChange={(iso) => iso && act({ kind: 'head', set: { date: iso } })}
          />
        </div>
      </div>
      <NumberPad
        marks={[]}
        onKey={(key) => type(draft.odometer + key)}
        onErase={() => type(draft.odometer.slice(0, -1))}
        onNext={goOn}
        next="To the first wheel"
      />
    </div>
  );
}

interface OdometerProps extends Pick<Props, 'draft' | 'vehicle' | 'me' | 'act'> {
  state: ReturnType<typeof judgeOdometer>;
  onBlur: () => void;
  onEnter: () => void;
}

/** The odometer's field, large, with what is expected of it. */
function Odometer({ draft, vehicle, me, state, act, onBlur, onEnter }: OdometerProps) {
  const expected = vehicle.odometerNowMi;
  return (
    <div>
      <label className="text-soft" htmlFor="odometer">
        Odometer, {draft.odometerUnit}
        {expected !== null && `; about ${milesInWords(expected, me.distanceUnit)} expected today`}
      </label>
      <input
        id="odometer"
        inputMode="none"
        autoComplete="off"
        autoFocus
        value={draft.odometer}
        aria-invalid={state.kind === 'wrong' ? true : undefined}
        onChange={(event) => act({ kind: 'head', set: { odometer: event.target.value } })}
        onBlur={onBlur}
        onKeyDown={(event) => event.key === 'Enter' && onEnter()}
        className={`figures mt-1 min-h-16 w-full rounded border-2 bg-raised px-3 text-4xl font-semibold ${state.kind === 'wrong' ? 'border-brick' : state.kind === 'ahead' && !draft.odometerAnswer ? 'border-paint' : 'border-line'}`}
      />
      {state.kind === 'wrong' && (
        <p role="alert" className="font-medium text-brick">
          {state.message}
        </p>
      )}
    </div>
  );
}
