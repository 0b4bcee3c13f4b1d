import { milesInWords } from '@mile-mark/contract/words';
import { Link } from 'react-router';
import { mayDo } from '@mile-mark/contract';
import type { VehicleDetail } from '@mile-mark/contract/forecasts';
import type { Me } from '@mile-mark/contract/people';
import type { ApiProblem } from '../../../api/client.ts';
import { useGauges } from '../../../api/gauges.ts';
import { usePeople } from '../../../api/people.ts';
import { Button } from '../../../ui/Button.tsx';
import { Choose } from '../../../ui/Choose.tsx';
import { DateField } from '../../../ui/DateField.tsx';
import { Field } from '../../../ui/Field.tsx';
import type { Head } from './useSheetJudgement.ts';

/** The odometer's field, for going back to it. */
export const ODOMETER = 'sheet-odometer';

export function SheetHead({ vehicle, me }: { vehicle: VehicleDetail; me: Me }) {
  return (
    <header className="flex flex-wrap items-baseline gap-4">
      <h1 className="figures text-3xl font-semibold">{vehicle.unit}</h1>
      <span>{vehicle.model}</span>
      <span className="text-soft">{vehicle.depot}</span>
      {vehicle.odometerNowMi !== null && (
        <span className="text-soft">about {milesInWords(vehicle.odometerNowMi, me.distanceUnit)} expected today</span>
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
export function HeadFields({ head, me, today, problem, odometerWrong, onChange }: HeadProps) {
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
      <DateField
        label="Date"
        large
        max={today}
        value={head.date}
        onChange={(iso) => onChange({ date: iso })}
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

export function SaveBar(props: { filled: number; missing: string | undefined; pending: boolean; error: Error | null }) {
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
