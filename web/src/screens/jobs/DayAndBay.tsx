import { useJobs } from '../../api/jobs.ts';
import { DateField } from '../../ui/DateField.tsx';
import { Field } from '../../ui/Field.tsx';
import { formatDate } from '../../ui/format.ts';

interface Props {
  /** Whose job it is: its own booking is no clash. */
  unit: string;
  depot: string;
  day: string;
  bay: string;
  onDay: (day: string) => void;
  onBay: (bay: string) => void;
  errorOf: (field: 'day' | 'bay') => string | undefined;
}

/** Day and bay of a booking; who is in that bay on that day already is said, and left to the person. */
export function DayAndBay({ unit, depot, day, bay, onDay, onBay, errorOf }: Props) {
  const jobs = useJobs({ state: 'open', depot });
  const others = (jobs.data ?? []).filter((job) => job.unit !== unit && job.day !== null);
  const same = (one: string | null) => one !== null && one.trim().toLowerCase() === bay.trim().toLowerCase();
  const thatDay = others.filter((job) => job.day === day);
  const inBay = bay.trim() === '' ? [] : thatDay.filter((job) => same(job.bay));
  const bays = [...new Set((jobs.data ?? []).flatMap((job) => job.bay ?? []))].sort();
  return (
    <div className="flex flex-col gap-2">
      <div className="grid grid-cols-2 gap-3">
        <DateField label="Day" value={day} onChange={(iso) => onDay(iso)} error={errorOf('day')} />
        <Field
          label="Bay"
          list={`bays-${unit}`}
          value={bay}
          onChange={(event) => onBay(event.target.value)}
          error={errorOf('bay')}
        />
      </div>
      <datalist id={`bays-${unit}`}>
        {bays.map((one) => (
          <option key={one}>{one}</option>
        ))}
      </datalist>
      {inBay.length > 0 ? (
        <p role="status" className="border-l-4 border-ochre pl-3">
          {inBay.map((job) => job.unit).join(' and ')} {inBay.length === 1 ? 'is' : 'are'} booked into {bay.trim()} on{' '}
          {formatDate(day)}: both can be done there only one after the other.
        </p>
      ) : (
        thatDay.length > 0 && (
          <p className="text-soft">
            That day at {depot}: {thatDay.map((job) => `${job.unit}${job.bay ? ` in ${job.bay}` : ''}`).join(', ')}.
          </p>
        )
      )}
    </div>
  );
}
