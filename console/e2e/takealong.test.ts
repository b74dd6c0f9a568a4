import { cpSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { Demo, drawnKinds, seriousFaults, settled, tile } from './demo';

let demo: Demo;
beforeAll(async () => {
  demo = await Demo.start();
});
afterAll(() => demo?.stop());

test('What is seen is taken along as a file: a page by itself that opens without a network, sorts, and says what it is', async () => {
  const { page } = await demo.as('north-ports', '/d/tickets');
  await settled(page);
  await tile(page, 'channel').getByRole('combobox').click();
  await page.getByRole('option', { name: /^web/ }).click();
  await page
    .getByText('picked on Channel')
    .or(page.getByRole('button', { name: /Channel: web/ }))
    .first()
    .waitFor();
  await settled(page);
  await page.getByRole('button', { name: 'Take along as a file' }).click();
  const dialog = page.getByRole('dialog', { name: 'Take along' });
  await dialog.getByRole('combobox', { name: 'As' }).click();
  await page.getByRole('option', { name: 'Page by itself (HTML)' }).click();
  await expect.poll(() => seriousFaults(page)).toEqual([]);
  const coming = page.waitForEvent('download', { timeout: 180_000 });
  await dialog.getByRole('button', { name: 'Make the file' }).click();
  // Browsers know a page by its ending.
  const file = join(mkdtempSync(join(tmpdir(), 'weir-taken-')), 'tickets.html');
  await (await coming).saveAs(file);
  await dialog.getByText(/is with your downloads/).waitFor();
  // Somebody else, who is dark, away from every network.
  const context = await demo.browser.newContext({
    offline: true,
    colorScheme: 'dark',
    viewport: { width: 1280, height: 800 },
  });
  const away = await context.newPage();
  const asked: string[] = [];
  away.on('request', (r) => r.url().startsWith('file:') || r.url().startsWith('data:') || asked.push(r.url()));
  await away.goto(`file://${file}`);
  await away.getByRole('heading', { name: 'Ticket sales' }).waitFor();
  await away.getByText('Channel: web (picked on Channel)').waitFor();
  await away.getByText('Of the rows that North ports may see').waitFor();
  const chart = away.locator('[data-tile=sold-by-week] svg text');
  await expect.poll(() => chart.allTextContents()).toContain('0');
  const routes = away.locator('[data-tile=routes] tbody tr td:first-child');
  const before = await routes.allTextContents();
  await away.getByRole('button', { name: 'Route', exact: true }).click();
  const named = before.slice(0, -1).sort((a, b) => a.localeCompare(b, 'en'));
  await expect.poll(async () => (await routes.allTextContents()).slice(0, -1)).toEqual(named);
  expect(await away.evaluate(() => getComputedStyle(document.body).backgroundColor)).toBe('rgb(255, 255, 255)');
  expect(asked).toEqual([]);
  await context.close();
  rmSync(dirname(file), { recursive: true });
});

test('A tile is taken along as a picture of a size; who may not take along finds no way to', async () => {
  const { page } = await demo.as('director', '/d/tickets');
  await settled(page);
  await tile(page, 'sold-by-week')
    .getByRole('button', { name: /^Menu of/ })
    .click();
  await page.getByRole('menuitem', { name: 'Take along as a file' }).click();
  const dialog = page.getByRole('dialog', { name: 'Take along' });
  await dialog.getByRole('radio', { name: 'The tile Tickets sold by week' }).waitFor();
  await dialog.getByRole('combobox', { name: 'As' }).click();
  await page.getByRole('option', { name: 'Picture (PNG)' }).click();
  await dialog.getByLabel('Pixels wide').fill('640');
  await dialog.getByLabel('Pixels high').fill('320');
  const coming = page.waitForEvent('download', { timeout: 180_000 });
  await dialog.getByRole('button', { name: 'Make the file' }).click();
  const png = readFileSync((await (await coming).path()) as string);
  expect([png.readUInt32BE(16), png.readUInt32BE(20)]).toEqual([1280, 640]);
  await page.keyboard.press('Escape');
  await dialog.waitFor({ state: 'detached' });
  await page.goto(`${demo.url}/`);
  await page.getByRole('list', { name: 'Reports' }).getByText('The morning watch').waitFor();
  const report = page.waitForEvent('download', { timeout: 180_000 });
  await page.getByRole('button', { name: 'Make the file: Sales of a terminal' }).click();
  // Who waits is told how far it is.
  await page.getByText(/^(Part \d+ of 12: |It waits )/).waitFor();
  expect((await report).suggestedFilename()).toMatch(/^terminals-.*\.zip$/);
  await page.getByText(/is with your downloads/).waitFor();
  await page.mouse.move(5, 5);
  await expect.poll(() => seriousFaults(page)).toEqual([]);
  const { page: other } = await demo.as('auditor', '/d/tickets');
  await settled(other);
  expect(await other.getByRole('button', { name: 'Take along as a file' }).count()).toBe(0);
});

test('On paper every picture of the atlas is drawn once it is said to be, repeated ones for each member, and none is cut off', async () => {
  const client = await demo.client('director');
  const file = await client('/api/dashboards/atlas/exports', { form: 'html' });
  const [, json] = /<script[^>]*id="data"[^>]*>([\s\S]*?)<\/script>/.exec(await file.text()) ?? [];
  // As in a view that filters the lines of one table and sorts those of another.
  const tables: Record<string, object> = {
    classes: { filters: [{ column: 'mean_delay', least: 4 }] },
    across: { sorted: [{ column: 'sailings', descending: false, under: 'Q4 2022' }] },
  };
  const given = JSON.parse(String(json), (_, value) =>
    value?.picture && tables[value.name] ? { ...value, table: tables[value.name] } : value,
  );
  const data = { ...given, layout: { mode: 'print', width: 718, height: null } };
  const context = await demo.browser.newContext({ offline: true, viewport: { width: 718, height: 1000 } });
  const page = await context.newPage();
  // As the service puts it into its folder.
  const folder = mkdtempSync(join(tmpdir(), 'weir-paper-'));
  cpSync(join(import.meta.dirname, '../dist/paper'), folder, { recursive: true });
  writeFileSync(
    join(folder, 'paper.html'),
    '<!doctype html><meta charset="utf-8"><link rel="stylesheet" href="paper.css"><div id="paper"></div><script src="paper.js"></script>',
  );
  await page.goto(`file://${folder}/paper.html`);
  const paper = await page.evaluate(async (given) => {
    const drawing = window as unknown as { ready: Promise<unknown>; draw: (data: unknown) => Promise<void> };
    await drawing.ready;
    await drawing.draw(given);
    return [...document.querySelectorAll<HTMLElement>('[data-tile]')].map((tile) => {
      const charts = [...tile.querySelectorAll<HTMLElement>('[data-chart]')];
      const cut = [tile, ...tile.querySelectorAll<HTMLElement>('ul, table, [data-panels], [role=group]')].filter(
        (e) => getComputedStyle(e).overflowY !== 'visible' && e.scrollHeight > e.clientHeight + 2,
      );
      return {
        name: tile.dataset.tile,
        kind: String(tile.dataset.picture),
        parts: tile.querySelectorAll('[data-panels] > section').length,
        charts: charts.length,
        empty: charts.filter((c) => c.querySelectorAll('svg path, svg text, img').length < 3).length,
        cut: cut.length,
        lines: tile.querySelectorAll('tbody tr').length,
        said: tile.innerText,
        top: tile.querySelector('tbody tr')?.textContent,
        ways: [...tile.querySelectorAll('a')].map((a) => a.href),
      };
    });
  }, data);
  await context.close();
  rmSync(folder, { recursive: true });
  expect(paper.length).toBeGreaterThan(40);
  const named = (name: string) => paper.find((t) => t.name === name);
  // The one line and that of the totals.
  expect(named('classes')).toMatchObject({ lines: 2, top: expect.stringContaining('Grey Pilgrim') });
  expect(named('classes')?.said).toContain(
    '1 of 14 lines, filtered by Mean delay in this view; the total is that of all.',
  );
  expect(named('across')?.top).toContain('South Deep');
  const isBare = (t: (typeof paper)[number]) => drawnKinds.includes(t.kind) && t.charts === 0;
  expect(paper.filter((t) => isBare(t) || t.empty > 0 || t.cut > 0)).toEqual([]);
  expect(paper.filter((t) => t.parts > 0 && t.charts !== t.parts)).toEqual([]);
  // What leads somewhere leads to the service also from a file.
  const ways = paper.flatMap((t) => t.ways);
  expect(ways.length).toBeGreaterThan(0);
  expect(ways.filter((way) => !way.startsWith(`${demo.url}/d/`))).toEqual([]);
  const repeated = paper.filter((t) => t.parts > 0).map((t) => t.name);
  expect(repeated).toEqual(['fuel-each', 'small', 'each-class', 'crews-each']);
});

test('Printing opens the pages that are laid out for paper in a tab of their own', async () => {
  const { page, context } = await demo.as('director', '/d/tickets');
  await settled(page);
  await page.keyboard.press('Control+p');
  const dialog = page.getByRole('dialog', { name: 'Take along' });
  const opening = context.waitForEvent('page');
  const made = page.waitForResponse((r) => new URL(r.url()).pathname.endsWith('/exports'));
  await dialog.getByRole('button', { name: 'Print' }).click();
  await opening;
  expect((await made).headers()['content-type']).toBe('application/pdf');
  await dialog.getByText('Print it from the tab that was opened.').waitFor();
});
