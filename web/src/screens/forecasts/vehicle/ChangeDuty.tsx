import { milesInWords } from '@mile-mark/contract/words';
import { useState } from 'react';
import type { VehicleDetail } from '@mile-mark/contract/forecasts';
import type { Me } from '@mile-mark/contract/people';
import { milesToMetres, parseDistance, metresToMiles } from '@mile-mark/core';
import { ApiProblem } from '../../../api/client.ts';
import { useDutyPreview } from '../../../api/forecasts.ts';
import { doneWithUndo } from '../../../stores/undo.ts';
import { useChangeDuty, useDuties, useUndoDuty } from '../../../api/register.ts';
import { Button } from '../../../ui/Button.tsx';
import { Choose } from '../../../ui/Choose.tsx';
import { DateField } from '../../../ui/DateField.tsx';
import { Field } from '../../../ui/Field.tsx';
import { Modal } from '../../../ui/Modal.tsx';
import { daysBetween, formatDate, inDays } from '../../../ui/format.ts';
import { useNewId } from '../../../ui/useNewId.ts';

interface Props {
  vehicle: VehicleDetail;
  me: Me;
  onClose: () => void;
}

/** Begins another duty: how far it drives a day is asked, and where the marks go is shown before it is saved. */
export function ChangeDuty({ vehicle, me, onClose }: Props) {
  const duties = useDuties();
  const [duty, setDuty] = useState('');
  const [from, setFrom] = useState(vehicle.today);
  const [perDay, setPerDay] = useState<string>();
  const change = useChangeDuty();
  const undo = useUndoDuty();
  const [newId] = useNewId();
  const problem = change.error instanceof ApiProblem ? change.error : undefined;
  const stated = duties.data?.find(({ name }) => name === duty)?.milesPerDay;
  const shown = perDay ?? (stated === undefined ? '' : milesInWords(stated, me.distanceUnit).replace(/ .*/, ''));
  const read = perDay === undefined ? undefined : milesOf(perDay, me);
  const wrong = perDay !== undefined && perDay.trim() !== '' && read === undefined;
  const asked = { duty, from, ...(read === undefined ? {} : { milesPerDay: read }) };
  const save = () =>
    change.mutate(
      { unit: vehicle.unit, id: newId, ...asked },
      {
        onSuccess: () => {
          doneWithUndo(
            `${vehicle.unit} is on ${duty} from ${formatDate(from)}; the past keeps its duty.`,
            () => undo.mutateAsync(newId),
            { label: 'Take it back', undone: `${vehicle.unit} goes on with the duty it had.` },
          );
          onClose();
        },
      },
    );
  return (
    <Modal open onClose={onClose} title={`Another duty for ${vehicle.unit}`}>
      <form
        className="flex flex-col gap-3"
        onSubmit={(event) => {
          event.preventDefault();
          if (duty !== '' && from !== '' && !wrong) save();
        }}
      >
        <Choose
          label="Duty"
          value={duty}
          onChange={(event) => {
            setDuty(event.target.value);
            setPerDay(undefined);
          }}
          error={problem?.of('duty')}
        >
          <option value="">Choose …</option>
          {duties.data?.map(({ id, name }) => (
            <option key={id}>{name}</option>
          ))}
        </Choose>
        <div className="grid grid-cols-2 gap-3">
          <DateField
            label="From"
            value={from}
            onChange={setFrom}
            error={problem?.of('from')}
            hint="A day ahead is accepted: the forecast bends there."
          />
          <Field
            label={`It drives a day, ${me.distanceUnit}`}
            inputMode="decimal"
            value={shown}
            disabled={duty === ''}
            onChange={(event) => setPerDay(event.target.value)}
            error={wrong ? `A figure such as 70 ${me.distanceUnit} is accepted.` : problem?.of('milesPerDay')}
            hint={stated === undefined ? undefined : `The duty states ${milesInWords(stated, me.distanceUnit)}.`}
          />
        </div>
        {duty !== '' && from !== '' && !wrong && <Preview unit={vehicle.unit} asked={asked} me={me} />}
        {change.isError && !problem?.problem.errors?.length && (
          <p role="alert" className="text-brick">
            {change.error.message}
          </p>
        )}
        <Button look="next" type="submit" disabled={duty === '' || from === '' || wrong || change.isPending}>
          Save
        </Button>
      </form>
    </Modal>
  );
}

/** Miles of a distance a day as typed, in the reader's unit unless it names one. */
function milesOf(typed: string, me: Me): number | undefined {
  const parsed = parseDistance(typed, { unit: me.distanceUnit });
  const miles = parsed.ok ? metresToMiles(parsed.value.metres) : undefined;
  return miles !== undefined && milesToMetres(miles) >= 0 && miles <= 1500 ? miles : undefined;
}

/** Each axle's mark as it stands and as it would stand. */
function Preview({ unit, asked, me }: { unit: string; asked: Parameters<typeof useDutyPreview>[1]; me: Me }) {
  const preview = useDutyPreview(unit, asked);
  if (preview.isPending) return <p className="min-h-20 text-soft">Working out where its marks would go …</p>;
  if (preview.isError)
    return (
      <p role="alert" className="min-h-20 text-brick">
        {preview.error.message}
      </p>
    );
  const { axles, milesPerDay } = preview.data;
  return (
    <table className="w-full" aria-busy={preview.isFetching}>
      <caption className="pb-1 text-left text-soft">
        Where its marks would go; {milesInWords(milesPerDay.now, me.distanceUnit)} a day now,{' '}
        {milesInWords(milesPerDay.then, me.distanceUnit)} then
      </caption>
      <tbody className="figures">
        {axles.map(({ axle, now, then }) => {
          const days = daysBetween(now.date, then.date);
          return (
            <tr key={axle} className="border-t border-hair">
              <th className="py-1 text-left font-normal">axle {axle}</th>
              <td>{formatDate(now.date)}</td>
              <td>→ {formatDate(then.date)}</td>
              <td className="text-right">
                {days === 0 ? 'no day’s difference' : `${inDays(days)} ${days > 0 ? 'later' : 'sooner'}`}
              </td>
              <td className="text-right">{milesInWords(then.odometerMi, me.distanceUnit)}</td>
            </tr>
          );
        })}
      </tbody>
    </table>
  );
}
