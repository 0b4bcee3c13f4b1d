import { DataTable } from '../../../ui/DataTable.tsx';
import { useState } from 'react';
import { toast } from 'sonner';
import { mayDo } from '@mile-mark/contract';
import type { Me } from '@mile-mark/contract/people';
import type { Axle, Model } from '@mile-mark/contract/register';
import {
  buildInWords,
  buildOf,
  HYDRAULIC_CALIPERS,
  HYDRAULIC_PARKING,
  SENSOR_PLACES,
  type BrakeBuild,
} from '@mile-mark/core';
import { ApiProblem } from '../../../api/client.ts';
import { useChangeModelBuild, useModels } from '../../../api/register.ts';
import { Button } from '../../../ui/Button.tsx';
import { Choose } from '../../../ui/Choose.tsx';
import { Field } from '../../../ui/Field.tsx';
import { Heads } from '../../../ui/Heads.tsx';
import { Tick } from '../../../ui/Tick.tsx';
import { Modal } from '../../../ui/Modal.tsx';
import { State } from '../../../ui/State.tsx';
import { figure } from '../../../api/typed.ts';

/** How each model's brakes are built, what its reservoir holds, where it is lifted: what service cards branch on. */
export function ModelBuilds({ me }: { me: Me }) {
  const models = useModels();
  const [changing, setChanging] = useState<Model>();
  if (models.isPending) return <State title="Loading" what="Fetching the models." quiet />;
  if (models.isLoadingError)
    return (
      <State title="The models couldn’t load" what={models.error.message}>
        <Button onClick={() => void models.refetch()}>Try again</Button>
      </State>
    );
  if (models.data.length === 0)
    return <State title="No model yet" what="Import a model list: it says how axles are built." />;
  return (
    <>
      <p className="mb-3 max-w-prose text-soft">
        Service cards, kits and tools follow how an axle is built. What is unknown is said on the card and never
        guessed; the maker’s manual comes first.
      </p>
      <DataTable name="model-builds" className="w-full">
        <Heads names={['Model', 'Axle', 'Caliper', 'Parking brake', 'Wear sensor', 'Reservoir', 'Lifted at', '']} />
        <tbody>
          {models.data.map((model) => (
            <Rows
              key={model.id}
              model={model}
              onChange={mayDo(me.role, 'register') ? () => setChanging(model) : undefined}
            />
          ))}
        </tbody>
      </DataTable>
      {changing && <ChangeBuild key={changing.id} model={changing} onClose={() => setChanging(undefined)} />}
    </>
  );
}

function Rows({ model, onChange }: { model: Model; onChange: (() => void) | undefined }) {
  return model.axles.map((axle, index) => {
    const build = buildOf(axle.brake, axle.brakeDetail);
    const first = index === 0;
    const hydraulic = model.axles.some(({ brake }) => brake === 'hydraulic');
    return (
      <tr key={axle.axle} className={`align-top ${index === model.axles.length - 1 ? 'border-b border-hair' : ''}`}>
        {first ? (
          <th scope="row" className="px-2 py-1.5 text-left font-medium">
            {model.name}
          </th>
        ) : (
          <td />
        )}
        <td className="figures px-2 py-1.5">{axle.axle}</td>
        <td className={`px-2 py-1.5 ${build.caliper === 'unknown' ? 'font-semibold' : ''}`}>
          {build.caliper === 'air' ? 'air disc' : build.caliper}
        </td>
        <td className="px-2 py-1.5">
          {build.parking === 'none' ? <span className="text-soft">not here</span> : build.parking}
        </td>
        <td className="px-2 py-1.5">
          {build.sensor === 'none' ? <span className="text-soft">none</span> : build.sensor}
        </td>
        <td className="figures px-2 py-1.5">
          {first &&
            hydraulic &&
            (model.reservoirMl === null ? (
              <span className="text-soft">not said: 100 mL is taken</span>
            ) : (
              `${model.reservoirMl} mL`
            ))}
        </td>
        <td className="max-w-xs px-2 py-1.5 text-soft">
          {first && (model.liftingPoints ?? 'as the maker’s manual says')}
        </td>
        <td className="px-2 py-1 text-right">
          {first && onChange && (
            <Button onClick={onChange} aria-label={`Change ${model.name}`}>
              Change …
            </Button>
          )}
        </td>
      </tr>
    );
  });
}

function ChangeBuild({ model, onClose }: { model: Model; onClose: () => void }) {
  const change = useChangeModelBuild();
  const [builds, setBuilds] = useState(() =>
    Object.fromEntries(model.axles.map((axle) => [axle.axle, buildOf(axle.brake, axle.brakeDetail)])),
  );
  const [typed, setTyped] = useState({
    reservoir: model.reservoirMl === null ? '' : String(model.reservoirMl),
    lifting: model.liftingPoints ?? '',
  });
  const [retarder, setRetarder] = useState(model.retarder);
  const problem = change.error instanceof ApiProblem ? change.error : undefined;
  const keep = () =>
    change.mutate(
      {
        id: model.id,
        axles: model.axles.map(({ axle, brake }) => {
          const { caliper, parking, sensor } = builds[axle] as BrakeBuild;
          return brake === 'air' || caliper === 'air' || parking === 'spring brake'
            ? { axle, sensor }
            : { axle, caliper, parking, sensor };
        }),
        reservoirMl: typed.reservoir.trim() === '' ? null : figure(typed.reservoir.replace(/mL\s*$/i, ''), true),
        liftingPoints: typed.lifting.trim() === '' ? null : typed.lifting,
        retarder,
        revision: model.revision,
      },
      {
        onSuccess: () => {
          toast(`${model.name}: cards that are not closed follow it at once.`);
          onClose();
        },
      },
    );
  return (
    <Modal open wide onClose={onClose} title={`How ${model.name} is built`}>
      <form
        className="flex flex-col gap-3"
        onSubmit={(event) => {
          event.preventDefault();
          keep();
        }}
      >
        {model.axles.map((axle) => (
          <AxleBuild
            key={axle.axle}
            axle={axle}
            build={builds[axle.axle] as BrakeBuild}
            onChange={(build) => setBuilds({ ...builds, [axle.axle]: build })}
          />
        ))}
        <div className="grid gap-3 border-t border-hair pt-3 sm:grid-cols-[14rem_1fr]">
          {model.axles.some(({ brake }) => brake === 'hydraulic') && (
            <Field
              label="Reservoir, MIN to MAX, mL"
              inputMode="numeric"
              hint="Blank where nobody knows."
              value={typed.reservoir}
              error={problem?.of('reservoirMl')}
              onChange={(event) => setTyped({ ...typed, reservoir: event.target.value })}
            />
          )}
          <Field
            label="Where it is lifted"
            hint="From the maker’s manual; blank where nobody has looked it up."
            value={typed.lifting}
            error={problem?.of('liftingPoints')}
            onChange={(event) => setTyped({ ...typed, lifting: event.target.value })}
          />
        </div>
        <Tick checked={retarder} onChange={setRetarder}>
          Has a retarder or an engine brake of its own. Without one a duty’s retarder share counts up to 20 %, what an
          engine takes by itself; marks of its vehicles are computed anew.
        </Tick>
        {change.isError && (
          <p role="alert" className="font-medium text-brick">
            {problem?.problem.errors?.[0]?.message ?? change.error.message}
          </p>
        )}
        <div>
          <Button look="next" type="submit" disabled={change.isPending}>
            Save
          </Button>
        </div>
      </form>
    </Modal>
  );
}

function AxleBuild({
  axle,
  build,
  onChange,
}: {
  axle: Axle;
  build: BrakeBuild;
  onChange: (build: BrakeBuild) => void;
}) {
  const now = buildOf(axle.brake, axle.brakeDetail);
  const same = (['caliper', 'parking', 'sensor'] as const).every((part) => now[part] === build[part]);
  const choice = <K extends keyof BrakeBuild>(part: K, label: string, options: readonly BrakeBuild[K][]) => (
    <Choose
      label={label}
      value={build[part]}
      onChange={({ target }) => onChange({ ...build, [part]: target.value as BrakeBuild[K] })}
    >
      {options.map((option) => (
        <option key={option} value={option}>
          {option}
        </option>
      ))}
    </Choose>
  );
  return (
    <fieldset className="border-t border-hair pt-2">
      <legend className="font-semibold">Axle {axle.axle}</legend>
      <div className="grid gap-3 sm:grid-cols-3">
        {axle.brake === 'hydraulic' ? (
          <>
            {choice('caliper', 'Caliper', HYDRAULIC_CALIPERS)}
            {choice('parking', 'Parking brake', HYDRAULIC_PARKING)}
          </>
        ) : (
          <p className="self-center sm:col-span-2">Air disc with spring brakes.</p>
        )}
        {choice('sensor', 'Wear sensor', SENSOR_PLACES)}
      </div>
      <p className="mt-1 text-[13px] text-soft">
        {same ? `On record: ${axle.brakeDetail}` : `Was: ${axle.brakeDetail}. Will be: ${buildInWords(build)}`}
      </p>
    </fieldset>
  );
}
