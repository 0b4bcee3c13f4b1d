import type { KitPart } from '@mile-mark/core';
import type { DemoModel } from './castModels.ts';

/** Suppliers and makers of the demo: every one is made up. Money in cents. */
export const SUPPLIERS = [
  { name: 'Corvane Brake Supply', leadDays: 3, orderCost: 1800, freight: 2400, freightFree: 60_000 },
  { name: 'Hollin Cross Factors', leadDays: 7, orderCost: 1200, freight: 1500, freightFree: 40_000 },
] as const;

/** Two makers of friction, so that one can be held against the other. */
export const MAKERS = { own: 'Ostrel Works', other: 'Marrowby Friction' } as const;

interface DemoKind {
  /** What stands first in its numbers. */
  code: string;
  name: string;
  pieces: number;
  /** Price in cents by class of vehicle. */
  price: Record<'pickup' | 'van' | 'heavy', number>;
  pack?: number;
  handed?: boolean;
  exchange?: number;
  /** Of how many axles one is on the shelf; 1 is one an axle. */
  stock: number;
}

/** Parts that belong to an axle of a model. */
export const AXLE_KINDS: Partial<Record<KitPart, DemoKind>> = {
  'brake pad': {
    code: 'PD',
    name: 'Pad set',
    pieces: 4,
    price: { pickup: 6200, van: 6900, heavy: 18_500 },
    stock: 0.12,
  },
  rotor: {
    code: 'RT',
    name: 'Rotor',
    pieces: 1,
    price: { pickup: 5400, van: 5900, heavy: 21_000 },
    pack: 2,
    stock: 0.1,
  },
  caliper: {
    code: 'CA',
    name: 'Caliper',
    pieces: 1,
    handed: true,
    exchange: 4500,
    price: { pickup: 14_800, van: 15_900, heavy: 62_000 },
    stock: 0.02,
  },
  'brake hose': {
    code: 'HO',
    name: 'Brake hose',
    pieces: 1,
    price: { pickup: 1900, van: 2100, heavy: 2600 },
    stock: 0.03,
  },
  bracket: {
    code: 'BK',
    name: 'Pad bracket',
    pieces: 1,
    handed: true,
    price: { pickup: 5200, van: 5600, heavy: 19_000 },
    stock: 0.01,
  },
  'clip set': {
    code: 'CL',
    name: 'Clip set, axle',
    pieces: 2,
    price: { pickup: 1450, van: 1550, heavy: 2800 },
    stock: 0.12,
  },
  'pin boot set': {
    code: 'PB',
    name: 'Pin boot set, wheel',
    pieces: 1,
    price: { pickup: 980, van: 1050, heavy: 2400 },
    stock: 0.06,
  },
  'pad pin set': {
    code: 'PP',
    name: 'Pad pin set, axle',
    pieces: 2,
    price: { pickup: 1350, van: 1400, heavy: 2600 },
    stock: 0.1,
  },
  'spreader spring': {
    code: 'SS',
    name: 'Spreader spring',
    pieces: 1,
    price: { pickup: 520, van: 560, heavy: 900 },
    stock: 0.15,
  },
  'wear sensor': {
    code: 'WS',
    name: 'Wear sensor',
    pieces: 1,
    price: { pickup: 1150, van: 1250, heavy: 2900 },
    stock: 0.14,
  },
  'rotor retaining screw': {
    code: 'RS',
    name: 'Rotor retaining screw',
    pieces: 1,
    price: { pickup: 140, van: 150, heavy: 260 },
    pack: 10,
    stock: 0.3,
  },
  'pad retainer kit': {
    code: 'PR',
    name: 'Pad retainer kit, wheel',
    pieces: 1,
    price: { pickup: 2400, van: 2400, heavy: 3400 },
    stock: 0.25,
  },
  'guide pin kit': {
    code: 'GP',
    name: 'Guide pin kit, wheel',
    pieces: 1,
    price: { pickup: 5400, van: 5400, heavy: 7800 },
    stock: 0.06,
  },
};

interface DemoConsumable {
  kind: KitPart;
  number: string;
  name: string;
  price: number;
  pack: number;
  shelfDays?: number;
  stock: number;
  pieces?: number;
  /** mL or g in a unit. */
  content?: number;
}

/** What every job may take, whatever the model. */
export const CONSUMABLES: DemoConsumable[] = [
  {
    kind: 'brake fluid',
    number: 'FL-4-05',
    content: 500,
    name: 'Brake fluid, grade 4, half a litre',
    price: 780,
    pack: 12,
    shelfDays: 730,
    stock: 9,
  },
  {
    kind: 'brake cleaner',
    number: 'BC-500',
    content: 500,
    name: 'Brake cleaner, half a litre',
    price: 390,
    pack: 12,
    stock: 14,
  },
  {
    kind: 'rubber-safe grease',
    number: 'RG-10',
    content: 10,
    name: 'Rubber-safe grease, packet',
    price: 110,
    pack: 20,
    shelfDays: 1095,
    stock: 22,
  },
  {
    kind: 'hub film',
    number: 'HF-75',
    content: 75,
    name: 'Hub film, tube',
    price: 640,
    pack: 6,
    shelfDays: 1095,
    stock: 7,
  },
  {
    kind: 'medium thread locker',
    number: 'TL-M-10',
    content: 10,
    name: 'Medium thread locker, bottle',
    price: 920,
    pack: 4,
    shelfDays: 540,
    stock: 5,
  },
  { kind: 'sealing washer', number: 'SW-10', name: 'Sealing washers, pair', price: 60, pack: 10, stock: 24, pieces: 2 },
];

/** The letters of a model in the numbers of its parts. */
export const codeOf = ({ name }: DemoModel) =>
  name
    .split(' ')
    .map((word) => word[0] ?? '')
    .join('')
    .toUpperCase();
