import { useState } from 'react';
import { Link, useSearchParams } from 'react-router';
import { toast } from 'sonner';
import { mayDo } from '@mile-mark/contract';
import type { Model, ModelFigures } from '@mile-mark/contract/register';
import { useMe } from '../../../api/people.ts';
import { useAddModel, useCorrectModel, useModelFigures, useModels } from '../../../api/register.ts';
import { Button } from '../../../ui/Button.tsx';
import { Field } from '../../../ui/Field.tsx';
import { FormSheet } from '../../../ui/FormSheet.tsx';
import { State } from '../../../ui/State.tsx';
import { useNewId } from '../../../ui/useNewId.ts';
import { ModelForm, wrongIn } from './ModelForm.tsx';
import { blankAxle, changesOfDraft, draftOfModel, figuresOfDraft, type ModelDraft } from './modelDraft.ts';

/** Models with their axles: the figures that every limit, kit and mark of their vehicles rests on. */
export function Models() {
  const me = useMe();
  const models = useModels();
  const [address, setAddress] = useSearchParams();
  const [adding, setAdding] = useState(false);
  if (models.isPending) return <State title="Loading" what="Fetching the models." quiet />;
  if (models.isLoadingError) return <State title="The models couldn’t load" what={models.error.message} />;
  const mayKeep = mayDo(me.role, 'register');
  const chosen = models.data.find(({ name }) => name === address.get('model')) ?? models.data[0];
  return (
    <div className="grid h-full grid-cols-1 overflow-y-auto lg:grid-cols-[17rem_1fr] lg:overflow-hidden">
      <section aria-label="Models" className="border-line p-4 lg:overflow-y-auto lg:border-r">
        <ul>
          {models.data.map((model) => (
            <li key={model.id}>
              <ModelChoice
                model={model}
                chosen={model.id === chosen?.id}
                onChoose={() => setAddress({ model: model.name }, { replace: true })}
              />
            </li>
          ))}
        </ul>
        {mayKeep && (
          <Button className="mt-3" onClick={() => setAdding(true)}>
            Add a model …
          </Button>
        )}
      </section>
      <section aria-label="Figures" className="p-4 lg:overflow-y-auto">
        {chosen ? (
          <Figures
            key={chosen.id}
            id={chosen.id}
            mayKeep={mayKeep}
            onRenamed={(model) => setAddress({ model }, { replace: true })}
          />
        ) : (
          <State title="No model on record" what="Add one, or take in a list of models." />
        )}
      </section>
      {adding && (
        <AddModel onAdded={(model) => setAddress({ model }, { replace: true })} onClose={() => setAdding(false)} />
      )}
    </div>
  );
}

function ModelChoice({ model, chosen, onChoose }: { model: Model; chosen: boolean; onChoose: () => void }) {
  return (
    <button
      type="button"
      aria-current={chosen || undefined}
      onClick={onChoose}
      className={`w-full border-l-4 px-2 py-1.5 text-left hover:bg-raised touch:min-h-11 ${chosen ? 'border-ink bg-raised font-semibold' : 'border-transparent'}`}
    >
      {model.name}
      <span className="block text-[12px] font-normal text-soft">
        {model.class}, {model.axles.length} {model.axles.length === 1 ? 'axle' : 'axles'}
      </span>
    </button>
  );
}

function Figures({ id, mayKeep, onRenamed }: { id: string; mayKeep: boolean; onRenamed: (name: string) => void }) {
  const figures = useModelFigures(id);
  if (figures.isPending) return <State title="Loading" what="Fetching its figures." quiet />;
  if (figures.isLoadingError) return <State title="Its figures couldn’t load" what={figures.error.message} />;
  // Another revision is another form: what was typed on the old one is refused, not mixed with the new.
  return <Editor key={figures.data.revision} model={figures.data} mayKeep={mayKeep} onRenamed={onRenamed} />;
}

interface EditorProps {
  model: ModelFigures;
  mayKeep: boolean;
  onRenamed: (name: string) => void;
}

function Editor({ model, mayKeep, onRenamed }: EditorProps) {
  const was = draftOfModel(model);
  const [draft, setDraft] = useState<ModelDraft>(was);
  const [reason, setReason] = useState('');
  const [tried, setTried] = useState(false);
  const correct = useCorrectModel();
  const changes = changesOfDraft(was, draft);
  const { vehicles } = model;
  const save = async () => {
    setTried(true);
    if (wrongIn(draft).size > 0) return;
    await correct.mutateAsync({ of: model.id, ...figuresOfDraft(draft), reason, revision: model.revision });
    toast(
      `${draft.name.trim()} is corrected; the marks of ${vehicles === 1 ? 'its vehicle' : `its ${vehicles} vehicles`} are made anew.`,
    );
    onRenamed(draft.name.trim());
  };
  return (
    <form
      className="flex flex-col gap-4"
      onSubmit={(event) => {
        event.preventDefault();
        void save().catch(() => undefined);
      }}
    >
      <div className="flex flex-wrap items-baseline gap-x-4">
        <h2 className="text-lg font-semibold">{model.name}</h2>
        <span className="text-soft">
          {vehicles} {vehicles === 1 ? 'vehicle' : 'vehicles'} of the fleet
        </span>
        <span className="ml-auto flex gap-4">
          <Link
            className="underline decoration-line underline-offset-2"
            to={`/fleet?model=${encodeURIComponent(model.name)}`}
          >
            Its vehicles
          </Link>
          <Link
            className="underline decoration-line underline-offset-2"
            to={`/specifications?view=library&model=${encodeURIComponent(model.name)}`}
          >
            Its specifications
          </Link>
        </span>
      </div>
      <ModelForm
        draft={draft}
        onDraft={setDraft}
        released={model.released}
        error={correct.error}
        mayKeep={mayKeep}
        tried={tried}
      />
      {mayKeep && changes.length > 0 && (
        <div className="flex max-w-3xl flex-col gap-3 border-l-4 border-ink bg-raised p-3">
          <ul>
            {changes.map(({ label, from, to }) => (
              <li key={label}>
                {label}: <span className="figures">{from}</span> → <strong className="figures">{to}</strong>
              </li>
            ))}
          </ul>
          <Field
            label="Why"
            hint="Kept with who corrected it, and when."
            value={reason}
            onChange={(event) => setReason(event.target.value)}
          />
          {correct.error && (
            <p role="alert" className="font-medium text-brick">
              {correct.error.message}
            </p>
          )}
          <div className="flex gap-2">
            <Button type="submit" look="next" disabled={correct.isPending || reason.trim().length < 3}>
              Save
            </Button>
            <Button
              onClick={() => {
                setDraft(was);
                setTried(false);
              }}
            >
              Leave it
            </Button>
          </div>
        </div>
      )}
    </form>
  );
}

function AddModel({ onAdded, onClose }: { onAdded: (name: string) => void; onClose: () => void }) {
  const [id] = useNewId();
  const [draft, setDraft] = useState<ModelDraft>({
    name: '',
    class: 'van',
    tareKg: '',
    gvwrKg: '',
    axles: [blankAxle(1), blankAxle(2)],
  });
  const [tried, setTried] = useState(false);
  const add = useAddModel();
  const save = async () => {
    setTried(true);
    if (wrongIn(draft).size > 0) return;
    await add.mutateAsync({ id, ...figuresOfDraft(draft) });
    const name = draft.name.trim();
    toast(`${name} is on record. Its specifications come next, its vehicles then.`);
    onAdded(name);
    onClose();
  };
  return (
    <FormSheet
      title="Add a model"
      save="Add it"
      wide
      error={add.error}
      disabled={add.isPending || draft.name.trim() === ''}
      onSave={() => void save().catch(() => undefined)}
      onClose={onClose}
    >
      <p className="max-w-prose text-soft">
        From the maker’s data sheet; a figure it does not give is left blank where it may be.
      </p>
      <ModelForm draft={draft} onDraft={setDraft} released={[]} error={add.error} mayKeep tried={tried} />
    </FormSheet>
  );
}
