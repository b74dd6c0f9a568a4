// Measures how long a dashboard takes to stand, in headless Chromium: node bench/page.mjs. The demo's first dashboard, from an
// address typed by somebody who is signed in and has nothing of it in their browser, on this processor and on one four times
// slower; beside it the list of dashboards, a page of the same kit without tiles. The middle of seven runs.
import { middle, report, startDemo } from './demo.mjs';

const runs = 7;
const demo = await startDemo('weir-page-');
const { browser, url } = demo;

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
  const state = await demo.signedIn('director');
  await visit('/d/network', 1, state); // so that the service is warm
  for (const slower of [1, 4]) {
    const [tiles, empty] = [[], []];
    for (let i = 0; i < runs; i++) {
      empty.push(await visit('/', slower, state));
      tiles.push(await visit('/d/network', slower, state));
    }
    const of = (visits, part) => middle(visits.map((v) => v[part]));
    console.log(`\nprocessor ${slower === 1 ? 'as it is' : `${slower} times slower`}, middle of ${runs} visits`);
    report('the page without tiles stands, s', (of(empty, 'shown') / 1000).toFixed(2));
    report('the first tile stands, s', (of(tiles, 'first') / 1000).toFixed(2), slower === 4 ? '1.00' : '');
    report('the first tile / the page without tiles', (of(tiles, 'first') / of(empty, 'shown')).toFixed(2), '2.00');
    report('all tiles stand, s', (of(tiles, 'all') / 1000).toFixed(2));
    report('long tasks, ms', of(tiles, 'long').toFixed(0));
    report('bytes that came, KB', (of(tiles, 'bytes') / 1024).toFixed(0));
  }
} finally {
  await demo.stop();
}
