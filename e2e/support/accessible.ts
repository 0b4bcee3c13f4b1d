import { AxeBuilder } from '@axe-core/playwright';
import type { Page } from '@playwright/test';

const TAGS = ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa', 'best-practice'];

/** What axe finds on a page as it stands, best practice included; a line each with its first element. */
export async function faultsOf(page: Page, rules?: string[]): Promise<string[]> {
  const axe = new AxeBuilder({ page });
  const { violations } = await (rules ? axe.withRules(rules) : axe.withTags(TAGS)).analyze();
  return violations.map(({ id, nodes }) => `${id} (${nodes.length}): ${nodes[0]?.html.slice(0, 160) ?? ''}`);
}
