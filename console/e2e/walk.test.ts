import { readFileSync } from 'node:fs';
import type { Page } from 'playwright-core';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { barOf, Demo, pickOf, settled, tile } from './demo';

let demo: Demo;
beforeAll(async () => {
  demo = await Demo.start();
});
afterAll(() => demo?.stop());

const doc = readFileSync(new URL('../../docs/exploring.md', import.meta.url), 'utf8').replace(/\s+/g, ' ');
const shown = (page: Page, name: string, side = '') =>
  tile(page, name)
    .locator(`${side} [data-figure]`)
    .innerText()
    .then((t) => t.replace(/\s+/g, ' '));
const marks = (page: Page, name: string) => tile(page, name).getByRole('option').allInnerTexts();

/** What the page shows must be what the walk says. */
async function says(page: Page, name: string, text: string, side = '') {
  await expect.poll(() => shown(page, name, side)).toBe(text);
  expect(doc).toContain(text);
}

/** Picks a mark by its place in the list that stands for the picture. */
async function pickMark(page: Page, name: string, start: string) {
  const at = (await marks(page, name)).findIndex((m) => m.startsWith(start));
  expect(at, start).toBeGreaterThanOrEqual(0);
  await tile(page, name).getByRole('listbox').focus();
  await page.keyboard.press('Home');
  for (let i = 0; i < at; i++) await page.keyboard.press('ArrowRight');
  await page.keyboard.press('Space');
}

test('The walk through Punctuality finds what it says it finds, step by step', { timeout: 600_000 }, async () => {
  const { page } = await demo.as('director', '/d/punctuality');
  await settled(page);
  // 1: one bar stands out.
  await says(page, 'counted', '245,816');
  await says(page, 'late', '11.5 %');
  const [first, ...others] = await marks(page, 'vessels');
  expect(first).toBe('Grey Pilgrim: 5.9 min');
  const delays = others.map((o) => Number(/([\d.]+) min/.exec(o)?.[1]));
  expect([Math.min(...delays), Math.max(...delays)]).toEqual([3.6, 3.8]);
  expect(doc).toContain('**Grey Pilgrim**, 5.9 minutes; all others lie between 3.6 and 3.8');
  // 2: and climbs.
  const bar = await barOf(page, 'vessels', 'Grey Pilgrim');
  await page.mouse.click(bar.x, bar.y);
  await says(page, 'counted', '17,553');
  await says(page, 'late', '20.1 %');
  await expect
    .poll(async () => (await marks(page, 'classes')).slice(-4).map((m) => /Q\d 2025.* ([\d.]+) min/.exec(m)?.[1]))
    .toEqual([expect.anything(), '6.5', '10.5', '18.1']);
  expect(doc).toContain('6.5 minutes in the second quarter, 10.5 in the third, 18.1 in the fourth');
  // 3: a span, typed.
  await tile(page, 'span').getByLabel('From').fill('2025-02-03');
  await tile(page, 'span').getByLabel('To').fill('2025-12-14');
  await says(page, 'late', '39.0 %');
  await says(page, 'counted', '5,421');
  // 4: it is the vessel.
  await page.getByRole('button', { name: /^Compare/ }).click();
  await tile(page, 'vessels').getByRole('button', { name: /^Menu/ }).click();
  await page.getByRole('menuitem', { name: 'All but what is picked' }).click();
  await says(page, 'late', '39.0 %', '[data-side=A]');
  await says(page, 'late', '9.7 %', '[data-side=B]');
  // One class beside three, whose legend has more lines: at equal scale, and of equal size.
  const plots = () =>
    tile(page, 'classes')
      .locator('[data-side] [data-chart]')
      .evaluateAll((all) => all.map((c) => c.getBoundingClientRect()).map((b) => `${b.top} ${b.width} ${b.height}`));
  await expect.poll(() => tile(page, 'classes').locator('[data-side=B] [data-legend] button').count()).toBe(3);
  await expect.poll(async () => new Set(await plots()).size).toBe(1);
  // 5: its rows.
  await page.getByRole('button', { name: 'Go on with A' }).click();
  await says(page, 'late', '39.0 %');
  await tile(page, 'vessels').getByRole('button', { name: /^Menu/ }).click();
  await page.getByRole('menuitem', { name: 'Rows behind Grey Pilgrim' }).click();
  const panel = page.getByRole('dialog');
  for (let i = 0; i < 2; i++) await panel.getByRole('button', { name: /^Delay/ }).click();
  await panel.getByRole('button', { name: 'Record' }).first().click();
  await panel.getByLabel('Record 1').waitFor();
  const file = page.waitForEvent('download');
  await panel.getByRole('button', { name: 'CSV' }).click();
  expect(readFileSync(await (await file).path(), 'utf8').split('\n').length).toBeGreaterThan(5_421);
  await page.keyboard.press('Escape');
  await panel.waitFor({ state: 'detached' });
  // 6 and 7: the season.
  await page.getByRole('button', { name: 'Clear all' }).click();
  await says(page, 'counted', '245,816');
  await expect
    .poll(async () => (await marks(page, 'seasons')).filter((m) => /^FEN · (Sep|Oct|Nov)/.test(m)))
    .toEqual(['FEN · Sep: 7.1 min', 'FEN · Oct: 9.3 min', 'FEN · Nov: 9.0 min']);
  expect(doc).toContain('7.1, 9.3 and 9.0 minutes');
  for (const month of ['Sep', 'Oct', 'Nov']) await pickMark(page, 'seasons', `FEN · ${month}`);
  await expect
    .poll(() => pickOf(page).seasons?.members)
    .toEqual([
      ['FEN', 9],
      ['FEN', 10],
      ['FEN', 11],
    ]);
  // 8: where it is.
  await expect.poll(() => marks(page, 'areas')).toHaveLength(1);
  const area = await barOf(page, 'areas', 'South Deep');
  await page.mouse.dblclick(area.x, area.y);
  await tile(page, 'areas').getByRole('navigation').getByText('South Deep').waitFor();
  await expect.poll(() => marks(page, 'areas')).toEqual(['Fennimar–Lanternhead: 25.9 %']);
  expect(doc).toContain('the route Fennimar–Lanternhead, 25.9 % late');
  // 9: conditions.
  await page.getByRole('button', { name: 'Clear all' }).click();
  await page.getByRole('tab', { name: 'Conditions' }).click();
  await settled(page);
  const network = await shown(page, 'whole-network');
  const months = await marks(page, 'months');
  await tile(page, 'wind').getByRole('slider').first().focus();
  for (let i = 0; i < 12; i++) await page.keyboard.press('ArrowRight');
  await expect.poll(() => marks(page, 'months')).not.toEqual(months);
  expect(await shown(page, 'whole-network')).toBe(network);
  await page.getByText('Weather and reasons').waitFor();
  // 10 and 11: by choice.
  await page.getByRole('tab', { name: 'By choice' }).click();
  await settled(page);
  for (const [parameter, choice] of [
    ['Figure', 'Late'],
    ['Along', 'Quarters'],
    ['Broken down by', 'Sea area'],
    ['Drawn as', 'Bars'],
  ] as const) {
    await page.getByRole('combobox', { name: parameter }).click();
    await page.getByRole('option', { name: choice, exact: true }).click();
  }
  const last = async (): Promise<Record<string, number>> =>
    Object.fromEntries(
      [...((await marks(page, 'course')).at(-1) ?? '').matchAll(/([A-Z][A-Za-z ]+) ([\d.]+) %/g)].map((m) => [
        m[1],
        Number(m[2]),
      ]),
    );
  let shares: Record<string, number> = {};
  await expect
    .poll(async () => {
      shares = await last();
      return [shares['South Deep'], Object.keys(shares).length];
    })
    .toEqual([29.8, 4]);
  const elsewhere = Object.entries(shares).flatMap(([a, v]) => (a === 'South Deep' ? [] : [v]));
  expect([Math.min(...elsewhere), Math.max(...elsewhere)]).toEqual([21.7, 23.3]);
  expect(doc).toContain('**29.8 %** left late in South Deep, 21.7 % to 23.3 % elsewhere');
  await tile(page, 'year').getByLabel('2024').click();
  await page.getByRole('button', { name: 'Fold the controls away' }).click();
  await page.getByText('Controls, 1 set').waitFor();
  await page.getByRole('button', { name: 'Clear all' }).click();
  await expect.poll(() => page.getByLabel('What is picked').innerText()).toContain('Year: 2025');
  // 12 to 14: what filters what.
  await page.keyboard.press('w');
  await page.locator('[data-wiring] svg > path').first().waitFor({ state: 'attached' });
  await page.keyboard.press('Escape');
  const { page: desk } = await demo.as('skerrin-desk', page.url().slice(demo.url.length));
  await settled(desk);
  await tile(desk, 'parts').getByRole('button', { name: /^Menu/ }).click();
  expect(await desk.getByRole('menuitem', { name: /Rows behind/ }).count()).toBe(0);
  await desk.getByRole('menuitem', { name: 'Where this comes from' }).click();
  await desk.getByRole('dialog').getByText('Home port in your ports').waitFor();
  await desk.getByRole('dialog').getByText('may explain').waitFor();
});
