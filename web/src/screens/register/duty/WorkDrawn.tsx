import { DataTable } from '../../../ui/DataTable.tsx';
import type { Duty, Model, NewDuty } from '@mile-mark/contract/register';
import { DEFAULT_DUTY_SETTINGS, rotorTemperature, severity, workPerMile } from '@mile-mark/core';
import { Why } from '../../../ui/Why.tsx';
import { formatWhole } from '../../../ui/format.ts';
import { coreDuty } from './figures.ts';

const CAUSES = [
  { key: 'stops', label: 'stops', look: 'bg-stops' },
  { key: 'slowdowns', label: 'slowdowns', look: 'bg-slowdowns' },
  { key: 'descents', label: 'descents', look: 'bg-descents' },
] as const;

/** The brake work per mile of a duty on a model, by cause and by axle, against the model's reference. */
export function WorkDrawn({
  model,
  duty,
  reference,
}: {
  model: Model;
  duty: NewDuty | undefined;
  reference: Duty | undefined;
}) {
  const settings = DEFAULT_DUTY_SETTINGS[model.class];
  const work = duty && workPerMile(model, coreDuty(duty), settings);
  const base = reference && workPerMile(model, coreDuty(reference), settings);
  const most = Math.max(1, work?.totalJ ?? 0, base?.totalJ ?? 0);
  const bar = (name: string, found: NonNullable<typeof work>) => (
    <div className="grid grid-cols-[9rem_1fr_6rem] items-center gap-2">
      <span className="truncate">{name}</span>
      <span
        className="flex h-6 bg-hair"
        role="img"
        aria-label={`${name}: ${CAUSES.map(({ key, label }) => `${label} ${Math.round(found[`${key}J`] / 1000)} kJ`).join(', ')} a mile`}
      >
        {CAUSES.map(({ key, look }) => (
          <span key={key} className={look} style={{ width: `${(found[`${key}J`] / most) * 100}%` }} />
        ))}
      </span>
      <span className="figures text-right font-semibold">{formatWhole(found.totalJ / 1000)} kJ</span>
    </div>
  );
  return (
    <section aria-label="Brake work a mile" className="flex flex-col gap-2">
      <h2 className="font-semibold">Brake work a mile on {model.name}</h2>
      {work ? bar('This duty', work) : <p className="text-soft">Every figure is needed before it can be drawn.</p>}
      {base && bar(`Reference: ${reference.name}`, base)}
      <p className="text-[13px] text-soft">
        {CAUSES.map(({ key, label, look }) => (
          <span key={key} className="mr-4">
            <span className={`mr-1 inline-block h-2.5 w-5 ${look}`} />
            {label} {work && `${formatWhole(work[`${key}J`] / 1000)} kJ`}
          </span>
        ))}
        {work && work.towingJ > 0 && <span>of it the trailer {formatWhole(work.towingJ / 1000)} kJ</span>}
      </p>
      {work && duty && (
        <DataTable name="work-by-model" className="mt-1 w-full">
          <thead>
            <tr className="border-b border-line text-left text-soft">
              <th className="py-1 font-normal">Axle</th>
              <th className="font-normal">share</th>
              <th className="font-normal">work a mile</th>
              <th className="font-normal">wears, reference = 1</th>
              <th className="font-normal">rotors</th>
            </tr>
          </thead>
          <tbody>
            {model.axles.map(({ axle, brakeShare }) => {
              const heat = rotorTemperature(model, coreDuty(duty), settings, brakeShare);
              return (
                <tr key={axle} className="border-b border-hair">
                  <td className="figures py-1">{axle}</td>
                  <td className="figures">{Math.round(brakeShare * 100)} %</td>
                  <td className="figures">{formatWhole((work.totalJ * brakeShare) / 1000)} kJ</td>
                  <td className="figures">
                    {reference
                      ? severity(model, coreDuty(duty), coreDuty(reference), settings, brakeShare).toFixed(2)
                      : 'no reference yet'}
                  </td>
                  <td className={heat.fades ? 'font-medium text-brick' : ''}>
                    <Why
                      label={`Axle ${axle}: how hot its rotors get`}
                      reason={
                        <p>
                          {Math.round(heat.meanC)} °C on average, from brake power and cooling; a stop adds{' '}
                          {Math.round(heat.stopRiseK)} K, the longest descent {Math.round(heat.descentRiseK)} K. Over
                          200 °C pads wear faster, twice as fast every 100 °C (from memory). Rotor mass and cooling are
                          typical of the class.
                        </p>
                      }
                    >
                      {Math.round(heat.meanC)} to {Math.round(heat.peakC)} °C
                    </Why>
                  </td>
                </tr>
              );
            })}
          </tbody>
        </DataTable>
      )}
      {work && duty && <Fade model={model} duty={duty} />}
    </section>
  );
}

function Fade({ model, duty }: { model: Model; duty: NewDuty }) {
  const settings = DEFAULT_DUTY_SETTINGS[model.class];
  const hot = model.axles
    .map(({ axle, brakeShare }) => ({ axle, heat: rotorTemperature(model, coreDuty(duty), settings, brakeShare) }))
    .filter(({ heat }) => heat.fades);
  const worst = hot.reduce<(typeof hot)[number] | undefined>(
    (a, b) => (!a || b.heat.peakC > a.heat.peakC ? b : a),
    undefined,
  );
  if (!worst) return null;
  const { heat } = worst;
  const what = { stop: 'a single stop', descent: 'the longest descent', mean: 'the day’s braking' }[
    heat.fades ?? 'mean'
  ];
  return (
    <p role="alert" className="border-l-4 border-brick bg-sheet px-3 py-2">
      <strong>Brakes may fade:</strong> {what} takes axle {worst.axle} to about {Math.round(heat.peakC)} °C, beyond{' '}
      {heat.fadeC} °C. Use the retarder and a lower gear, carry less, or choose pads of a higher grade; the maker’s
      instructions come first.
    </p>
  );
}
