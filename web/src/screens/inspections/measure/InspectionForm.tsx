import { type RefObject, useEffect, useRef, useState } from 'react';
import { useNavigate } from 'react-router';
import type { VehicleDetail } from '@mile-mark/contract/forecasts';
import type { Me } from '@mile-mark/contract/people';
import { paceInWords } from '@mile-mark/contract/words';
import { type PadPlace, placeKey, type ThicknessUnit } from '@mile-mark/core';
import { ApiProblem } from '../../../api/client.ts';
import { useGauges } from '../../../api/gauges.ts';
import { useSaveInspection } from '../../../api/inspections.ts';
import type { DraftAnswer } from '../../../stores/device.ts';
import { Asked } from './Asked.tsx';
import { SheetAxle } from './SheetAxle.tsx';
import { HeadFields, ODOMETER, SaveBar, SheetHead } from './SheetParts.tsx';
import { tellMarks } from './tellMarks.ts';
import { type Head, useSheetJudgement } from './useSheetJudgement.ts';

/** One inspection of a vehicle: who, when, odometer and gauge once, then the pads in walking order. */
export function InspectionForm({ vehicle, me }: { vehicle: VehicleDetail; me: Me }) {
  const gauges = useGauges();
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
  const form = useRef<HTMLFormElement>(null);
  const gauge = gauges.data?.find(({ id }) => id === head.gaugeId);
  const unit: ThicknessUnit = gauge?.unit ?? me.thicknessUnit;
  const { states, odometer } = useSheetJudgement({ vehicle, me, head, typed, unit, gauge });
  const { save, send } = useSave(vehicle, me, head, unit);
  const filled = states.filter(({ state }) => state.kind !== 'empty');
  const wrong = states.filter(({ state }) => state.kind === 'wrong');
  const open = states.filter(({ place, state }) => state.kind === 'suspect' && !answers[placeKey(place)]);
  const problem = save.error instanceof ApiProblem ? save.error : undefined;

  const submit = () => send(filled, typed, answers, odometerAnswer);
  useSubmitKey(form);

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

/** Sends the inspection; its ids are made once, so that a retry after a cut network adds nothing twice. */
function useSave(vehicle: VehicleDetail, me: Me, head: Head, unit: ThicknessUnit) {
  const save = useSaveInspection();
  const navigate = useNavigate();
  const ids = useRef({ inspection: crypto.randomUUID(), readings: new Map<string, string>() });
  const send = (
    filled: readonly { place: PadPlace }[],
    typed: Record<string, string>,
    answers: Record<string, DraftAnswer>,
    odometerAnswer: DraftAnswer | undefined,
  ) => {
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
          const marks = vehicle.axleDetails.map(({ axle, mark }) => [axle, mark?.markDate ?? null] as const);
          void tellMarks(saved.unit, Object.fromEntries(marks), () => void navigate('/measure'));
          void navigate(`/vehicles/${saved.unit}`);
        },
        onError: (error) => {
          // Other content under the same ids would be a conflict: what is mended gets new ones.
          if (error instanceof ApiProblem && error.status === 409) ids.current.inspection = crypto.randomUUID();
        },
      },
    );
  };
  return { save, send };
}

/** Ctrl Enter saves from any field. */
function useSubmitKey(form: RefObject<HTMLFormElement | null>): void {
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if (event.key === 'Enter' && (event.ctrlKey || event.metaKey)) form.current?.requestSubmit();
    };
    window.addEventListener('keydown', onKey);
    return () => window.removeEventListener('keydown', onKey);
  }, [form]);
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
