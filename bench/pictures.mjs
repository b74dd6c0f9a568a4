// Measures what pictures and tables cost the browser, in headless Chromium: node bench/pictures.mjs. Drawing 5,000 and 50,000 marks;
// how long after its last answer a tab of 20 tiles stands; frames while a table of some 10,000 rows and a cross table of some
// 1,000 lines and 50 columns scroll, counted only where there is a cell that moved.
import { mkdtempSync, rmSync } from 'node:fs';
import { createRequire } from 'node:module';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { middle, report, root, startDemo } from './demo.mjs';

const { build, preview } = await import(createRequire(join(root, 'console/package.json')).resolve('vite'));
const console_ = join(root, 'console');

const kinds = ['bar', 'line', 'table', 'number', 'area'];
const tiles = Array.from({ length: 20 }, (_, i) => {
  const kind = kinds[i % kinds.length];
  const by = kind === 'number' ? '' : `by: ${kind === 'bar' || kind === 'table' ? 'route' : 'departed.month'}, `;
  return `      - { tile: t${i}, picture: ${kind}, dataset: sailings, show: sailings, ${by}title: Tile ${i}, place: { column: ${(i % 4) * 3}, row: ${Math.floor(i / 4) * 2}, width: 3, height: 2 } }`;
});
const files = {
  'dashboards/many.yaml': `dashboard: many\ntabs:\n  - tab: all\n    tiles:\n${tiles.join('\n')}\n`,
  'dashboards/long.yaml': `dashboard: long
tabs:
  - tab: table
    tiles:
      - { tile: rows, picture: table, dataset: sailings, show: [sailings, mean_delay, travellers], by: [departed.day, sea_area, vessel_class], title: Rows, place: { column: 0, row: 0, width: 12, height: 8 } }
  - tab: cross
    tiles:
      - { tile: wide, picture: crosstable, dataset: sailings, show: [sailings, mean_delay], by: departed.day, across: route, title: Wide, place: { column: 0, row: 0, width: 12, height: 8 } }
`,
};

const folder = mkdtempSync(join(tmpdir(), 'weir-sheet-'));
const demo = await startDemo('weir-pictures-');
let server;
try {
  const made = { outDir: folder, emptyOutDir: true, target: 'es2022', rollupOptions: { input: join(console_, 'sheet/index.html') } };
  await build({ root: console_, configFile: false, logLevel: 'error', build: made });
  server = await preview({ root: console_, configFile: false, logLevel: 'error', build: made, preview: { host: '127.0.0.1', port: 0 } });
  const sheet = await demo.browser.newPage({ viewport: { width: 1280, height: 800 } });
  await sheet.goto(`${server.resolvedUrls.local[0]}sheet/index.html`);
  await sheet.waitForFunction(() => 'sheet' in window, null, { timeout: 120_000 });
  console.log('\ndrawing, middle of 7 after one to warm up');
  for (const [kind, marks, aim] of [
    ['bar, upright', 5000, '50'],
    ['line', 5000, '50'],
    ['scatter', 5000, '50'],
    ['scatter', 50_000, ''],
  ]) {
    const times = await sheet.evaluate(([k, n]) => Array.from({ length: 8 }, () => window.sheet.time(k, n)).slice(1), [kind, marks]);
    report(`${kind}: ${marks.toLocaleString('en-US')} marks, ms`, middle(times.map((t) => t.first)).toFixed(0), aim);
    report(`${kind}: the same with one picked, ms`, middle(times.map((t) => t.anew)).toFixed(0), aim);
  }
  await sheet.close();

  const developer = await demo.client('developer');
  for (const [path, text] of Object.entries(files)) {
    const answer = await developer('PUT', '/api/definitions/file', { path, text });
    if (!answer.accepted) throw new Error(JSON.stringify(answer.faults));
  }
  const state = await demo.signedIn('director');
  const context = await demo.browser.newContext({ viewport: { width: 1280, height: 800 }, reducedMotion: 'reduce', storageState: state });
  const waits = [];
  for (let i = 0; i < 7; i++) {
    const page = await context.newPage();
    await page.addInitScript(() => {
      const look = () => {
        const all = [...document.querySelectorAll('[data-tile]')];
        const has = (t) => t.querySelector('[data-figure], [data-drawn], tbody tr');
        if (all.length === 20 && all.every(has)) window.stands ??= performance.now();
        else requestAnimationFrame(look);
      };
      requestAnimationFrame(look);
    });
    await page.goto(`${demo.url}/d/many`);
    await page.waitForFunction(() => window.stands !== undefined, null, { timeout: 120_000 });
    waits.push(
      await page.evaluate(() => {
        const answers = performance.getEntriesByType('resource').filter((r) => r.name.endsWith('/results'));
        return window.stands - Math.max(...answers.map((r) => r.responseEnd));
      }),
    );
    await page.close();
  }
  console.log('\na tab of 20 tiles, middle of 7 visits');
  report('all stand after the last answer, ms', middle(waits).toFixed(0), '400');

  for (const [tab, name, across] of [
    ['table', 'rows', 0],
    ['cross', 'wide', 0],
    ['cross', 'wide', 1],
  ]) {
    const page = await context.newPage();
    await page.goto(`${demo.url}/d/long?tab=${tab}`);
    await page.locator(`[data-tile=${name}] tbody td`).nth(30).waitFor({ timeout: 120_000 });
    const told = await page.evaluate(
      ([name, across]) =>
        new Promise((resolve) => {
          const tile = document.querySelector(`[data-tile=${name}]`);
          const room = [...tile.querySelectorAll('*')].find((e) => e.scrollHeight > e.clientHeight + 200 && getComputedStyle(e).overflowY !== 'visible');
          const bounds = room.getBoundingClientRect();
          const at = () => document.elementFromPoint(bounds.left + bounds.width * 0.6, bounds.top + bounds.height * 0.6)?.closest('td');
          let [good, all, from, last] = [0, 0, 0, ''];
          const step = (now) => {
            from ||= now;
            const cell = at();
            const { left, top } = cell?.getBoundingClientRect() ?? {};
            const seen = cell ? `${cell.closest('tr').rowIndex} ${cell.textContent} ${left} ${top}` : '';
            all++;
            if (seen !== '' && seen !== last) good++;
            last = seen;
            if (now - from > 3000) return resolve({ good: (good / (now - from)) * 1000, all: (all / (now - from)) * 1000, high: room.scrollHeight, wide: room.scrollWidth });
            if (across) {
              room.scrollLeft += 60;
              if (room.scrollLeft + room.clientWidth >= room.scrollWidth - 60) room.scrollLeft = 0;
            } else room.scrollTop += 90;
            requestAnimationFrame(step);
          };
          requestAnimationFrame(step);
        }),
      [name, across],
    );
    const lines = (await page.locator(`[data-tile=${name}] table`).first().getAttribute('aria-rowcount')) ?? '?';
    console.log(`\n${tab === 'table' ? 'a table' : 'a cross table'} of ${lines} lines, ${told.high} × ${told.wide} pixels, scrolled ${across ? 'across' : 'down'}`);
    report('frames a second in which what is in sight moved', told.good.toFixed(0), '60');
    report('frames a second in all', told.all.toFixed(0));
    await page.close();
  }
} finally {
  await server?.close();
  await demo.stop();
  rmSync(folder, { recursive: true });
}
