import type { VirtualAppraiser } from '@mile-mark/core';

/** The invented dairy co-operative of the demo: every person, place, make and model is made up. */

export const DEMO_TODAY = '2026-11-20';
export const DEMO_FROM = '2025-05-20';
export const DEMO_PASSWORD = 'milk-before-dawn';

export const DEPOTS = ['Creamery yard', 'Northfold', 'Saltmarsh depot'];

/** People who sign in: `address`@linden-vale.example. */
export const STAFF = [
  { address: 'coordinator', name: 'Maren Ashdown', role: 'coordinator', distanceUnit: 'mi', thicknessUnit: 'mm' },
  { address: 'technician', name: 'Tobi Varga', role: 'technician', distanceUnit: 'mi', thicknessUnit: 'mm' },
  { address: 'parts', name: 'Ilse Quarrie', role: 'parts keeper', distanceUnit: 'mi', thicknessUnit: 'mm' },
  { address: 'viewer', name: 'Ruben Castlow', role: 'viewer', distanceUnit: 'km', thicknessUnit: 'mm' },
] as const;

const INCH_32 = 25.4 / 32;

export interface DemoGauge {
  name: string;
  kind: string;
  unit: 'mm' | '1/32 in';
  resolutionMm: number;
  /** How high it reads in anybody's appraiser, mm. */
  biasMm: number;
}

/** One gauge reads high, one is coarse: two of the stories the demo tells. */
export const GAUGES = {
  vernierCreamery: {
    name: 'Vernier, Creamery yard',
    kind: 'vernier depth gauge',
    unit: 'mm',
    resolutionMm: 0.1,
    biasMm: 0,
  },
  digital2: {
    name: 'Digital depth gauge 2',
    kind: 'digital depth gauge',
    unit: 'mm',
    resolutionMm: 0.1,
    biasMm: -0.05,
  },
  digital3: { name: 'Digital depth gauge 3', kind: 'digital depth gauge', unit: 'mm', resolutionMm: 0.1, biasMm: 0.5 },
  step: { name: 'Step gauge, 32nds', kind: 'step gauge', unit: '1/32 in', resolutionMm: INCH_32, biasMm: 0.05 },
  feelers: {
    name: 'Feeler set, whole millimetres',
    kind: 'feeler gauges',
    unit: 'mm',
    resolutionMm: 1,
    biasMm: -0.05,
  },
  vernierNorthfold: {
    name: 'Vernier, Northfold',
    kind: 'vernier depth gauge',
    unit: 'mm',
    resolutionMm: 0.1,
    biasMm: 0.05,
  },
} as const satisfies Record<string, DemoGauge>;

interface DemoTechnician {
  name: string;
  biasMm: number;
  repeatabilityMm: number;
  plateChance: number;
  gauge: DemoGauge;
  /** A gauge borrowed now and then. */
  borrows?: DemoGauge;
}

/** Six technicians with habits of their own; the first signs in. */
export const TECHNICIANS: DemoTechnician[] = [
  {
    name: 'Tobi Varga',
    biasMm: 0.05,
    repeatabilityMm: 0.15,
    plateChance: 0.003,
    gauge: GAUGES.vernierCreamery,
    borrows: GAUGES.digital2,
  },
  {
    name: 'Anneke Holloway',
    biasMm: -0.1,
    repeatabilityMm: 0.18,
    plateChance: 0.003,
    gauge: GAUGES.digital2,
    borrows: GAUGES.digital3,
  },
  {
    name: 'Dag Pellworth',
    biasMm: 0,
    repeatabilityMm: 0.22,
    plateChance: 0.006,
    gauge: GAUGES.digital3,
    borrows: GAUGES.vernierNorthfold,
  },
  { name: 'Sunniva Brack', biasMm: -0.1, repeatabilityMm: 0.25, plateChance: 0.004, gauge: GAUGES.step },
  { name: 'Oskar Fenwright', biasMm: -0.15, repeatabilityMm: 0.3, plateChance: 0.012, gauge: GAUGES.feelers },
  {
    name: 'Petra Lindmoor',
    biasMm: 0.1,
    repeatabilityMm: 0.2,
    plateChance: 0.003,
    gauge: GAUGES.vernierNorthfold,
    borrows: GAUGES.digital3,
  },
];

/** A technician with a gauge, as the virtual fleet is measured. */
export interface DemoAppraiser extends VirtualAppraiser {
  technician: string;
  gauge: DemoGauge;
}

/** A technician's own gauge four times of five, the borrowed one else. */
export function appraisersOf({
  name,
  biasMm,
  repeatabilityMm,
  plateChance,
  gauge,
  borrows,
}: DemoTechnician): DemoAppraiser[] {
  const withGauge = (own: DemoGauge): DemoAppraiser => ({
    name: `${name}, ${own.name}`,
    technician: name,
    gauge: own,
    biasMm: biasMm + own.biasMm,
    repeatabilityMm,
    resolutionMm: own.resolutionMm,
    plateChance,
  });
  return [...Array.from({ length: 4 }, () => withGauge(gauge)), withGauge(borrows ?? gauge)];
}

export const DUTIES = [
  {
    name: 'Farm rounds',
    stopsPerMile: 0.9,
    mphBeforeStop: 34,
    payloadShare: 0.35,
    descentMPerMile: 11,
    retarderShare: 0.15,
    towedKg: 700,
    milesPerDay: 66,
  },
  {
    name: 'Moor rounds',
    stopsPerMile: 0.8,
    mphBeforeStop: 33,
    payloadShare: 0.4,
    descentMPerMile: 21,
    retarderShare: 0.15,
    towedKg: 700,
    milesPerDay: 58,
  },
  {
    name: 'Village shops',
    stopsPerMile: 2.1,
    mphBeforeStop: 31,
    payloadShare: 0.5,
    descentMPerMile: 7,
    retarderShare: 0.1,
    towedKg: 0,
    milesPerDay: 92,
  },
  {
    name: 'Doorstep delivery',
    stopsPerMile: 5.2,
    mphBeforeStop: 23,
    payloadShare: 0.55,
    descentMPerMile: 4,
    retarderShare: 0.1,
    towedKg: 0,
    milesPerDay: 58,
  },
  {
    name: 'Vale collection',
    stopsPerMile: 0.5,
    mphBeforeStop: 42,
    payloadShare: 0.6,
    descentMPerMile: 6,
    retarderShare: 0.35,
    towedKg: 0,
    milesPerDay: 165,
  },
  {
    name: 'Fell collection',
    stopsPerMile: 0.7,
    mphBeforeStop: 37,
    payloadShare: 0.6,
    descentMPerMile: 24,
    retarderShare: 0.45,
    towedKg: 0,
    milesPerDay: 135,
  },
];
