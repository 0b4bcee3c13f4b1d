import type { Shop } from '@mile-mark/contract/plan';
import { Button } from '../../ui/Button.tsx';
import { Choose } from '../../ui/Choose.tsx';
import { Field } from '../../ui/Field.tsx';
import { Tick } from '../../ui/Tick.tsx';
import { at, type ShopFormPart } from './shopFormState.ts';
import { WEEKDAYS } from './figures.ts';

const NO_HOURS = WEEKDAYS.map(() => '');

/** The people of a shop with their hours by weekday. */
export function ShopPeople({ form, setForm, problem, known }: ShopFormPart & { known: Shop['people'] }) {
  const others = known.filter(({ id }) => !form.people.some(({ personId }) => personId === id));
  return (
    <fieldset className="flex flex-col gap-2">
      <legend className="font-semibold">People and their hours on brakes, Monday to Sunday</legend>
      {problem?.of('people') && (
        <p role="alert" className="font-medium text-brick">
          {problem.of('people')}
        </p>
      )}
      {form.people.map((one, i) => {
        const name = known.find(({ id }) => id === one.personId)?.name ?? 'somebody who left';
        return (
          <div key={one.personId} className="grid grid-cols-[9rem_1fr_auto_auto] items-center gap-3">
            <span className="font-medium">{name}</span>
            <div className="grid grid-cols-7 gap-1">
              {one.hours.map((there, day) => (
                <Field
                  key={WEEKDAYS[day]}
                  label={`${name}, ${WEEKDAYS[day]}`}
                  hideLabel
                  inputMode="decimal"
                  placeholder={WEEKDAYS[day]}
                  value={there}
                  onChange={(event) =>
                    setForm({
                      ...form,
                      people: at(form.people, i, { ...one, hours: at(one.hours, day, event.target.value) }),
                    })
                  }
                  error={problem?.of(`people.${i}.hours.${day}`)}
                />
              ))}
            </div>
            <Tick
              checked={one.certified}
              onChange={(certified) => setForm({ ...form, people: at(form.people, i, { ...one, certified }) })}
            >
              air brakes
            </Tick>
            <Button look="bare" onClick={() => setForm({ ...form, people: form.people.filter((_own, k) => k !== i) })}>
              Leave out
            </Button>
          </div>
        );
      })}
      {others.length > 0 && (
        <div className="w-56">
          <Choose
            label="Add a person"
            hideLabel
            value=""
            onChange={({ target }) =>
              target.value &&
              setForm({
                ...form,
                people: [...form.people, { personId: target.value, certified: false, hours: NO_HOURS }],
              })
            }
          >
            <option value="">Add a person …</option>
            {others.map(({ id, name }) => (
              <option key={id} value={id}>
                {name}
              </option>
            ))}
          </Choose>
        </div>
      )}
    </fieldset>
  );
}
