import { BIAS_SPREAD, UNKNOWN_APPRAISER } from '@mile-mark/core';
import type { EntityManager } from '../../../platform/db/orm.ts';
import { appraiserKey, partsOfAppraiser } from '../../gauges/index.ts';
import { LimitRuleEntity, limitRuleOf, readSettings, type Settings } from '../../register/index.ts';
import type { InputContext } from '../input.ts';

/** What, besides a vehicle's own record, its forecast rests on, as settings and the fleet's learning have it. */
export interface ForecastContext extends InputContext {
  settings: Settings;
}

export async function loadForecastContext(em: EntityManager): Promise<ForecastContext> {
  const [limits, settings, groups, appraiserOf] = await Promise.all([
    em.fork({ keepTransactionContext: true }).find(LimitRuleEntity, {}),
    readSettings(em),
    em.execute<{ model_id: string; axle: number; mean: number; sd_vehicle: number; sd_axle: number; sd_pad: number }[]>(
      'select model_id, axle, mean, sd_vehicle, sd_axle, sd_pad from wear_group',
    ),
    loadAppraisers(em),
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
    appraiserOf,
  };
}

/** What is known of each appraiser; one never seen is put together from its technician's and its gauge's share. */
async function loadAppraisers(em: EntityManager): Promise<ForecastContext['appraiserOf']> {
  const appraisers = await em.execute<
    { technician_id: string; gauge_id: string; bias_mm: number; bias_sd_mm: number; repeatability_mm: number }[]
  >('select technician_id, gauge_id, bias_mm, bias_sd_mm, repeatability_mm from appraiser');
  const shares = await em.execute<{ kind: string; subject_id: string; bias_mm: number; bias_sd_mm: number }[]>(
    'select kind, subject_id, bias_mm, bias_sd_mm from appraiser_share',
  );
  const known = new Map(
    appraisers.map((row) => [
      appraiserKey(row.technician_id, row.gauge_id),
      { biasMm: row.bias_mm, biasSdMm: row.bias_sd_mm, repeatabilityMm: row.repeatability_mm },
    ]),
  );
  const share = new Map(shares.map((row) => [`${row.kind}/${row.subject_id}`, row]));
  const unknown = (kind: 'technician' | 'gauge') => ({ bias_mm: 0, bias_sd_mm: BIAS_SPREAD[kind] });
  return (key) => {
    const own = known.get(key);
    if (own) return own;
    const { technicianId, gaugeId } = partsOfAppraiser(key);
    const person = share.get(`technician/${technicianId}`) ?? unknown('technician');
    const gauge = share.get(`gauge/${gaugeId}`) ?? unknown('gauge');
    return {
      biasMm: person.bias_mm + gauge.bias_mm,
      biasSdMm: Math.hypot(person.bias_sd_mm, gauge.bias_sd_mm, BIAS_SPREAD.both),
      repeatabilityMm: UNKNOWN_APPRAISER.repeatabilityMm,
    };
  };
}
