import { useEffect, useRef, useState } from 'react';
import { Link, useNavigate } from 'react-router';
import { toast } from 'sonner';
import { mayDo } from '@mile-mark/contract';
import type { VehicleDetail } from '@mile-mark/contract/forecasts';
import type { Me } from '@mile-mark/contract/people';
import { paceInWords } from '@mile-mark/contract/words';
import { type PadPlace, placeKey, type ThicknessUnit } from '@mile-mark/core';
import { ApiProblem } from '../../../api/client.ts';
import { useGauges } from '../../../api/gauges.ts';
import { useSaveInspection } from '../../../api/inspections.ts';
import { usePeople } from '../../../api/people.ts';
import type { DraftAnswer } from '../../../stores/device.ts';
import { Button } from '../../../ui/Button.tsx';
import { Choose } from '../../../ui/Choose.tsx';
import { Field } from '../../../ui/Field.tsx';
import { formatMiles } from '../../../ui/format.ts';
import { Asked } from './Asked.tsx';
import { SheetAxle } from './SheetAxle.tsx';
import { type Head, useSheetJudgement } from './useSheetJudgement.ts';

/** The odometer's field, for going back to it. */
const ODOMETER = 'sheet-odometer';

/** One inspection of a vehicle: who, when, odometer and gauge once, then the pads in walking order. */
export function InspectionForm({ vehicle, me }: { vehicle: VehicleDetail; me: Me }) {
  const gauges = useGauges();
  const save = useSaveInspection();
  const navigate = useNavigate();
  const [head, setHead] = useState<Head>({
    date: vehicle.today,
    odometer: '',
    gaugeId: '',
    technicianId: me.role === 'technician' ? me.id : '',
    note: '',
  });
  const [typed, setTyped] = useState<Record<string, string>>({});
  const [answers, setAnswers] = useState<Record<string, DraftAnswer>>({});
  const [odometerAnswer, setOdometerAnswer] = useState<DraftAnswer>();
  // Ids are made once: a retry after a cut network repeats them, and adds nothing twice.
  const ids = useRef({ inspection: crypto.randomUUID(), readings: new Map<string, string>() });
  const form = useRef<HTMLFormElement>(null);
  const gauge = gauges.data?.find(({ id }) => id === head.gaugeId);
  const unit: ThicknessUnit = gauge?.unit ?? me.thicknessUnit;
  const { states, odometer } = useSheetJudgement({ vehicle, me, head, typed, unit, gauge });
  const filled = states.filter(({ state }) => state.kind !== 'empty');
  const wrong = states.filter(({ state }) => state.kind === 'wrong');
  const open = states.filter(({ place, state }) => state.kind === 'suspect' && !answers[placeKey(place)]);
  const problem = save.error instanceof ApiProblem ? save.error : undefined;

  const submit = () => {
    if (save.isPending) return;
    const readings = filled.map(({ place }) => {
      const key = placeKey(place);
      const id = ids.current.readings.get(key) ?? crypto.randomUUID();
      ids.current.readings.set(key, id);
      const answer = answers[key];
      return { id, ...place, thickness: typed[key] ?? '', thicknessUnit: unit, ...(answer ? { answer } : {}) };
    });
    save.mutate(
      {
        inspection: {
          id: ids.current.inspection,
          unit: vehicle.unit,
          technicianId: head.technicianId,
          gaugeId: head.gaugeId,
          date: head.date,
          odometer: head.odometer,
          odometerUnit: me.distanceUnit,
          ...(odometerAnswer ? { odometerAnswer } : {}),
          ...(head.note ? { note: head.note } : {}),
        },
        readings,
      },
      {
        onSuccess: (saved) => {
          toast(
            `${saved.readings.length} ${saved.readings.length === 1 ? 'reading' : 'readings'} of ${saved.unit} saved.`,
          );
          void navigate(`/vehicles/${saved.unit}`);
        },
        onError: (error) => {
          // Other content under the same ids would be a conflict: what is mended gets new ones.
          if (error instanceof ApiProblem && error.status === 409) ids.current.inspection = crypto.randomUUID();
        },
      },
    );
  };
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if (event.key === 'Enter' && (event.ctrlKey || event.metaKey)) form.current?.requestSubmit();
    };
    window.addEventListener('keydown', onKey);
    return () => window.removeEventListener('keydown', onKey);
  }, []);

  const errorAt = (place: PadPlace): string | undefined => {
    const index = filled.findIndex((one) => placeKey(one.place) === placeKey(place));
    return index < 0 ? undefined : problem?.of(`readings.${index}.thickness`);
  };
  const missing = missingOf(head, {
    odometerAsked: odometer.kind === 'ahead' && !odometerAnswer,
    filled: filled.length,
    wrong: wrong.length,
    open: open.length,
  });

  return (
    <form
      ref={form}
      noValidate
      className="mx-auto flex max-w-6xl flex-col gap-4 p-4 pb-24"
      onSubmit={(event) => {
        event.preventDefault();
        if (!missing) submit();
      }}
    >
      <SheetHead vehicle={vehicle} me={me} />
      <HeadFields
        {...{ head, me, problem }}
        today={vehicle.today}
        odometerWrong={odometer.kind === 'wrong' ? odometer.message : undefined}
        onChange={(part) => {
          setHead({ ...head, ...part });
          if (part.odometer !== undefined) setOdometerAnswer(undefined);
        }}
      />
      {odometer.kind === 'ahead' && (
        <Asked
          question={paceInWords(odometer.pace, me.distanceUnit)}
          answer={odometerAnswer}
          onCorrect={() => document.getElementById(ODOMETER)?.focus()}
          onAnswer={setOdometerAnswer}
        />
      )}
      {vehicle.axleDetails.map((axle) => (
        <SheetAxle
          key={axle.axle}
          axle={axle}
          states={states.filter(({ place }) => place.axle === axle.axle)}
          {...{ unit, typed, answers, errorAt }}
          onType={(key, value) => {
            setTyped((before) => ({ ...before, [key]: value }));
            setAnswers(({ [key]: _old, ...rest }) => rest);
          }}
          onAnswer={(key, answer) => setAnswers((before) => ({ ...before, [key]: answer }))}
        />
      ))}
      <SaveBar filled={filled.length} missing={missing} pending={save.isPending} error={save.error} />
    </form>
  );
}

/** What keeps the sheet from being saved, in a sentence. */
function missingOf(
  head: Head,
  { odometerAsked, filled, wrong, open }: { odometerAsked: boolean; filled: number; wrong: number; open: number },
): string | undefined {
  return head.technicianId === ''
    ? 'Say who measured.'
    : head.gaugeId === ''
      ? 'Say with which gauge.'
      : head.odometer.trim() === ''
        ? 'The odometer is needed.'
        : odometerAsked
          ? 'The odometer is asked about.'
          : filled === 0
            ? 'No pad is filled in yet.'
            : wrong > 0
              ? `${wrong} ${wrong === 1 ? 'figure' : 'figures'} to mend.`
              : open > 0
                ? `${open} ${open === 1 ? 'question' : 'questions'} to answer.`
                : undefined;
}

function SheetHead({ vehicle, me }: { vehicle: VehicleDetail; me: Me }) {
  return (
    <header className="flex flex-wrap items-baseline gap-4">
      <h1 className="figures text-3xl font-semibold">{vehicle.unit}</h1>
      <span>{vehicle.model}</span>
      <span className="text-soft">{vehicle.depot}</span>
      {vehicle.odometerNowMi !== null && (
        <span className="text-soft">about {formatMiles(vehicle.odometerNowMi, me.distanceUnit)} expected today</span>
      )}
      <Link className="ml-auto underline" to="/measure">
        Another vehicle
      </Link>
    </header>
  );
}

interface HeadProps {
  head: Head;
  me: Me;
  today: string;
  problem: ApiProblem | undefined;
  odometerWrong: string | undefined;
  onChange: (part: Partial<Head>) => void;
}

/** Who, with what, when and at which odometer: once for all pads. */
function HeadFields({ head, me, today, problem, odometerWrong, onChange }: HeadProps) {
  const gauges = useGauges();
  const people = usePeople();
  const technicians = people.data?.filter(({ role }) => mayDo(role, 'measure')) ?? [];
  return (
    <fieldset className="grid grid-cols-2 gap-3 lg:grid-cols-[1fr_1.5fr_1fr_1fr_1fr]">
      <Choose
        label="Who measured"
        large
        value={head.technicianId}
        onChange={(event) => onChange({ technicianId: event.target.value })}
        error={problem?.of('inspection.technicianId')}
      >
        <option value="">Choose …</option>
        {technicians.map(({ id, name }) => (
          <option key={id} value={id}>
            {name}
          </option>
        ))}
      </Choose>
      <Choose
        label="Gauge"
        large
        value={head.gaugeId}
        onChange={(event) => onChange({ gaugeId: event.target.value })}
        error={problem?.of('inspection.gaugeId')}
      >
        <option value="">Choose …</option>
        {gauges.data?.map(({ id, name, unit: gaugeUnit }) => (
          <option key={id} value={id}>
            {name} ({gaugeUnit})
          </option>
        ))}
      </Choose>
      <Field
        label="Date"
        large
        type="date"
        max={today}
        value={head.date}
        onChange={(event) => onChange({ date: event.target.value })}
        error={problem?.of('inspection.date')}
      />
      <Field
        id={ODOMETER}
        label={`Odometer, ${me.distanceUnit}`}
        large
        inputMode="decimal"
        autoFocus
        value={head.odometer}
        onChange={(event) => onChange({ odometer: event.target.value })}
        error={problem?.of('inspection.odometer') ?? odometerWrong}
      />
      <Field label="Note" large value={head.note} onChange={(event) => onChange({ note: event.target.value })} />
    </fieldset>
  );
}

function SaveBar(props: { filled: number; missing: string | undefined; pending: boolean; error: Error | null }) {
  const { filled, missing, pending, error } = props;
  return (
    <div className="fixed inset-x-0 bottom-0 flex items-center gap-4 border-t border-line bg-ground px-6 py-3">
      <Button look="next" large type="submit" disabled={missing !== undefined || pending} hotkey="Ctrl Enter">
        {pending ? 'Saving …' : `Save ${filled} ${filled === 1 ? 'reading' : 'readings'}`}
      </Button>
      <span role="status">{missing}</span>
      {error && (
        <p role="alert" className="font-medium text-brick">
          {error.message} What you typed is kept.
        </p>
      )}
    </div>
  );
}
