import type { Express } from 'express';
import { writePdf } from '../../platform/documents/pdf.ts';
import type { AppContext } from '../../platform/http/context.ts';
import { mount } from '../../platform/http/mount.ts';
import { addJob } from './commands/addJob.ts';
import { changePolicy } from './commands/changePolicy.ts';
import { closeJob } from './commands/closeJob.ts';
import { addComplaint, settleDefect } from './commands/defects.ts';
import { changeScope, moveJob } from './commands/moveJob.ts';
import { addJobPhoto, jobPhotoOf } from './commands/photos.ts';
import { addJobEntries } from './commands/writeEntries.ts';
import { jobCard } from './queries/card.ts';
import { openDefects } from './queries/defects.ts';
import { jobDetail } from './queries/job.ts';
import { listJobs } from './queries/jobs.ts';
import { jobLessons } from './queries/lessons.ts';
import { shopPolicy } from './queries/policy.ts';
import { jobProposal } from './queries/proposal.ts';
import { jobRecord } from './queries/record.ts';
import { thisWeek, weekDocument } from './queries/thisWeek.ts';
import { readerOf } from '../people/index.ts';

export function mountJobs(app: Express, context: AppContext): void {
  const today = () => context.today();
  mount(app, context, 'jobs', async ({ em, query }) => ({ items: await listJobs(em, query) }));
  mount(app, context, 'addJob', async ({ run, body }) => run(addJob, body));
  mount(app, context, 'job', async ({ em, params }) => jobDetail(em, params.id, today()));
  mount(app, context, 'moveJob', async ({ run, params, body }) => run(moveJob, { ...body, jobId: params.id }));
  mount(app, context, 'changeScope', async ({ run, params, body }) => run(changeScope, { ...body, jobId: params.id }));
  mount(app, context, 'jobCard', async ({ em, params }) => jobCard(em, params.id, today()));
  mount(app, context, 'addJobEntries', async ({ run, params, body }) =>
    run(addJobEntries, { ...body, jobId: params.id }),
  );
  mount(app, context, 'closeJob', async ({ run, params, body }) => run(closeJob, { ...body, jobId: params.id }));
  mount(app, context, 'thisWeek', async ({ em, query }) => thisWeek(em, today(), query.depot));
  mount(app, context, 'thisWeekPdf', async ({ em, query, actor }, response) => {
    const week = await thisWeek(em, today(), query.depot);
    response.setHeader('Content-Disposition', `inline; filename="this-week-${week.today}.pdf"`);
    return writePdf(weekDocument(week, await readerOf(em, actor)));
  });
  mount(app, context, 'jobRecord', async ({ em, params, actor }, response) => {
    const document = await jobRecord(em, params.id, today(), await readerOf(em, actor));
    const name = document.title.replace(/[^\w]+/g, '-').toLowerCase();
    response.setHeader('Content-Disposition', `inline; filename="${name}.pdf"`);
    return writePdf(document);
  });
  mount(app, context, 'addJobPhoto', async ({ run, body }) => run(addJobPhoto, body));
  mount(app, context, 'jobPhoto', async ({ em, params }) => jobPhotoOf(em, params.id));
  mount(app, context, 'jobProposal', async ({ em, params }) => jobProposal(em, params.unit, today()));
  mount(app, context, 'defects', async ({ em }) => ({ items: await openDefects(em, today()) }));
  mount(app, context, 'addComplaint', async ({ run, body }) => run(addComplaint, body));
  mount(app, context, 'settleDefect', async ({ run, params, body }) =>
    run(settleDefect, { ...body, defectId: params.id }),
  );
  mount(app, context, 'jobLessons', async ({ em }) => jobLessons(em, today()));
  mount(app, context, 'shopPolicy', async ({ em }) => shopPolicy(em));
  mount(app, context, 'changePolicy', async ({ run, body }) => run(changePolicy, body));
}
