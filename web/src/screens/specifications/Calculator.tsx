import { useState } from 'react';
import { Field } from '../../ui/Field.tsx';
import { SegmentedControl } from '../../ui/SegmentedControl.tsx';
import { SUM_FIELDS, SUMS, workOut, type Sum } from './calculate.ts';

/** Sums about torque, each with its formula. */
export function Calculator() {
  const [sum, setSum] = useState<Sum>('units');
  const [typedOf, setTypedOf] = useState(() =>
    Object.fromEntries(
      SUMS.map((one) => [one, Object.fromEntries(SUM_FIELDS[one].map(({ name, start }) => [name, start]))]),
    ),
  );
  const typed: Record<string, string> = typedOf[sum] ?? {};
  const worked = workOut(sum, typed);
  return (
    <section aria-label="Calculator" className="flex flex-col gap-3 border-l-4 border-line bg-sheet p-3">
      <h2 className="text-lg font-semibold">Calculator</h2>
      <SegmentedControl label="Sum" hideLabel value={sum} options={SUMS} onChange={setSum} />
      {SUM_FIELDS[sum].map(({ name, label }) => (
        <Field
          key={name}
          label={label}
          value={typed[name] ?? ''}
          error={!worked.ok && worked.field === name ? worked.message : undefined}
          onChange={(event) => setTypedOf({ ...typedOf, [sum]: { ...typed, [name]: event.target.value } })}
        />
      ))}
      {worked.ok && (
        <div role="status">
          {worked.result.map((line, index) => (
            <p key={line} className={`figures ${index === 0 ? 'text-2xl font-semibold' : 'text-lg'}`}>
              {line}
            </p>
          ))}
          <p className="mt-1 text-soft">{worked.formula}</p>
        </div>
      )}
      {sum === 'adapter' && (
        <p className="text-soft">
          The hand stays at the middle of the grip; at a right angle (90°) the adapter lengthens nothing. The maker’s
          instructions for the adapter come first.
        </p>
      )}
    </section>
  );
}
