import { z } from 'zod';
import { RotorPrices, ServiceCosts, type SettingsChange } from '@mile-mark/contract/register';
import { DEFAULT_MARGIN_SHARE, type RiskPolicy, type RotorPrices as CoreRotorPrices } from '@mile-mark/core';
import { settingsChanged } from '../../events.ts';
import { command } from '../../platform/command/command.ts';
import type { EntityManager } from '../../platform/db/orm.ts';
import { SettingEntity } from './entities.ts';

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
  /** What is paid for both rotors of an axle; until entered, measurement alone decides about rotors. */
  rotorPrices: RotorPrices.optional(),
  /** Rises with every change. */
  revision: z.int().default(1),
});
export type Settings = z.infer<typeof Settings>;

/** The shop's settings, with the defaults for what was never set. */
export async function readSettings(em: EntityManager): Promise<Settings> {
  const rows = await em.find(SettingEntity, {});
  return Settings.parse(Object.fromEntries(rows.map(({ key, value }) => [key, value])));
}

/** Changes what forecasts assume; all of them are brought up to date. */
export const changeSettings = command({
  name: 'changeSettings',
  action: 'register',
  revisionOf: async (em, { revision }: z.output<typeof SettingsChange>) => {
    await em.execute('select pg_advisory_xact_lock(?)', [SETTINGS_LOCK]);
    return { seen: revision, onRecord: (await readSettings(em)).revision };
  },
  run: async ({ em, audit, emit }, { revision: _seen, ...input }: z.output<typeof SettingsChange>) => {
    const { revision } = await readSettings(em);
    const changed = { ...input, revision: revision + 1 };
    for (const [key, value] of Object.entries(changed)) await em.upsert(SettingEntity, { key, value });
    await audit('changed what forecasts assume', 'settings', input);
    await emit(settingsChanged({}));
    return readSettings(em);
  },
});

/** Number of the lock under which settings are changed. */
const SETTINGS_LOCK = 460_050;

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

/** What rotors of a class of vehicle cost, and what money costs by the year; undefined until the shop has entered it. */
export function rotorPricesOf({ rotorPrices }: Settings, vehicleClass: string): CoreRotorPrices | undefined {
  const own = vehicleClass === 'heavy' ? rotorPrices?.heavy : rotorPrices?.light;
  if (!own || !rotorPrices) return undefined;
  return {
    scuff: own.scuffMinor,
    machine: own.machineMinor,
    replace: own.replaceMinor,
    discountPerYear: rotorPrices.discountPerYear,
  };
}
