import { AxleValues, JointValues } from '@mile-mark/contract/specifications';
import type { z } from 'zod';

/**
 * The invented specifications and torque tools of the demo. Every figure is made up within the ranges the trade knows;
 * none is of a model that exists, and each is marked as a demo value.
 */

type JointInput = Omit<z.input<typeof JointValues>, 'about'>;
type AxleInput = Omit<z.input<typeof AxleValues>, 'about'>;

export interface DemoJoint {
  model: string;
  axle: number;
  /** Null for the axle as a whole. */
  joint: string | null;
  position?: string;
  page: string;
  values: JointValues | AxleValues;
}

const joint = (model: string, axle: number, name: string, page: string, values: JointInput): DemoJoint => ({
  model,
  axle,
  joint: name,
  page,
  values: JointValues.parse({ about: 'joint', ...values }),
});
const axle = (model: string, number: number, page: string, values: AxleInput): DemoJoint => ({
  model,
  axle: number,
  joint: null,
  page,
  values: AxleValues.parse({ about: 'axle', ...values }),
});

const DROVER = 'Tarnbrook Drover 4x4';
const CARRIER = 'Ostrey Carrier 35';
const TANKER = 'Veldring 26 tanker';

export const DOCUMENTS: Record<string, { document: string; revision: string; date: string }> = {
  [DROVER]: { document: 'Drover workshop manual, brakes (invented)', revision: 'C', date: '2023-06-01' },
  [CARRIER]: { document: 'Carrier repair leaflet 30-2 (invented)', revision: '4', date: '2024-02-12' },
  [TANKER]: { document: 'Veldring 26 service book, axles (invented)', revision: '2023', date: '2023-09-30' },
};

const hex = (thread: string, headSize: string, count: number, rest: object = {}) => ({
  thread,
  headKind: 'hex' as const,
  headSize,
  count,
  ...rest,
});
const nm = (nominal: number, rest: object = {}) => ({ unit: 'N·m' as const, nominal, ...rest });
const lbfFt = (nominal: number, statedNm: number, rest: object = {}) => ({
  unit: 'lbf·ft' as const,
  nominal,
  statedToo: { unit: 'N·m' as const, value: statedNm },
  ...rest,
});

const HOSE = {
  oneTimeUse: false,
  preparation: 'clean and dry',
  note: 'Two new sealing washers a joint; count the old ones off.',
} as const;
const DROVER_NUTS: JointInput = {
  fastener: hex('M14x1.5', '21 mm', 6),
  torque: lbfFt(130, 176, { passes: [65] }),
  preparation: 'clean and dry',
  oneTimeUse: false,
  pattern: 'star',
  recheckMiles: 60,
};
const CARRIER_NUTS: JointInput = {
  fastener: hex('M14x1.5', '19 mm', 5),
  torque: nm(160, { least: 152, most: 168, passes: [80] }),
  preparation: 'clean and dry',
  oneTimeUse: false,
  pattern: 'star',
  recheckMiles: 60,
};

const drover: DemoJoint[] = [
  joint(DROVER, 1, 'Wheel nut', '4', DROVER_NUTS),
  joint(DROVER, 1, 'Bracket bolt', '12', {
    fastener: hex('M14x1.5', '21 mm', 2, { strength: '10.9' }),
    torque: lbfFt(130, 176),
    preparation: 'medium thread locker',
    oneTimeUse: false,
    pattern: 'upper first',
  }),
  joint(DROVER, 1, 'Guide pin bolt', '12', {
    fastener: hex('M8', '13 mm', 2, { counterHold: '17 mm' }),
    torque: lbfFt(24, 32),
    preparation: 'as supplied',
    oneTimeUse: true,
  }),
  joint(DROVER, 1, 'Rotor retaining screw', '14', {
    fastener: { thread: 'M8', headKind: 'six-lobe', headSize: 'T30', count: 1 },
    torque: nm(10),
    preparation: 'clean and dry',
    oneTimeUse: false,
  }),
  joint(DROVER, 1, 'Hose joint', '15', { fastener: hex('M10x1', '14 mm', 1), torque: nm(30), ...HOSE }),
  joint(DROVER, 1, 'Bleeder screw', '15', {
    fastener: hex('M8', '9 mm', 1),
    torque: nm(10),
    preparation: 'clean and dry',
    oneTimeUse: false,
  }),
  axle(DROVER, 1, '13', {
    padMinMm: 2,
    rotorDiscardMm: 30,
    rotorMachineToMm: 30.4,
    runoutMm: 0.05,
    thicknessVariationMm: 0.015,
    fluidGrade: 'DOT 4',
    bedIn: '20 moderate stops from 30 mph, half a minute of driving between.',
  }),
  joint(DROVER, 2, 'Wheel nut', '4', DROVER_NUTS),
  joint(DROVER, 2, 'Bracket bolt', '18', {
    fastener: hex('M12x1.5', '18 mm', 2, { strength: '10.9' }),
    torque: lbfFt(80, 108),
    preparation: 'medium thread locker',
    oneTimeUse: false,
  }),
  joint(DROVER, 2, 'Guide pin bolt', '18', {
    fastener: hex('M8', '12 mm', 2, { counterHold: '15 mm' }),
    torque: lbfFt(20, 27),
    preparation: 'as supplied',
    oneTimeUse: true,
  }),
  joint(DROVER, 2, 'Hose joint', '19', { fastener: hex('M10x1', '14 mm', 1), torque: nm(30), ...HOSE }),
  joint(DROVER, 2, 'Bleeder screw', '19', {
    fastener: hex('M8', '9 mm', 1),
    torque: nm(10),
    preparation: 'clean and dry',
    oneTimeUse: false,
  }),
  axle(DROVER, 2, '18', {
    padMinMm: 2,
    rotorDiscardMm: 20,
    rotorMachineToMm: 20.4,
    runoutMm: 0.06,
    thicknessVariationMm: 0.015,
    fluidGrade: 'DOT 4',
    bedIn: '20 moderate stops from 30 mph, half a minute of driving between.',
    parkingBrake:
      'Shoes in the drum of the rotor: release the lever, back the adjuster off before the rotor comes off.',
  }),
];

const carrier: DemoJoint[] = [
  joint(CARRIER, 1, 'Wheel nut', '2', CARRIER_NUTS),
  joint(CARRIER, 1, 'Bracket bolt', '6', {
    fastener: hex('M14x1.5', '21 mm', 2, { strength: '10.9' }),
    torque: nm(170, { least: 162, most: 178 }),
    preparation: 'medium thread locker',
    oneTimeUse: true,
  }),
  joint(CARRIER, 1, 'Guide pin bolt', '6', {
    fastener: { thread: 'M10', headKind: 'hex key', headSize: '7 mm', count: 2 },
    torque: nm(28),
    preparation: 'clean and dry',
    oneTimeUse: false,
    note: 'Under caps; no grease on the thread.',
  }),
  joint(CARRIER, 1, 'Rotor retaining screw', '7', {
    fastener: { thread: 'M6', headKind: 'six-lobe', headSize: 'T30', count: 1 },
    torque: nm(8),
    preparation: 'clean and dry',
    oneTimeUse: false,
  }),
  joint(CARRIER, 1, 'Hose joint', '8', { fastener: hex('M10x1', '14 mm', 1), torque: nm(32), ...HOSE }),
  joint(CARRIER, 1, 'Bleeder screw', '8', {
    fastener: hex('M10x1', '11 mm', 1),
    torque: nm(14),
    preparation: 'clean and dry',
    oneTimeUse: false,
  }),
  joint(CARRIER, 1, 'Sensor or harness screw', '9', {
    fastener: { thread: 'M6', headKind: 'six-lobe', headSize: 'T27', count: 1 },
    torque: nm(8),
    oneTimeUse: true,
    note: 'Left side only: the wear sensor and its clip are new each time.',
  }),
  axle(CARRIER, 1, '7', {
    padMinMm: 2,
    rotorDiscardMm: 26,
    rotorMachineToMm: 26.4,
    runoutMm: 0.05,
    thicknessVariationMm: 0.02,
    fluidGrade: 'DOT 4, low viscosity',
    bedIn: '5 firm stops from 35 mph, then a mile without braking.',
  }),
  joint(CARRIER, 2, 'Wheel nut', '2', CARRIER_NUTS),
  joint(CARRIER, 2, 'Bracket bolt', '11', {
    fastener: hex('M12x1.5', '18 mm', 2, { strength: '10.9' }),
    torque: nm(50, { angleDeg: 60 }),
    preparation: 'clean and dry',
    oneTimeUse: true,
  }),
  joint(CARRIER, 2, 'Guide pin bolt', '11', {
    fastener: hex('M8', '13 mm', 2, { counterHold: '15 mm' }),
    torque: nm(35),
    preparation: 'as supplied',
    oneTimeUse: true,
  }),
  joint(CARRIER, 2, 'Hose joint', '12', { fastener: hex('M10x1', '14 mm', 1), torque: nm(32), ...HOSE }),
  joint(CARRIER, 2, 'Bleeder screw', '12', {
    fastener: hex('M10x1', '11 mm', 1),
    torque: nm(14),
    preparation: 'clean and dry',
    oneTimeUse: false,
  }),
  axle(CARRIER, 2, '11', {
    padMinMm: 2,
    rotorDiscardMm: 16,
    rotorMachineToMm: 16.4,
    runoutMm: 0.06,
    thicknessVariationMm: 0.02,
    fluidGrade: 'DOT 4, low viscosity',
    bedIn: '5 firm stops from 35 mph, then a mile without braking.',
    parkingBrake: 'Screw-in piston: release the lever, press and turn the piston home; its notches face the pad’s pin.',
  }),
];

const tankerAxle = (number: number, page: string): DemoJoint[] => [
  joint(TANKER, number, 'Wheel nut', '8', {
    fastener: hex('M22x1.5', '33 mm', 10),
    torque: nm(650, { least: 620, most: 680, passes: [250] }),
    preparation: 'clean and dry',
    oneTimeUse: false,
    pattern: 'star',
    recheckMiles: 60,
  }),
  joint(TANKER, number, 'Carrier bolt', page, {
    fastener: hex('M16x1.5', '24 mm', 6, { strength: '10.9' }),
    torque: nm(250, { least: 240, most: 260 }),
    preparation: 'clean and dry',
    oneTimeUse: true,
    pattern: 'crosswise',
  }),
  joint(TANKER, number, 'Guide pin bolt', page, {
    fastener: { thread: 'M16x1.5', headKind: 'hex key', headSize: '14 mm', count: 2, strength: '10.9' },
    torque: nm(180, { angleDeg: 90 }),
    preparation: 'clean and dry',
    oneTimeUse: true,
    pattern: 'as the document draws it',
  }),
  joint(TANKER, number, 'Pad retainer bolt', page, {
    fastener: hex('M10', '16 mm', 1),
    torque: nm(35),
    preparation: 'clean and dry',
    oneTimeUse: true,
  }),
  joint(TANKER, number, 'Brake chamber nut', page, {
    fastener: hex('M16x1.5', '24 mm', 2),
    torque: nm(180, { least: 165, most: 195 }),
    preparation: 'clean and dry',
    oneTimeUse: false,
    note: 'Spring brakes caged first, as the maker says: stored energy.',
  }),
  axle(TANKER, number, page, {
    padMinMm: 2,
    rotorDiscardMm: 37,
    rotorMachineToMm: 39,
    runoutMm: 0.1,
    thicknessVariationMm: 0.04,
    bedIn: 'Six stops from 25 mph with the load of the day, a minute between.',
    parkingBrake: 'Spring brakes held off or caged before the adjuster is wound back through its shear adapter.',
    note: 'Running clearance of the adjuster 0.7 mm after five strokes (invented).',
  }),
];

/** The joint whose first revision waits: the library is whole but for it. */
const WAITING_FIRST = { model: TANKER, axle: 3, joint: 'Pad retainer bolt' };

const all = [...drover, ...carrier, ...tankerAxle(1, '21'), ...tankerAxle(2, '23'), ...tankerAxle(3, '25')];
const isFirst = ({ model, axle: number, joint: name }: DemoJoint) =>
  model === WAITING_FIRST.model && number === WAITING_FIRST.axle && name === WAITING_FIRST.joint;

/** What one person entered and another released before the record begins. */
export const RELEASED = all.filter((one) => !isFirst(one));

/** What waits for a second person: a first revision, one that changes a torque, one whose units contradict. */
export const WAITING: (DemoJoint & { by: string; on: string; revision?: string; date?: string })[] = [
  ...all.filter(isFirst).map((one) => ({ ...one, by: 'Tobi Varga', on: '2026-11-12' })),
  {
    ...joint(DROVER, 1, 'Bracket bolt', '12', {
      fastener: hex('M14x1.5', '21 mm', 2, { strength: '10.9' }),
      torque: lbfFt(155, 210),
      preparation: 'medium thread locker',
      oneTimeUse: false,
      pattern: 'upper first',
      note: 'Revision D of the manual corrects page 12.',
    }),
    by: 'Maren Ashdown',
    on: '2026-11-18',
    revision: 'D',
    date: '2026-10-01',
  },
  {
    ...joint(CARRIER, 2, 'Hose joint', '12', {
      fastener: hex('M10x1', '14 mm', 1),
      torque: nm(30, { statedToo: { unit: 'lbf·ft', value: 27 } }),
      ...HOSE,
    }),
    by: 'Tobi Varga',
    on: '2026-11-17',
    revision: '5',
    date: '2026-09-14',
  },
];
