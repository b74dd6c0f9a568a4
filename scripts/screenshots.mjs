// Takes the pictures of docs/screenshots from a running demo: node scripts/screenshots.mjs [URL] [FOLDER]
import { createRequire } from 'node:module';
import { chromiumPath } from './chromium.mjs';

const require = createRequire(new URL('../console/package.json', import.meta.url));
const { chromium } = require('playwright-core');

const url = process.argv[2] ?? 'http://127.0.0.1:7410';
const folder = process.argv[3] ?? new URL('../docs/screenshots', import.meta.url).pathname;
const browser = await chromium.launch({
  executablePath: chromiumPath,
  args: ['--no-sandbox', '--disable-gpu', '--disable-background-networking', '--disable-component-update', '--disable-sync', '--no-first-run'],
});

async function as(name, viewport = { width: 1280, height: 800 }) {
  const page = await (await browser.newContext({ viewport, reducedMotion: 'reduce' })).newPage();
  page.on('console', (m) => m.type() === 'error' && console.error(`${name}: ${m.text()}`));
  page.on('pageerror', (e) => console.error(`${name}: ${e.message}`));
  await page.goto(url);
  await page.locator('input[name=name]').fill(name);
  await page.locator('input[name=password]').fill(`${name}-lantern`);
  await page.getByRole('button', { name: 'Sign in' }).click();
  await page.getByRole('heading', { name: 'Dashboards' }).waitFor();
  return page;
}
const settled = async (page) => {
  await page.waitForFunction(() => {
    const tiles = [...document.querySelectorAll('[data-tile]')];
    return tiles.length > 0 && tiles.every((t) => ['ready', 'failed'].includes(t.dataset.state) || t.querySelector('p')) && document.querySelectorAll('[aria-busy=true]').length === 0;
  });
  await page.evaluate(() => document.fonts.ready);
  await page.waitForFunction(() => [...document.querySelectorAll('[data-picture]')].every((t) => !['bar', 'line', 'area', 'pie', 'heatmap'].includes(t.dataset.picture) || t.querySelector('[role=img][data-drawn]') || t.querySelector('p')));
};
// What comes apart, such as the days beside a span, takes its room before the picture is drawn for what is left.
const fits = (page) =>
  page.waitForFunction(() =>
    [...document.querySelectorAll('[role=img]')].every((e) => Math.abs(e.clientHeight - (e.querySelector('canvas')?.clientHeight ?? e.clientHeight)) < 2),
  );
const shot = (page, name) => page.screenshot({ path: `${folder}/${name}.png` });
const open = async (page, path) => {
  await page.goto(url + path);
  await settled(page);
};
const pick = (o) => encodeURIComponent(JSON.stringify(o));

/** Every kind of picture on one sheet: the first tile of each, as it stands on the demo's dashboards, with its name. */
async function sheet(page, look, name) {
  const found = new Map();
  const tabs = ['compare', 'time', 'parts', 'spread', 'tables'].map((tab) => `atlas?tab=${tab}`);
  for (const path of [...tabs, 'network?', 'punctuality?tab=watch', 'punctuality?tab=by-choice', 'punctuality?tab=conditions', 'bridge?', 'tickets?']) {
    await open(page, `/d/${path}&look=${look}`);
    await page.mouse.move(5, 5);
    for (const tile of await page.locator('[data-picture]').all()) {
      const kind = await tile.getAttribute('data-picture');
      if (found.has(kind) || !(await tile.isVisible())) continue;
      await tile.scrollIntoViewIfNeeded();
      found.set(kind, `data:image/png;base64,${(await tile.screenshot()).toString('base64')}`);
    }
  }
  const page2 = await (await browser.newContext({ viewport: { width: 1600, height: 900 } })).newPage();
  const isDark = look === 'dark';
  await page2.setContent(
    `<body style="margin:16px;font:600 15px sans-serif;background:${isDark ? '#12191D' : '#F6F5F1'};color:${isDark ? '#E6ECEA' : '#14212B'}">
      <div style="columns:4;column-gap:14px">${[...found]
        .sort(([a], [b]) => a.localeCompare(b))
        .map(([kind, src]) => `<figure style="margin:0 0 14px;break-inside:avoid"><figcaption style="padding:2px 4px">${kind}</figcaption><img src="${src}" style="width:100%"></figure>`)
        .join('')}</div></body>`,
  );
  await page2.screenshot({ path: `${folder}/${name}.png`, fullPage: true });
  await page2.close();
}

// Last of all, since a draft is told on the list of dashboards.
async function design() {
  const developer = await as('developer');
  await developer.getByRole('button', { name: 'New dashboard' }).click();
  await developer.getByLabel('Title').fill('Harbour life');
  await developer.getByPlaceholder('Choose a dataset').click();
  await developer.getByRole('option', { name: 'Sailings' }).click();
  await developer.getByRole('button', { name: 'Begin the draft' }).click();
  await developer.waitForURL('**/design');
  await settled(developer);
  await developer.locator('[data-picture=bar]').getByRole('button', { name: /^Design / }).click();
  await developer.getByRole('combobox', { name: 'sorted by' }).waitFor();
  await developer.mouse.move(5, 5);
  await shot(developer, 'design');
  await developer.getByRole('button', { name: 'Publish …' }).waitFor();
  const headers = { 'Content-Type': 'application/json' };
  await developer.request.delete(`${url}/api/drafts/harbour-life`, { headers });
}

const director = await as('director');
await director.getByRole('list', { name: 'Reports' }).waitFor();
await director.screenshot({ path: `${folder}/dashboards.png`, fullPage: true });
await open(director, `/d/network?pick=${pick({ 'income-by-route': { members: [['Skerrin–Tolmarra'], ['Morrowick–Dunmerrow']] } })}`);
await shot(director, 'network-picked');
await open(director, `/d/punctuality?tab=by-choice&set=${pick({ figure: ['late_share'], grain: ['quarter'], parts: ['sea_area'], drawn: ['bar'] })}`);
await shot(director, 'by-choice');
await sheet(director, 'light', 'atlas');
await sheet(director, 'dark', 'dark');

await open(director, '/d/bridge');
await shot(director, 'bridge');

// The SQL is for those who may explain.
const developer = await as('developer');
await open(developer, `/d/network?pick=${pick({ 'income-by-route': { members: [['Skerrin–Ullavee']] }, 'passengers-by-quarter': { members: [['2025-07-01']] } })}`);
await developer.getByLabel('Menu of Income by route, top 10').click();
await developer.getByRole('menuitem', { name: 'Where this comes from' }).click();
await developer.getByRole('heading', { name: 'SQL' }).first().waitFor();
await shot(developer, 'explain');

await open(director, '/d/network');
await director.getByRole('button', { name: 'Arrange' }).click();
await director.getByRole('button', { name: 'Done' }).waitFor();
await director.waitForSelector('.react-grid-item');
await settled(director);
await shot(director, 'arrange');

await open(director, `/d/punctuality?pick=${pick({ span: { members: [], range: { from: '2025-02-03', to: '2025-12-15' } }, vessels: { members: [[7]] } })}`);
await director.getByLabel('From', { exact: true }).first().waitFor();
await fits(director);
await shot(director, 'punctuality-span');
await director.keyboard.press('w');
await director.locator('[data-wiring] button').nth(3).hover();
await shot(director, 'wiring');
await director.keyboard.press('Escape');
await director.getByRole('button', { name: 'Menu of Mean delay by vessel' }).click();
await director.getByRole('menuitem', { name: /Rows behind/ }).click();
await director.getByRole('button', { name: 'Record' }).first().click();
await director.getByLabel('Record 1').waitFor();
await shot(director, 'rows');
const before = pick({ span: { members: [], range: { from: '2024-09-02', to: '2024-12-02' } } });
await open(director, `/d/punctuality?a=${before}&pick=${pick({ span: { members: [], range: { from: '2025-09-01', to: '2025-12-01' } } })}`);
await director.waitForFunction(() => document.querySelectorAll('[data-side=A] [role=img][data-drawn]').length >= 5);
await shot(director, 'compared');
await open(director, `/d/punctuality?tab=conditions&pick=${pick({ wind: { members: [], range: { from: 6, to: null } }, reasons: { members: [['technical fault']], exclude: true } })}`);
await shot(director, 'conditions');

await developer.goto(`${url}/data`);
await developer.getByRole('button', { name: 'Test' }).click();
await developer.getByLabel('Steps of the test').waitFor();
await developer.locator('summary').first().click();
await shot(developer, 'data');
await developer.locator('summary', { hasText: 'Sailings' }).click();
await developer.getByRole('link', { name: 'Change Sailings' }).click();
await developer.getByRole('button', { name: 'New measure' }).click();
await developer.getByLabel('Title').fill('Fares for each sailing');
await developer.getByRole('textbox', { name: /^Formula of/ }).click();
await developer.keyboard.insertText('sum(fares) / count(*)');
await developer.getByRole('group', { name: 'What it gives' }).getByRole('row').nth(1).waitFor();
await developer.mouse.move(5, 5);
await developer.waitForTimeout(500);
await shot(developer, 'formula');
await developer.goto(`${url}/data`);
await developer.getByRole('link', { name: 'New dataset' }).click();
await developer.getByPlaceholder('Choose a source').click();
await developer.getByRole('option', { name: 'Ferry records' }).click();
await developer.getByPlaceholder('Choose a table').click();
await developer.getByRole('option', { name: /^vessel/ }).click();
await developer.locator('[data-counts]').waitFor();
await developer.mouse.move(0, 0);
await shot(developer, 'new-dataset');

const ports = await as('north-ports');
await open(ports, '/d/network');
await shot(ports, 'network-north-ports');

const phone = await as('director', { width: 390, height: 844 });
await open(phone, '/d/network');
await shot(phone, 'narrow');
await design();
await browser.close();
