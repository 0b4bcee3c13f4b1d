import type { Express } from 'express';
import type { AppContext } from '../../platform/http/context.ts';
import { mount } from '../../platform/http/mount.ts';
import { answerChanged } from './commands/answerChanged.ts';
import { addRevision } from './commands/enterRevision.ts';
import { addVariant, changeFitment, changeModel } from './commands/fitment.ts';
import { addJointKind } from './commands/jointKinds.ts';
import { releaseRevision } from './commands/release.ts';
import { addCalibration, addTorqueTool, changeTorqueTool } from './commands/torqueTools.ts';
import { withdrawRevision } from './commands/withdraw.ts';
import { exportCsv, exportJson, importLibrary } from './libraryFile.ts';
import { benchOfDepot, benchOfVehicle } from './queries/benchSheets.ts';
import { changedSince } from './queries/changedSince.ts';
import { coverage } from './queries/coverage.ts';
import { libraryModels } from './queries/models.ts';
import { listJointKinds, openSpecifications, revisionsOf, specificationsOf } from './queries/specifications.ts';
import { listTorqueTools } from './queries/torqueTools.ts';

export function mountSpecifications(app: Express, context: AppContext): void {
  const { today } = context;
  mount(app, context, 'jointKinds', async ({ em }) => ({ items: await listJointKinds(em) }));
  mount(app, context, 'addJointKind', async ({ run, body }) => run(addJointKind, body));
  mount(app, context, 'libraryModels', async ({ em }) => ({ items: await libraryModels(em) }));
  mount(app, context, 'changeFitment', async ({ run, params, body }) =>
    run(changeFitment, { ...body, modelId: params.id }),
  );
  mount(app, context, 'addVariant', async ({ run, params, body }) => run(addVariant, { ...body, modelId: params.id }));
  mount(app, context, 'changeModel', async ({ run, params, body }) => run(changeModel, { ...body, ...params }));
  mount(app, context, 'openSpecifications', async ({ em, actor }) => ({ items: await openSpecifications(em, actor) }));
  mount(app, context, 'specifications', async ({ em, actor, params }) => ({
    items: await specificationsOf(em, actor, params.id),
  }));
  mount(app, context, 'revisions', async ({ em, actor, params }) => ({
    items: await revisionsOf(em, actor, params.id),
  }));
  mount(app, context, 'addRevision', async ({ run, body }) => run(addRevision, body));
  mount(app, context, 'releaseRevision', async ({ run, params, body }) =>
    run(releaseRevision, { ...body, revisionId: params.id }),
  );
  mount(app, context, 'withdrawRevision', async ({ run, params, body }) =>
    run(withdrawRevision, { ...body, revisionId: params.id }),
  );
  mount(app, context, 'torqueTools', async ({ em }) => ({ items: await listTorqueTools(em) }));
  mount(app, context, 'addTorqueTool', async ({ run, body }) => run(addTorqueTool, body));
  mount(app, context, 'changeTorqueTool', async ({ run, params, body }) =>
    run(changeTorqueTool, { ...body, toolId: params.id }),
  );
  mount(app, context, 'addCalibration', async ({ run, params, body }) =>
    run(addCalibration, { ...body, toolId: params.id }),
  );
  mount(app, context, 'benchOfVehicle', async ({ em, params }) => benchOfVehicle(em, params.unit));
  mount(app, context, 'benchOfDepot', async ({ em, params }) => benchOfDepot(em, params.id));
  mount(app, context, 'coverage', async ({ em }) => coverage(em, today()));
  mount(app, context, 'changedSince', async ({ em }) => ({ items: await changedSince(em) }));
  mount(app, context, 'answerChanged', async ({ run, body }) => run(answerChanged, body));
  mount(app, context, 'libraryCsv', async ({ em }, response) => {
    response.setHeader('Content-Disposition', 'attachment; filename="specifications.csv"');
    return exportCsv(em);
  });
  mount(app, context, 'libraryJson', async ({ em }, response) => {
    response.setHeader('Content-Disposition', 'attachment; filename="specifications.json"');
    return exportJson(em);
  });
  mount(app, context, 'importLibrary', async ({ run, body }) => run(importLibrary, body));
}
