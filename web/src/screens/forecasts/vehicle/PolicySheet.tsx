import { figureOf } from '@mile-mark/core';
import { useState } from 'react';
import { toast } from 'sonner';
import { SettingsChange, type SettingsView } from '@mile-mark/contract/register';
import { ApiProblem } from '../../../api/client.ts';
import { useChangeSettings, useSettings } from '../../../api/register.ts';
import { Button } from '../../../ui/Button.tsx';
import { Field } from '../../../ui/Field.tsx';
import { Modal } from '../../../ui/Modal.tsx';

/**
 * What every forecast assumes: the risk that is allowed, the shop's margin, and what services cost it. Begun only with
 * what stands now: figures kept from before a change would be refused for their revision.
 */
export function PolicySheet({ onClose }: { onClose: () => void }) {
  const settings = useSettings();
  return (
    <Modal open onClose={onClose} title="What forecasts assume, for the whole fleet">
      {!settings.isFetchedAfterMount && <p className="text-soft">Fetching it …</p>}
      {settings.isError && <p role="alert">{settings.error.message}</p>}
      {settings.isFetchedAfterMount && settings.data && <Form settings={settings.data} onClose={onClose} />}
    </Modal>
  );
}

const FIELDS = [
  { name: 'risk', label: 'Risk, pickups and vans, %' },
  { name: 'riskHeavy', label: 'Risk, heavy vehicles, %' },
  { name: 'margin', label: 'Shop’s margin, % of new thickness' },
  { name: 'currency', label: 'Currency' },
  { name: 'lightPlanned', label: 'Planned service, light' },
  { name: 'lightFailure', label: 'Too late, light' },
  { name: 'heavyPlanned', label: 'Planned service, heavy' },
  { name: 'heavyFailure', label: 'Too late, heavy' },
] as const;
type Typed = Record<(typeof FIELDS)[number]['name'], string>;

/** Where a refusal of the contract belongs on the form. */
const FIELD_OF: Record<string, keyof Typed> = {
  riskTarget: 'risk',
  riskTargetHeavy: 'riskHeavy',
  marginShare: 'margin',
  'costs.currency': 'currency',
  'costs.light.plannedMinor': 'lightPlanned',
  'costs.light.failureMinor': 'lightFailure',
  'costs.heavy.plannedMinor': 'heavyPlanned',
  'costs.heavy.failureMinor': 'heavyFailure',
};

/** What each field accepts, in the field's own unit. */
const ACCEPTED: Typed = {
  risk: 'Over 0 and up to 50 % is accepted.',
  riskHeavy: 'Over 0 and up to 50 % is accepted.',
  margin: '0 to 90 % is accepted.',
  currency: 'Three capitals such as USD are accepted.',
  lightPlanned: 'An amount such as 380.00 is accepted.',
  lightFailure: 'An amount such as 560.00 is accepted.',
  heavyPlanned: 'An amount such as 950.00 is accepted.',
  heavyFailure: 'An amount such as 1400.00 is accepted.',
};

function typedOf({ riskTarget, riskTargetHeavy, marginShare, costs }: SettingsView): Typed {
  const percent = (share: number) => String(Math.round(share * 1000) / 10);
  const money = (minor: number | undefined) => (minor === undefined ? '' : (minor / 100).toFixed(2));
  return {
    risk: percent(riskTarget),
    riskHeavy: percent(riskTargetHeavy ?? riskTarget),
    margin: percent(marginShare),
    currency: costs?.currency ?? 'USD',
    lightPlanned: money(costs?.light.plannedMinor),
    lightFailure: money(costs?.light.failureMinor),
    heavyPlanned: money(costs?.heavy.plannedMinor),
    heavyFailure: money(costs?.heavy.failureMinor),
  };
}

function Form({ settings, onClose }: { settings: SettingsView; onClose: () => void }) {
  const change = useChangeSettings();
  const [typed, setTyped] = useState(() => typedOf(settings));
  const [wrong, setWrong] = useState<Partial<Typed>>({});
  const figure = (text: string) => figureOf(text) ?? NaN;
  const minor = (text: string) => Math.round((figureOf(text, { thousandsLikely: true }) ?? NaN) * 100);
  const keep = () => {
    const { lightPlanned, lightFailure, heavyPlanned, heavyFailure, currency } = typed;
    const costed = [lightPlanned, lightFailure, heavyPlanned, heavyFailure].some((text) => text.trim() !== '');
    const parsed = SettingsChange.safeParse({
      revision: settings.revision,
      riskTarget: figure(typed.risk) / 100,
      riskTargetHeavy: figure(typed.riskHeavy) / 100,
      marginShare: figure(typed.margin) / 100,
      ...(costed
        ? {
            costs: {
              currency: currency.trim(),
              light: { plannedMinor: minor(lightPlanned), failureMinor: minor(lightFailure) },
              heavy: { plannedMinor: minor(heavyPlanned), failureMinor: minor(heavyFailure) },
            },
          }
        : {}),
    });
    if (!parsed.success) {
      setWrong(
        Object.fromEntries(
          parsed.error.issues.map(({ path, message, code }) => {
            const name = FIELD_OF[path.join('.')] ?? 'risk';
            return [name, code === 'custom' ? message : ACCEPTED[name]];
          }),
        ),
      );
      return;
    }
    setWrong({});
    change.mutate(parsed.data, {
      onSuccess: () => {
        toast('All forecasts are brought up to date.');
        onClose();
      },
    });
  };
  return (
    <form
      className="flex flex-col gap-3"
      onSubmit={(event) => {
        event.preventDefault();
        keep();
      }}
    >
      <p className="text-soft">
        The mark stands where the chance of a pad below the limit reaches the risk, or, where costs are entered, earlier
        where planned and late services cost least a mile. “Too late” is all that a service costs when pads wore out
        first: the unplanned stop, rotors, the vehicle off the road.
      </p>
      <div className="grid grid-cols-2 gap-3">
        {FIELDS.map(({ name, label }) => (
          <Field
            key={name}
            label={label}
            value={typed[name]}
            error={wrong[name]}
            onChange={(event) => setTyped({ ...typed, [name]: event.target.value })}
          />
        ))}
      </div>
      {change.isError && (
        <p role="alert" className="font-medium text-brick">
          {change.error instanceof ApiProblem
            ? (change.error.problem.errors?.[0]?.message ?? change.error.message)
            : change.error.message}
        </p>
      )}
      <Button look="next" type="submit" disabled={change.isPending}>
        Assume this from now on
      </Button>
    </form>
  );
}
