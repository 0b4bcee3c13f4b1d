import { useState } from 'react';
import { toast } from 'sonner';
import { mayDo } from '@mile-mark/contract';
import type { Me } from '@mile-mark/contract/people';
import type { Shop as ShopView } from '@mile-mark/contract/plan';
import { countInWords, moneyInWords } from '@mile-mark/contract/words';
import { useShop, useWithdrawAbsence } from '../../api/plan.ts';
import { Button } from '../../ui/Button.tsx';
import { State } from '../../ui/State.tsx';
import { formatDate } from '../../ui/format.ts';
import { AddAbsence } from './AddAbsence.tsx';
import { PlanTermsForm } from './PlanTermsForm.tsx';
import { ShopForm } from './ShopForm.tsx';
import { Ways } from './Ways.tsx';
import { hours, WEEKDAYS } from './figures.ts';

/** How a depot’s shop works, who is away, and what a plan weighs. */
export function Shop({ me, depot }: { me: Me; depot: string }) {
  const shop = useShop();
  const [open, setOpen] = useState<'week' | 'terms' | 'away'>();
  const may = mayDo(me.role, 'plan');
  if (shop.isPending) return <State title="Loading" what="Fetching the shops." quiet />;
  if (shop.isLoadingError)
    return (
      <State title="The shops couldn’t load" what={shop.error.message}>
        <Button onClick={() => void shop.refetch()}>Try again</Button>
      </State>
    );
  const own = shop.data.depots.find((one) => one.depot === depot);
  const close = () => setOpen(undefined);
  return (
    <div className="grid min-h-0 flex-1 gap-8 overflow-y-auto lg:grid-cols-2">
      <div className="flex flex-col gap-6">
        {own ? (
          <Week week={own} people={shop.data.people} may={may} onChange={() => setOpen('week')} />
        ) : (
          <p className="text-soft">{depot} has no vehicles.</p>
        )}
        <Ways shop={shop.data} depot={depot} may={may} />
        <TermsNote shop={shop.data} may={may} onChange={() => setOpen('terms')} />
      </div>
      <AwayList shop={shop.data} may={may} onAdd={() => setOpen('away')} />
      {open === 'week' && own && <ShopForm week={own} people={shop.data.people} onClose={close} />}
      {open === 'terms' && <PlanTermsForm terms={shop.data.terms} currency={shop.data.currency} onClose={close} />}
      {open === 'away' && <AddAbsence shop={shop.data} depot={depot} onClose={close} />}
    </div>
  );
}

type Depot = ShopView['depots'][number];

function Week({
  week,
  people,
  may,
  onChange,
}: {
  week: Depot;
  people: ShopView['people'];
  may: boolean;
  onChange: () => void;
}) {
  const nameOf = (id: string) => people.find((one) => one.id === id)?.name ?? 'somebody who left';
  return (
    <section aria-label={`The shop of ${week.depot}`}>
      <h2 className="flex flex-wrap items-baseline gap-3 text-lg font-semibold">
        {week.depot}
        {may && (
          <Button look="bare" className="text-base font-normal" onClick={onChange}>
            Change …
          </Button>
        )}
      </h2>
      {week.people.length === 0 && (
        <p className="font-medium text-brick">Nobody is said to work here: no plan can be made for it.</p>
      )}
      <div className="overflow-x-auto">
        <table className="mt-1 w-full text-left">
          <thead>
            <tr className="border-b border-line text-soft">
              <th className="py-1 pr-2 font-medium">Hours a day</th>
              {WEEKDAYS.map((day) => (
                <th key={day} className="px-1 py-1 text-right font-medium">
                  {day}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            <tr className="border-b border-hair">
              <th scope="row" className="py-1 pr-2 text-left font-medium">
                Open
              </th>
              {week.open.map((day, i) => (
                <td key={WEEKDAYS[i]} className="figures px-1 py-1 text-right text-soft">
                  {day ? `${day.from}–${day.to}` : 'shut'}
                </td>
              ))}
            </tr>
            {week.people.map((one) => (
              <tr key={one.personId} className="border-b border-hair">
                <th scope="row" className="py-1 pr-2 text-left font-medium">
                  {nameOf(one.personId)}
                  {one.certified && <span className="font-normal text-soft">, air brakes</span>}
                </th>
                {one.hours.map((there, i) => (
                  <td key={WEEKDAYS[i]} className="figures px-1 py-1 text-right">
                    {there > 0 ? hours(there) : '–'}
                  </td>
                ))}
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      <p className="mt-2">
        {week.bays
          .map(({ name, kind }) => `${name}: ${kind === 'heavy' ? 'heavy vehicles' : 'pickups and vans'}`)
          .join('; ') || 'No bay.'}
        . At most <span className="figures">{hours(week.overtimeHours)} h</span> over in a day.
        {week.offRoad.map(
          (cap) =>
            ` At most ${cap.most} ${cap.class === 'heavy' ? 'heavy vehicles' : `${cap.class}s`} off the road at once.`,
        )}
      </p>
      {week.by !== null && week.on !== null && (
        <p className="text-soft">
          {week.by}, {formatDate(week.on)}
        </p>
      )}
    </section>
  );
}

function TermsNote({
  shop: { terms, currency },
  may,
  onChange,
}: {
  shop: ShopView;
  may: boolean;
  onChange: () => void;
}) {
  const money = (minor: number) => moneyInWords(minor, currency);
  return (
    <section aria-label="What a plan weighs">
      <h2 className="flex flex-wrap items-baseline gap-3 text-lg font-semibold">
        What a plan weighs
        {may && (
          <Button look="bare" className="text-base font-normal" onClick={onChange}>
            Change …
          </Button>
        )}
      </h2>
      <p>
        A visit {money(terms.visitMinor)} and <span className="figures">{hours(terms.setUpHours)} h</span> of setting
        up; an hour off the road {money(terms.downtimePerHourMinor)}, an hour of overtime{' '}
        {money(terms.overtimePerHourMinor)};{' '}
        {terms.outside
          ? `an outside shop ${money(terms.outside.fixedMinor)} and ${money(terms.outside.perHourMinor)} an hour`
          : 'no outside shop'}
        ; a day past the risk target {money(terms.outOfServicePerDayMinor)}; a booking that moves{' '}
        {money(terms.moveMinor)} and {money(terms.movePerDayMinor)} a day, threefold within ten days. Visits of the next{' '}
        {countInWords(terms.bookWeeks, 'week')} become jobs when a plan is published.{' '}
        {terms.proposesAnew && 'Where it no longer holds, a proposal is made by itself. '}
        {terms.by === null && <span className="text-soft">Usual figures; nobody has stated the shop’s own.</span>}
      </p>
    </section>
  );
}

function AwayList({ shop, may, onAdd }: { shop: ShopView; may: boolean; onAdd: () => void }) {
  const withdraw = useWithdrawAbsence();
  return (
    <section aria-label="Away">
      <h2 className="flex flex-wrap items-baseline gap-3 text-lg font-semibold">
        Away, shut, or in for other work
        {may && (
          <Button look="bare" className="text-base font-normal" onClick={onAdd}>
            Add …
          </Button>
        )}
      </h2>
      {shop.absences.length === 0 && <p className="text-soft">Everybody and everything is there.</p>}
      <ul>
        {shop.absences.map((one) => (
          <li
            key={one.id}
            className="flex flex-wrap items-baseline gap-x-3 border-t border-hair py-1.5 first:border-t-0"
          >
            <span className="font-medium">{one.of}</span>
            <span>
              {formatDate(one.from)}
              {one.to !== one.from && ` to ${formatDate(one.to)}`}
            </span>
            <span className="text-soft">{one.comesIn ? `in for ${one.reason}` : one.reason}</span>
            {may && (
              <Button
                look="bare"
                className="ml-auto"
                onClick={() =>
                  withdraw.mutate(one.id, {
                    onSuccess: () => toast(`${one.of}: the days count again. Plan anew to use them.`),
                    onError: (error) => toast(error.message),
                  })
                }
              >
                Withdraw
              </Button>
            )}
          </li>
        ))}
      </ul>
    </section>
  );
}
