import { dateOfDay, dayNumber, type Appraiser, UNKNOWN_APPRAISER } from '@mile-mark/core';
import type { EntityManager } from '../../../platform/db/orm.ts';
import type { Settings } from '../../register/index.ts';
import type { ClassProcesses, InputContext } from '../input.ts';
import { loadForecastContext } from '../queries/context.ts';
import { ContextHistoryEntity } from '../entities.ts';
import { contextOf, type KeptContext, MONTH_DAYS } from '../queries/keptContext.ts';
import type { Fleet } from './learnAppraisers.ts';
import { lessonsOf, taughtBy } from './learnFleet.ts';

/**
 * Keeps what the fleet had taught by today, so that a mark can be explained against that of a month ago. Where nothing
 * is kept of a month ago, it is learnt from the record as it stood then.
 */
export async function rememberContext(fleet: Fleet): Promise<void> {
  const { em, records, today } = fleet;
  const context = await loadForecastContext(em);
  await save(em, today, false, keptOf(context, records, context.appraiserOf));
  if (await contextOf(em, today)) return;
  const then = dateOfDay(dayNumber(today) - MONTH_DAYS);
  const back = { ...fleet, today: then };
  const blank = {
    ...context,
    priors: () => undefined,
    appraiserOf: () => UNKNOWN_APPRAISER,
    drift: new Map<string, number>(),
  };
  const { appraisers, groups } = await taughtBy(back, await lessonsOf(back, records, blank), blank);
  const known = new Map(appraisers.appraisers.map((appraiser) => [appraiser.key, appraiser]));
  const appraiserOf = (key: string): Appraiser => known.get(key) ?? UNKNOWN_APPRAISER;
  const learnt = { ...context, priors: (modelId: string, axle: number) => groups.get(`${modelId}/${axle}`)?.prior };
  await save(em, then, true, keptOf(learnt, records, appraiserOf));
}

function keptOf(
  { settings, rules, priors, processOf, wearProcessOf, wideningOf, drift }: InputContext & { settings: Settings },
  records: Fleet['records'],
  appraiserOf: (key: string) => Appraiser,
): KeptContext {
  const groups: KeptContext['groups'] = {};
  const appraisers: KeptContext['appraisers'] = {};
  for (const { model, axles, readings } of records) {
    for (const { axle } of axles) {
      const prior = priors(model.id, axle);
      if (prior) groups[`${model.id}/${axle}`] = prior;
    }
    for (const { technician_id, gauge_id } of readings) {
      const key = `${technician_id}/${gauge_id}`;
      const { biasMm, biasSdMm, repeatabilityMm } = appraiserOf(key);
      appraisers[key] ??= { biasMm, biasSdMm, repeatabilityMm };
    }
  }
  const classes = [...new Set(records.map(({ model }) => model.class))];
  const byClass = (which: keyof ClassProcesses) =>
    Object.fromEntries(classes.map((name) => [name, processOf(name)[which]]));
  const [processes, stated, paces] = [byClass('duty'), byClass('stated'), byClass('pace')];
  const wear = Object.fromEntries(classes.map((name) => [name, wearProcessOf(name)]));
  const widening = Object.fromEntries(
    classes.flatMap((name) => {
      const own = wideningOf(name);
      return own ? [[name, own]] : [];
    }),
  );
  return {
    settings,
    rules,
    groups,
    appraisers,
    processes,
    stated,
    paces,
    wear,
    widening,
    drift: Object.fromEntries(drift),
  };
}

async function save(em: EntityManager, asOf: string, afterwards: boolean, context: KeptContext): Promise<void> {
  await em.upsert(
    ContextHistoryEntity,
    { asOf, detail: context, afterwards, computedAt: new Date() },
    { onConflictMergeFields: ['detail', 'computedAt'] },
  );
}
