// Measures how long a dashboard takes to stand, in headless Chromium: node bench/page.mjs. The demo's first dashboard, from an
// address typed by somebody who is signed in and has nothing of it in their browser, on this processor and on one four times
// slower; beside it the list of dashboards, a page of the same kit without tiles. The middle of seven runs.
import { middle, report, startDemo } from './demo.mjs';
import { visitor } from './visits.mjs';

const runs = 7;
const demo = await startDemo('weir-page-');
let browser;
try {
  browser = await visitor(await demo.signedIn('director'));
  const [list, dashboard] = [`${demo.url}/`, `${demo.url}/d/network`];
  await browser.visit(dashboard, 1, 'all'); // so that the service is warm
  for (const slower of [1, 4]) {
    const [tiles, empty] = [[], []];
    for (let i = 0; i < runs; i++) {
      empty.push(await browser.visit(list, slower, 'listed'));
      tiles.push(await browser.visit(dashboard, slower, 'all'));
    }
    const of = (visits, part) => middle(visits.map((v) => v[part]));
    console.log(`\nprocessor ${slower === 1 ? 'as it is' : `${slower} times slower`}, middle of ${runs} visits`);
    report('the page without tiles stands, s', (of(empty, 'shown') / 1000).toFixed(2));
    report('the first tile stands, s', (of(tiles, 'first') / 1000).toFixed(2), slower === 4 ? '1.00' : '');
    report('the first tile / the page without tiles', (of(tiles, 'first') / of(empty, 'shown')).toFixed(2), '2.00');
    report('the first figure is drawn, s', (of(tiles, 'figure') / 1000).toFixed(2));
    report('all tiles stand, s', (of(tiles, 'all') / 1000).toFixed(2));
    report('long tasks, ms', of(tiles, 'long').toFixed(0));
    report('bytes that came, KB', (of(tiles, 'bytes') / 1024).toFixed(0));
  }
} finally {
  await browser?.close();
  await demo.stop();
}
