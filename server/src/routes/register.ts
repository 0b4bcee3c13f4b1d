import type { Express } from 'express';
import { mustBeAllowed } from '../auth/policy.ts';
import type { AppContext } from '../http/context.ts';
import { mount } from '../http/mount.ts';
import { feedView } from '../services/feed.ts';
import { changeSettings, readSettings } from '../services/settings.ts';
import {
  addDuty,
  addGauge,
  addLimit,
  listDepots,
  listDuties,
  listGauges,
  listLimits,
  listModels,
} from '../services/register.ts';

export function mountRegister(app: Express, context: AppContext): void {
  mount(app, context, 'depots', async ({ em }) => ({ items: await listDepots(em) }));
  mount(app, context, 'gauges', async ({ em }) => ({ items: await listGauges(em) }));
  mount(app, context, 'addGauge', async ({ em, actor, body }) => addGauge(em, actor, body));
  mount(app, context, 'models', async ({ em }) => ({ items: await listModels(em) }));
  mount(app, context, 'duties', async ({ em }) => ({ items: await listDuties(em, context.today()) }));
  mount(app, context, 'addDuty', async ({ em, actor, body }) => addDuty(em, actor, body));
  mount(app, context, 'feed', async ({ em }) => feedView(em, context.feedConnected));
  mount(app, context, 'pollFeed', async ({ actor }) => {
    mustBeAllowed(actor, 'register');
    await context.queue.feed();
    return null;
  });
  mount(app, context, 'settings', async ({ em }) => readSettings(em));
  mount(app, context, 'changeSettings', async ({ em, actor, body }) => {
    const settings = await changeSettings(em, actor, body);
    await context.queue.fleet();
    return settings;
  });
  mount(app, context, 'limits', async ({ em }) => ({ items: await listLimits(em) }));
  mount(app, context, 'addLimit', async ({ em, actor, body }) => {
    const done = await addLimit(em, actor, body);
    await context.queue.fleet();
    return done;
  });
}
