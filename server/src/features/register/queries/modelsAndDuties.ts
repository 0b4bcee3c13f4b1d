import { shared } from '../../../platform/answers/shared.ts';
import type { EntityManager } from '../../../platform/db/orm.ts';
import { groupBy } from '../../../platform/groupBy.ts';
import { DutyEntity, ModelAxleEntity, ModelEntity } from '../entities.ts';

/** Models with their axles, and duties: what vehicles have in common. Nobody may change what is given. */
export const modelsAndDuties = (em: EntityManager) =>
  shared(em, 'models and duties', async () => {
    const own = () => em.fork({ keepTransactionContext: true });
    const [models, axles, duties] = await Promise.all([
      own().find(ModelEntity, {}),
      own().find(ModelAxleEntity, {}, { orderBy: { axle: 'asc' } }),
      own().find(DutyEntity, {}),
    ]);
    return {
      modelById: new Map(models.map((model) => [model.id, model])),
      dutyById: new Map(duties.map((duty) => [duty.id, duty])),
      axlesOf: groupBy(axles, ({ modelId }) => modelId),
    };
  });
