import { useState } from 'react';
import { toast } from 'sonner';
import { mayDo } from '@mile-mark/contract';
import type { ModelKitLine, ModelKits, ModelKitWork } from '@mile-mark/contract/parts';
import type { Me } from '@mile-mark/contract/people';
import { ACTION_WORDS, countInWords, kitChangeInWords, takesInWords } from '@mile-mark/contract/words';
import { useModelKits } from '../../api/parts.ts';
import { useModels } from '../../api/register.ts';
import { Button } from '../../ui/Button.tsx';
import { Choose } from '../../ui/Choose.tsx';
import { State } from '../../ui/State.tsx';
import { formatDate } from '../../ui/format.ts';
import { useAddressed } from '../../ui/useAddressed.ts';
import { KitChangeForm, type Changing } from './KitChangeForm.tsx';

/** The kits of a model: what each work takes at each axle, and what the shop changed of it by hand. */
export function Kits({ me }: { me: Me }) {
  const models = useModels();
  const [chosen, setChosen] = useAddressed('model', '');
  const model = chosen || (models.data?.[0]?.name ?? '');
  const kits = useModelKits(model);
  const [changing, setChanging] = useState<Changing>();
  const supplies = mayDo(me.role, 'supply');
  if (models.data?.length === 0)
    return <State title="No model" what="A model’s kits stand here once the model is on record." quiet />;
  return (
    <section aria-label="Kits">
      <div className="mb-3 flex flex-wrap items-end gap-4">
        <Choose label="Model" value={model} onChange={({ target }) => setChosen(target.value)}>
          {(models.data ?? []).map(({ name }) => (
            <option key={name}>{name}</option>
          ))}
        </Choose>
        {kits.data && (
          <p className="text-soft">
            Version <span className="figures font-semibold text-ink">{kits.data.version}</span>
            {kits.data.version === 1 && ', as the catalogue and the shop’s policy give it'}
          </p>
        )}
      </div>
      {kits.isLoadingError && <State title="The kits couldn’t load" what={kits.error.message} />}
      {kits.isPending && model !== '' && <State title="Loading" what="Putting the kits together." quiet />}
      {kits.data?.axles.map((axle) => (
        <AxleKits
          key={axle.axle}
          axle={axle}
          onChange={supplies ? (action, line) => setChanging({ axle: axle.axle, action, line }) : undefined}
        />
      ))}
      {kits.data && <History changes={kits.data.changes} />}
      {kits.data && changing && (
        <KitChangeForm
          model={model}
          version={kits.data.version}
          changing={changing}
          onDone={(told) => {
            toast(told);
            setChanging(undefined);
          }}
          onClose={() => setChanging(undefined)}
        />
      )}
    </section>
  );
}

interface AxleProps {
  axle: ModelKits['axles'][number];
  onChange: ((action: ModelKitWork['action'], line: ModelKitLine | undefined) => void) | undefined;
}

function AxleKits({ axle: { axle, build, works, faults }, onChange }: AxleProps) {
  return (
    <section aria-label={`Kits of axle ${axle}`} className="mb-5">
      <h2 className="border-b border-line pb-1 text-lg font-semibold">
        Axle {axle} <span className="text-base font-normal text-soft">{build}</span>
      </h2>
      {faults.map((text) => (
        <p key={text} className="font-medium text-brick">
          {text}
        </p>
      ))}
      {works.map((work) => (
        <div
          key={work.action}
          className="grid grid-cols-[13rem_1fr] gap-x-4 border-b border-hair py-1.5 max-sm:grid-cols-1"
        >
          <div>
            <h3 className="font-semibold">
              {work.action === 'pads' ? 'With every set of pads' : `With ${ACTION_WORDS[work.action]}`}
            </h3>
            {work.chance && (
              <p className="text-soft">
                <span className="figures">{share(work.chance.mean)}</span> of jobs (
                <span className="figures">
                  {share(work.chance.low)} to {share(work.chance.high)}
                </span>
                ); {countInWords(work.chance.jobs, 'closed job')} of it told
              </p>
            )}
            {onChange && (
              <Button look="bare" onClick={() => onChange(work.action, undefined)}>
                Take something more …
              </Button>
            )}
          </div>
          <ul className="max-w-4xl">
            {work.lines.map((line) => (
              <Line
                key={`${line.kind}/${line.side}`}
                line={line}
                onChange={onChange && (() => onChange(work.action, line))}
              />
            ))}
          </ul>
        </div>
      ))}
    </section>
  );
}

const share = (value: number) => `${Math.round(value * 100)} %`;

function Line({ line, onChange }: { line: ModelKitLine; onChange: (() => void) | undefined }) {
  const [, ...others] = line.options;
  return (
    <li className="flex flex-wrap items-baseline gap-x-3 py-0.5">
      <span className="w-48">
        {line.kind}
        {line.side !== 'both' && ` ${line.side}`}
      </span>
      <span className={line.options.length === 0 ? 'font-medium text-brick' : 'figures font-semibold'}>
        {line.options.length === 0 ? 'no part of the catalogue fits' : takesInWords(line)}
      </span>
      {others.length > 0 && <span className="text-soft">or {others.map(({ part }) => part).join(', ')}</span>}
      {line.oneTimeUse && <span className="text-soft">never fitted twice</span>}
      {line.changed && (
        <span>
          by hand since {formatDate(line.changed.on)}, {line.changed.by}: {line.changed.reason}
        </span>
      )}
      {onChange && (
        <span className="ml-auto">
          <Button
            look="bare"
            aria-label={`Change ${line.kind} ${line.side === 'both' ? '' : line.side}`}
            onClick={onChange}
          >
            Change …
          </Button>
        </span>
      )}
    </li>
  );
}

function History({ changes }: { changes: ModelKits['changes'] }) {
  return (
    <section aria-label="Changed by hand">
      <h2 className="border-b border-line pb-1 text-lg font-semibold">Changed by hand</h2>
      {changes.length === 0 && <p className="py-1 text-soft">Nothing yet.</p>}
      <ul>
        {changes.map((one) => (
          <li key={one.version} className={`border-b border-hair py-1 ${one.counts ? '' : 'text-soft'}`}>
            <span className="figures font-semibold">Version {one.version}</span>, {formatDate(one.on)}, {one.by}:{' '}
            {kitChangeInWords(one)}. {one.reason}
            {!one.counts && one.quantity !== null && ' (changed again since)'}
          </li>
        ))}
      </ul>
    </section>
  );
}
