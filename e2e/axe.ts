import AxeBuilder from '@axe-core/playwright';
import type { Page } from '@playwright/test';

/**
 * What axe finds wrong on the page as it is: rules with the elements concerned. The rule left out wants every figure and key written on
 * a thing in its name; names hold what a thing is called.
 *
 * @param within only what is in there: on a screen that was looked at whole before
 */
export async function wrongs(page: Page, rules: 'all' | 'contrast', within?: string): Promise<string[]> {
  const all = ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa', 'best-practice'];
  const axe = new AxeBuilder({ page });
  if (within) axe.include(within);
  if (rules === 'contrast') axe.withRules(['color-contrast']);
  else axe.options({ rules: { 'label-content-name-mismatch': { enabled: false } }, runOnly: all });
  const { violations } = await axe.analyze();
  return violations.flatMap(({ id, nodes }) =>
    nodes.map((node) => `${id}: ${node.html.slice(0, 160)} ${node.failureSummary?.split('\n')[1] ?? ''}`),
  );
}
