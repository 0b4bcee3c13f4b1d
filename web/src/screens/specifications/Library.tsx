import { DataTable } from '../../ui/DataTable.tsx';
import { useState } from 'react';
import { useSearchParams } from 'react-router';
import { mayDo } from '@mile-mark/contract';
import type { Me } from '@mile-mark/contract/people';
import type { JointKindRow, LibraryModel, Specification } from '@mile-mark/contract/specifications';
import { jointsOfBrake } from '@mile-mark/core';
import { useJointKinds, useLibraryModels, useSpecifications } from '../../api/specifications.ts';
import { Button } from '../../ui/Button.tsx';
import { Field } from '../../ui/Field.tsx';
import { Heads } from '../../ui/Heads.tsx';
import { SegmentedControl } from '../../ui/SegmentedControl.tsx';
import { State } from '../../ui/State.tsx';
import { AnotherJoint } from './AnotherJoint.tsx';
import { type Entering, EntryForm } from './EntryForm.tsx';
import { LibraryRow } from './LibraryRow.tsx';
import { NewKind } from './NewKind.tsx';
import { OneSpecification } from './OneSpecification.tsx';
import { VariantSheet } from './VariantSheet.tsx';
import { fitmentInWords } from './fitment.ts';
import { howFar, rowsOf } from './libraryRows.ts';

/** The library: models, their axles, every joint with what counts, what waits, and what is unknown. */
export function Library({ me }: { me: Me }) {
  const models = useLibraryModels();
  const kinds = useJointKinds();
  const [params, setParams] = useSearchParams();
  const [find, setFind] = useState('');
  if (models.isPending || kinds.isPending) return <State title="Loading" what="Fetching the library." quiet />;
  if (models.isLoadingError || kinds.isLoadingError)
    return <State title="The library couldn’t load" what={(models.error ?? kinds.error)?.message ?? ''} />;
  if (models.data.length === 0)
    return (
      <State title="No model on record" what="Import models first; specifications belong to a model and its axle." />
    );
  const model = models.data.find(({ id }) => id === params.get('model')) ?? models.data[0];
  const axle = model?.axles.find((one) => String(one.axle) === params.get('axle')) ?? model?.axles[0];
  const go = (change: Record<string, string>) =>
    setParams({ ...Object.fromEntries(params), view: 'library', ...change });
  const wanted = find.trim().toLowerCase();
  return (
    <div className="grid items-start gap-5 lg:grid-cols-[15rem_1fr]">
      <section aria-label="Models">
        <Field
          label="Find a model"
          hideLabel
          placeholder="Find a model"
          value={find}
          onChange={(event) => setFind(event.target.value)}
        />
        <ul className="mt-2">
          {models.data
            .filter(({ name }) => name.toLowerCase().includes(wanted))
            .map((one) => (
              <li key={one.id}>
                <button
                  aria-current={one.id === model?.id ? 'true' : undefined}
                  onClick={() => go({ model: one.id, axle: '' })}
                  className={`w-full border-b border-l-4 border-hair px-2 py-1.5 text-left ${one.id === model?.id ? 'border-l-ink bg-raised' : 'border-l-transparent'}`}
                >
                  {one.name}
                  <br />
                  <span className="text-soft">{howFar(one)}</span>
                </button>
              </li>
            ))}
        </ul>
      </section>
      {model && axle && (
        <OneModel
          key={`${model.id} ${axle.axle}`}
          model={model}
          axle={axle}
          kinds={kinds.data}
          me={me}
          onAxle={(number) => go({ model: model.id, axle: String(number) })}
        />
      )}
    </div>
  );
}

function OneModel({
  model,
  axle,
  kinds,
  me,
  onAxle,
}: {
  model: LibraryModel;
  axle: LibraryModel['axles'][number];
  kinds: JointKindRow[];
  me: Me;
  onAxle: (axle: number) => void;
}) {
  const specifications = useSpecifications(model.id);
  const [chosen, setChosen] = useState<string>();
  const [entering, setEntering] = useState<Entering>();
  const [another, setAnother] = useState(false);
  const [variants, setVariants] = useState(false);
  const mayEnter = mayDo(me.role, 'specify');
  const own = (specifications.data ?? []).filter((one) => one.axle === axle.axle);
  const rows = rowsOf(kinds, axle.brake, own);
  const row = rows.find(({ key }) => key === chosen);
  const enter = (kind: JointKindRow | null, specification?: Specification) => {
    const from = specification?.released ?? undefined;
    setEntering({
      modelId: model.id,
      model: model.name,
      axle: axle.axle,
      kind,
      position: specification?.position ?? '',
      from: from && { values: from.values, source: from.source },
    });
  };
  return (
    <section aria-label={model.name} className="flex flex-col gap-3">
      <div className="flex flex-wrap items-center gap-x-4 gap-y-2">
        <h2 className="text-lg font-semibold">{model.name}</h2>
        <p className="text-soft">{fitmentInWords(model.fitment) || 'fitment not said'}</p>
        <SegmentedControl
          label="Axle"
          value={String(axle.axle)}
          options={model.axles.map((one) => ({ value: String(one.axle), label: String(one.axle) }))}
          onChange={(next) => onAxle(Number(next))}
        />
        <p className="text-soft">{axle.detail}</p>
        {mayDo(me.role, 'register') && (
          <Button className="ml-auto" onClick={() => setVariants(true)}>
            Fitment and variants …
          </Button>
        )}
      </div>
      {specifications.isError && <p role="alert">{specifications.error.message}</p>}
      <DataTable name="specifications" className="w-full bg-sheet">
        <Heads names={['Joint', 'Fastener', 'Torque', 'Preparation', 'Source', 'State']} />
        <tbody>
          {rows.map((one) => (
            <LibraryRow
              key={one.key}
              row={one}
              chosen={one.key === chosen}
              onChoose={() => setChosen(one.key === chosen ? undefined : one.key)}
              onEnter={mayEnter ? () => enter(one.kind) : undefined}
            />
          ))}
        </tbody>
      </DataTable>
      {mayEnter && (
        <AnotherJoint
          kinds={jointsOfBrake(kinds, axle.brake)}
          onEnter={(kind) => enter(kind)}
          onNewKind={mayDo(me.role, 'register') ? () => setAnother(true) : undefined}
        />
      )}
      {row?.specification && (
        <OneSpecification
          key={row.specification.id}
          specification={row.specification}
          me={me}
          onRevise={mayEnter ? () => enter(row.kind, row.specification) : undefined}
        />
      )}
      {entering && <EntryForm entering={entering} onClose={() => setEntering(undefined)} />}
      {another && <NewKind onClose={() => setAnother(false)} />}
      {variants && <VariantSheet model={model} onClose={() => setVariants(false)} />}
    </section>
  );
}
