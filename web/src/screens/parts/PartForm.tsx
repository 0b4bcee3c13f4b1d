import { useState } from 'react';
import { toast } from 'sonner';
import type { Part } from '@mile-mark/contract/parts';
import { AMOUNTS, isConsumable, KIT_PARTS } from '@mile-mark/core';
import { ApiProblem } from '../../api/client.ts';
import { useAddPart, useChangePart, useSuppliers } from '../../api/parts.ts';
import { useModels } from '../../api/register.ts';
import { Refusal } from '../../ui/Refusal.tsx';
import { Button } from '../../ui/Button.tsx';
import { Choose } from '../../ui/Choose.tsx';
import { Field } from '../../ui/Field.tsx';
import { Modal } from '../../ui/Modal.tsx';
import { Tick } from '../../ui/Tick.tsx';
import { useNewId } from '../../ui/useNewId.ts';
import {
  EMPTY_FIT,
  EMPTY_OFFER,
  formOf,
  partOf,
  type FitForm,
  type OfferForm,
  type PartFormState,
} from './partFormState.ts';

/** Fields that hold a text. */
type TextKey = Exclude<keyof PartFormState, 'kind' | 'retired' | 'fits' | 'offers'>;

/** A part as it is entered or changed: what it is, what it fits, who sells it. */
export function PartForm({ part, onClose }: { part: Part | undefined; onClose: () => void }) {
  const [form, setForm] = useState(() => formOf(part));
  const [id] = useNewId();
  const [add, change] = [useAddPart(), useChangePart(part?.id ?? '')];
  const error = add.error ?? change.error;
  const problem = error instanceof ApiProblem ? error : undefined;
  const done = { onSuccess: () => (toast(`${form.number} is in the catalogue.`), onClose()) };
  const field = (key: TextKey, label: string, name: string = key) => (
    <Field
      label={label}
      value={form[key]}
      onChange={(event) => setForm({ ...form, [key]: event.target.value })}
      error={problem?.of(name)}
    />
  );
  return (
    <Modal open onClose={onClose} title={part ? `Part ${part.number}` : 'Add a part'} wide>
      <form
        className="grid grid-cols-2 gap-3 sm:grid-cols-4"
        onSubmit={(event) => {
          event.preventDefault();
          // What a unit holds is said of consumables; of another kind nobody sees the field.
          const body = partOf(isConsumable(form.kind) ? form : { ...form, content: '' });
          if (part) change.mutate({ ...body, revision: part.revision }, done);
          else add.mutate({ ...body, id }, done);
        }}
      >
        {field('number', 'Own number')}
        {field('name', 'Name')}
        {field('maker', 'Maker')}
        {field('makerNumber', 'Maker’s number')}
        <Choose
          label="Kind"
          value={form.kind}
          onChange={({ target }) => setForm({ ...form, kind: target.value as PartFormState['kind'] })}
          error={problem?.of('kind')}
        >
          {KIT_PARTS.map((kind) => (
            <option key={kind}>{kind}</option>
          ))}
        </Choose>
        {field('pieces', 'Pieces a unit holds')}
        {isConsumable(form.kind) && field('content', `A unit holds, ${AMOUNTS[form.kind].unit}`)}
        {field('rank', 'Taken as choice no.')}
        {field('supersededBy', 'Now replaced by')}
        {field('shelfDays', 'Keeps, days (blank: always)')}
        {field('exchange', 'Old one brings')}
        {field('diameterMm', 'Diameter, mm', 'measures.diameterMm')}
        {field('thicknessMm', 'Thickness, mm', 'measures.thicknessMm')}
        {field('holes', 'Holes', 'measures.holes')}
        <Fits
          fits={form.fits}
          wrong={(i, of) => problem?.of(`fits.${i}.${of}`)}
          none={problem?.of('fits')}
          onChange={(fits) => setForm({ ...form, fits })}
        />
        <Offers
          offers={form.offers}
          wrong={(i, of) => problem?.of(`offers.${i}.${of}`)}
          onChange={(offers) => setForm({ ...form, offers })}
        />
        {part && (
          <div className="col-span-full">
            <Tick checked={form.retired} onChange={(retired) => setForm({ ...form, retired })}>
              Retired: no kit asks for it any more; what lies there stays on record
            </Tick>
          </div>
        )}
        <Refusal problem={problem} className="col-span-full" />
        <div className="col-span-full">
          <Button look="next" type="submit" disabled={add.isPending || change.isPending}>
            Save
          </Button>
        </div>
      </form>
    </Modal>
  );
}

interface FitsProps {
  fits: FitForm[];
  wrong: (index: number, of: string) => string | undefined;
  none: string | undefined;
  onChange: (fits: FitForm[]) => void;
}

function Fits({ fits, wrong, none, onChange }: FitsProps) {
  const models = useModels();
  const set = (i: number, change: Partial<FitForm>) =>
    onChange(fits.map((fit, k) => (k === i ? { ...fit, ...change } : fit)));
  return (
    <fieldset className="col-span-full border-t border-line pt-2">
      <legend className="font-semibold">Fits (none: every vehicle)</legend>
      {none !== undefined && (
        <p role="alert" className="font-medium text-brick">
          {none}
        </p>
      )}
      {fits.map((fit, i) => (
        <div key={i} className="mb-1 grid grid-cols-2 items-end gap-2 sm:grid-cols-[2fr_1fr_1fr_auto]">
          <Choose
            label="Model"
            value={fit.model}
            onChange={({ target }) => set(i, { model: target.value })}
            error={wrong(i, 'model')}
          >
            <option value="">every model</option>
            {(models.data ?? []).map(({ name }) => (
              <option key={name}>{name}</option>
            ))}
          </Choose>
          <Field
            label="Axle"
            value={fit.axle}
            onChange={(event) => set(i, { axle: event.target.value })}
            error={wrong(i, 'axle')}
          />
          <Choose
            label="Side"
            value={fit.side}
            onChange={({ target }) => set(i, { side: target.value as FitForm['side'] })}
          >
            {['both', 'left', 'right'].map((side) => (
              <option key={side}>{side}</option>
            ))}
          </Choose>
          <Button onClick={() => onChange(fits.filter((_one, k) => k !== i))}>Remove</Button>
        </div>
      ))}
      <Button onClick={() => onChange([...fits, EMPTY_FIT])}>One more model</Button>
    </fieldset>
  );
}

interface OffersProps {
  offers: OfferForm[];
  wrong: (index: number, of: string) => string | undefined;
  onChange: (offers: OfferForm[]) => void;
}

function Offers({ offers, wrong, onChange }: OffersProps) {
  const suppliers = useSuppliers();
  const set = (i: number, change: Partial<OfferForm>) =>
    onChange(offers.map((offer, k) => (k === i ? { ...offer, ...change } : offer)));
  const currencyOf = (name: string) => suppliers.data?.find((one) => one.name === name)?.currency ?? '';
  return (
    <fieldset className="col-span-full border-t border-line pt-2">
      <legend className="font-semibold">Sold by</legend>
      {offers.map((offer, i) => (
        <div key={i} className="mb-1 grid grid-cols-2 items-end gap-2 sm:grid-cols-[2fr_1fr_1fr_1fr_1fr_auto]">
          <Choose
            label="Supplier"
            value={offer.supplier}
            onChange={({ target }) => set(i, { supplier: target.value, currency: currencyOf(target.value) })}
            error={wrong(i, 'supplier')}
          >
            {(suppliers.data ?? []).map(({ name }) => (
              <option key={name}>{name}</option>
            ))}
          </Choose>
          <Field
            label="Their number"
            value={offer.supplierNumber}
            onChange={(event) => set(i, { supplierNumber: event.target.value })}
            error={wrong(i, 'supplierNumber')}
          />
          <Field
            label={`Price, ${offer.currency || currencyOf(offer.supplier)}`}
            value={offer.price}
            onChange={(event) => set(i, { price: event.target.value })}
            error={wrong(i, 'priceMinor') ?? wrong(i, 'currency')}
          />
          <Field
            label="Pack"
            value={offer.pack}
            onChange={(event) => set(i, { pack: event.target.value })}
            error={wrong(i, 'pack')}
          />
          <Field
            label="Lead, days"
            value={offer.leadDays}
            onChange={(event) => set(i, { leadDays: event.target.value })}
            error={wrong(i, 'leadDays')}
          />
          <Button onClick={() => onChange(offers.filter((_one, k) => k !== i))}>Remove</Button>
        </div>
      ))}
      <Button
        disabled={!suppliers.data?.length}
        onClick={() => {
          const [first] = suppliers.data ?? [];
          onChange([...offers, { ...EMPTY_OFFER, supplier: first?.name ?? '', currency: first?.currency ?? '' }]);
        }}
      >
        One more supplier
      </Button>
    </fieldset>
  );
}
