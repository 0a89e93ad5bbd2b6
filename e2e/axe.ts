import AxeBuilder from '@axe-core/playwright';
import type { Page } from '@playwright/test';

/**
 * What axe finds wrong on the page as it is: rules with the elements concerned. The rule left out wants every figure and key written on
 * a thing in its name; names hold what a thing is called.
 *
 * @param rules all; those about colours alone; or all but those
 * @param within only what is in there: on a screen that was looked at whole before
 */
export async function wrongs(page: Page, rules: 'all' | 'contrast' | 'structure', within?: string): Promise<string[]> {
  const all = ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa', 'best-practice'];
  // There are no frames in it that would need a page of their own to be gathered.
  const axe = new AxeBuilder({ page }).setLegacyMode();
  if (within) axe.include(within);
  // What is right is not wanted: it is not gathered.
  const resultTypes: Parameters<AxeBuilder['options']>[0]['resultTypes'] = ['violations'];
  if (rules === 'contrast') axe.options({ resultTypes, runOnly: { type: 'rule', values: ['color-contrast'] } });
  else {
    const left = { 'label-content-name-mismatch': { enabled: false }, 'color-contrast': { enabled: rules === 'all' } };
    axe.options({ resultTypes, rules: left, runOnly: all });
  }
  const { violations } = await axe.analyze();
  return violations.flatMap(({ id, nodes }) =>
    nodes.map((node) => `${id}: ${node.html.slice(0, 160)} ${node.failureSummary?.split('\n')[1] ?? ''}`),
  );
}
