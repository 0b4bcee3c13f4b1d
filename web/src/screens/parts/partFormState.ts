import type { Part, PartChange } from '@mile-mark/contract/parts';
import { figure, minorOf } from '../../api/typed.ts';

export interface FitForm {
  model: string;
  axle: string;
  side: 'both' | 'left' | 'right';
  rotorMm: string;
}
export interface OfferForm {
  supplier: string;
  supplierNumber: string;
  price: string;
  currency: string;
  pack: string;
  least: string;
  leadDays: string;
}

/** What stands in the fields, as it is typed. */
export interface PartFormState {
  number: string;
  name: string;
  maker: string;
  makerNumber: string;
  kind: Part['kind'];
  pieces: string;
  content: string;
  rank: string;
  supersededBy: string;
  shelfDays: string;
  exchange: string;
  diameterMm: string;
  heightMm: string;
  thicknessMm: string;
  holes: string;
  retired: boolean;
  fits: FitForm[];
  offers: OfferForm[];
}

export const EMPTY_FIT: FitForm = { model: '', axle: '', side: 'both', rotorMm: '' };
export const EMPTY_OFFER: OfferForm = {
  supplier: '',
  supplierNumber: '',
  price: '',
  currency: '',
  pack: '1',
  least: '1',
  leadDays: '',
};

const text = (value: string | number | null | undefined) =>
  value === null || value === undefined ? '' : String(value);
const money = (minor: number | null | undefined) =>
  minor === null || minor === undefined ? '' : (minor / 100).toFixed(2);

/** The fields of a part, or of one that is new. */
export function formOf(part: Part | undefined): PartFormState {
  return {
    number: part?.number ?? '',
    name: part?.name ?? '',
    maker: part?.maker ?? '',
    makerNumber: text(part?.makerNumber),
    kind: part?.kind ?? 'brake pad',
    pieces: text(part?.pieces ?? 4),
    content: text(part?.content),
    rank: text(part?.rank ?? 1),
    supersededBy: text(part?.supersededBy),
    shelfDays: text(part?.shelfDays),
    exchange: money(part?.exchangeMinor),
    diameterMm: text(part?.measures.diameterMm),
    heightMm: text(part?.measures.heightMm),
    thicknessMm: text(part?.measures.thicknessMm),
    holes: text(part?.measures.holes),
    retired: part?.retired ?? false,
    fits: (part?.fits ?? []).map(({ model, axle, side, rotorMm }) => ({
      model: text(model),
      axle: text(axle),
      side,
      rotorMm: text(rotorMm),
    })),
    offers: (part?.offers ?? []).map((offer) => ({
      supplier: offer.supplier,
      supplierNumber: text(offer.supplierNumber),
      price: money(offer.priceMinor),
      currency: offer.currency,
      pack: text(offer.pack),
      least: text(offer.least),
      leadDays: text(offer.leadDays),
    })),
  };
}

const count = (typed: string) => figure(typed, true);
const where = <K extends string, V>(key: K, typed: string, read: (typed: string) => V): Partial<Record<K, V>> =>
  typed.trim() === '' ? {} : ({ [key]: read(typed) } as Record<K, V>);

/** What is sent: blank fields are left out, nothing is guessed. */
export function partOf(form: PartFormState): PartChange {
  return {
    number: form.number,
    name: form.name,
    maker: form.maker,
    kind: form.kind,
    pieces: count(form.pieces),
    rank: figure(form.rank),
    retired: form.retired,
    ...where('content', form.content, count),
    ...where('makerNumber', form.makerNumber, String),
    ...where('supersededBy', form.supersededBy, String),
    ...where('shelfDays', form.shelfDays, count),
    ...where('exchangeMinor', form.exchange, minorOf),
    measures: {
      ...where('diameterMm', form.diameterMm, figure),
      ...where('heightMm', form.heightMm, figure),
      ...where('thicknessMm', form.thicknessMm, figure),
      ...where('holes', form.holes, figure),
    },
    fits: form.fits.map(({ model, axle, side, rotorMm }) => ({
      side,
      ...where('model', model, String),
      ...where('axle', axle, figure),
      ...where('rotorMm', rotorMm, figure),
    })),
    offers: form.offers.map((offer) => ({
      supplier: offer.supplier,
      currency: offer.currency,
      priceMinor: minorOf(offer.price),
      pack: count(offer.pack),
      least: count(offer.least),
      ...where('supplierNumber', offer.supplierNumber, String),
      ...where('leadDays', offer.leadDays, count),
    })),
  };
}
