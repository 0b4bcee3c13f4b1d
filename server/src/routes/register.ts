import type { Express } from 'express';
import type { AppContext } from '../http/context.ts';
import { mount } from '../http/mount.ts';
import {
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
  mount(app, context, 'duties', async ({ em }) => ({ items: await listDuties(em) }));
  mount(app, context, 'limits', async ({ em }) => ({ items: await listLimits(em) }));
  mount(app, context, 'addLimit', async ({ em, actor, body }) => {
    const done = await addLimit(em, actor, body);
    await context.queue.fleet();
    return done;
  });
}
