// Measures how long a dashboard takes to stand, in headless Chromium: node bench/page.mjs. The demo's first dashboard, from an
// address typed by somebody who is signed in and has nothing of it in their browser, on this processor and on one four times
// slower; beside it the list of dashboards, a page of the same kit without tiles. The middle of seven runs.
import { spawn } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { createRequire } from 'node:module';
import { tmpdir } from 'node:os';
import { join } from 'node:path';

const root = new URL('..', import.meta.url).pathname;
const { chromium } = createRequire(join(root, 'console/package.json'))('playwright-core');
const weir = join(root, 'src/Weir.Cli/bin/Release/net10.0/weir');
const runs = 7;
const middle = (values) => [...values].sort((a, b) => a - b)[Math.floor(values.length / 2)];

const data = mkdtempSync(join(tmpdir(), 'weir-page-'));
const service = spawn(weir, ['demo', '--data', data, '--port', '0']);
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

/** Times of one visit, in milliseconds after its beginning. */
async function visit(path, slower, state) {
  const context = await browser.newContext({ viewport: { width: 1280, height: 800 }, reducedMotion: 'reduce', storageState: state });
  const page = await context.newPage();
  const cdp = await context.newCDPSession(page);
  await cdp.send('Network.enable');
  await cdp.send('Emulation.setCPUThrottlingRate', { rate: slower });
  let bytes = 0;
  cdp.on('Network.loadingFinished', (e) => {
    bytes += e.encodedDataLength;
  });
  await page.addInitScript(() => {
    window.long = 0;
    new PerformanceObserver((list) => {
      for (const entry of list.getEntries()) window.long += entry.duration;
    }).observe({ type: 'longtask', buffered: true });
    const stands = (t) => t.dataset.state === 'ready' && (t.querySelector('[data-figure], [data-drawn], tbody tr, input') || t.querySelector('p'));
    const look = () => {
      const tiles = [...document.querySelectorAll('[data-tile]')];
      if (document.querySelector('main, h1')) window.shown ??= performance.now();
      if (tiles.some(stands)) window.first ??= performance.now();
      if (tiles.length > 0 && tiles.every(stands)) window.all ??= performance.now();
      requestAnimationFrame(look);
    };
    requestAnimationFrame(look);
  });
  await page.goto(url + path);
  await page.waitForFunction(path === '/' ? () => document.querySelector('main a, main li') !== null : () => window.all !== undefined, undefined, { timeout: 120_000 });
  const times = await page.evaluate(() => ({ shown: window.shown, first: window.first, all: window.all, long: window.long }));
  await context.close();
  return { ...times, bytes };
}

try {
  const context = await browser.newContext();
  const page = await context.newPage();
  await page.goto(url);
  await page.locator('input[name=name]').fill('director');
  await page.locator('input[name=password]').fill('director-lantern');
  await page.getByRole('button', { name: 'Sign in' }).click();
  await page.getByRole('heading', { name: 'Dashboards' }).waitFor();
  const state = await context.storageState();
  await visit('/d/network', 1, state); // so that the service is warm
  for (const slower of [1, 4]) {
    const [tiles, empty] = [[], []];
    for (let i = 0; i < runs; i++) {
      empty.push(await visit('/', slower, state));
      tiles.push(await visit('/d/network', slower, state));
    }
    const of = (visits, part) => middle(visits.map((v) => v[part]));
    const report = (text, value, aim = '') => console.log(`${text.padEnd(60)} ${value}${aim && `   (aim ${aim})`}`);
    console.log(`\nprocessor ${slower === 1 ? 'as it is' : `${slower} times slower`}, middle of ${runs} visits`);
    report('the page without tiles stands, s', (of(empty, 'shown') / 1000).toFixed(2));
    report('the first tile stands, s', (of(tiles, 'first') / 1000).toFixed(2), slower === 4 ? '1.00' : '');
    report('the first tile / the page without tiles', (of(tiles, 'first') / of(empty, 'shown')).toFixed(2), '2.00');
    report('all tiles stand, s', (of(tiles, 'all') / 1000).toFixed(2));
    report('long tasks, ms', of(tiles, 'long').toFixed(0));
    report('bytes that came, KB', (of(tiles, 'bytes') / 1024).toFixed(0));
  }
} finally {
  await browser.close();
  const gone = new Promise((resolve) => service.once('exit', resolve));
  service.kill('SIGTERM');
  await gone;
  rmSync(data, { recursive: true });
}
