// Measures the brush index in headless Chromium: node bench/brush.mjs ROWS. A generated table in DuckDB, six followers of a
// picture over days; frames while dragging, beside those that a bare canvas with the same marks reaches in the same run; time
// from a click to all followers drawn, time until the index is there, each beside the same without the index. A frame counts
// when all six followers stand newly drawn in it.
import { spawn, spawnSync } from 'node:child_process';
import { existsSync, mkdirSync, mkdtempSync, renameSync, rmSync, writeFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { tmpdir } from 'node:os';
import { join } from 'node:path';

const root = new URL('..', import.meta.url).pathname;
const require = createRequire(join(root, 'console/package.json'));
const { chromium } = require('playwright-core');
const { DuckDBInstance } = require('@duckdb/node-api');
const weir = join(root, 'src/Weir.Cli/bin/Release/net10.0/weir');
const rows = (process.argv[2] ? [Number(process.argv[2])] : [1_000_000, 10_000_000]).flatMap((n) => (n > 1_000_000 ? [1_000_000, n] : [n]));
const password = 'not-a-secret-here';

const followers = [
  ['by-port', 'bar', 'port'],
  ['by-kind', 'pie', 'kind'],
  ['by-channel', 'bar', 'channel'],
  ['by-weekday', 'bar', 'at.day_of_week'],
  ['by-hour', 'bar', 'at.hour_of_day'],
  ['by-quarter', 'table', 'at.quarter'],
];

async function makeTable(count) {
  const folder = join(root, '.test/bench-rows/files');
  mkdirSync(folder, { recursive: true });
  const file = join(folder, `sales-${count}.duckdb`);
  if (existsSync(file)) return folder;
  const instance = await DuckDBInstance.create(`${file}.new`);
  const connection = await instance.connect();
  const hash = '(hash(i) % 1000000007)::BIGINT';
  await connection.run(
    `CREATE TABLE sale AS SELECT i AS id, 'port ' || (${hash} % 12) AS port, 'kind ' || (${hash} // 12 % 5) AS kind, 'channel ' || (${hash} // 60 % 4) AS channel, TIMESTAMP '2023-01-01 00:00:00' + (${hash} // 240 % 1500000) * INTERVAL '1 minute' AS at, (${hash} // 7 % 500) AS tickets, CAST((${hash} // 11 % 90000) / 100.0 AS DECIMAL(10, 2)) AS amount FROM range(${count}) t(i)`,
  );
  await connection.run('CHECKPOINT');
  connection.closeSync();
  instance.closeSync();
  renameSync(`${file}.new`, file);
  return folder;
}

function writeWorkspace(folder, count) {
  const write = (path, text) => {
    mkdirSync(join(folder, path, '..'), { recursive: true });
    writeFileSync(join(folder, path), text);
  };
  write('workspace.yaml', 'workspace: bench\n');
  write('sources/s.yaml', `source: s\nengine: duckdb\nfile: sales-${count}.duckdb\nlimits: { seconds: 300, at_once: 2, memory_mb: 2000 }\n`);
  write(
    'datasets/sales.yaml',
    'dataset: sales\nsource: s\nfrom: sale\nfreshness: { seconds: 0 }\nfields:\n  port: { column: port }\n  kind: { column: kind }\n  channel: { column: channel }\n  at: { column: at, type: timestamp }\n  amount: { column: amount, type: decimal }\nmeasures:\n  income: { formula: "sum(amount)" }\n',
  );
  const tile = ([name, picture, by], i) =>
    `      - { tile: ${name}, picture: ${picture}, dataset: sales, show: income, by: ${by}, place: { column: ${(i % 3) * 4}, row: ${3 + Math.floor(i / 3) * 4}, width: 4, height: 4 } }\n`;
  write(
    'dashboards/brush.yaml',
    `dashboard: brush\ntabs:\n  - tab: one\n    tiles:\n      - { tile: days, picture: area, dataset: sales, show: income, by: at.day, pick: range, place: { column: 0, row: 0, width: 12, height: 3 } }\n${followers.map(tile).join('')}`,
  );
  write('access.yaml', 'roles:\n  all: { reads: { sales: all } }\n');
}

const quantile = (values, q) => [...values].sort((a, b) => a - b)[Math.min(values.length - 1, Math.floor(q * values.length))];
const report = (text, value, aim) => console.log(`${text.padEnd(72)} ${value}${aim ? `   (aim ${aim})` : ''}`);

async function measure(count) {
  const files = await makeTable(count);
  const data = mkdtempSync(join(tmpdir(), 'weir-brush-'));
  writeWorkspace(join(data, 'workspace'), count);
  spawnSync(weir, ['users', 'put', 'all', '--role', 'all', '--password-stdin', '--data', data], { input: `${password}\n` });
  const service = spawn(weir, ['serve', '--data', data, '--workspace', join(data, 'workspace'), '--files', files, '--port', '0']);
  const url = await new Promise((resolve, reject) => {
    let said = '';
    const listen = (chunk) => {
      said += chunk;
      const found = /(http:\/\/[\d.]+:\d+)/.exec(said);
      if (found) resolve(found[1]);
    };
    service.stdout.on('data', listen);
    service.stderr.on('data', listen);
    service.once('exit', () => reject(new Error(`The service did not start: ${said}`)));
  });
  const browser = await chromium.launch({ executablePath: process.env.CHROMIUM ?? '/usr/bin/chromium', args: ['--no-sandbox', '--disable-gpu'] });
  try {
    const indexed = await inPage(browser, url, true);
    const plain = await inPage(browser, url, false);
    console.log(`\n${count.toLocaleString('en-US')} rows`);
    const bare = await onBareCanvas(browser, indexed.marks);
    report('frames a second with all six newly drawn, while dragging for five seconds', indexed.frames.toFixed(1), '45');
    report('the same marks on a bare canvas', bare.toFixed(1));
    report('frames / those of the bare canvas', (indexed.frames / bare).toFixed(2), 'at least 0.50');
    report('moves of the pointer that the browser was sent a second', indexed.moves.toFixed(0));
    report('questions to the service during the drag', indexed.questions, '0');
    report('from a click to all followers drawn, 95 of 100 within, ms', quantile(indexed.clicks, 0.95).toFixed(0), '100');
    report('the same without the index, half of them within, ms', quantile(plain.clicks, 0.5).toFixed(0));
    report('a click with the index / without', (quantile(indexed.clicks, 0.5) / quantile(plain.clicks, 0.5)).toFixed(2));
    report('until the index is there after first coming near, s', (indexed.ready / 1000).toFixed(2));
    report('memory of the page, MB', (indexed.heap / 1e6).toFixed(0));
  } finally {
    await browser.close();
    const gone = new Promise((resolve) => service.once('exit', resolve));
    service.kill('SIGTERM');
    await gone;
    rmSync(data, { recursive: true });
  }
}

async function inPage(browser, url, hasIndex) {
  const page = await (await browser.newContext({ viewport: { width: 1280, height: 800 }, reducedMotion: 'reduce' })).newPage();
  if (!hasIndex) await page.route('**/tiles/*/brush', (route) => route.abort());
  await page.goto(`${url}/d/brush`);
  await page.locator('input[name=name]').fill('all');
  await page.locator('input[name=password]').fill(password);
  await page.getByRole('button', { name: 'Sign in' }).click();
  const drawn = () => [...document.querySelectorAll('[data-tile]')].length === 7 && [...document.querySelectorAll('[data-tile]')].every((t) => t.dataset.state === 'ready' && t.querySelector('canvas, tbody tr'));
  await page.waitForFunction(drawn, undefined, { timeout: 300_000 });
  await page.evaluate((names) => {
    window.seen = Object.fromEntries(names.map((n) => [n, []]));
    // Which followers changed in which frame: the document's time is the same all through one.
    window.frames = new Map();
    const mark = (name) => {
      window.seen[name].push(performance.now());
      const frame = document.timeline.currentTime;
      if (!window.frames.has(frame)) window.frames.set(frame, new Set());
      window.frames.get(frame).add(name);
    };
    // A picture is drawn anew when its canvas is cleared for it, a table when its cells change.
    const clear = CanvasRenderingContext2D.prototype.clearRect;
    CanvasRenderingContext2D.prototype.clearRect = function (...where) {
      const name = this.canvas.closest('[data-tile]')?.dataset.tile;
      if (names.includes(name)) mark(name);
      return clear.apply(this, where);
    };
    for (const name of names) {
      const body = document.querySelector(`[data-tile="${name}"] tbody`);
      if (body) new MutationObserver(() => mark(name)).observe(body, { subtree: true, childList: true, attributes: true, characterData: true });
    }
    window.addEventListener('pointerup', () => {
      window.clicked = performance.now();
    }, true);
  }, followers.map((f) => f[0]));
  const box = await page.locator('[data-tile=days] [role=img]').boundingBox();
  const at = (x) => [box.x + box.width * (0.08 + 0.84 * x), box.y + 40];
  const started = performance.now();
  await page.mouse.move(...at(0.5));
  let ready = 0;
  if (hasIndex) {
    await page.locator('[data-tile=days][data-answers=true]').waitFor({ timeout: 300_000 });
    ready = performance.now() - started;
  }
  let questions = 0;
  page.on('request', (r) => {
    if (r.method() === 'POST') questions++;
  });
  let [frames, moves, marks] = [0, 0, 0];
  if (hasIndex) {
    marks = await page.evaluate((names) => names.map((n) => document.querySelectorAll(`[data-tile="${n}"] [role=option], [data-tile="${n}"] td`).length * 2), followers.map((f) => f[0]));
    await page.mouse.move(...at(0.2));
    await page.mouse.down();
    await page.evaluate(() => window.frames.clear());
    moves = await drag(page, at);
    frames = (await page.evaluate((all) => [...window.frames.values()].filter((f) => f.size === all).length, followers.length)) / 5;
    const asked = questions;
    await page.mouse.up();
    questions = asked;
  }
  const during = questions;
  const clicks = [];
  for (let i = 0; i < (hasIndex ? 40 : 8); i++) {
    await page.evaluate(() => {
      for (const list of Object.values(window.seen)) list.length = 0;
    });
    await page.mouse.click(...at(0.05 + 0.9 * ((i * 0.381) % 1)));
    await page.waitForFunction(() => Object.values(window.seen).every((l) => l.length > 0) && [...document.querySelectorAll('[data-tile]')].every((t) => t.dataset.state === 'ready'), undefined, { timeout: 120_000, polling: 'raf' });
    clicks.push(await page.evaluate(() => Math.max(...Object.values(window.seen).map((l) => l[l.length - 1])) - window.clicked));
  }
  const metrics = await (await page.context().newCDPSession(page)).send('Runtime.getHeapUsage');
  await page.close();
  return { ready, frames, moves, marks, questions: during, clicks, heap: metrics.usedSize };
}

/** Moves the pointer to and fro for five seconds, as often as a mouse tells of it; says how many moves a second there were. */
async function drag(page, at) {
  const under = new Set();
  let moves = 0;
  for (const until = performance.now() + 5000; performance.now() < until; ) {
    const move = page.mouse.move(...at(0.55 + 0.3 * Math.sin(moves++ / 24))).finally(() => under.delete(move));
    under.add(move);
    await new Promise((resolve) => setTimeout(resolve, 8));
    if (under.size > 8) await Promise.race(under);
  }
  await Promise.all(under);
  return moves / 5;
}

/** Frames a second of a page that draws as many marks on six bare canvases with each move, and does nothing else. */
async function onBareCanvas(browser, marks) {
  const page = await (await browser.newContext({ viewport: { width: 1280, height: 800 } })).newPage();
  await page.setContent(`<body style="margin:0">${marks.map(() => '<canvas width="400" height="230"></canvas>').join('')}</body>`);
  await page.evaluate((counts) => {
    window.frames = 0;
    const all = [...document.querySelectorAll('canvas')].map((c) => c.getContext('2d'));
    let frame = 0;
    window.addEventListener('pointermove', (event) => {
      cancelAnimationFrame(frame);
      frame = requestAnimationFrame(() => {
        all.forEach((context, c) => {
          context.clearRect(0, 0, 400, 230);
          for (let i = 0; i < counts[c]; i++) {
            context.fillStyle = i % 2 ? '#2b6cb0' : '#999';
            if (i % 2) context.fillRect((i * 400) / counts[c], 20, 300 / counts[c], 50 + ((event.clientX + i * 31) % 130));
            else context.fillText(String(event.clientX + i), (i * 400) / counts[c], 220);
          }
        });
        window.frames++;
      });
    });
  }, marks);
  await drag(page, (x) => [1280 * x, 400]);
  const frames = await page.evaluate(() => window.frames);
  await page.close();
  return frames / 5;
}

for (const count of rows) await measure(count);
