import { useState } from 'react';
import { toast } from 'sonner';
import type { PlanTermsChange, Shop } from '@mile-mark/contract/plan';
import { ApiProblem } from '../../api/client.ts';
import { useChangePlanTerms } from '../../api/plan.ts';
import { Button } from '../../ui/Button.tsx';
import { Field } from '../../ui/Field.tsx';
import { Modal } from '../../ui/Modal.tsx';
import { Refusal } from '../../ui/Refusal.tsx';
import { Tick } from '../../ui/Tick.tsx';
import { figure, minorOf } from '../../api/typed.ts';

const plain = (cents: number) => (cents / 100).toFixed(2);

const MONEY = {
  visitMinor: 'A visit',
  downtimePerHourMinor: 'An hour off the road',
  overtimePerHourMinor: 'An hour of overtime',
  outOfServicePerDayMinor: 'A day past its risk target (0 goes by the chances alone)',
  moveMinor: 'A booking that moves',
  movePerDayMinor: '… and for each day it moves',
} as const;
type MoneyName = keyof typeof MONEY;

/** What a plan weighs: prices, hours, the interval it is compared with, and how far ahead visits become jobs. */
export function PlanTermsForm({
  terms,
  currency,
  onClose,
}: {
  terms: Shop['terms'];
  currency: string;
  onClose: () => void;
}) {
  const change = useChangePlanTerms();
  const [money, setMoney] = useState(
    () =>
      Object.fromEntries((Object.keys(MONEY) as MoneyName[]).map((name) => [name, plain(terms[name])])) as Record<
        MoneyName,
        string
      >,
  );
  const [outside, setOutside] = useState(terms.outside !== null);
  const [proposesAnew, setProposesAnew] = useState(terms.proposesAnew);
  const [form, setForm] = useState({
    fixed: plain(terms.outside?.fixedMinor ?? 0),
    perHour: plain(terms.outside?.perHourMinor ?? 0),
    setUpHours: String(terms.setUpHours),
    hoursADay: String(terms.hoursADay),
    light: String(terms.intervalMi.light),
    heavy: String(terms.intervalMi.heavy),
    bookWeeks: String(terms.bookWeeks),
  });
  const problem = change.error instanceof ApiProblem ? change.error : undefined;
  const field = (name: keyof typeof form, label: string, at: string) => (
    <Field
      label={label}
      inputMode="decimal"
      value={form[name]}
      onChange={(event) => setForm({ ...form, [name]: event.target.value })}
      error={problem?.of(at)}
    />
  );
  const body = (): PlanTermsChange => ({
    revision: terms.revision,
    visitMinor: minorOf(money.visitMinor),
    downtimePerHourMinor: minorOf(money.downtimePerHourMinor),
    overtimePerHourMinor: minorOf(money.overtimePerHourMinor),
    outOfServicePerDayMinor: minorOf(money.outOfServicePerDayMinor),
    moveMinor: minorOf(money.moveMinor),
    movePerDayMinor: minorOf(money.movePerDayMinor),
    outside: outside ? { fixedMinor: minorOf(form.fixed), perHourMinor: minorOf(form.perHour) } : null,
    setUpHours: figure(form.setUpHours),
    hoursADay: figure(form.hoursADay),
    intervalMi: { light: figure(form.light, true), heavy: figure(form.heavy, true) },
    bookWeeks: figure(form.bookWeeks),
    travel: terms.travel,
    proposesAnew,
  });
  return (
    <Modal open onClose={onClose} title={`What a plan weighs, in ${currency}`}>
      <form
        className="grid grid-cols-2 gap-3"
        onSubmit={(event) => {
          event.preventDefault();
          change.mutate(body(), {
            onSuccess: () => {
              toast('Kept. Plan anew to see what it changes.');
              onClose();
            },
          });
        }}
      >
        <MoneyFields money={money} setMoney={setMoney} problem={problem} />
        <div className="col-span-2">
          <Tick checked={outside} onChange={setOutside}>
            There is an outside shop
          </Tick>
        </div>
        {outside && field('fixed', 'Outside: a visit', 'outside.fixedMinor')}
        {outside && field('perHour', 'Outside: an hour', 'outside.perHourMinor')}
        {field('setUpHours', 'Setting up, hours a visit', 'setUpHours')}
        {field('hoursADay', 'Hours one vehicle is worked on in a day', 'hoursADay')}
        {field('light', 'Compared with a change every … mi, pickups and vans', 'intervalMi.light')}
        {field('heavy', '… and heavy vehicles', 'intervalMi.heavy')}
        {field('bookWeeks', 'Weeks ahead that become jobs', 'bookWeeks')}
        <div className="col-span-2">
          <Tick checked={proposesAnew} onChange={setProposesAnew}>
            Make a proposal by itself when the published plan no longer holds
          </Tick>
        </div>
        <Refusal problem={problem} className="col-span-2" />
        <div className="col-span-2">
          <Button look="next" type="submit" disabled={change.isPending}>
            Save
          </Button>
        </div>
      </form>
    </Modal>
  );
}

function MoneyFields({
  money,
  setMoney,
  problem,
}: {
  money: Record<MoneyName, string>;
  setMoney: (money: Record<MoneyName, string>) => void;
  problem: ApiProblem | undefined;
}) {
  return (Object.keys(MONEY) as MoneyName[]).map((name) => (
    <Field
      key={name}
      label={MONEY[name]}
      inputMode="decimal"
      value={money[name]}
      onChange={(event) => setMoney({ ...money, [name]: event.target.value })}
      error={problem?.of(name)}
    />
  ));
}
