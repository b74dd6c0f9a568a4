import type { Page } from 'playwright-core';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { contrast, dark, light, type Tokens } from '../src/look/tokens';
import { Demo, seriousFaults, settled, tile } from './demo';

let demo: Demo;
beforeAll(async () => {
  demo = await Demo.start();
});
afterAll(() => demo?.stop());

const ground = (page: Page) => page.evaluate(() => getComputedStyle(document.body).backgroundColor);
const rgb = (hex: string) => `rgb(${[1, 3, 5].map((i) => Number.parseInt(hex.slice(i, i + 2), 16)).join(', ')})`;

/** True if a picture has much of a colour. */
const isDrawnIn = (page: Page, name: string, colour: string) =>
  tile(page, name)
    .locator('canvas')
    .evaluateAll((all, wanted) => {
      const [r, g, b] = [1, 3, 5].map((i) => Number.parseInt(wanted.slice(i, i + 2), 16));
      return all.some((canvas) => {
        const c = canvas as HTMLCanvasElement;
        const { data } = c.getContext('2d')?.getImageData(0, 0, c.width, c.height) ?? { data: [] };
        let found = 0;
        for (let i = 0; i < data.length; i += 4) if (data[i] === r && data[i + 1] === g && data[i + 2] === b) found++;
        return found > 500;
      });
    }, colour);

describe('A look', () => {
  test('is as the system has it, chosen in the menu, kept, and said by an address for those who open it', async () => {
    const { page } = await demo.as('director', '/d/network');
    await settled(page);
    expect(await ground(page)).toBe(rgb(light.page));
    await page.emulateMedia({ colorScheme: 'dark' });
    await expect.poll(() => ground(page)).toBe(rgb(dark.page));
    await expect.poll(() => isDrawnIn(page, 'income-by-route', dark.accent)).toBe(true);
    await page.getByRole('button', { name: 'Signed in as' }).click();
    await page.getByRole('menuitemradio', { name: 'High contrast' }).click();
    expect(await page.getByRole('menuitemradio', { name: 'High contrast' }).getAttribute('aria-checked')).toBe('true');
    await expect.poll(() => ground(page)).toBe(rgb(contrast.page));
    await page.getByRole('menuitemcheckbox', { name: 'Large type' }).click();
    const size = () => page.evaluate(() => Number.parseFloat(getComputedStyle(document.body).fontSize));
    await expect.poll(size).toBe(13 * 1.5);
    await page.keyboard.press('Escape');
    await page.reload();
    await settled(page);
    expect([await ground(page), await size()]).toEqual([rgb(contrast.page), 19.5]);
    await page.goto(`${demo.url}/d/network?look=light`);
    await settled(page);
    expect([await ground(page), await size()]).toEqual([rgb(light.page), 13]);
    // Moving about does not lose it.
    await page.getByRole('tab', { name: 'Punctuality' }).click();
    await expect.poll(() => new URL(page.url()).searchParams.get('look')).toBe('light');
  });

  const looks: [string, Tokens][] = [
    ['light', light],
    ['dark', dark],
    ['contrast', contrast],
    ['dark-large', dark],
  ];
  test.each(looks)(
    'that is %s can be read on every page, in menus, panels and while arranging',
    async (look, tokens) => {
      const { page } = await demo.as('developer');
      const faults: string[] = [];
      const read = async (what: string) => {
        // What is asked for anew is faint until it is there.
        await expect.poll(() => page.locator('[aria-busy=true]').count()).toBe(0);
        faults.push(...(await seriousFaults(page)).map((f) => `${what}: ${f}`));
      };
      for (const path of ['/', '/data', '/d/network', '/d/punctuality', '/d/tickets', '/d/bridge']) {
        await page.goto(`${demo.url}${path}?look=${look}`);
        await (path.startsWith('/d/') ? settled(page) : page.locator('main').waitFor());
        expect(await ground(page)).toBe(rgb(tokens.page));
        expect(await besideTheirTiles(page)).toEqual([]);
        await read(path);
      }
      await page.getByRole('button', { name: 'Signed in as' }).click();
      await page.getByRole('menuitemradio', { name: 'Dark' }).waitFor();
      await read('menu');
      await page.keyboard.press('Escape');
      await page.getByRole('button', { name: 'Menu of Late by sea area' }).click();
      await page.getByRole('menuitem', { name: 'Where this comes from' }).click();
      await page.getByText('How it is computed').or(page.getByRole('dialog')).first().waitFor();
      await read('explained');
      await page.keyboard.press('Escape');
      await page.getByRole('button', { name: 'Arrange' }).click();
      await page.getByRole('button', { name: 'Done' }).waitFor();
      await settled(page);
      await read('arranging');
      expect(faults).toEqual([]);
    },
  );
});

/** Figures, the lines below them and small courses that stand further right than their tile does; tables scroll. */
const besideTheirTiles = (page: Page) =>
  page.evaluate(() =>
    [...document.querySelectorAll('[data-tile]:has([data-figure])')].flatMap((tile) => {
      const { right } = tile.getBoundingClientRect();
      return [...tile.querySelectorAll('[data-figure], [data-figure] ~ *, svg')]
        .filter((e) => !e.closest('table') && e.getBoundingClientRect().right > right)
        .map((e) => `${(tile as HTMLElement).dataset.tile}: ${e.tagName} ${e.textContent}`);
    }),
  );

describe('A wall', () => {
  test('shows one tab after the other in large type, reads anew, says when the data are old, and goes on by itself', async () => {
    const { page, context } = await demo.as('director', '/d/bridge?wall=5&refresh=5');
    await settled(page);
    expect(await page.getByRole('button', { name: 'Arrange' }).count()).toBe(0);
    expect(await page.evaluate(() => Number.parseFloat(getComputedStyle(document.body).fontSize))).toBe(19.5);
    await page.getByText('Hours', { exact: true }).waitFor({ timeout: 120_000 });
    await page.getByText('The watch', { exact: true }).waitFor({ timeout: 120_000 });
    const age = page.getByRole('status');
    await age.getByText('Data of').waitFor();
    await expect.poll(() => seriousFaults(page)).toEqual([]);
    await context.setOffline(true);
    await age.getByText('Old data').waitFor({ timeout: 120_000 });
    await context.setOffline(false);
    await age.getByText('Data of').waitFor({ timeout: 120_000 });
    await settled(page);
  });
});

test('A workspace has colours and a logo of its own, and none that can not be read', async () => {
  const authorization = await demo.authorization('developer');
  const headers = { Authorization: authorization, 'Content-Type': 'application/json' };
  const fetched = await fetch(`${demo.url}/api/definitions`, { headers });
  const { version, files } = (await fetched.json()) as { version: number; files: Record<string, string> };
  const publish = async (look: string, base: number) => {
    const changed = { ...files, 'workspace.yaml': files['workspace.yaml']?.replace(/^look: .*$/m, look) };
    const answer = await fetch(`${demo.url}/api/definitions`, {
      method: 'PUT',
      headers,
      body: JSON.stringify({ files: changed, base }),
    });
    return (await answer.json()) as { version: number | null; faults: { code: string; message: string }[] };
  };
  const refused = await publish("look: { light: { accent: '#FFCC00' } }", version);
  expect(refused.faults.map((f) => f.code)).toContain('low-contrast');
  const taken = await publish(
    "look: { logo: images/lantern.svg, light: { accent: '#7A1F5C', series: ['#7A1F5C', '#C2570C', '#2B6CB0'] } }",
    version,
  );
  expect(taken.faults.filter((f) => f.code !== 'unused')).toEqual([]);

  const { page } = await demo.as('director', '/');
  await page.locator('header img').waitFor();
  const accent = () => page.evaluate(() => getComputedStyle(document.documentElement).getPropertyValue('--accent'));
  await expect.poll(accent).toBe('#7A1F5C');
  await page.goto(`${demo.url}/d/network`);
  await settled(page);
  await expect.poll(() => isDrawnIn(page, 'income-by-route', '#7a1f5c')).toBe(true);
  await expect.poll(() => seriousFaults(page)).toEqual([]);
  // On the other ground nothing was said, so that it stays as usual.
  await page.emulateMedia({ colorScheme: 'dark' });
  await expect.poll(accent).toBe(dark.accent);
  await publish('look: { logo: images/lantern.svg }', taken.version ?? version);
});
