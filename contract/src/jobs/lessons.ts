import { z } from 'zod';
import { WORK_KINDS } from '@mile-mark/core';
import { Id, VehicleClass } from '../common.ts';

/** A figure with the interval that holds it with 80 %. */
const Told = z.object({ value: z.number(), low: z.number(), high: z.number() });
export type Told = z.infer<typeof Told>;
const Work = z.enum(WORK_KINDS);

/** What closed jobs have taught: time, parts beyond the plan, faults that followed. */
export const JobLessons = z.object({
  closed: z.int(),
  /** Minutes a job, by kind of work, class and number of axles: the median. */
  jobs: z.array(
    z.object({
      class: VehicleClass,
      work: Work,
      axles: z.int(),
      jobs: z.int(),
      usualMin: z.number(),
      minutes: Told,
    }),
  ),
  /** Minutes a step, by class: the median; those furthest from the usual first. */
  steps: z.array(
    z.object({ class: VehicleClass, step: z.string(), jobs: z.int(), usualMin: z.number(), minutes: Told }),
  ),
  /** Parts that were asked for from the bay, and the share of jobs of the class that asked. */
  parts: z.array(
    z.object({ class: VehicleClass, what: z.string(), quantity: z.int(), jobs: z.int(), of: z.int(), share: Told }),
  ),
  /** Faults told within so many days of a job at the same axle. */
  withinDays: z.int(),
  /** By fault and the kind of work before it: how many of the jobs that are old enough were followed by it. */
  faults: z.array(z.object({ text: z.string(), work: Work, jobs: z.int(), of: z.int(), share: Told })),
  /** The faults themselves, newest first, each with the job before it. */
  followed: z.array(
    z.object({
      unit: z.string(),
      text: z.string(),
      foundOn: z.string(),
      days: z.int(),
      jobId: Id,
      work: Work,
      by: z.array(z.string()),
    }),
  ),
});
export type JobLessons = z.infer<typeof JobLessons>;
