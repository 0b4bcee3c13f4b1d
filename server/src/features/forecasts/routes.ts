import type { Express } from 'express';
import { EVERYTHING, restsOnOne } from '../../platform/answers/answers.ts';
import { kept } from '../../platform/answers/kept.ts';
import type { AppContext } from '../../platform/http/context.ts';
import { mount } from '../../platform/http/mount.ts';
import { normaliseUnit } from '../register/index.ts';
import { answerChange } from './commands/answerChange.ts';
import { listChanges } from './queries/changes.ts';
import { dutyPreview, forecastInput, whyMark } from './queries/explain.ts';
import { mileMarks } from './queries/marks.ts';
import { validation } from './queries/validation.ts';
import { asSeenBy, vehicleDetail } from './queries/vehicle.ts';
import { withoutPooling } from './queries/withoutPooling.ts';

/** What the page of a vehicle rests on. */
const vehicleOf = restsOnOne('vehicle', 'select asked.key, v.id from asked join vehicle v on v.unit = asked.key');

export function mountForecasts(app: Express, context: AppContext): void {
  const { today } = context;
  mount(
    app,
    context,
    'mileMarks',
    kept('mileMarks', { as: () => [], rests: () => EVERYTHING }, async ({ em }) => mileMarks(em, today())),
  );
  mount(
    app,
    context,
    'vehicle',
    kept(
      'vehicle',
      { as: ({ actor, params }) => [actor.role, params.unit], rests: ({ unit }) => vehicleOf(normaliseUnit(unit)) },
      async ({ em, actor, params }) => asSeenBy(actor, await vehicleDetail(em, params.unit, today())),
    ),
  );
  mount(app, context, 'withoutPooling', async ({ em, params }) => withoutPooling(em, params.unit, today()));
  mount(app, context, 'validation', async ({ em }) => validation(em));
  mount(app, context, 'forecastInput', async ({ em, actor, params }) => forecastInput(em, actor, params.unit, today()));
  mount(app, context, 'dutyPreview', async ({ em, params, query }) => dutyPreview(em, params.unit, query, today()));
  mount(app, context, 'whyMark', async ({ em, params }) => whyMark(em, params.unit, today()));
  mount(app, context, 'changes', async ({ em }) => ({ items: await listChanges(em) }));
  mount(app, context, 'answerChange', async ({ run, params, body }) =>
    run(answerChange, { ...body, changeId: params.id }),
  );
}
