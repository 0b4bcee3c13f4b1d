import { useMemo, useState } from 'react';
import { useSearchParams } from 'react-router';
import { mayDo } from '@mile-mark/contract';
import type { Me } from '@mile-mark/contract/people';
import type { DutyInUse, Model, NewDuty } from '@mile-mark/contract/register';
import { useVehicle } from '../../../api/forecasts.ts';
import { useMe } from '../../../api/people.ts';
import { useDuties, useModels } from '../../../api/register.ts';
import { SegmentedControl } from '../../../ui/SegmentedControl.tsx';
import { State } from '../../../ui/State.tsx';
import { formatDate } from '../../../ui/format.ts';
import { FeedPart } from '../../telematics/index.ts';
import { DutyForm } from './DutyForm.tsx';
import { ModelChoice } from './ModelChoice.tsx';
import { TracePart } from './TracePart.tsx';
import { WorkDrawn } from './WorkDrawn.tsx';
import { draftOf, type DutyDraft, dutyOfDraft } from './figures.ts';

const VIEWS = [
  { value: 'duties', label: 'Duties' },
  { value: 'trace', label: 'From a trace' },
  { value: 'feed', label: 'Telematics' },
] as const;
type View = (typeof VIEWS)[number]['value'];

/** Duty: what vehicles are asked to do, stated, read from a trace, or heard from telematics. */
export function Duty() {
  const me = useMe();
  const duties = useDuties();
  const models = useModels();
  const [params, setParams] = useSearchParams();
  const unit = params.get('for') ?? undefined;
  const vehicle = useVehicle(unit);
  if (duties.isPending || models.isPending || (unit !== undefined && vehicle.isPending))
    return <State title="Loading" what="Fetching duties and models." quiet />;
  if (duties.isLoadingError || models.isLoadingError)
    return <State title="They couldn’t load" what={(duties.error ?? models.error)?.message ?? ''} />;
  const [firstModel] = models.data;
  if (!firstModel)
    return <State title="No model on record" what="Import models first; a duty is weighed on the masses of a model." />;
  const view = VIEWS.find(({ value }) => value === params.get('view'))?.value ?? 'duties';
  return (
    <div className="flex h-full flex-col">
      <header className="flex flex-wrap items-center gap-4 border-b border-line px-4 py-2">
        <h1 className="text-xl font-semibold">Duty</h1>
        <SegmentedControl
          label="View"
          hideLabel
          value={view}
          options={VIEWS}
          onChange={(next) => setParams({ ...Object.fromEntries(params), view: next })}
        />
        {unit && (
          <p className="text-soft">
            for <span className="figures font-semibold text-ink">{unit}</span>
            {params.get('since') && ` from ${formatDate(params.get('since') ?? '')}`}
          </p>
        )}
      </header>
      <div className="min-h-0 flex-1 overflow-y-auto p-4">
        {view === 'feed' ? (
          <FeedPart me={me} />
        ) : (
          <Stated
            key={unit ?? ''}
            me={me}
            duties={duties.data}
            models={models.data}
            firstModel={firstModel}
            view={view}
            unit={
              vehicle.data ? { unit: vehicle.data.unit, model: vehicle.data.model, duty: vehicle.data.duty } : undefined
            }
            since={params.get('since') ?? undefined}
            toDuties={() => setParams({ ...Object.fromEntries(params), view: 'duties' })}
          />
        )}
      </div>
    </div>
  );
}

interface StatedProps {
  me: Me;
  duties: DutyInUse[];
  models: Model[];
  firstModel: Model;
  view: View;
  unit: { unit: string; model: string; duty: string | null } | undefined;
  since: string | undefined;
  toDuties: () => void;
}

function Stated({ me, duties, models, firstModel, view, unit, since, toDuties }: StatedProps) {
  const [modelName, setModel] = useState(unit?.model ?? firstModel.name);
  const model = models.find(({ name }) => name === modelName) ?? firstModel;
  const reference = duties.find(({ name }) => name === model.referenceDuty);
  const present = duties.find(({ name }) => name === unit?.duty);
  const [chosen, setChosen] = useState(present ?? reference ?? duties[0]);
  const [draft, setDraft] = useState<DutyDraft>(draftOf(chosen, unit ? '' : (chosen?.name ?? ''), me.distanceUnit));
  const [source, setSource] = useState<Pick<NewDuty, 'source' | 'sourceNote'>>({ source: 'stated' });
  const typed = useMemo(
    () => dutyOfDraft({ ...draft, name: draft.name || '?' }, { id: '', ...source }, me.distanceUnit),
    [draft, source, me.distanceUnit],
  );
  const mayState = mayDo(me.role, 'register');
  const choose = (duty: DutyInUse) => {
    setChosen(duty);
    setDraft(draftOf(duty, duty.name, me.distanceUnit));
    setSource({ source: 'stated' });
  };
  return (
    <div className="grid gap-6 lg:grid-cols-[15rem_minmax(24rem,28rem)_1fr]">
      <section aria-label="Duties on record">
        <h2 className="mb-1 font-semibold">On record</h2>
        <ul>
          {duties.map((duty) => (
            <li key={duty.id}>
              <button
                onClick={() => choose(duty)}
                aria-current={chosen?.id === duty.id ? 'true' : undefined}
                className={`w-full border-b border-l-4 border-hair px-2 py-1.5 text-left ${chosen?.id === duty.id ? 'border-l-ink bg-raised' : 'border-l-transparent'}`}
              >
                {duty.name}
                <br />
                <span className="text-soft">
                  {duty.vehicles} {duty.vehicles === 1 ? 'vehicle' : 'vehicles'}
                  {duty.source === 'trace' && ' · from a trace'}
                </span>
              </button>
            </li>
          ))}
        </ul>
      </section>
      {view === 'trace' ? (
        <div className="lg:col-span-2">
          <div className="mb-3 max-w-sm">
            <ModelChoice models={models} value={model.name} onChange={setModel} />
          </div>
          <TracePart
            key={model.name}
            model={model}
            onDuty={(found, note, milesPerDay) => {
              const traced = {
                ...found,
                id: '',
                name: '',
                milesPerDay: Math.max(1, milesPerDay),
                slowdownsPerMile: found.slowdownsPerMile ?? 0,
                slowdownFromMph: found.slowdownFromMph ?? 0,
                slowdownToMph: found.slowdownToMph ?? 0,
                longestDescentM: found.longestDescentM ?? 0,
                source: 'trace' as const,
                sourceNote: null,
              };
              setDraft(draftOf(traced, '', me.distanceUnit));
              setChosen(undefined);
              setSource({ source: 'trace', sourceNote: note });
              toDuties();
            }}
          />
        </div>
      ) : (
        <>
          <DutyForm
            key={`${chosen?.id ?? ''}${source.source}`}
            draft={draft}
            setDraft={setDraft}
            source={source}
            chosen={chosen}
            mayState={mayState}
            unit={unit?.unit}
            since={since}
            onKept={(duty) => {
              setChosen({ ...duty, vehicles: 0, sourceNote: duty.sourceNote ?? null });
              setDraft(draftOf({ ...duty, sourceNote: null }, duty.name, me.distanceUnit));
              setSource({ source: 'stated' });
            }}
          />
          <div className="flex flex-col gap-3">
            <div className="max-w-sm">
              <ModelChoice models={models} value={model.name} onChange={setModel} />
            </div>
            <WorkDrawn model={model} duty={typed.ok ? typed.duty : undefined} reference={reference} />
          </div>
        </>
      )}
    </div>
  );
}
