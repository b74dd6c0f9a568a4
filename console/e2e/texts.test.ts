import type { Page } from 'playwright-core';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { Demo, settled } from './demo';

let demo: Demo;
beforeAll(async () => {
  demo = await Demo.start();
});
afterAll(() => demo?.stop());

/** What is drawn as part of the page and not on a canvas. */
const written = [
  'number',
  'cards',
  'table',
  'crosstable',
  'summary',
  'movement',
  'text',
  'list',
  'dates',
  'dropdown',
  'switch',
  'slider',
  'search',
];

/** Texts of a tile that lie on one another, and figures that are cut. */
const faultsOf = (page: Page) =>
  page.evaluate((kinds) => {
    const faults: string[] = [];
    for (const tile of document.querySelectorAll<HTMLElement>('[data-picture]')) {
      if (!kinds.includes(tile.dataset.picture ?? '') || tile.offsetParent === null) continue;
      tile.scrollIntoView({ block: 'center' });
      const seen: {
        node: Node;
        text: string;
        box: { left: number; top: number; right: number; bottom: number };
        sticks: boolean;
      }[] = [];
      const walker = document.createTreeWalker(tile, NodeFilter.SHOW_TEXT);
      for (let node = walker.nextNode(); node; node = walker.nextNode()) {
        const text = node.textContent?.trim() ?? '';
        const within = node.parentElement;
        if (text === '' || !within || within.closest('.hidden-visually, [role=listbox], [aria-hidden=true], option'))
          continue;
        const range = document.createRange();
        range.selectNodeContents(node);
        for (const whole of range.getClientRects()) {
          // As much of it as is to be seen: a name that is shortened goes on behind its edge.
          const box = { left: whole.left, top: whole.top, right: whole.right, bottom: whole.bottom };
          for (let at: Element | null = within; at && at !== tile.parentElement; at = at.parentElement)
            if (getComputedStyle(at).overflowX !== 'visible') {
              const edge = at.getBoundingClientRect();
              box.left = Math.max(box.left, edge.left);
              box.top = Math.max(box.top, edge.top);
              box.right = Math.min(box.right, edge.right);
              box.bottom = Math.min(box.bottom, edge.bottom);
            }
          if (box.right - box.left < 2 || box.bottom - box.top < 2) continue;
          const [x, y] = [(box.left + box.right) / 2, (box.top + box.bottom) / 2];
          // What is out of the window, or under what has a ground of its own, is not to be read here.
          let over: Element | null = document.elementFromPoint(x, y);
          if (!over) continue;
          let isCovered = false;
          for (; over && !over.contains(within) && !within.contains(over); over = over.parentElement)
            isCovered ||= getComputedStyle(over).backgroundColor !== 'rgba(0, 0, 0, 0)';
          if (isCovered) continue;
          // Rows go on under the lines that stay in sight.
          const sticks = within.closest('thead, tfoot') !== null;
          for (const other of seen) {
            if (other.node === node || other.sticks !== sticks) continue;
            const wide = Math.min(box.right, other.box.right) - Math.max(box.left, other.box.left);
            const high = Math.min(box.bottom, other.box.bottom) - Math.max(box.top, other.box.top);
            if (wide > 2 && high > (box.bottom - box.top) * 0.35)
              faults.push(`${tile.dataset.tile}: "${text}" lies on "${other.text}"`);
          }
          seen.push({ node, text, box, sticks });
        }
        // A name may be shortened, with the whole of it over it; a figure that is cut says another one.
        const isCut = within.scrollWidth > within.clientWidth + 1 && getComputedStyle(within).overflowX === 'hidden';
        if (isCut && /^[\u2212\d][\d,.\u2212 ]*$/.test(text))
          faults.push(`${tile.dataset.tile}: the figure "${text}" is cut`);
      }
    }
    return faults;
  }, written);

test.each(['', '&look=large'])(
  'Words and figures that are part of the page lie apart and whole, at any width%s',
  async (look) => {
    const { page } = await demo.as('director', '/d/atlas?tab=compare');
    const faults: string[] = [];
    let looked = 0;
    for (const [width, height] of [
      [390, 844],
      [820, 1180],
      [1280, 800],
      [1920, 1080],
    ] as const) {
      await page.setViewportSize({ width, height });
      for (const path of [
        'atlas?tab=compare',
        'atlas?tab=spread',
        'atlas?tab=tables',
        'network?',
        'punctuality?tab=by-choice',
      ]) {
        await page.goto(`${demo.url}/d/${path}${look}`);
        await settled(page);
        faults.push(...(await faultsOf(page)).map((f) => `${width} ${path}${look} ${f}`));
        looked += await page.locator(written.map((k) => `[data-picture=${k}]`).join(', ')).count();
      }
    }
    expect(looked).toBeGreaterThan(60);
    expect(faults).toEqual([]);
    // It would be seen.
    await page.goto(`${demo.url}/d/atlas?tab=compare${look}`);
    await settled(page);
    await page.evaluate(() => {
      for (const part of document.querySelectorAll<HTMLElement>('[data-picture=cards] li *'))
        part.style.cssText = 'position: absolute; top: 0; left: 0';
    });
    expect(await faultsOf(page)).not.toEqual([]);
  },
);
