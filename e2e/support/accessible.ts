import axe from 'axe-core';
import type { Page } from '@playwright/test';

const TAGS = ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa', 'best-practice'];

/** What axe finds on a page as it stands, best practice included; a line each with its first element. */
export async function faultsOf(page: Page, rules?: string[]): Promise<string[]> {
  // Its code once a page: it is half a megabyte, and a page is looked at several times.
  if (!(await page.evaluate(() => 'axe' in window))) await page.evaluate(axe.source);
  const runOnly: axe.RunOnly = rules ? { type: 'rule', values: rules } : { type: 'tag', values: TAGS };
  const found = await page.evaluate(async (only) => {
    const { violations } = await window.axe.run(document, { runOnly: only, resultTypes: ['violations'] });
    return violations.map(({ id, nodes }) => ({ id, count: nodes.length, html: nodes[0]?.html ?? '' }));
  }, runOnly);
  return found.map(({ id, count, html }) => `${id} (${count}): ${html.slice(0, 160)}`);
}

declare global {
  interface Window {
    axe: typeof axe;
  }
}
