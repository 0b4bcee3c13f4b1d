import type { Express } from 'express';
import type { AppContext } from '../../platform/http/context.ts';
import { mount } from '../../platform/http/mount.ts';
import { addDuty, addLimit, addVehicle, changeDuty, undoDuty } from './commands.ts';
import { changeModelBuild } from './changeModelBuild.ts';
import { listDepots, listDuties, listLimits, listModels } from './queries.ts';
import { changeSettings, readSettings } from './settings.ts';
import { listVehicles } from './vehicles.ts';

export function mountRegister(app: Express, context: AppContext): void {
  const { today } = context;
  mount(app, context, 'depots', async ({ em }) => ({ items: await listDepots(em) }));
  mount(app, context, 'models', async ({ em }) => ({ items: await listModels(em) }));
  mount(app, context, 'changeModelBuild', async ({ run, params, body }) =>
    run(changeModelBuild, { ...body, modelId: params.id }),
  );
  mount(app, context, 'duties', async ({ em }) => ({ items: await listDuties(em, today()) }));
  mount(app, context, 'addDuty', async ({ run, body }) => run(addDuty, body));
  mount(app, context, 'settings', async ({ em }) => readSettings(em));
  mount(app, context, 'changeSettings', async ({ run, body }) => run(changeSettings, body));
  mount(app, context, 'limits', async ({ em }) => ({ items: await listLimits(em) }));
  mount(app, context, 'addLimit', async ({ run, body }) => run(addLimit, body));
  mount(app, context, 'vehicles', async ({ em }) => ({ items: await listVehicles(em, today()) }));
  mount(app, context, 'addVehicle', async ({ run, body }) => run(addVehicle, body));
  mount(app, context, 'undoDuty', async ({ run, params }) => run(undoDuty, params));
  mount(app, context, 'changeDuty', async ({ run, params, body }) => run(changeDuty, { ...body, ...params }));
}
