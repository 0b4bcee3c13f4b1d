import type { Express } from 'express';
import type { AppContext } from '../../platform/http/context.ts';
import { mount } from '../../platform/http/mount.ts';
import { addGauge } from './commands/addGauge.ts';
import { importStudy } from './commands/importStudy.ts';
import { addStudy, addStudyValue } from './commands/studies.ts';
import { listGauges } from './queries/gauges.ts';
import { listAppraisers } from './queries/appraisers.ts';
import { listStudies, studyDetail } from './queries/studies.ts';

export function mountGauges(app: Express, context: AppContext): void {
  mount(app, context, 'gauges', async ({ em }) => ({ items: await listGauges(em) }));
  mount(app, context, 'addGauge', async ({ run, body }) => run(addGauge, body));
  mount(app, context, 'appraisers', async ({ em, actor }) => listAppraisers(em, actor));
  mount(app, context, 'studies', async ({ em, actor }) => ({ items: await listStudies(em, actor) }));
  mount(app, context, 'addStudy', async ({ run, body }) => run(addStudy, body));
  mount(app, context, 'importStudy', async ({ run, body }) => run(importStudy, body));
  mount(app, context, 'study', async ({ em, actor, params }) => studyDetail(em, actor, params.id));
  mount(app, context, 'addStudyValue', async ({ run, params, body }) =>
    run(addStudyValue, { ...body, studyId: params.id }),
  );
}
