import { BIAS_SPREAD, UNKNOWN_HAND } from '@mile-mark/core';
import type { EntityManager } from '../../../platform/db/orm.ts';
import { handKey, partsOfHand } from '../../gauges/index.ts';
import { LimitRuleEntity, limitRuleOf, readSettings, type Settings } from '../../register/index.ts';
import type { InputGround } from '../input.ts';

/** What, besides a vehicle's own record, its forecast rests on, as settings and the fleet's learning have it. */
export interface ForecastGround extends InputGround {
  settings: Settings;
}

export async function loadForecastGround(em: EntityManager): Promise<ForecastGround> {
  const [limits, settings, groups, handOf] = await Promise.all([
    em.fork({ keepTransactionContext: true }).find(LimitRuleEntity, {}),
    readSettings(em),
    em.execute<{ model_id: string; axle: number; mean: number; sd_vehicle: number; sd_axle: number; sd_pad: number }[]>(
      'select model_id, axle, mean, sd_vehicle, sd_axle, sd_pad from wear_group',
    ),
    loadHands(em),
  ]);
  const byKey = new Map(
    groups.map((row) => [
      `${row.model_id}/${row.axle}`,
      { mean: row.mean, sdVehicle: row.sd_vehicle, sdAxle: row.sd_axle, sdPad: row.sd_pad },
    ]),
  );
  return {
    rules: limits.map(limitRuleOf),
    settings,
    marginShare: settings.marginShare,
    priors: (modelId, axle) => byKey.get(`${modelId}/${axle}`),
    handOf,
  };
}

/** What is known of each hand; one never seen is put together from its technician's and its gauge's share. */
async function loadHands(em: EntityManager): Promise<ForecastGround['handOf']> {
  const hands = await em.execute<
    { technician_id: string; gauge_id: string; bias_mm: number; bias_sd_mm: number; repeatability_mm: number }[]
  >('select technician_id, gauge_id, bias_mm, bias_sd_mm, repeatability_mm from appraiser');
  const shares = await em.execute<{ kind: string; subject_id: string; bias_mm: number; bias_sd_mm: number }[]>(
    'select kind, subject_id, bias_mm, bias_sd_mm from appraiser_share',
  );
  const known = new Map(
    hands.map((row) => [
      handKey(row.technician_id, row.gauge_id),
      { biasMm: row.bias_mm, biasSdMm: row.bias_sd_mm, repeatabilityMm: row.repeatability_mm },
    ]),
  );
  const share = new Map(shares.map((row) => [`${row.kind}/${row.subject_id}`, row]));
  const unknown = (kind: 'technician' | 'gauge') => ({ bias_mm: 0, bias_sd_mm: BIAS_SPREAD[kind] });
  return (key) => {
    const own = known.get(key);
    if (own) return own;
    const { technicianId, gaugeId } = partsOfHand(key);
    const person = share.get(`technician/${technicianId}`) ?? unknown('technician');
    const gauge = share.get(`gauge/${gaugeId}`) ?? unknown('gauge');
    return {
      biasMm: person.bias_mm + gauge.bias_mm,
      biasSdMm: Math.hypot(person.bias_sd_mm, gauge.bias_sd_mm, BIAS_SPREAD.both),
      repeatabilityMm: UNKNOWN_HAND.repeatabilityMm,
    };
  };
}
