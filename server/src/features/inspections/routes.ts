import type { Express } from 'express';
import { within } from '../../platform/auth/reach.ts';
import { writeCsv } from '../../platform/documents/csv.ts';
import { EVERYTHING } from '../../platform/answers/answers.ts';
import { kept } from '../../platform/answers/kept.ts';
import type { AppContext, Call } from '../../platform/http/context.ts';
import { mount } from '../../platform/http/mount.ts';
import { addService } from './commands/addService.ts';
import { answerQuestion, undoAnswer } from './commands/answerQuestion.ts';
import { correctOdometer } from './commands/correctOdometer.ts';
import { correctReading } from './commands/correctReading.ts';
import { addPhoto, photoOf } from './commands/photos.ts';
import { withdrawFinding, withdrawInspection } from './commands/takeBack.ts';
import { withdrawService } from './commands/withdrawService.ts';
import { refuseOtherDay } from './commands/otherDay.ts';
import { saveInspection } from './commands/saveInspection.ts';
import { bayOf } from './queries/bay.ts';
import { listQuestions, listSettled } from './queries/questions.ts';
import { ownInspections, vehicleSheets } from './queries/ownInspections.ts';
import { READING_COLUMNS, readingRows } from './queries/readingRows.ts';

/** Each person has an answer of their own, which may rest on anything. */
const OF_ONE = {
  as: ({ actor }: Pick<Call<unknown, unknown>, 'actor'>) => [actor.id],
  rests: () => EVERYTHING,
};

export function mountInspections(app: Express, context: AppContext): void {
  mount(
    app,
    context,
    'bay',
    kept('bay', { ...OF_ONE, as: ({ actor, query }) => [actor.id, query.since ?? ''] }, async ({ em, actor, query }) =>
      bayOf(em, actor, context.today(), { since: query.since, build: context.build }),
    ),
  );
  mount(app, context, 'addReadings', async ({ em, run, body, query }) => {
    await refuseOtherDay(em, body.inspection, query.deviceDay, context.today());
    return run(saveInspection, body);
  });
  mount(app, context, 'correctReading', async ({ run, params, body }) =>
    run(correctReading, { ...body, readingId: params.id }),
  );
  mount(app, context, 'correctOdometer', async ({ run, params, body }) =>
    run(correctOdometer, { ...body, inspectionId: params.id }),
  );
  mount(app, context, 'ownInspections', async ({ em, actor }) => ({ items: await ownInspections(em, actor) }));
  mount(app, context, 'vehicleSheets', async ({ em, actor, params }) => ({
    items: await vehicleSheets(em, actor, params.unit),
  }));
  mount(app, context, 'withdrawInspection', async ({ run, params, body }) =>
    run(withdrawInspection, { ...body, inspectionId: params.id }),
  );
  mount(app, context, 'withdrawFinding', async ({ run, params, body }) =>
    run(withdrawFinding, { ...body, findingId: params.id }),
  );
  mount(app, context, 'addService', async ({ run, body }) => run(addService, body));
  mount(app, context, 'withdrawService', async ({ run, params, body }) =>
    run(withdrawService, { ...body, serviceId: params.id }),
  );
  mount(
    app,
    context,
    'questions',
    kept('questions', OF_ONE, async ({ em, actor }) => ({ items: await listQuestions(em, actor) })),
  );
  mount(app, context, 'answerQuestion', async ({ run, params, body }) =>
    run(answerQuestion, { ...body, subjectId: params.id }),
  );
  mount(app, context, 'settledQuestions', async ({ em, actor }) => ({ items: await listSettled(em, actor) }));
  mount(app, context, 'undoAnswer', async ({ run, params, body }) => run(undoAnswer, { ...body, answerId: params.id }));
  mount(app, context, 'addPhoto', async ({ run, body }) => run(addPhoto, body));
  mount(app, context, 'photo', async ({ em, params }) => photoOf(em, params.id));
  mount(app, context, 'readingsCsv', async ({ em, reach }, response) => {
    const all = await readingRows(em);
    const rows = reach ? (within(all, reach) as typeof all) : all;
    response.setHeader('Content-Disposition', 'attachment; filename="readings.csv"');
    return writeCsv(
      [...READING_COLUMNS],
      rows.map((row) => READING_COLUMNS.map((name) => row[name] ?? '')),
    );
  });
}
