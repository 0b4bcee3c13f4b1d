import axe from 'axe-core';
import type { Page } from '@playwright/test';

const TAGS = ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa', 'best-practice'];

/** What follows twenty rows of a table or entries of a list, which are made as those are. */
const MORE_OF_THE_SAME = ['tbody > tr:nth-child(n+21)', 'li:nth-child(n+21)'];

/**
 * What axe finds on a page as it stands, best practice included; a line each with its first element.
 * `rules`: only these. `again`: the page was looked at whole before; of long tables and lists the first rows are enough.
 */
export async function faultsOf(
  page: Page,
  { rules, again = false }: { rules?: string[]; again?: boolean } = {},
): Promise<string[]> {
  // Its code once a page: it is half a megabyte, and a page is looked at several times.
  if (!(await page.evaluate(() => 'axe' in window))) await page.evaluate(axe.source);
  const runOnly: axe.RunOnly = rules ? { type: 'rule', values: rules } : { type: 'tag', values: TAGS };
  const found = await page.evaluate(
    async ({ runOnly, leftOut }) => {
      const { violations } = await window.axe.run(
        { exclude: leftOut.filter((selector) => document.querySelector(selector)) },
        { runOnly, resultTypes: ['violations'] },
      );
      return violations.map(({ id, nodes }) => ({ id, count: nodes.length, html: nodes[0]?.html ?? '' }));
    },
    { runOnly, leftOut: again ? MORE_OF_THE_SAME : [] },
  );
  return found.map(({ id, count, html }) => `${id} (${count}): ${html.slice(0, 160)}`);
}

declare global {
  interface Window {
    axe: typeof axe;
  }
}
