import type { Express } from 'express';
import type { AppContext } from '../http/context.ts';
import { mount } from '../http/mount.ts';
import { exportCsv, exportJson, importLibrary } from '../interchange/libraryFile.ts';
import { benchOfDepot, benchOfVehicle } from '../services/benchSheets.ts';
import { answerChanged, changedSince } from '../services/changedSince.ts';
import { coverage } from '../services/coverage.ts';
import { addVariant, changeFitment, changeModel, libraryModels } from '../services/library.ts';
import { releaseRevision } from '../services/release.ts';
import {
  addJointKind,
  listJointKinds,
  openSpecifications,
  revisionsOf,
  specificationsOf,
  withdrawRevision,
} from '../services/specifications.ts';
import { addRevision } from '../services/enterRevision.ts';
import { addCalibration, addTorqueTool, changeTorqueTool, listTorqueTools } from '../services/torqueTools.ts';

export function mountSpecifications(app: Express, context: AppContext): void {
  const { today, queue } = context;
  mount(app, context, 'jointKinds', async ({ em }) => ({ items: await listJointKinds(em) }));
  mount(app, context, 'addJointKind', async ({ em, actor, body }) => addJointKind(em, actor, body));
  mount(app, context, 'libraryModels', async ({ em }) => ({ items: await libraryModels(em) }));
  mount(app, context, 'changeFitment', async ({ em, actor, params, body }) =>
    changeFitment(em, actor, params.id, body),
  );
  mount(app, context, 'addVariant', async ({ em, actor, params, body }) => addVariant(em, actor, params.id, body));
  mount(app, context, 'changeModel', async ({ em, actor, params, body }) => {
    const done = await changeModel(em, actor, params.unit, body.model, today());
    await queue.vehicles([done.id]);
    return done;
  });
  mount(app, context, 'openSpecifications', async ({ em, actor }) => ({ items: await openSpecifications(em, actor) }));
  mount(app, context, 'specifications', async ({ em, actor, params }) => ({
    items: await specificationsOf(em, actor, params.id),
  }));
  mount(app, context, 'revisions', async ({ em, actor, params }) => ({
    items: await revisionsOf(em, actor, params.id),
  }));
  mount(app, context, 'addRevision', async ({ em, actor, body }) => addRevision(em, actor, body, today()));
  mount(app, context, 'releaseRevision', async ({ em, actor, params, body }) => {
    const { answer, vehicleIds } = await releaseRevision(em, actor, params.id, body, today());
    if (vehicleIds.length > 0) await queue.vehicles(vehicleIds);
    return answer;
  });
  mount(app, context, 'withdrawRevision', async ({ em, actor, params, body }) => {
    const { id, vehicleIds } = await withdrawRevision(em, actor, params.id, body.reason, today());
    if (vehicleIds.length > 0) await queue.vehicles(vehicleIds);
    return { id };
  });
  mount(app, context, 'torqueTools', async ({ em }) => ({ items: await listTorqueTools(em) }));
  mount(app, context, 'addTorqueTool', async ({ em, actor, body }) => addTorqueTool(em, actor, body));
  mount(app, context, 'changeTorqueTool', async ({ em, actor, params, body }) =>
    changeTorqueTool(em, actor, params.id, body),
  );
  mount(app, context, 'addCalibration', async ({ em, actor, params, body }) =>
    addCalibration(em, actor, params.id, body, today()),
  );
  mount(app, context, 'benchOfVehicle', async ({ em, params }) => benchOfVehicle(em, params.unit));
  mount(app, context, 'benchOfDepot', async ({ em, params }) => benchOfDepot(em, params.id));
  mount(app, context, 'coverage', async ({ em }) => coverage(em, today()));
  mount(app, context, 'changedSince', async ({ em }) => ({ items: await changedSince(em) }));
  mount(app, context, 'answerChanged', async ({ em, actor, body }) => answerChanged(em, actor, body));
  mount(app, context, 'libraryCsv', async ({ em }, response) => {
    response.setHeader('Content-Disposition', 'attachment; filename="specifications.csv"');
    return exportCsv(em);
  });
  mount(app, context, 'libraryJson', async ({ em }, response) => {
    response.setHeader('Content-Disposition', 'attachment; filename="specifications.json"');
    return exportJson(em);
  });
  mount(app, context, 'importLibrary', async ({ em, actor, body }) => importLibrary(em, actor, body, today()));
}
