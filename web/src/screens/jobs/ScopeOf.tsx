import { useReader } from '../../api/reader.ts';
import type { JobProposal } from '@mile-mark/contract/jobs';
import { actionInWords } from '@mile-mark/contract/words';
import { Field } from '../../ui/Field.tsx';
import { Tick } from '../../ui/Tick.tsx';

/** Reasons by action for what is left out, by axle. */
export type Left = Record<number, Record<string, string>>;

interface Props {
  axle: JobProposal['axles'][number];
  currency: string | null;
  left: Record<string, string>;
  onLeft: (left: Record<string, string>) => void;
}

/** What the rules ask for at an axle, each with its reason; what is no must may be left out with one. */
export function ScopeOf({ axle, currency, left, onLeft }: Props) {
  const byHand = axle.scope.length === 0;
  const items = byHand ? axle.withPads : axle.scope;
  return (
    <div className="mt-2 ml-7 flex flex-col gap-2">
      {byHand && (
        <p className="text-soft">
          No rule asks for anything here yet; booked by hand, it gets <strong className="text-ink">new pads</strong>
          {items.length > 0 ? ', and with them:' : '.'}
        </p>
      )}
      <ul className="flex flex-col gap-1.5">
        {items.map((item) => {
          const out = left[item.action] !== undefined;
          const why = axle.because.filter(({ action }) => action === item.action).map(({ text }) => text);
          return (
            <li key={item.action} className="grid gap-x-3 sm:grid-cols-[15rem_1fr]">
              {item.mandatory ? (
                <span>
                  <strong>{actionInWords(item)}</strong> <span className="text-soft">must be done</span>
                </span>
              ) : (
                <Tick
                  checked={!out}
                  onChange={(on) =>
                    onLeft(
                      on
                        ? Object.fromEntries(Object.entries(left).filter(([action]) => action !== item.action))
                        : { ...left, [item.action]: '' },
                    )
                  }
                >
                  {actionInWords(item)}
                </Tick>
              )}
              {out ? (
                <Field
                  label={`Why ${actionInWords(item)} is left out`}
                  hideLabel
                  placeholder="Why it is left out"
                  required
                  minLength={3}
                  value={left[item.action] ?? ''}
                  onChange={(event) => onLeft({ ...left, [item.action]: event.target.value })}
                />
              ) : (
                <span className="text-soft">{why.join(' ')}</span>
              )}
            </li>
          );
        })}
      </ul>
      <Rotors axle={axle} currency={currency} />
    </div>
  );
}

/** What may be done about the rotors, with its cost by the mile where prices are known. */
function Rotors({ axle: { rotors, rotorNow }, currency }: Pick<Props, 'axle' | 'currency'>) {
  const reader = useReader();
  if (rotors.length === 0 || !rotorNow) return null;
  return (
    <p className="text-[13px] text-soft">
      {rotorNow.measured ? (
        `Rotors, ${reader.limit(rotorNow.mm)} as measured: `
      ) : (
        <>
          <strong>Rotors not measured</strong>, about {reader.rotorSpread(rotorNow.mm, rotorNow.sdMm)} by the forecast:
          measure them before any are ordered.{' '}
        </>
      )}
      {rotors
        .map(({ option, bar, perMileMinor, thicknessMm }) =>
          bar
            ? `${option}: no, ${bar}`
            : `${option}: ${reader.limit(thicknessMm)}${perMileMinor === null || currency === null ? '' : `, ${(perMileMinor / 100).toFixed(4)} ${currency} a mile`}`,
        )
        .join(' · ')}
      .
    </p>
  );
}
