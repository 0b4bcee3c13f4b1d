import { z } from 'zod';
import { MileMark, WearChange } from '../forecasts/index.ts';
import { TorqueTool } from '../specifications/index.ts';
import { Defect, JobRow } from './schemas.ts';

export const WeekAsked = z.object({ depot: z.string().max(120).optional() });

/** What a week asks of a depot, or of all: one page for whoever answers for the yard. */
export const ThisWeek = z.object({
  today: z.string(),
  /** Last day of it: six days from today. */
  until: z.string(),
  depot: z.string().nullable(),
  riskTarget: z.number(),
  /** Open defects that forbid driving and nobody has lifted. */
  forbidding: z.array(Defect),
  /** Marks that are passed, or fall within the week, nearest first. */
  marks: z.array(MileMark),
  /** Changes of wear that wait for a decision, newest first. */
  changes: z.array(WearChange),
  /** In work, booked for the week, and booked for a day that is over. */
  jobs: z.array(JobRow),
  /** Other defects that are due: before next use, to be watched, re-checks. */
  defects: z.array(Defect),
  /** Questions about readings that wait for the coordinator. */
  questions: z.int(),
  /** Joints of near jobs that no wrench of their depot reaches, together where one loan answers them. */
  borrow: z.array(
    z.object({
      depot: z.string(),
      joints: z.array(z.object({ joint: z.string(), torque: z.string() })),
      units: z.array(z.string()),
      /** Depots whose bench reaches them. */
      elsewhere: z.array(z.string()),
    }),
  ),
  /** Wrenches whose calibration is over, or ends within a month. */
  calibrate: z.array(TorqueTool.pick({ id: true, name: true, depot: true, calibrationDue: true })),
});
export type ThisWeek = z.infer<typeof ThisWeek>;
