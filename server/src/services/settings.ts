import { z } from 'zod';
import { DEFAULT_MARGIN_SHARE } from '@mile-mark/core';
import type { EntityManager } from '../db/orm.ts';

const Settings = z.object({
  /** Chance of being below the service limit that the mile mark stands for. */
  riskTarget: z.number().gt(0).max(0.5).default(0.05),
  /** Shop's margin as a share of new thickness. */
  marginShare: z.number().min(0).max(0.9).default(DEFAULT_MARGIN_SHARE),
});
export type Settings = z.infer<typeof Settings>;

/** The shop's settings, with the defaults for what was never set. */
export async function readSettings(em: EntityManager): Promise<Settings> {
  const rows = await em.execute<{ key: string; value: unknown }[]>('select key, value from setting');
  return Settings.parse(Object.fromEntries(rows.map(({ key, value }) => [key, value])));
}
