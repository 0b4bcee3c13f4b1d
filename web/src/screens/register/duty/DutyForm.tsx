import { useState } from 'react';
import { useNavigate } from 'react-router';
import { toast } from 'sonner';
import { type DutyInUse, NewDuty } from '@mile-mark/contract/register';
import { ApiProblem } from '../../../api/client.ts';
import { useAddDuty, useChangeDuty } from '../../../api/register.ts';
import { Button } from '../../../ui/Button.tsx';
import { DateField } from '../../../ui/DateField.tsx';
import { Field } from '../../../ui/Field.tsx';
import { figure } from '../../../api/typed.ts';
import { formatDate } from '../../../ui/format.ts';
import { useReader } from '../../../api/reader.ts';
import { draftOf, type DutyDraft, dutyOfDraft, type Figure, FIGURES, scaleOf } from './figures.ts';

interface FormProps {
  draft: DutyDraft;
  setDraft: (draft: DutyDraft) => void;
  source: Pick<NewDuty, 'source' | 'sourceNote'>;
  chosen: DutyInUse | undefined;
  mayState: boolean;
  unit: string | undefined;
  since: string | undefined;
  onKept: (duty: NewDuty) => void;
}

export function DutyForm({ draft, setDraft, source, chosen, mayState, unit, since, onKept }: FormProps) {
  const add = useAddDuty();
  const change = useChangeDuty();
  const navigate = useNavigate();
  const { distanceUnit } = useReader();
  const [from, setFrom] = useState(since ?? '');
  const [wrong, setWrong] = useState<Partial<Record<string, string>>>({});
  const [ids] = useState(() => ({ duty: crypto.randomUUID(), period: crypto.randomUUID() }));
  const refused = (field: string) => {
    const problem = [add.error, change.error].find((error) => error instanceof ApiProblem);
    return problem instanceof ApiProblem ? problem.of(field) : undefined;
  };
  const unchanged =
    chosen !== undefined && JSON.stringify(draftOf(chosen, chosen.name, distanceUnit)) === JSON.stringify(draft);
  const onVehicle = (name: string) => {
    if (!unit) return;
    change.mutate(
      { unit, id: ids.period, duty: name, from },
      {
        onSuccess: () => {
          toast(`${unit} is on ${name} from ${formatDate(from)}; the past before keeps its duty.`);
          void navigate(`/vehicles/${unit}`);
        },
      },
    );
  };
  const keep = () => {
    const result = readDuty(draft, { id: ids.duty, ...source }, distanceUnit);
    if (!result.ok) return setWrong(result.fields);
    if (unit && from === '') return setWrong({ from: 'A day from which it drives so is needed.' });
    setWrong({});
    if (unit && unchanged) return onVehicle(draft.name);
    add.mutate(result.duty, {
      onSuccess: () => {
        if (unit) return onVehicle(result.duty.name);
        toast(`${result.duty.name} is on record.`);
        onKept(result.duty);
      },
    });
    return undefined;
  };
  const set = (name: keyof DutyDraft) => (event: React.ChangeEvent<HTMLInputElement>) =>
    setDraft({ ...draft, [name]: event.target.value });
  const failed = [add.error, change.error].find(
    (error) => error && !(error instanceof ApiProblem && error.problem.errors?.length),
  );
  return (
    <form
      aria-label="The duty"
      className="flex flex-col gap-3"
      onSubmit={(event) => {
        event.preventDefault();
        keep();
      }}
    >
      {source.sourceNote && (
        <p className="border-l-4 border-slate bg-sheet px-3 py-1">From a trace. {source.sourceNote}</p>
      )}
      <Field
        label="Name"
        value={draft.name}
        onChange={set('name')}
        disabled={!mayState}
        error={wrong.name ?? refused('name')}
        hint={chosen && !unchanged ? 'Figures differ from the duty on record: give it a name of its own.' : undefined}
      />
      <Figures draft={draft} fixed={!mayState} wrong={(name) => wrong[name] ?? refused(name)} onSet={set} />
      {unit && (
        <DateField
          label={`${unit} drives so from`}
          value={from}
          onChange={(iso) => setFrom(iso)}
          error={wrong.from ?? refused('from')}
        />
      )}
      {failed && (
        <p role="alert" className="font-medium text-brick">
          {failed.message}
        </p>
      )}
      {mayState && (
        <div className="flex items-center gap-3">
          <Button look="next" type="submit" disabled={add.isPending || change.isPending || (unchanged && !unit)}>
            <span className="whitespace-nowrap">{unit ? `Save for ${unit}` : 'Save'}</span>
          </Button>
          <p className="text-soft">A duty on record is never changed: what was driven under it stays so.</p>
        </div>
      )}
    </form>
  );
}

/** The duty as typed, checked as the server will; or what is wrong at which field. */
function readDuty(
  draft: DutyDraft,
  rest: Parameters<typeof dutyOfDraft>[1],
  unit: 'mi' | 'km',
): ReturnType<typeof dutyOfDraft> {
  const result = dutyOfDraft(draft, rest, unit);
  if (!result.ok) return result;
  const [issue] = NewDuty.safeParse(result.duty).error?.issues ?? [];
  if (!issue) return result;
  const path = String(issue.path[0]);
  const field = { payloadShare: 'payload', retarderShare: 'retarder' }[path] ?? path;
  const scale = scaleOf(field as Figure, unit);
  // A bound is said as the record has it; what was typed stands beside it in the same unit.
  const typed = draft[field as Figure];
  const beside = scale === 1 ? '' : ` ${typed} is ${(figure(typed) / scale).toFixed(1)} in that unit.`;
  return { ok: false, fields: { [field]: `${issue.message}${beside}` } };
}

interface FiguresProps {
  draft: DutyDraft;
  fixed: boolean;
  wrong: (name: keyof DutyDraft) => string | undefined;
  onSet: (name: keyof DutyDraft) => (event: React.ChangeEvent<HTMLInputElement>) => void;
}

function Figures({ draft, fixed, wrong, onSet }: FiguresProps) {
  const { distanceUnit } = useReader();
  return (
    <div className="grid grid-cols-2 gap-x-3 gap-y-2">
      {FIGURES.map(({ name, label }) => (
        <Field
          key={name}
          label={label[distanceUnit]}
          value={draft[name]}
          inputMode="decimal"
          disabled={fixed}
          onChange={onSet(name)}
          error={wrong(name)}
        />
      ))}
    </div>
  );
}
