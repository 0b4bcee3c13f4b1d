import type { Appraisers, AppraiserView, ShareView } from '@mile-mark/contract/gauges';
import { z } from 'zod';
import { type Actor, mustBeAllowed } from '../../../platform/auth/policy.ts';
import type { EntityManager } from '../../../platform/db/orm.ts';
import { rowsOf } from '../../../platform/db/rows.ts';

const AppraiserSql = z.object({
  technician_id: z.string(),
  technician: z.string(),
  gauge_id: z.string(),
  gauge: z.string(),
  resolution_um: z.number(),
  bias_mm: z.number(),
  bias_sd_mm: z.number(),
  against_mm: z.number(),
  against_sd_mm: z.number(),
  repeatability_mm: z.number(),
  repeatability_log_sd: z.number(),
  readings: z.number(),
  computed_at: z.string(),
});
type AppraiserSql = z.output<typeof AppraiserSql>;

const APPRAISERS = `
  select h.technician_id, p.name as technician, h.gauge_id, g.name as gauge, g.resolution_um, h.bias_mm, h.bias_sd_mm,
    h.against_mm, h.against_sd_mm, h.repeatability_mm, h.repeatability_log_sd, h.readings, h.computed_at::text
  from appraiser h join person p on p.id = h.technician_id join gauge g on g.id = h.gauge_id
  where h.readings > 0 order by p.name, h.readings desc`;

/** Bias and repeatability as learnt; a technician sees their own appraisers and the gauges they use. */
export async function listAppraisers(em: EntityManager, actor: Actor): Promise<Appraisers> {
  mustBeAllowed(actor, 'measure');
  const every = await rowsOf(em, AppraiserSql, APPRAISERS);
  const rows = actor.role === 'coordinator' ? every : every.filter(({ technician_id }) => technician_id === actor.id);
  const drift = await rowsOf(
    em,
    z.object({
      technician_id: z.string(),
      gauge_id: z.string(),
      quarter: z.string(),
      bias_mm: z.number(),
      bias_sd_mm: z.number(),
      readings: z.number(),
    }),
    'select technician_id, gauge_id, quarter::text, bias_mm, bias_sd_mm, readings from appraiser_drift order by quarter',
  );
  const shares = await rowsOf(
    em,
    z.object({ kind: z.string(), subject_id: z.string(), bias_mm: z.number(), bias_sd_mm: z.number() }),
    'select kind, subject_id, bias_mm, bias_sd_mm from appraiser_share',
  );
  const shareOf = (kind: 'technician' | 'gauge', id: string, name: string): ShareView => {
    const share = shares.find((one) => one.kind === kind && one.subject_id === id);
    const own = every.filter((row) => (kind === 'technician' ? row.technician_id : row.gauge_id) === id);
    return {
      id,
      name,
      biasMm: share?.bias_mm ?? 0,
      biasSdMm: share?.bias_sd_mm ?? 0,
      ...repeatOf(own),
      partners: new Set(own.map((row) => (kind === 'technician' ? row.gauge_id : row.technician_id))).size,
    };
  };
  const once = (kind: 'technician' | 'gauge') => {
    const names = new Map(
      rows.map((row) => (kind === 'technician' ? [row.technician_id, row.technician] : [row.gauge_id, row.gauge])),
    );
    return [...names].map(([id, name]) => shareOf(kind, id, name)).sort((a, b) => a.name.localeCompare(b.name));
  };
  return {
    computedAt:
      rows
        .map(({ computed_at }) => computed_at)
        .sort()
        .at(-1) ?? null,
    appraisers: rows.map((row): AppraiserView => ({
      technicianId: row.technician_id,
      technician: row.technician,
      gaugeId: row.gauge_id,
      gauge: row.gauge,
      resolutionMm: row.resolution_um / 1000,
      biasMm: row.bias_mm,
      biasSdMm: row.bias_sd_mm,
      against: { biasMm: row.against_mm, biasSdMm: row.against_sd_mm },
      ...repeatOf([row]),
      drift: drift
        .filter((one) => one.technician_id === row.technician_id && one.gauge_id === row.gauge_id)
        .map(({ quarter, bias_mm, bias_sd_mm, readings }) => ({
          quarter,
          biasMm: bias_mm,
          biasSdMm: bias_sd_mm,
          readings,
        })),
    })),
    technicians: once('technician'),
    gauges: once('gauge'),
  };
}

const Z90 = 1.645;

/** Repeatability of several appraisers together, each weighing by its readings, with its 90 % interval. */
function repeatOf(rows: readonly Pick<AppraiserSql, 'repeatability_mm' | 'repeatability_log_sd' | 'readings'>[]) {
  const readings = rows.reduce((sum, row) => sum + row.readings, 0);
  const variance = rows.reduce((sum, row) => sum + row.repeatability_mm ** 2 * row.readings, 0) / Math.max(1, readings);
  const precision = rows.reduce((sum, row) => sum + 1 / row.repeatability_log_sd ** 2, 0);
  const repeatabilityMm = Math.sqrt(variance);
  const factor = Math.exp(Z90 / Math.sqrt(precision));
  return {
    repeatabilityMm,
    repeatabilityFromMm: repeatabilityMm / factor,
    repeatabilityToMm: repeatabilityMm * factor,
    readings,
  };
}
