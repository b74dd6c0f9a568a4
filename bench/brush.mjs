// Measures the brush index in headless Chromium: node bench/brush.mjs ROWS. A generated table in DuckDB, six followers of a
// picture over days; frames while dragging, beside those that a bare canvas with the same marks reaches in the same run; time
// from a click to all followers drawn, time until the index is there, each beside the same without the index. A frame counts
// when all six followers stand newly drawn in it.
import { launch } from './demo.mjs';
import { startTable } from './table.mjs';

const rows = (process.argv[2] ? [Number(process.argv[2])] : [1_000_000, 10_000_000]).flatMap((n) => (n > 1_000_000 ? [1_000_000, n] : [n]));

const followers = [
  ['by-port', 'bar', 'port'],
  ['by-kind', 'pie', 'kind'],
  ['by-channel', 'bar', 'channel'],
  ['by-weekday', 'bar', 'at.day_of_week'],
  ['by-hour', 'bar', 'at.hour_of_day'],
  ['by-quarter', 'table', 'at.quarter'],
];

const tile = ([name, picture, by], i) =>
  `      - { tile: ${name}, picture: ${picture}, dataset: sales, show: income, by: ${by}, place: { column: ${(i % 3) * 4}, row: ${3 + Math.floor(i / 3) * 4}, width: 4, height: 4 } }\n`;
const dashboard = {
  name: 'brush',
  tabs: `  - tab: one\n    tiles:\n      - { tile: days, picture: area, dataset: sales, show: income, by: at.day, pick: range, place: { column: 0, row: 0, width: 12, height: 3 } }\n${followers.map(tile).join('')}`,
};

const quantile = (values, q) => [...values].sort((a, b) => a - b)[Math.min(values.length - 1, Math.floor(q * values.length))];
const report = (text, value, aim) => console.log(`${text.padEnd(72)} ${value}${aim ? `   (aim ${aim})` : ''}`);

async function measure(count) {
  const table = await startTable(count, '{ reads: { sales: all } }', dashboard);
  const browser = await launch();
  try {
    const indexed = await inPage(browser, table, true);
    const plain = await inPage(browser, table, false);
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
    await table.stop();
  }
}

async function inPage(browser, { url, password }, hasIndex) {
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
