import { DataTable } from '../../../ui/DataTable.tsx';
import { useState } from 'react';
import { toast } from 'sonner';
import { mayDo } from '@mile-mark/contract';
import type { ShopPolicyView } from '@mile-mark/contract/jobs';
import type { Me } from '@mile-mark/contract/people';
import type { Matter } from '@mile-mark/core';
import { useChangePolicy, useShopPolicy } from '../../../api/jobs.ts';
import { useModels } from '../../../api/register.ts';
import { Button } from '../../../ui/Button.tsx';
import { Choose } from '../../../ui/Choose.tsx';
import { State } from '../../../ui/State.tsx';
import { formatDate } from '../../../ui/format.ts';

/** What good practitioners differ on, settled once: for the fleet, a class or a model. */
export function Matters({ me }: { me: Me }) {
  const policy = useShopPolicy();
  if (policy.isPending) return <State title="Loading" what="Fetching what the shop has settled." quiet />;
  if (policy.isLoadingError)
    return (
      <State title="The policy couldn’t load" what={policy.error.message}>
        <Button onClick={() => void policy.refetch()}>Try again</Button>
      </State>
    );
  return <Settled policy={policy.data} me={me} />;
}

const CLASSES = { pickup: 'pickups', van: 'vans', heavy: 'heavy trucks' } as const;

function Settled({ policy, me }: { policy: ShopPolicyView; me: Me }) {
  const models = useModels();
  const [of, setOf] = useState('fleet');
  const change = useChangePolicy();
  const [level, subject] =
    of === 'fleet' ? (['fleet', ''] as const) : of in CLASSES ? (['class', of] as const) : (['model', of] as const);
  const settledAt = (matter: Matter) =>
    policy.settings.find((one) => one.matter === matter && one.level === level && one.subject === subject);
  const settle = (matter: Matter, option: string) =>
    change.mutate(
      { matter, level, option, revision: policy.revision, ...(level === 'fleet' ? {} : { subject }) },
      { onSuccess: () => toast(`${matter}: ${option}. Cards that begin from now on follow it.`) },
    );
  return (
    <>
      <div className="mb-3 flex flex-wrap items-end gap-4">
        <div className="w-64">
          <Choose label="For" hideLabel value={of} onChange={(event) => setOf(event.target.value)}>
            <option value="fleet">the whole fleet</option>
            {Object.entries(CLASSES).map(([value, label]) => (
              <option key={value} value={value}>
                {label}
              </option>
            ))}
            {(models.data ?? []).map(({ name }) => (
              <option key={name} value={name}>
                {name}
              </option>
            ))}
          </Choose>
        </div>
        <p className="max-w-prose text-soft">
          Cards follow it from the moment their work begins. Torque is always by the wrench: that is no choice. The
          maker’s instructions come first.
        </p>
      </div>
      {change.isError && (
        <p role="alert" className="mb-2 border-l-4 border-brick pl-3 font-medium text-brick">
          {change.error.message}
        </p>
      )}
      <DataTable name="shop-policy" className="w-full text-left">
        <thead>
          <tr className="border-b border-line text-soft">
            <th className="py-1 pr-3 font-medium">Matter</th>
            <th className="pr-3 font-medium">What is done</th>
            <th className="pr-3 font-medium">When each makes sense</th>
            <th className="font-medium">Settled</th>
          </tr>
        </thead>
        <tbody>
          {policy.matters.map(({ matter, options, fleet, whens }) => {
            const own = settledAt(matter);
            return (
              <tr key={matter} className="border-b border-hair align-top">
                <th scope="row" className="py-1.5 pr-3 font-medium first-letter:uppercase">
                  {matter}
                </th>
                <td className="w-64 py-1.5 pr-3">
                  {mayDo(me.role, 'register') ? (
                    <Choose
                      label={matter}
                      hideLabel
                      value={own?.option ?? (level === 'fleet' ? fleet : '')}
                      onChange={(event) => event.target.value && settle(matter, event.target.value)}
                    >
                      {level !== 'fleet' && <option value="">as the fleet: {fleet}</option>}
                      {options.map((option) => (
                        <option key={option} value={option}>
                          {option}
                        </option>
                      ))}
                    </Choose>
                  ) : (
                    (own?.option ?? fleet)
                  )}
                </td>
                <td className="py-1.5 pr-3 text-soft">{whens.join(' ')}</td>
                <td className="py-1.5 text-[13px] whitespace-nowrap text-soft">
                  {own ? `${own.by}, ${formatDate(own.on)}` : 'as shipped'}
                </td>
              </tr>
            );
          })}
        </tbody>
      </DataTable>
    </>
  );
}
