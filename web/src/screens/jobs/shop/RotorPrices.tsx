import { DataTable } from '../../../ui/DataTable.tsx';
import { useState } from 'react';
import { toast } from 'sonner';
import { mayDo } from '@mile-mark/contract';
import type { Me } from '@mile-mark/contract/people';
import { SettingsChange, type SettingsView } from '@mile-mark/contract/register';
import { figureOf } from '@mile-mark/core';
import { useChangeSettings, useSettings } from '../../../api/register.ts';
import { Button } from '../../../ui/Button.tsx';
import { Field } from '../../../ui/Field.tsx';
import { State } from '../../../ui/State.tsx';

const ROWS = [
  { what: 'scuffMinor', label: 'Scuffed' },
  { what: 'machineMinor', label: 'Machined' },
  { what: 'replaceMinor', label: 'New' },
] as const;
const CLASSES = [
  { of: 'light', label: 'Pickups and vans' },
  { of: 'heavy', label: 'Heavy trucks' },
] as const;

/** What both rotors of an axle cost, labour included: with it, rotors are weighed by what they cost a mile. */
export function RotorPrices({ me }: { me: Me }) {
  const settings = useSettings();
  if (settings.isError) return <State title="The prices couldn’t load" what={settings.error.message} />;
  // Begun only with what stands now: a price kept from before a change would be refused for its revision.
  if (!settings.isFetchedAfterMount) return <State title="Loading" what="Fetching what rotors cost." quiet />;
  return (
    <Prices
      key={settings.data?.revision}
      settings={settings.data as SettingsView}
      changes={mayDo(me.role, 'register')}
    />
  );
}

type Typed = Record<string, string>;

function typedOf({ rotorPrices }: SettingsView): Typed {
  const money = (minor: number | undefined) => (minor === undefined ? '' : (minor / 100).toFixed(2));
  return {
    ...Object.fromEntries(
      CLASSES.flatMap(({ of }) => ROWS.map(({ what }) => [`${of}.${what}`, money(rotorPrices?.[of][what])])),
    ),
    discountPerYear: rotorPrices ? String(Math.round(rotorPrices.discountPerYear * 1000) / 10) : '',
  };
}

/** The settings with the prices as they were typed. */
function changeOf(settings: SettingsView, typed: Typed) {
  const minor = (name: string) => Math.round((figureOf(typed[name] ?? '', { thousandsLikely: true }) ?? NaN) * 100);
  const own = (of: string) => Object.fromEntries(ROWS.map(({ what }) => [what, minor(`${of}.${what}`)]));
  return SettingsChange.safeParse({
    ...settings,
    riskTargetHeavy: settings.riskTargetHeavy ?? settings.riskTarget,
    rotorPrices: {
      light: own('light'),
      heavy: own('heavy'),
      discountPerYear: (figureOf(typed.discountPerYear ?? '') ?? NaN) / 100,
    },
  });
}

/** What each field that is refused accepts, by its name. */
function refusalsOf(issues: readonly { path: PropertyKey[] }[]): Typed {
  return Object.fromEntries(
    issues.map(({ path }) => {
      const name = path.slice(1).join('.');
      return [name, name === 'discountPerYear' ? '0 to 50 % is accepted.' : 'An amount such as 310.00 is accepted.'];
    }),
  );
}

function Prices({ settings, changes }: { settings: SettingsView; changes: boolean }) {
  const change = useChangeSettings();
  const [typed, setTyped] = useState(() => typedOf(settings));
  const [wrong, setWrong] = useState<Typed>({});
  const keep = () => {
    const parsed = changeOf(settings, typed);
    if (!parsed.success) {
      setWrong(refusalsOf(parsed.error.issues));
      return;
    }
    setWrong({});
    change.mutate(parsed.data, { onSuccess: () => toast('Rotors are weighed with these prices from now on.') });
  };
  const currency = settings.costs?.currency ?? '';
  const field = (name: string, label: string) => (
    <Field
      label={label}
      hideLabel
      inputMode="decimal"
      disabled={!changes}
      value={typed[name] ?? ''}
      error={wrong[name]}
      onChange={(event) => setTyped({ ...typed, [name]: event.target.value })}
    />
  );
  return (
    <form
      className="flex max-w-2xl flex-col gap-3"
      onSubmit={(event) => {
        event.preventDefault();
        keep();
      }}
    >
      <p className="max-w-prose text-soft">
        For both rotors of an axle, labour included{currency && `, in ${currency}`}. Rotors that may stay are weighed by
        what each choice costs a mile over the next two sets of pads; until prices are entered, measurement alone
        decides.
      </p>
      <DataTable name="rotor-prices">
        <thead>
          <tr className="border-b border-line text-left text-soft">
            <th scope="col" className="py-1 pr-3 font-medium">
              Both rotors
            </th>
            {CLASSES.map(({ of, label }) => (
              <th key={of} scope="col" className="pr-3 font-medium">
                {label}
                {currency && `, ${currency}`}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {ROWS.map(({ what, label }) => (
            <tr key={what}>
              <th scope="row" className="py-1.5 pr-3 text-left font-medium">
                {label}
              </th>
              {CLASSES.map(({ of, label: group }) => (
                <td key={of} className="py-1 pr-3">
                  {field(`${of}.${what}`, `${label}, ${group}`)}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </DataTable>
      <div className="w-64">
        <Field
          label="What money costs a year, %"
          inputMode="decimal"
          disabled={!changes}
          value={typed.discountPerYear ?? ''}
          error={wrong.discountPerYear}
          onChange={(event) => setTyped({ ...typed, discountPerYear: event.target.value })}
        />
      </div>
      {change.isError && (
        <p role="alert" className="font-medium text-brick">
          {change.error.message}
        </p>
      )}
      {changes && (
        <div>
          <Button look="next" type="submit" disabled={change.isPending}>
            Save
          </Button>
        </div>
      )}
    </form>
  );
}
