import { useState } from 'react';
import { toast } from 'sonner';
import { mayDo } from '@mile-mark/contract';
import type { Supplier } from '@mile-mark/contract/parts';
import type { Me } from '@mile-mark/contract/people';
import { moneyInWords } from '@mile-mark/contract/words';
import { ApiProblem } from '../../api/client.ts';
import { useAddSupplier, useChangeSupplier, useSuppliers } from '../../api/parts.ts';
import { Refusal } from '../../ui/Refusal.tsx';
import { Button } from '../../ui/Button.tsx';
import { DataTable } from '../../ui/DataTable.tsx';
import { Heads } from '../../ui/Heads.tsx';
import { Field } from '../../ui/Field.tsx';
import { Modal } from '../../ui/Modal.tsx';
import { figure, minorOf } from '../../api/typed.ts';
import { useNewId } from '../../ui/useNewId.ts';

/** Who sells parts, and on what terms. */
export function Suppliers({ me }: { me: Me }) {
  const suppliers = useSuppliers();
  const [editing, setEditing] = useState<Supplier | 'new'>();
  const supplies = mayDo(me.role, 'supply');
  return (
    <section aria-label="Suppliers" className="mt-6">
      <h2 className="mb-1 flex items-baseline gap-3 text-lg font-semibold">
        Suppliers
        {supplies && (
          <Button look="bare" className="text-base font-normal" onClick={() => setEditing('new')}>
            Add a supplier …
          </Button>
        )}
      </h2>
      {suppliers.isLoadingError && <p role="alert">{suppliers.error.message}</p>}
      {suppliers.data?.length === 0 && <p>Nobody yet. A part is ordered from whoever stands here.</p>}
      {(suppliers.data?.length ?? 0) > 0 && (
        <DataTable name="suppliers" className="text-left">
          <Heads names={['Name', 'Takes', 'An order costs', 'Freight', '']} />
          <tbody>
            {suppliers.data?.map((one) => (
              <tr key={one.id} className="border-b border-hair">
                <td className="py-1 px-2 font-medium">{one.name}</td>
                <td className="px-2">{one.leadDays} days</td>
                <td className="figures px-2">{moneyInWords(one.orderCostMinor, one.currency)}</td>
                <td className="figures px-2">
                  {moneyInWords(one.freightMinor, one.currency)}
                  {one.freightFreeMinor !== null &&
                    `, free from ${moneyInWords(one.freightFreeMinor, one.currency)} on`}
                </td>
                <td>{supplies && <Button onClick={() => setEditing(one)}>Edit …</Button>}</td>
              </tr>
            ))}
          </tbody>
        </DataTable>
      )}
      {editing && (
        <SupplierForm supplier={editing === 'new' ? undefined : editing} onClose={() => setEditing(undefined)} />
      )}
    </section>
  );
}

const money = (minor: number | null | undefined) => (minor == null ? '' : (minor / 100).toFixed(2));

function SupplierForm({ supplier, onClose }: { supplier: Supplier | undefined; onClose: () => void }) {
  const [form, setForm] = useState({
    name: supplier?.name ?? '',
    currency: supplier?.currency ?? '',
    leadDays: supplier === undefined ? '' : String(supplier.leadDays),
    orderCostMinor: money(supplier?.orderCostMinor ?? 0),
    freightMinor: money(supplier?.freightMinor ?? 0),
    freightFreeMinor: money(supplier?.freightFreeMinor),
  });
  const [id] = useNewId();
  const [add, change] = [useAddSupplier(), useChangeSupplier(supplier?.id ?? '')];
  const error = add.error ?? change.error;
  const problem = error instanceof ApiProblem ? error : undefined;
  const field = (key: keyof typeof form, label: string) => (
    <Field
      label={label}
      value={form[key]}
      onChange={(event) => setForm({ ...form, [key]: event.target.value })}
      error={problem?.of(key)}
    />
  );
  const save = () => {
    const body = {
      name: form.name,
      currency: form.currency.trim().toUpperCase(),
      // A blank is no number, and said at the field.
      leadDays: figure(form.leadDays),
      orderCostMinor: minorOf(form.orderCostMinor),
      freightMinor: minorOf(form.freightMinor),
      ...(form.freightFreeMinor.trim() === '' ? {} : { freightFreeMinor: minorOf(form.freightFreeMinor) }),
    };
    const done = {
      onSuccess: () => {
        toast(`${form.name} is on record.`);
        onClose();
      },
    };
    if (supplier) change.mutate(body, done);
    else add.mutate({ ...body, id }, done);
  };
  return (
    <Modal open onClose={onClose} title={supplier ? supplier.name : 'Add a supplier'}>
      <form
        className="grid grid-cols-2 gap-3"
        onSubmit={(event) => {
          event.preventDefault();
          save();
        }}
      >
        {field('name', 'Name')}
        {field('currency', 'Currency (USD, EUR …)')}
        {field('leadDays', 'Days from order to shelf')}
        {field('orderCostMinor', 'What an order costs the shop')}
        {field('freightMinor', 'Freight')}
        {field('freightFreeMinor', 'Freight is free from (blank: never)')}
        <Refusal problem={problem} className="col-span-2" />
        <div className="col-span-2">
          <Button look="next" type="submit" disabled={add.isPending || change.isPending}>
            Save
          </Button>
        </div>
      </form>
    </Modal>
  );
}
