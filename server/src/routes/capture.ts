import type { Express } from 'express';
import type { AppContext } from '../http/context.ts';
import { mount } from '../http/mount.ts';
import { bayOf } from '../services/bay.ts';
import { listHands } from '../services/hands.ts';
import { correctOdometer } from '../services/odometers.ts';
import { addPhoto, photoOf } from '../services/photos.ts';
import { answerQuestion, listQuestions } from '../services/questions.ts';
import { addStudy, addStudyValue, listStudies, studyDetail } from '../services/studies.ts';
import { importStudy } from '../services/studyImport.ts';

export function mountCapture(app: Express, context: AppContext): void {
  mount(app, context, 'bay', async ({ em, actor }) => bayOf(em, actor, context.today()));
  mount(app, context, 'addPhoto', async ({ em, actor, body }) => addPhoto(em, actor, body));
  mount(app, context, 'photo', async ({ em, params }) => photoOf(em, params.id));
  mount(app, context, 'questions', async ({ em, actor }) => ({ items: await listQuestions(em, actor) }));
  mount(app, context, 'answerQuestion', async ({ em, actor, params, body }) => {
    const { id, vehicleId } = await answerQuestion(em, actor, params.id, body);
    await context.queue.vehicles([vehicleId]);
    return { id };
  });
  mount(app, context, 'correctOdometer', async ({ em, actor, params, body }) => {
    const { id, vehicleId } = await correctOdometer(em, actor, params.id, body);
    await context.queue.vehicles([vehicleId]);
    return { id };
  });
  mount(app, context, 'hands', async ({ em, actor }) => listHands(em, actor));
  mount(app, context, 'studies', async ({ em, actor }) => ({ items: await listStudies(em, actor) }));
  mount(app, context, 'addStudy', async ({ em, actor, body }) => addStudy(em, actor, body, context.today()));
  mount(app, context, 'importStudy', async ({ em, actor, body }) => {
    const done = await importStudy(em, actor, body, context.today());
    await context.queue.fleet();
    return done;
  });
  mount(app, context, 'study', async ({ em, actor, params }) => studyDetail(em, actor, params.id));
  mount(app, context, 'addStudyValue', async ({ em, actor, params, body }) => {
    const done = await addStudyValue(em, actor, params.id, body);
    await context.queue.handsSoon();
    return done;
  });
}
