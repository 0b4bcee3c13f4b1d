import {
  type Appraiser,
  DEFAULT_DUTY_PROCESS,
  DEFAULT_PACE_PROCESS,
  DEFAULT_STATED_PROCESS,
  DEFAULT_WEAR_PROCESS,
  type LimitRule,
  UNKNOWN_APPRAISER,
  type WearPrior,
} from '@mile-mark/core';
import { z } from 'zod';
import type { EntityManager } from '../../../platform/db/orm.ts';
import { rowsOf } from '../../../platform/db/rows.ts';
import type { Settings } from '../../register/index.ts';
import type { InputContext } from '../input.ts';

const Process = z.object({
  blockSd: z.number(),
  hazard: z.number(),
  routeMean: z.number(),
  routeSd: z.number(),
});

const Wear = z.object({
  perPeriod: z.number(),
  perPad: z.number(),
  sdPad: z.number(),
  /** Every block was believed, where it was kept before that was learnt. */
  blockShare: z.number().default(1),
});
const Widened = z.object({ near: z.number(), far: z.number() });

/** What forecasts rested on by a day besides the vehicles' own records, as it is kept. */
export const KeptContext = z.object({
  settings: z.custom<Settings>(),
  rules: z.array(z.custom<LimitRule>()),
  groups: z.custom<Record<string, WearPrior>>(),
  appraisers: z.custom<Record<string, Appraiser>>(),
  /** By class; none where it was kept before duty was learnt. */
  processes: z.record(z.string(), Process).default({}),
  /** By class; none where it was kept before they were learnt. */
  stated: z.record(z.string(), Process).default({}),
  paces: z.record(z.string(), Process).default({}),
  /** By class; none where it was kept before they were learnt. */
  wear: z.record(z.string(), Wear).default({}),
  widening: z.record(z.string(), Widened).default({}),
  /** By appraiser and quarter; none where it was kept before forecasts took it in. */
  drift: z.record(z.string(), z.number()).default({}),
});
export type KeptContext = z.output<typeof KeptContext>;

/** How far back the context of a month ago may be looked for, days. */
export const MONTH_DAYS = 30;
const LEAST_DAYS = 20;
const MOST_DAYS = 60;

/** The context kept about a month before a day. */
export async function contextOf(
  em: EntityManager,
  today: string,
): Promise<{ asOf: string; afterwards: boolean; kept: KeptContext } | undefined> {
  const [row] = await rowsOf(
    em,
    z.object({ as_of: z.string(), afterwards: z.boolean(), detail: KeptContext }),
    `select as_of::text, afterwards, detail from ground_history
     where as_of between ?::date - ?::int and ?::date - ?::int order by abs(?::date - as_of - ?::int) limit 1`,
    [today, MOST_DAYS, today, LEAST_DAYS, today, MONTH_DAYS],
  );
  return row && { asOf: row.as_of, afterwards: row.afterwards, kept: row.detail };
}

/** A kept context as forecasts take it. */
export function contextFromKept(kept: KeptContext): InputContext {
  const { settings, rules, groups, appraisers, processes, stated, paces, wear, widening, drift } = kept;
  return {
    rules,
    marginShare: settings.marginShare,
    processOf: (name) => ({
      duty: processes[name] ?? DEFAULT_DUTY_PROCESS,
      stated: stated[name] ?? DEFAULT_STATED_PROCESS,
      pace: paces[name] ?? DEFAULT_PACE_PROCESS,
    }),
    wearProcessOf: (name) => wear[name] ?? DEFAULT_WEAR_PROCESS,
    wideningOf: (name) => widening[name],
    drift: new Map(Object.entries(drift)),
    priors: (modelId, axle) => groups[`${modelId}/${axle}`],
    appraiserOf: (key) => appraisers[key] ?? UNKNOWN_APPRAISER,
  };
}
