import { z } from 'zod';
import { Id } from '../common.ts';
import { Bias, Repeat } from './studies.ts';

/** A technician with a gauge. */
export const AppraiserView = Bias.extend(Repeat.shape).extend({
  technicianId: Id,
  technician: z.string(),
  gaugeId: Id,
  gauge: z.string(),
  resolutionMm: z.number(),
  /** Against the mean of all appraisers. */
  against: Bias,
  drift: z.array(Bias.extend({ quarter: z.string(), readings: z.int() })),
});
export type AppraiserView = z.infer<typeof AppraiserView>;

/** What is a technician's or a gauge's own, told apart as far as gauges changed hands. */
export const ShareView = Bias.extend(Repeat.shape).extend({ id: Id, name: z.string(), partners: z.int() });
export type ShareView = z.infer<typeof ShareView>;

export const Appraisers = z.object({
  computedAt: z.string().nullable(),
  appraisers: z.array(AppraiserView),
  technicians: z.array(ShareView),
  gauges: z.array(ShareView),
});
export type Appraisers = z.infer<typeof Appraisers>;
