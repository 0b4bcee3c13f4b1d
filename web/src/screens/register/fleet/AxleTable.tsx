import { Choose } from '../../../ui/Choose.tsx';
import { Field } from '../../../ui/Field.tsx';
import { AXLE_FIELDS, type AxleDraft, type AxleField } from './modelDraft.ts';

interface Props {
  axles: readonly AxleDraft[];
  released: readonly number[];
  mayKeep: boolean;
  /** What is wrong at a field such as `axles.0.padNewMm`. */
  errorAt: (field: string) => string | undefined;
  onAxles: (axles: AxleDraft[]) => void;
}

/** Figures that a released specification holds instead of the list. */
const RELEASED = new Set(['padMakerMinMm', 'rotorDiscardMm', 'rotorMachineToMm']);

/** Whether a figure is blank that the axle could have: an air brake has no pistons to push back. */
const isUnknown = (axle: AxleDraft, key: AxleField['key']) =>
  axle[key].trim() === '' && !(key === 'pistonsMm' && axle.brake === 'air');

/** The figures of a model, a column for each axle; at a blank one stands what is not known without it. */
export function AxleTable({ axles, released, mayKeep, errorAt, onAxles }: Props) {
  const change = (index: number, part: Partial<AxleDraft>) =>
    onAxles(axles.map((axle, k) => (k === index ? { ...axle, ...part } : axle)));
  return (
    <div className="overflow-x-auto">
      <table className="text-left">
        <thead>
          <tr className="border-b border-line text-soft">
            <th scope="col" className="px-2 py-1 font-medium">
              <span className="sr-only">Figure</span>
            </th>
            {axles.map(({ axle }) => (
              <th key={axle} scope="col" className="w-60 px-2 py-1 font-medium">
                Axle {axle}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          <tr>
            <th scope="row" className="px-2 py-1 font-normal">
              Brake
            </th>
            {axles.map(({ axle, brake }, index) => (
              <td key={axle} className="px-2 py-1 align-top">
                <Choose
                  label={`Brake of axle ${axle}`}
                  hideLabel
                  value={brake}
                  disabled={!mayKeep}
                  onChange={(event) => change(index, { brake: event.target.value === 'air' ? 'air' : 'hydraulic' })}
                  error={errorAt(`axles.${index}.brake`)}
                >
                  <option>hydraulic</option>
                  <option>air</option>
                </Choose>
              </td>
            ))}
          </tr>
          {AXLE_FIELDS.map(({ key, label, without }) => (
            <tr key={key}>
              <th scope="row" className="w-56 px-2 py-1 pt-2.5 align-top font-normal">
                {label}
                {without && axles.some((axle) => isUnknown(axle, key)) && (
                  <span className="block text-[12px] text-soft">blank: {without}</span>
                )}
              </th>
              {axles.map((axle, index) => (
                <td key={axle.axle} className="px-2 py-1 align-top">
                  <Field
                    label={`${label}, axle ${axle.axle}`}
                    hideLabel
                    readOnly={!mayKeep}
                    inputMode={key === 'brakeDetail' || key === 'pistonsMm' ? 'text' : 'decimal'}
                    value={axle[key]}
                    onChange={(event) => change(index, { [key]: event.target.value })}
                    error={errorAt(`axles.${index}.${key}`)}
                    hint={
                      RELEASED.has(key) && released.includes(axle.axle) ? 'A released specification holds.' : undefined
                    }
                  />
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}
