import { useState } from 'react';
import { toast } from 'sonner';
import type { CalendarRead, NewCalendarLink } from '@mile-mark/contract/plan';
import { countInWords } from '@mile-mark/contract/words';
import { ApiProblem } from '../../api/client.ts';
import {
  useAddCalendarLink,
  useCalendarLinks,
  useReadCalendar,
  useShop,
  useWithdrawCalendarLink,
} from '../../api/plan.ts';
import { Button } from '../../ui/Button.tsx';
import { Choose } from '../../ui/Choose.tsx';
import { Field } from '../../ui/Field.tsx';
import { Refusal } from '../../ui/Refusal.tsx';
import { Tick } from '../../ui/Tick.tsx';
import { formatDate } from '../../ui/format.ts';
import { useNewId } from '../../ui/useNewId.ts';

const KINDS = { depot: 'Depot', person: 'Person', vehicle: 'Vehicle' } as const;
type Kind = keyof typeof KINDS;
const kindOf = (value: string): Kind => (value === 'person' || value === 'vehicle' ? value : 'depot');
/** Who or what a calendar is of: a kind, then chosen where the shop knows all of them, typed where it is a unit. */
function Of({
  kind,
  of,
  error,
  onChange,
}: {
  kind: Kind;
  of: string;
  error: string | undefined;
  onChange: (whom: { kind: Kind; of: string }) => void;
}) {
  const shop = useShop();
  const names =
    kind === 'person' ? shop.data?.people.map(({ name }) => name) : shop.data?.depots.map(({ depot }) => depot);
  const choose = (chosen: string) => onChange({ kind, of: chosen });
  return (
    <>
      <Choose label="Of a" value={kind} onChange={({ target }) => onChange({ kind: kindOf(target.value), of: '' })}>
        {Object.entries(KINDS).map(([value, words]) => (
          <option key={value} value={value}>
            {words}
          </option>
        ))}
      </Choose>
      <div className="w-52">
        {kind === 'vehicle' ? (
          <Field label="Unit" value={of} onChange={(event) => choose(event.target.value)} error={error} />
        ) : (
          <Choose label="Name" value={of} onChange={({ target }) => choose(target.value)} error={error}>
            <option value="">Choose …</option>
            {(names ?? []).map((name) => (
              <option key={name}>{name}</option>
            ))}
          </Choose>
        )}
      </div>
    </>
  );
}

/** Calendars given out, and calendars read in. */
export function Calendars() {
  return (
    <div className="grid min-h-0 flex-1 gap-8 overflow-y-auto md:grid-cols-2">
      <GivenOut />
      <ReadIn />
    </div>
  );
}

function GivenOut() {
  const links = useCalendarLinks();
  const add = useAddCalendarLink();
  const withdraw = useWithdrawCalendarLink();
  const [id, renew] = useNewId();
  const [form, setForm] = useState<Omit<NewCalendarLink, 'id'>>({ kind: 'depot', of: '' });
  const [made, setMade] = useState<string>();
  const problem = add.error instanceof ApiProblem ? add.error : undefined;
  return (
    <section aria-label="Calendars given out">
      <h2 className="mb-2 text-lg font-semibold">Given out</h2>
      <p className="mb-3 text-soft">
        Whoever has the address reads the visits in a calendar of their own, and sees when they move or are cancelled.
      </p>
      <form
        className="flex flex-wrap items-end gap-3"
        onSubmit={(event) => {
          event.preventDefault();
          add.mutate(
            { id, ...form },
            {
              onSuccess: ({ path }) => {
                setMade(`${window.location.origin}${path}`);
                renew();
              },
            },
          );
        }}
      >
        <Of
          kind={kindOf(form.kind)}
          of={form.of}
          error={problem?.of('of')}
          onChange={(whom) => setForm({ ...form, ...whom })}
        />
        <Button look="next" type="submit" disabled={add.isPending || form.of.trim() === ''}>
          Make an address
        </Button>
        <Refusal problem={problem} />
      </form>
      {made !== undefined && (
        <div className="mt-3 border-l-4 border-slate bg-raised p-3">
          <Field
            label="Its address; it is shown this once"
            readOnly
            value={made}
            onFocus={(event) => event.target.select()}
          />
        </div>
      )}
      {links.isLoadingError && <p role="alert">{links.error.message}</p>}
      <ul className="mt-4">
        {(links.data ?? []).map((one) => (
          <li key={one.id} className="flex flex-wrap items-baseline gap-x-3 border-t border-hair py-2">
            <span className="font-medium">{one.of}</span>
            <span className="text-soft">
              {one.kind}, {one.madeBy}, {formatDate(one.madeOn)};{' '}
              {one.lastReadOn === null ? 'not read yet' : `last read ${formatDate(one.lastReadOn)}`}
            </span>
            <Button
              look="bare"
              className="ml-auto"
              onClick={() =>
                withdraw.mutate(one.id, { onSuccess: () => toast('Its address is good for nothing any more.') })
              }
            >
              Withdraw
            </Button>
          </li>
        ))}
      </ul>
    </section>
  );
}

function ReadIn() {
  const read = useReadCalendar();
  const [id, renew] = useNewId();
  const [form, setForm] = useState<{ kind: Kind; of: string; text: string; file: string; comesIn: boolean }>({
    kind: 'person',
    of: '',
    text: '',
    file: '',
    comesIn: false,
  });
  const [result, setResult] = useState<CalendarRead>();
  const problem = read.error instanceof ApiProblem ? read.error : undefined;
  return (
    <section aria-label="Calendars read in">
      <h2 className="mb-2 text-lg font-semibold">Read in</h2>
      <p className="mb-3 text-soft">
        Days away, or in for other work, out of a calendar file (.ics): leave, routes, closed days, inspections. The
        same file again changes nothing; what moved in it moves here.
      </p>
      <form
        className="flex flex-wrap items-end gap-3"
        onSubmit={(event) => {
          event.preventDefault();
          read.mutate(
            { id, kind: form.kind, of: form.of, text: form.text, comesIn: form.kind === 'vehicle' && form.comesIn },
            {
              onSuccess: (told) => {
                setResult(told);
                renew();
              },
            },
          );
        }}
      >
        <Of
          kind={form.kind}
          of={form.of}
          error={problem?.of('of')}
          onChange={(whom) => setForm({ ...form, ...whom })}
        />
        <label className="flex min-h-8 cursor-pointer items-center rounded-sm border border-line bg-raised px-3 hover:border-ink focus-within:outline-2">
          {form.file || 'Choose a file …'}
          <input
            type="file"
            accept=".ics,text/calendar"
            className="sr-only"
            aria-label="Calendar file"
            onChange={(event) => {
              const file = event.target.files?.[0];
              if (file) void file.text().then((text) => setForm((old) => ({ ...old, text, file: file.name })));
            }}
          />
        </label>
        {form.kind === 'vehicle' && (
          <Tick className="self-center" checked={form.comesIn} onChange={(comesIn) => setForm({ ...form, comesIn })}>
            It comes in for that (inspection, tyres): brakes can be done with it
          </Tick>
        )}
        <Button look="plain" type="submit" disabled={read.isPending || form.of.trim() === '' || form.text === ''}>
          Read it
        </Button>
        {problem?.of('text') && (
          <p role="alert" className="font-medium text-brick">
            {problem.of('text')}
          </p>
        )}
        <Refusal problem={problem} />
      </form>
      {result && (
        <div role="status" className="mt-3 border-l-4 border-slate bg-raised p-3">
          <p>
            {countInWords(result.added, 'entry', 'entries')} added, {result.changed} changed, {result.withdrawn} called
            off, {result.already} as they were.
          </p>
          {result.refused.map((one) => (
            <p key={one.entry} className="font-medium text-brick">
              {one.entry}: {one.message}
            </p>
          ))}
        </div>
      )}
    </section>
  );
}
