import type { AxleDetail } from '@mile-mark/contract/forecasts';
import type { BenchAxle, BenchModel } from '@mile-mark/contract/specifications';
import {
  buildOf,
  dayNumber,
  rotorRunout,
  rotorThickness,
  type AxleFacts,
  type Complaint,
  type ShopPolicy,
} from '@mile-mark/core';
import { z } from 'zod';
import type { EntityManager } from '../../platform/db/orm.ts';
import { rowsOf } from '../../platform/db/rows.ts';
import { axlesStanding } from '../forecasts/index.ts';
import { rotorPricesOf, type VehicleRow } from '../register/index.ts';
import { benchModels } from '../specifications/index.ts';
import { openDefects } from './queries/defects.ts';
import { policyOfModel } from './queries/policy.ts';

/** What is known of a vehicle for deciding what to do at its axles. */
export interface VehicleFacts {
  vehicle: VehicleRow;
  class: 'pickup' | 'van' | 'heavy';
  model: BenchModel;
  details: AxleDetail[];
  policy: ShopPolicy;
  axles: Map<number, AxleFacts>;
  milesPerDay: number | null;
  odometerNowMi: number | null;
  currency: string | null;
}

const FindingSql = z.object({
  axle: z.number(),
  side: z.enum(['left', 'right']),
  item: z.string(),
  state: z.string(),
});
/** The last states of each item of a wheel since its axle got new pads, as looks and cards told it. */
const FINDINGS = `
  select axle, side, item, state from (select seen.*, rank() over (partition by axle, side, item order by day desc, at desc) as age from (
    select f.axle, f.side, f.item, f.state, i.measured_on as day, i.entered_at as at
      from live_finding f join inspection i on i.id = f.inspection_id where f.vehicle_id = ?
    union all
    select split_part(e.step, '/', 2)::int, split_part(e.step, '/', 3), e.detail->>'item', e.detail->>'state', e.done_at::date, e.entered_at
      from job_entry e join job j on j.id = e.job_id
      where j.vehicle_id = ? and j.state = 'in work' and e.kind = 'check') seen
  where not exists (select 1 from service s where s.vehicle_id = ? and s.axle = seen.axle and s.fitted_on > seen.day)) told
  where age = 1 order by axle, side, item`;

const RotorSql = z.object({
  axle: z.number(),
  thickness_um: z.array(z.number().nullable()),
  runout_um: z.array(z.number()),
});
const ROTORS = `
  select m.axle, m.thickness_um, m.runout_um from live_rotor_measurement m join inspection i on i.id = m.inspection_id
  where m.vehicle_id = ? and not exists (select 1 from service s where s.vehicle_id = m.vehicle_id and s.axle = m.axle
    and s.fitted like '%rotors' and s.fitted_on >= i.measured_on)
  order by i.measured_on desc`;

const Overall = z.object({
  detail: z.object({
    milesPerDay: z.object({ mean: z.number() }).optional(),
    odometerNowMi: z.number().optional(),
    explained: z.object({ p05: z.number() }).nullish(),
  }),
});

/** Gathers the facts of every axle of a vehicle, and the shop's policy for it. */
export async function vehicleFacts(em: EntityManager, vehicle: VehicleRow, today: string): Promise<VehicleFacts> {
  const own = () => em.fork({ keepTransactionContext: true });
  const [{ record, details, settings }, models, findings, rotors, defects, overall] = await Promise.all([
    axlesStanding(own(), vehicle.id),
    benchModels(own(), [vehicle.modelId]),
    rowsOf(own(), FindingSql, FINDINGS, [vehicle.id, vehicle.id, vehicle.id]),
    rowsOf(own(), RotorSql, ROTORS, [vehicle.id]),
    openDefects(own(), today, vehicle.id),
    rowsOf(own(), Overall, 'select detail from vehicle_forecast where vehicle_id = ?', [vehicle.id]),
  ]);
  const [model] = models;
  if (!model) throw new Error(`vehicle ${vehicle.unit} has no model`);
  const policy = await policyOfModel(em, record.model);
  const told = overall[0]?.detail;
  const milesPerDay = told?.milesPerDay?.mean ?? null;
  const common = {
    policy,
    milesPerDay,
    wearsAtLeast: told?.explained?.p05 ?? 1,
    prices: rotorPricesOf(settings, record.model.class),
    today,
  };
  const axles = details.map((detail): [number, AxleFacts] => [
    detail.axle,
    factsOf(detail, {
      ...common,
      bench: model.axles.find(({ axle }) => axle === detail.axle),
      findings: findings.filter(({ axle }) => axle === detail.axle),
      rotors: rotors.filter(({ axle }) => axle === detail.axle),
      complaints: defects
        .filter(({ kind, axle }) => kind === 'complaint' && (axle === null || axle === detail.axle))
        .map(({ text }) => text as Complaint),
    }),
  ]);
  return {
    vehicle,
    class: record.model.class as VehicleFacts['class'],
    model,
    details,
    policy,
    axles: new Map(axles),
    milesPerDay,
    odometerNowMi: told?.odometerNowMi ?? null,
    currency: settings.costs?.currency ?? null,
  };
}

interface Around {
  today: string;
  policy: ShopPolicy;
  milesPerDay: number | null;
  wearsAtLeast: number;
  prices: AxleFacts['prices'];
  bench: BenchAxle | undefined;
  findings: z.output<typeof FindingSql>[];
  rotors: z.output<typeof RotorSql>[];
  complaints: Complaint[];
}

/** A rotor loses about so much for each millimetre of a pad (as in the forecasts; common practice, no source). */
const ROTOR_PER_PAD = 0.1;
/** What a cut takes from both faces together, mm (common practice, no source). */
const CUT_MM = 0.4;
const DAYS_PER_YEAR = 365.25;

function factsOf(detail: AxleDetail, around: Around): AxleFacts {
  const { bench, policy, milesPerDay, today, findings, complaints, wearsAtLeast, prices } = around;
  const { limit, newMm } = limitsOf(detail);
  const law = limit.candidates.find(({ kind }) => kind === 'law');
  const rates = detail.pads.map(({ ratePer1000Mi }) => ratePer1000Mi);
  const rate = rates.reduce((sum, one) => sum + one, 0) / Math.max(1, rates.length);
  const miles = rate > 0 ? ((newMm - limit.limitMm) / rate) * 1000 : FALLBACK_MILES;
  return {
    brake: detail.brake,
    build: buildOf(detail.brake, detail.brakeDetail),
    pads: detail.pads.map(({ side, pad, meanMm }) => ({ side, pad, mm: meanMm })),
    limitMm: limit.limitMm,
    law: law ? { leastMm: law.leastMm, equalityPasses: law.equalityPasses } : null,
    daysToMark: detail.mark ? dayNumber(detail.mark.markDate) - dayNumber(today) : undefined,
    wearsAtLeast,
    ...rotorFacts(detail, around.rotors, bench),
    findings,
    complaints,
    fluid: undefined,
    life: { miles, years: miles / Math.max(1, milesPerDay ?? FALLBACK_MILES_PER_DAY) / DAYS_PER_YEAR },
    prices,
    policy,
  };
}

const FALLBACK_MILES = 40_000;
const FALLBACK_MILES_PER_DAY = 60;
const limitsOf = ({ limit, padNewMm }: AxleDetail) => ({ limit, newMm: padNewMm });

function rotorFacts(
  detail: AxleDetail,
  measured: Around['rotors'],
  bench: BenchAxle | undefined,
): Pick<AxleFacts, 'rotor' | 'runout' | 'variation'> {
  const { rotorNewMm, rotorDiscardMm, rotorMachineToMm, padNewMm, limit, decision } = detail;
  const sheet = bench?.sheet?.values;
  const known = measured.map(({ thickness_um }) =>
    rotorThickness(thickness_um.flatMap((um) => (um === null ? [] : [um / 1000]))),
  );
  const least = known.flatMap((one) => (one ? [one.leastMm] : []));
  const worst = Math.max(...known.flatMap((one) => (one ? [one.variationMm] : [])));
  const runouts = measured
    .filter(({ runout_um }) => runout_um.length >= 8)
    .map(({ runout_um }) => rotorRunout(runout_um.map((um) => um / 1000)))
    .sort((a, b) => b.tirMm - a.tirMm);
  const thicknessMm = least.length > 0 ? Math.min(...least) : decision?.rotor?.meanMm;
  return {
    rotor:
      rotorNewMm === null || rotorDiscardMm === null || thicknessMm === undefined
        ? undefined
        : {
            thicknessMm,
            newMm: rotorNewMm,
            discardMm: rotorDiscardMm,
            machineToMm: rotorMachineToMm,
            wearPerPadsMm: ROTOR_PER_PAD * (padNewMm - limit.limitMm),
            cutMm: CUT_MM,
          },
    runout:
      runouts[0] && sheet?.runoutMm
        ? { mm: runouts[0].tirMm, firstHarmonicMm: 2 * runouts[0].first.amplitudeMm, limitMm: sheet.runoutMm }
        : null,
    variation:
      Number.isFinite(worst) && sheet?.thicknessVariationMm ? { mm: worst, limitMm: sheet.thicknessVariationMm } : null,
  };
}
