import { useState } from 'react';
import { toast } from 'sonner';
import type { JobKit, JobKitNeed } from '@mile-mark/contract/parts';
import { amountInWords, needInWords, needPlaceInWords } from '@mile-mark/contract/words';
import { ApiProblem } from '../../api/client.ts';
import { usePick, useStock } from '../../api/parts.ts';
import { Refusal } from '../../ui/Refusal.tsx';
import { Button } from '../../ui/Button.tsx';
import { Field } from '../../ui/Field.tsx';
import { Modal } from '../../ui/Modal.tsx';
import { Tick } from '../../ui/Tick.tsx';
import { useNewId } from '../../ui/useNewId.ts';

const keyOf = ({ kind, axle, side }: JobKitNeed) => `${kind}/${axle ?? ''}/${side}`;
/** The part to take: what the record gave this job, or the first that would do. */
const partOf = ({ now, options }: JobKitNeed) =>
  options.find(({ part }) => now.state !== 'short' && part === now.part) ?? options[0];

/** Takes a job's kit off the shelf: each line is ticked, or its label scanned, as it goes into the box. */
export function PickKit({ kit, onClose }: { kit: JobKit; onClose: () => void }) {
  const open = kit.needs.filter((need) => need.picked === 0 && need.options.length > 0);
  const [ticked, setTicked] = useState<ReadonlySet<string>>(new Set());
  const [seen, setSeen] = useState<ReadonlySet<string>>(new Set());
  const [scanned, setScanned] = useState('');
  const [unknown, setUnknown] = useState<string>();
  const [id] = useNewId();
  const pick = usePick();
  const stock = useStock(kit.depot);
  const problem = pick.error instanceof ApiProblem ? pick.error : undefined;
  const chosen = open.filter((need) => ticked.has(keyOf(need)));
  const scan = () => {
    const typed = scanned.trim().toUpperCase();
    const found = open.find(({ options }) => options.some(({ part }) => part === typed));
    setUnknown(found ? undefined : typed);
    if (found) setTicked(new Set([...ticked, keyOf(found)]));
    setScanned('');
  };
  const save = () =>
    pick.mutate(
      {
        id,
        jobId: kit.jobId,
        lines: chosen.flatMap((need) => {
          const part = partOf(need);
          return part ? [{ part: part.part, units: part.units, seen: seen.has(keyOf(need)) }] : [];
        }),
      },
      {
        onSuccess: ({ takes }) => {
          toast(`${takes.length} ${takes.length === 1 ? 'line' : 'lines'} picked for ${kit.unit}.`);
          onClose();
        },
      },
    );
  return (
    <Modal open onClose={onClose} title={`Kit of ${kit.unit}, ${kit.model}`} wide discardable>
      <form
        className="mb-3 flex items-end gap-2"
        onSubmit={(event) => {
          event.preventDefault();
          scan();
        }}
      >
        <Field
          label="Scan or type a part number"
          large
          autoFocus
          value={scanned}
          onChange={(event) => setScanned(event.target.value)}
          error={
            unknown === undefined ? undefined : `${unknown} is not of this kit. Put it back; another axle’s or side’s?`
          }
        />
      </form>
      <ul>
        {open.map((need) => (
          <Line
            key={keyOf(need)}
            need={need}
            bins={(stock.data ?? [])
              .filter(({ part, units }) => part === partOf(need)?.part && units > 0)
              .map(({ bin }) => bin)}
            ticked={ticked.has(keyOf(need))}
            seen={seen.has(keyOf(need))}
            error={problem?.of(`lines.${chosen.indexOf(need)}.units`)}
            onTick={(on) => setTicked(withKey(ticked, keyOf(need), on))}
            onSeen={(on) => setSeen(withKey(seen, keyOf(need), on))}
          />
        ))}
      </ul>
      <Refusal problem={problem} className="mt-2" />
      <div className="mt-3 flex flex-wrap gap-3">
        <Button look="next" large disabled={chosen.length === 0 || pick.isPending} onClick={save}>
          Take {chosen.length} of {open.length} lines
        </Button>
        <Button large onClick={() => setTicked(new Set(open.filter(({ now }) => now.state === 'there').map(keyOf)))}>
          Tick all that lie there
        </Button>
      </div>
    </Modal>
  );
}

const withKey = (set: ReadonlySet<string>, key: string, on: boolean) =>
  on ? new Set([...set, key]) : new Set([...set].filter((one) => one !== key));

interface LineProps {
  need: JobKitNeed;
  bins: readonly string[];
  ticked: boolean;
  seen: boolean;
  error: string | undefined;
  onTick: (on: boolean) => void;
  onSeen: (on: boolean) => void;
}

function Line({ need, bins, ticked, seen, error, onTick, onSeen }: LineProps) {
  const part = partOf(need);
  return (
    <li className="flex flex-wrap items-center gap-x-4 gap-y-1 border-b border-hair py-2">
      <Tick checked={ticked} onChange={onTick} large>
        {need.kind} {needPlaceInWords(need)}
      </Tick>
      <span className="figures text-lg">
        {part?.units} × {part?.part}
        {need.amount !== null && (
          <span className="block text-base font-normal text-soft">
            {amountInWords(need.kind, need.amount)} of it; none where an opened one is at the bay
          </span>
        )}
      </span>
      <span className="grow text-soft">{part?.name}</span>
      <span className="figures text-lg font-semibold">{[...new Set(bins)].join(', ') || 'no bin'}</span>
      <span className={need.now.state === 'short' ? 'font-medium text-brick' : 'text-soft'}>{needInWords(need)}</span>
      {error !== undefined && (
        <p role="alert" className="basis-full font-medium text-brick">
          {error}
        </p>
      )}
      {ticked && (error !== undefined || seen || need.now.state === 'short') && (
        <Tick checked={seen} onChange={onSeen}>
          I see it lie there: take it, and have the bin counted
        </Tick>
      )}
    </li>
  );
}
