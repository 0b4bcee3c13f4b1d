import {
  BIAS_SPREAD,
  DEFAULT_DUTY_PROCESS,
  DEFAULT_PACE_PROCESS,
  DEFAULT_STATED_PROCESS,
  DEFAULT_WEAR_PROCESS,
  driftOffsets,
  type DutyProcess,
  UNKNOWN_APPRAISER,
  type WearProcess,
  type Widening,
} from '@mile-mark/core';
import { z } from 'zod';
import type { EntityManager } from '../../../platform/db/orm.ts';
import { shared } from '../../../platform/answers/shared.ts';
import { rowsOf } from '../../../platform/db/rows.ts';
import { AppraiserDriftEntity, appraiserKey, KnownAppraiser, partsOfAppraiser } from '../../gauges/index.ts';
import { LimitRuleEntity, limitRuleOf, readSettings, type Settings } from '../../register/index.ts';
import {
  CalibrationEntity,
  type CalibrationRow,
  DutyProcessEntity,
  type DutyProcessRow,
  WearProcessEntity,
} from '../entities.ts';
import type { ClassProcesses, InputContext } from '../input.ts';

/** What, besides a vehicle's own record, its forecast rests on, as settings and the fleet's learning have it. */
export interface ForecastContext extends InputContext {
  settings: Settings;
}

export function loadForecastContext(em: EntityManager): Promise<ForecastContext> {
  return shared(em, 'context of forecasts', () => readForecastContext(em));
}

async function readForecastContext(em: EntityManager): Promise<ForecastContext> {
  const [limits, settings, processes, wear, calibrations, drift, groups, appraiserOf] = await Promise.all([
    em.fork({ keepTransactionContext: true }).find(LimitRuleEntity, {}),
    readSettings(em),
    em.fork({ keepTransactionContext: true }).find(DutyProcessEntity, {}),
    em.fork({ keepTransactionContext: true }).find(WearProcessEntity, {}),
    em.fork({ keepTransactionContext: true }).find(CalibrationEntity, {}),
    em.fork({ keepTransactionContext: true }).find(AppraiserDriftEntity, {}),
    rowsOf(
      em,
      z.object({
        model_id: z.string(),
        axle: z.number(),
        mean: z.number(),
        sd_vehicle: z.number(),
        sd_axle: z.number(),
        sd_pad: z.number(),
      }),
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
    processOf: (name) => processesOf(processes.filter((row) => row.class === name)),
    wearProcessOf: (name) => wearProcessOf(wear.find((row) => row.class === name)),
    wideningOf: (name) => wideningOf(calibrations.filter((row) => row.class === name)),
    drift: driftOffsets(
      drift.map(({ technicianId, gaugeId, quarter, biasMm, readings }) => ({
        key: `${appraiserKey(technicianId, gaugeId)}@${quarter}`,
        biasMm,
        readings,
      })),
    ),
    priors: (modelId, axle) => byKey.get(`${modelId}/${axle}`),
    appraiserOf,
  };
}

/** The processes of a class by its rows; as assumed, where there is none. */
function processesOf(rows: readonly DutyProcessRow[]): ClassProcesses {
  const of = (what: DutyProcessRow['what'], assumed: DutyProcess): DutyProcess => {
    const row = rows.find((one) => one.what === what);
    if (!row) return assumed;
    const { blockSd, hazard, routeMean, routeSd } = row;
    return { blockSd, hazard, routeMean, routeSd };
  };
  return {
    duty: of('measured duty', DEFAULT_DUTY_PROCESS),
    stated: of('stated duty', DEFAULT_STATED_PROCESS),
    pace: of('miles a day', DEFAULT_PACE_PROCESS),
  };
}

function wearProcessOf(row: WearProcess | undefined): WearProcess {
  if (!row) return DEFAULT_WEAR_PROCESS;
  const { perPeriod, perPad, sdPad, blockShare } = row;
  return { perPeriod, perPad, sdPad, blockShare };
}

/** Near and far factors of a class; undefined where neither widens anything. */
function wideningOf(rows: readonly CalibrationRow[]): Widening | undefined {
  const factorOf = (distance: string) => rows.find((row) => row.distance === distance)?.factor ?? 1;
  const widening = { near: factorOf('near'), far: factorOf('far') };
  return widening.near > 1 || widening.far > 1 ? widening : undefined;
}

/** What is known of each appraiser; one never seen is put together from its technician's and its gauge's share. */
async function loadAppraisers(em: EntityManager): Promise<ForecastContext['appraiserOf']> {
  const appraisers = await rowsOf(
    em,
    KnownAppraiser,
    'select technician_id, gauge_id, bias_mm, bias_sd_mm, repeatability_mm from appraiser',
  );
  const shares = await rowsOf(
    em,
    z.object({ kind: z.string(), subject_id: z.string(), bias_mm: z.number(), bias_sd_mm: z.number() }),
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
