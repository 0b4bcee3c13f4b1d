import type { Page } from '@playwright/test';
import type { App } from './app.ts';

/** Opens a view of Parts. */
export const parts = async (page: Page, app: App, view: string, depot = '') =>
  page.goto(`${app.url}/parts?view=${view}${depot ? `&depot=${encodeURIComponent(depot)}` : ''}`);
/** A kit as far as walks ask. */
interface Kit {
  jobId: string;
  unit: string;
  depot: string;
  state: string;
  jobState: string;
  needs: { kind: string; axle: number | null; options: { part: string; units: number }[]; now: { state: string } }[];
}
export const kitsOf = async (page: Page, app: App) =>
  ((await (await page.request.get(`${app.url}/api/job-kits`)).json()) as { items: Kit[] }).items;
export const kitOf = async (page: Page, app: App, unit: string) =>
  (await kitsOf(page, app)).find((kit) => kit.unit === unit);
