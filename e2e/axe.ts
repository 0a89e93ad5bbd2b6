import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import type { Page } from '@playwright/test';
import type * as Axe from 'axe-core';

const SOURCE = createRequire(import.meta.url).resolve('axe-core/axe.min.js');

/**
 * What axe finds wrong on the page as it is: rules with the elements concerned. The rule left out wants every figure and key written on
 * a thing in its name; names hold what a thing is called.
 *
 * @param rules all; those about colours alone; or all but those
 * @param within only what is in there: on a screen that was looked at whole before
 */
export async function wrongs(page: Page, rules: 'all' | 'contrast' | 'structure', within?: string): Promise<string[]> {
  const all = ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa', 'best-practice'];
  const left = { 'label-content-name-mismatch': { enabled: false }, 'color-contrast': { enabled: rules === 'all' } };
  const options: Axe.RunOptions = {
    // What is right is not wanted: it is not gathered. There are no frames in it that would need a page of their own.
    resultTypes: ['violations'],
    iframes: false,
    ...(rules === 'contrast' ? { runOnly: { type: 'rule', values: ['color-contrast'] } } : { rules: left, runOnly: all }),
  };
  if (!(await page.evaluate(() => 'axe' in globalThis))) await page.evaluate(readFileSync(SOURCE, 'utf8'));
  const { violations } = await page.evaluate(
    ([where, how]) => (globalThis as unknown as { axe: typeof Axe }).axe.run(where ?? document, how),
    [within, options] as const,
  );
  return violations.flatMap(({ id, nodes }) =>
    nodes.map((node) => `${id}: ${node.html.slice(0, 160)} ${node.failureSummary?.split('\n')[1] ?? ''}`),
  );
}
