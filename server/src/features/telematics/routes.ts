import type { Express } from 'express';
import type { AppContext } from '../../platform/http/context.ts';
import { mount } from '../../platform/http/mount.ts';
import { askForFeed } from './jobs.ts';
import { feedView } from './queries.ts';

/** @param connected whether a feed is configured */
export function mountTelematics(app: Express, context: AppContext, connected: boolean): void {
  mount(app, context, 'feed', async ({ em }) => feedView(em, connected));
  mount(app, context, 'pollFeed', async () => {
    await askForFeed(context.jobs);
    return null;
  });
}
