import { z } from 'zod';
import { Id, Name, Reason, SeenRevision, VehicleClass } from '../common.ts';

const mm = (least: number, most: number, what: string) =>
  z
    .number({ error: `${what} between ${least} and ${most} mm is accepted.` })
    .min(least, `${what} of at least ${least} mm is accepted.`)
    .max(most, `${what} of at most ${most} mm is accepted.`);

/** An axle as the model list has it, whatever a released specification says beside it; thicknesses in mm. */
export const AxleFigures = z
  .object({
    axle: z.int().min(1).max(6),
    brake: z.enum(['hydraulic', 'air']),
    /** In the shop's words, e.g. `hydraulic floating, 2 pistons`. */
    brakeDetail: Name,
    padNewMm: mm(3, 40, 'A new pad'),
    backingPlateMm: mm(0, 20, 'A backing plate'),
    padMakerMinMm: mm(0, 39, 'A least thickness'),
    rotorNewMm: mm(5, 100, 'A new rotor').nullable(),
    rotorDiscardMm: mm(5, 100, 'A rotor').nullable(),
    rotorMachineToMm: mm(5, 100, 'A rotor').nullable(),
    rotorDiameterMm: mm(100, 800, 'A diameter').nullable(),
    pistonsMm: z.string().trim().max(60, 'At most 60 characters are accepted.').nullable(),
    brakeShare: z
      .number({ error: 'A share such as 0.62 of the brake work is accepted.' })
      .min(0.01, 'A share of at least 0.01 is accepted.')
      .max(1, 'A share of at most 1 is accepted.'),
  })
  .superRefine((axle, context) => {
    const refuse = (path: keyof typeof axle, message: string) =>
      context.addIssue({ code: 'custom', path: [path], message });
    const { padMakerMinMm, padNewMm, rotorNewMm, rotorDiscardMm, rotorMachineToMm } = axle;
    if (padMakerMinMm >= padNewMm) refuse('padMakerMinMm', `Less than the new pad’s ${padNewMm} mm is accepted.`);
    if (rotorDiscardMm !== null && rotorNewMm !== null && rotorDiscardMm >= rotorNewMm)
      refuse('rotorDiscardMm', `Less than the new rotor’s ${rotorNewMm} mm is accepted.`);
    if (rotorMachineToMm !== null && rotorDiscardMm !== null && rotorMachineToMm < rotorDiscardMm)
      refuse('rotorMachineToMm', `At least the discard thickness of ${rotorDiscardMm} mm is accepted.`);
    if (rotorMachineToMm !== null && rotorNewMm !== null && rotorMachineToMm > rotorNewMm)
      refuse('rotorMachineToMm', `At most the new rotor’s ${rotorNewMm} mm is accepted.`);
  });
export type AxleFigures = z.infer<typeof AxleFigures>;

const kg = (most: number) =>
  z
    .int('A whole number of kg is accepted.')
    .min(300, 'At least 300 kg is accepted.')
    .max(most, `At most ${most} kg is accepted.`);

const Figures = z.object({
  name: Name,
  class: VehicleClass,
  tareKg: kg(60_000),
  gvwrKg: kg(100_000),
  axles: z.array(AxleFigures).min(1, 'At least one axle is needed.').max(6),
});

const heavierLoaded = {
  path: ['gvwrKg'],
  error: 'More than the tare is accepted.',
};
const isHeavierLoaded = ({ tareKg, gvwrKg }: { tareKg: number; gvwrKg: number }) => gvwrKg > tareKg;
const axlesOnce = { path: ['axles'], error: 'Each axle stands once.' };
const areOnce = ({ axles }: { axles: { axle: number }[] }) =>
  new Set(axles.map(({ axle }) => axle)).size === axles.length;

/** A model as its list has it. */
export const ModelFigures = Figures.extend({
  id: Id,
  revision: z.int(),
  vehicles: z.int(),
  /** Axles whose released specification holds instead of the list for the least pad or the rotor's limits. */
  released: z.array(z.int()),
});
export type ModelFigures = z.infer<typeof ModelFigures>;

export const NewModel = Figures.extend({ id: Id }).refine(isHeavierLoaded, heavierLoaded).refine(areOnce, axlesOnce);
export type NewModel = z.infer<typeof NewModel>;

export const ModelCorrection = Figures.extend({ reason: Reason, revision: SeenRevision })
  .refine(isHeavierLoaded, heavierLoaded)
  .refine(areOnce, axlesOnce);
export type ModelCorrection = z.infer<typeof ModelCorrection>;
