import type { Express } from 'express';
import type { AppContext } from '../http/context.ts';
import { mount } from '../http/mount.ts';
import { answerChange, listChanges } from '../services/changes.ts';
import { listVehicles, mileMarks, vehicleDetail, type MarksCache } from '../services/fleet.ts';
import { forecastInput, whyMark } from '../services/explain.ts';
import { validation } from '../services/validation.ts';
import { withoutPooling } from '../services/withoutPooling.ts';
import { addVehicle, changeDuty } from '../services/register.ts';

export function mountFleet(app: Express, context: AppContext): void {
  const cache: MarksCache = {};
  mount(app, context, 'mileMarks', async ({ em }) => mileMarks(em, context.today(), cache));
  mount(app, context, 'vehicles', async ({ em }) => ({ items: await listVehicles(em, context.today()) }));
  mount(app, context, 'vehicle', async ({ em, params }) => vehicleDetail(em, params.unit, context.today()));
  mount(app, context, 'withoutPooling', async ({ em, params }) => withoutPooling(em, params.unit, context.today()));
  mount(app, context, 'validation', async ({ em }) => validation(em));
  mount(app, context, 'forecastInput', async ({ em, params }) => forecastInput(em, params.unit, context.today()));
  mount(app, context, 'whyMark', async ({ em, params }) => whyMark(em, params.unit, context.today()));
  mount(app, context, 'changes', async ({ em }) => ({ items: await listChanges(em) }));
  mount(app, context, 'answerChange', async ({ em, actor, params, body }) => answerChange(em, actor, params.id, body));
  mount(app, context, 'addVehicle', async ({ em, actor, body }) => {
    const done = await addVehicle(em, actor, body, context.today());
    await context.queue.vehicles([done.id]);
    return done;
  });
  mount(app, context, 'changeDuty', async ({ em, actor, params, body }) => {
    const { id, vehicleId } = await changeDuty(em, actor, params.unit, body);
    await context.queue.vehicles([vehicleId]);
    return { id };
  });
}
