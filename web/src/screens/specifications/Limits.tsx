import { DataTable } from '../../ui/DataTable.tsx';
import { figureOf } from '@mile-mark/core';
import { useNewId } from '../../ui/useNewId.ts';
import { mayDo } from '@mile-mark/contract';
import { useState, type FormEvent } from 'react';
import type { Me } from '@mile-mark/contract/people';
import { NewLimit } from '@mile-mark/contract/register';
import { ApiProblem } from '../../api/client.ts';
import { useAddLimit, useLimits } from '../../api/register.ts';
import { Button } from '../../ui/Button.tsx';
import { Field } from '../../ui/Field.tsx';
import { Choose } from '../../ui/Choose.tsx';
import { State } from '../../ui/State.tsx';
import { Heads } from '../../ui/Heads.tsx';

/** Limits of law and of the shop's policy, each with its source; local codes can be added. */
export function Limits({ me }: { me: Me }) {
  const limits = useLimits();
  if (limits.isPending) return <State title="Loading" what="Fetching the limits." quiet />;
  if (limits.isLoadingError) return <State title="They couldn’t load" what={limits.error.message} />;
  const mass = (above: number | null, upTo: number | null) =>
    [
      above !== null && `over ${Math.round(above).toLocaleString('en-US')} kg`,
      upTo !== null && `up to ${Math.round(upTo).toLocaleString('en-US')} kg`,
    ]
      .filter((part) => part)
      .join(', ') || 'any mass';
  return (
    <div className="flex max-w-6xl flex-col gap-4">
      <p className="max-w-prose text-soft">
        An axle’s service limit is the largest of these, the maker’s own of its model, and the shop’s margin. Local
        codes and licensed practice come first: enter yours.
      </p>
      <DataTable name="limits" className="w-full bg-sheet">
        <Heads names={['Where', 'By', 'Brakes, rated mass', 'Lining', 'Source', 'Checked by']} />
        <tbody>
          {limits.data.map((limit) => (
            <tr key={limit.id} className="border-b border-hair align-top">
              <td className="px-2 py-1.5">{limit.jurisdiction}</td>
              <td className="px-2 py-1.5">{limit.authority === 'law' ? 'law' : 'shop’s policy'}</td>
              <td className="px-2 py-1.5">
                {limit.brake}, {mass(limit.aboveGvwrKg, limit.upToGvwrKg)}
              </td>
              <td className="figures px-2 py-1.5 font-semibold whitespace-nowrap">
                {limit.equalityPasses ? 'at least' : 'more than'} {Number(limit.leastMm.toFixed(2))} mm
              </td>
              <td className="px-2 py-1.5 text-soft">
                {limit.source}, {limit.revision}
              </td>
              <td className="px-2 py-1.5 text-soft">{limit.checkedBy}</td>
            </tr>
          ))}
        </tbody>
      </DataTable>
      {mayDo(me.role, 'register') && <AddLimit />}
    </div>
  );
}

const EMPTY = {
  jurisdiction: '',
  authority: 'law',
  brake: 'hydraulic',
  leastMm: '',
  equalityPasses: 'yes',
  aboveGvwrKg: '',
  upToGvwrKg: '',
  source: '',
  revision: '',
};

function AddLimit() {
  const add = useAddLimit();
  const [id, renewId] = useNewId();
  const [typed, setTyped] = useState(EMPTY);
  const [wrong, setWrong] = useState<Record<string, string>>({});
  const problem = add.error instanceof ApiProblem ? add.error : undefined;
  const submit = (event: FormEvent) => {
    event.preventDefault();
    const mass = (text: string) => figureOf(text, { thousandsLikely: true });
    const parsed = NewLimit.safeParse({
      ...typed,
      id,
      leastMm: figureOf(typed.leastMm) ?? NaN,
      equalityPasses: typed.equalityPasses === 'yes',
      aboveGvwrKg: mass(typed.aboveGvwrKg),
      upToGvwrKg: mass(typed.upToGvwrKg),
    });
    if (!parsed.success) {
      setWrong(
        Object.fromEntries(
          parsed.error.issues.map(({ path, message }) => [
            String(path[0]),
            path[0] === 'leastMm' && typed.leastMm.trim() === '' ? 'A thickness such as 3.2 is needed.' : message,
          ]),
        ),
      );
      return;
    }
    setWrong({});
    const { aboveGvwrKg, upToGvwrKg, ...rest } = parsed.data;
    add.mutate(
      {
        ...rest,
        ...(aboveGvwrKg === undefined ? {} : { aboveGvwrKg }),
        ...(upToGvwrKg === undefined ? {} : { upToGvwrKg }),
      },
      {
        onSuccess: () => {
          renewId();
          setTyped(EMPTY);
        },
      },
    );
  };
  const field = (name: keyof typeof EMPTY, label: string) => (
    <Field
      label={label}
      value={typed[name]}
      error={wrong[name] ?? problem?.of(name)}
      onChange={(event) => setTyped({ ...typed, [name]: event.target.value })}
    />
  );
  const choose = (name: keyof typeof EMPTY, label: string, options: [string, string][]) => (
    <Choose label={label} value={typed[name]} onChange={(event) => setTyped({ ...typed, [name]: event.target.value })}>
      {options.map(([value, text]) => (
        <option key={value} value={value}>
          {text}
        </option>
      ))}
    </Choose>
  );
  return (
    <form className="grid max-w-4xl grid-cols-3 gap-3" onSubmit={submit}>
      <h2 className="col-span-3 font-semibold">A limit of yours</h2>
      {field('jurisdiction', 'Where it holds')}
      {choose('authority', 'By', [
        ['law', 'law'],
        ['policy', 'shop’s policy'],
      ])}
      {choose('brake', 'Brakes', [
        ['hydraulic', 'hydraulic'],
        ['air', 'air'],
      ])}
      {field('leastMm', 'Lining, mm')}
      {choose('equalityPasses', 'At exactly that', [
        ['yes', 'it passes'],
        ['no', 'it fails'],
      ])}
      {field('aboveGvwrKg', 'Rated mass over, kg (blank: any)')}
      {field('upToGvwrKg', 'Rated mass up to, kg (blank: any)')}
      {field('source', 'Source')}
      {field('revision', 'Its revision')}
      {add.isError && (
        <p role="alert" className="col-span-3 text-brick">
          {add.error.message}
        </p>
      )}
      <div className="col-span-3">
        <Button type="submit" disabled={add.isPending}>
          Enter it; all forecasts are brought up to date
        </Button>
      </div>
    </form>
  );
}
