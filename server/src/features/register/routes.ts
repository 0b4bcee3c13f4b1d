import type { Express } from 'express';
import type { AppContext } from '../../platform/http/context.ts';
import { mount } from '../../platform/http/mount.ts';
import { correctDuty } from './commands/correctDuty.ts';
import { addDuty, addLimit, addVehicle, changeDuty, undoDuty } from './commands/entries.ts';
import { changeModelBuild } from './commands/changeModelBuild.ts';
import { changeUnit } from './commands/changeUnit.ts';
import { correctStart } from './commands/correctStart.ts';
import { replaceInstrument, undoInstrument } from './commands/replaceInstrument.ts';
import { leaveFleet, rejoinFleet } from './commands/departure.ts';
import { addDepot, changeDepot, closeDepot, reopenDepot } from './commands/depots.ts';
import { addModel, correctModel } from './commands/models.ts';
import { moveVehicle, undoVehicleMove } from './commands/moveVehicle.ts';
import { listFleet } from './queries/fleet.ts';
import { listDepots, listDuties, listLimits, listModels } from './queries/lists.ts';
import { modelFigures } from './queries/modelFigures.ts';
import { changeSettings, readSettings } from './settings.ts';
import { listVehicles } from './queries/vehicles.ts';

export function mountRegister(app: Express, context: AppContext): void {
  const { today } = context;
  mount(app, context, 'depots', async ({ em }) => ({ items: await listDepots(em) }));
  mount(app, context, 'addDepot', async ({ run, body }) => run(addDepot, body));
  mount(app, context, 'changeDepot', async ({ run, params, body }) =>
    run(changeDepot, { ...body, depotId: params.id }),
  );
  mount(app, context, 'closeDepot', async ({ run, params, body }) => run(closeDepot, { ...body, depotId: params.id }));
  mount(app, context, 'reopenDepot', async ({ run, params }) => run(reopenDepot, { depotId: params.id }));
  mount(app, context, 'models', async ({ em }) => ({ items: await listModels(em) }));
  mount(app, context, 'changeModelBuild', async ({ run, params, body }) =>
    run(changeModelBuild, { ...body, modelId: params.id }),
  );
  mount(app, context, 'addModel', async ({ run, body }) => run(addModel, body));
  mount(app, context, 'modelFigures', async ({ em, params }) => modelFigures(em, params.id));
  mount(app, context, 'correctModel', async ({ run, params, body }) =>
    run(correctModel, { ...body, modelId: params.id }),
  );
  mount(app, context, 'duties', async ({ em }) => ({ items: await listDuties(em, today()) }));
  mount(app, context, 'addDuty', async ({ run, body }) => run(addDuty, body));
  mount(app, context, 'settings', async ({ em }) => readSettings(em));
  mount(app, context, 'changeSettings', async ({ run, body }) => run(changeSettings, body));
  mount(app, context, 'limits', async ({ em }) => ({ items: await listLimits(em) }));
  mount(app, context, 'addLimit', async ({ run, body }) => run(addLimit, body));
  mount(app, context, 'vehicles', async ({ em }) => ({ items: await listVehicles(em, today()) }));
  mount(app, context, 'addVehicle', async ({ run, body }) => run(addVehicle, body));
  mount(app, context, 'fleet', async ({ em }) => ({ items: await listFleet(em, today()) }));
  mount(app, context, 'changeUnit', async ({ run, params, body }) => run(changeUnit, { ...body, of: params.unit }));
  mount(app, context, 'moveVehicle', async ({ run, params, body }) => run(moveVehicle, { ...body, ...params }));
  mount(app, context, 'undoVehicleMove', async ({ run, params }) => run(undoVehicleMove, params));
  mount(app, context, 'leaveFleet', async ({ run, params, body }) => run(leaveFleet, { ...body, ...params }));
  mount(app, context, 'rejoinFleet', async ({ run, params }) => run(rejoinFleet, params));
  mount(app, context, 'replaceInstrument', async ({ run, params, body }) =>
    run(replaceInstrument, { ...body, ...params }),
  );
  mount(app, context, 'undoInstrument', async ({ run, params }) => run(undoInstrument, params));
  mount(app, context, 'correctStart', async ({ run, params, body }) => run(correctStart, { ...body, ...params }));
  mount(app, context, 'undoDuty', async ({ run, params }) => run(undoDuty, params));
  mount(app, context, 'correctDuty', async ({ run, params, body }) =>
    run(correctDuty, { ...body, periodId: params.id }),
  );
  mount(app, context, 'changeDuty', async ({ run, params, body }) => run(changeDuty, { ...body, ...params }));
}
