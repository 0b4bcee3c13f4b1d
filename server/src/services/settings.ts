import { z } from 'zod';
import { DEFAULT_MARGIN_SHARE, type RiskPolicy } from '@mile-mark/core';
import { ServiceCosts, type SettingsChange } from '@mile-mark/contract';
import { mustBeAllowed, type Actor } from '../auth/policy.ts';
import type { EntityManager } from '../db/orm.ts';
import { recordDeed } from './audit.ts';

const Risk = z.number().gt(0).max(0.5);
const Settings = z.object({
  /** Chance of being below the service limit that the mile mark stands for. */
  riskTarget: Risk.default(0.05),
  /** The same for heavy vehicles, where the shop's policy differs. */
  riskTargetHeavy: Risk.optional(),
  /** Shop's margin as a share of new thickness. */
  marginShare: z.number().min(0).max(0.9).default(DEFAULT_MARGIN_SHARE),
  /** What services cost the shop; until they are entered only the risk decides. */
  costs: ServiceCosts.optional(),
});
export type Settings = z.infer<typeof Settings>;

/** The shop's settings, with the defaults for what was never set. */
export async function readSettings(em: EntityManager): Promise<Settings> {
  const rows = await em.execute<{ key: string; value: unknown }[]>('select key, value from setting');
  return Settings.parse(Object.fromEntries(rows.map(({ key, value }) => [key, value])));
}

/** Changes what forecasts assume; all of them are brought up to date. */
export async function changeSettings(
  em: EntityManager,
  actor: Actor,
  input: z.output<typeof SettingsChange>,
): Promise<Settings> {
  mustBeAllowed(actor, 'register');
  await em.transactional(async (inner) => {
    for (const [key, value] of Object.entries(input))
      await inner.execute(
        'insert into setting (key, value) values (?, ?::jsonb) on conflict (key) do update set value = excluded.value',
        [key, JSON.stringify(value)],
      );
    await inner.execute('update vehicle set input_rev = input_rev + 1');
    await recordDeed(inner, actor.id, 'changed what forecasts assume', 'settings', input);
  });
  return readSettings(em);
}

/** Seed of every forecast's draws: the same input gives the same forecast. */
export const SEED = 20_261_125;
const DRAWS = 1024;

/** What the shop asks of the forecasts of a class of vehicle. */
export function policyOf({ riskTarget, riskTargetHeavy, costs }: Settings, vehicleClass: string): RiskPolicy {
  const heavy = vehicleClass === 'heavy';
  const own = heavy ? costs?.heavy : costs?.light;
  return {
    riskTarget: heavy ? (riskTargetHeavy ?? riskTarget) : riskTarget,
    seed: SEED,
    draws: DRAWS,
    costs: own && { planned: own.plannedMinor, failure: own.failureMinor },
  };
}
