import { z } from 'zod';
import { SeenRevision } from '../common.ts';

const Money = z.int('A whole number of cents is accepted.').min(0, 'At least 0 is accepted.').max(100_000_000);
const PerClass = z
  .object({ plannedMinor: Money.min(1, 'More than 0 is accepted.'), failureMinor: Money })
  .refine(({ plannedMinor, failureMinor }) => failureMinor >= plannedMinor, {
    path: ['failureMinor'],
    error: 'A failure costs at least what the planned service does.',
  });

/** What a service of an axle costs the shop, all told, in minor units: planned, and when the pads wore out first. */
export const ServiceCosts = z.object({
  currency: z.string().regex(/^[A-Z]{3}$/, 'Three capitals such as USD are accepted.'),
  light: PerClass,
  heavy: PerClass,
});
export type ServiceCosts = z.infer<typeof ServiceCosts>;

const RotorPrice = z.object({ scuffMinor: Money, machineMinor: Money, replaceMinor: Money });

/** What is paid for both rotors of an axle, labour included, in minor units; and what money costs by the year. */
export const RotorPrices = z.object({
  light: RotorPrice,
  heavy: RotorPrice,
  discountPerYear: z
    .number({ error: 'A rate such as 0.08 is accepted.' })
    .min(0, 'At least 0 is accepted.')
    .max(0.5, 'At most 0.5 is accepted.'),
});
export type RotorPrices = z.infer<typeof RotorPrices>;

const Risk = z
  .number({ error: 'A chance such as 0.05 is accepted.' })
  .gt(0, 'More than 0 is accepted.')
  .max(0.5, 'At most 0.5 is accepted.');

/** What forecasts assume, as the shop has set it. */
export const SettingsView = z.object({
  riskTarget: Risk,
  riskTargetHeavy: Risk.optional(),
  marginShare: z.number(),
  revision: z.int(),
  /** Absent until the shop has entered them: then only the risk decides. */
  costs: ServiceCosts.optional(),
  rotorPrices: RotorPrices.optional(),
});
export type SettingsView = z.infer<typeof SettingsView>;

export const SettingsChange = z.object({
  riskTarget: Risk,
  riskTargetHeavy: Risk,
  marginShare: z.number().min(0, 'At least 0 is accepted.').max(0.9, 'At most 0.9 is accepted.'),
  costs: ServiceCosts.optional(),
  rotorPrices: RotorPrices.optional(),
  revision: SeenRevision,
});
export type SettingsChange = z.infer<typeof SettingsChange>;
