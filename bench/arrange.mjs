// Measures arranging, in headless Chromium: node bench/arrange.mjs. A dashboard of 60 tiles on 6 tabs with 2,000 edits of the viewer's;
// and one tab of 60 tiles, of which one is dragged: how many frames a second, and how many tiles are drawn anew for a frame.
import { middle, report, startDemo } from './demo.mjs';
import { visitor } from './visits.mjs';

const tile = (n, place) =>
  `      - { tile: t${n}, picture: ${['bar', 'number', 'line'][n % 3]}, dataset: sailings, show: sailings, ` +
  `${n % 3 === 1 ? '' : `by: ${n % 3 === 0 ? 'sea_area' : 'departed.year'}, `}title: Tile ${n}, place: ${place} }`;

/** Ten tiles a tab. */
const spread = `dashboard: spread\ntabs:\n${Array.from({ length: 6 }, (_, t) => `  - tab: tab-${t}\n    tiles:\n${Array.from({ length: 10 }, (_, i) => tile(t * 10 + i, `{ column: ${(i % 4) * 3}, row: ${Math.floor(i / 4) * 3}, width: 3, height: 3 }`)).join('\n')}\n`).join('')}`;
/** All on one. */
const dense = `dashboard: dense\ntabs:\n  - tab: all\n    tiles:\n${Array.from({ length: 60 }, (_, i) => tile(i, `{ column: ${(i % 6) * 2}, row: ${Math.floor(i / 6) * 3}, width: 2, height: 3 }`)).join('\n')}\n`;

const demo = await startDemo('weir-arrange-');
try {
  const developer = await demo.client('developer');
  for (const [path, text] of [
    ['dashboards/spread.yaml', spread],
    ['dashboards/dense.yaml', dense],
  ]) {
    const answer = await developer('PUT', '/api/definitions/file', { path, text });
    if (!answer.accepted) throw new Error(JSON.stringify(answer.faults));
  }
  const director = await demo.client('director');
  const edits = '/api/dashboards/spread/view/edits';
  for (let i = 0; i < (Number(process.env.EDITS) || 2000); i++)
    await director(
      'POST',
      edits,
      i % 10 === 9
        ? { edit: 'move', tile: `t${i % 60}`, tab: `tab-${Math.floor(i / 7) % 6}` }
        : {
            edit: 'place',
            tab: `tab-${Math.floor((i % 60) / 10)}`,
            tiles: [{ tile: `t${i % 60}`, place: { column: (i * 5) % 9, row: i % 12, width: 3, height: 2 + (i % 2) } }],
          },
    );
  const times = [];
  for (let i = 0; i < 21; i++) {
    const from = performance.now();
    await director('GET', '/api/dashboards/spread');
    times.push(performance.now() - from);
  }
  console.log('\n60 tiles on 6 tabs, 2,000 edits');
  report('the description of the page at the service, ms', middle(times).toFixed(1), '50');

  const state = await demo.signedIn('director');
  const browser = await visitor(state);
  try {
    const firsts = [];
    for (let i = 0; i < 5; i++) firsts.push((await browser.visit(`${demo.url}/d/spread`, 4, 'figure')).figure);
    report('the first tile, processor four times slower, s', (middle(firsts) / 1000).toFixed(2), '1.50');
  } finally {
    await browser.close();
  }

  const context = await demo.browser.newContext({ viewport: { width: 1280, height: 800 }, reducedMotion: 'reduce', storageState: state });
  const page = await context.newPage();
  await page.goto(`${demo.url}/d/dense`);
  await page.waitForFunction(() => {
    const all = [...document.querySelectorAll('[data-tile]')];
    return all.length === 60 && all.every((t) => t.dataset.state === 'ready');
  }, undefined, { timeout: 120_000 });
  await page.getByRole('button', { name: 'Arrange' }).click();
  const handle = page.locator('[data-tile=t7] [data-handle]');
  await handle.waitFor();
  // Taken up where it comes to rest: what is above the tiles opens first.
  let box = await handle.boundingBox();
  for (let before; JSON.stringify(before) !== JSON.stringify(box); ) {
    before = box;
    await page.evaluate(() => new Promise((done) => requestAnimationFrame(() => requestAnimationFrame(done))));
    box = await handle.boundingBox();
  }
  await page.evaluate(() => {
    window.frames_ = [];
    window.changed = new Set();
    window.counts = [];
    // What is drawn anew changes something within a tile, or its place.
    new MutationObserver((all) => {
      for (const m of all) {
        const at = m.target instanceof Element ? m.target : m.target.parentElement;
        const item = at?.closest('.react-grid-item');
        const name = item?.querySelector('[data-tile]')?.dataset.tile;
        if (name) window.changed.add(name);
      }
    }).observe(document.body, { subtree: true, childList: true, attributes: true, characterData: true });
    const frame = (t) => {
      window.frames_.push(t);
      window.counts.push([...window.changed]);
      window.changed.clear();
      requestAnimationFrame(frame);
    };
    requestAnimationFrame(frame);
  });
  await page.mouse.move(box.x + 8, box.y + 8);
  await page.mouse.down();
  await page.evaluate(() => {
    window.frames_.length = window.counts.length = 0;
  });
  // The hand does not wait for the page: a move every 8 ms.
  const cdp = await context.newCDPSession(page);
  const from = Date.now();
  let moves = 0;
  const sent = [];
  while (Date.now() - from < 4000) {
    const angle = (Date.now() - from) / 400;
    const [x, y] = [box.x + 200 + 180 * Math.cos(angle), box.y + 200 + 120 * Math.sin(angle)];
    sent.push(cdp.send('Input.dispatchMouseEvent', { type: 'mouseMoved', x, y, button: 'left', buttons: 1 }));
    moves++;
    await new Promise((resolve) => setTimeout(resolve, 8));
  }
  await Promise.all(sent);
  const [frames, counts] = await page.evaluate(() => [window.frames_, window.counts]);
  await page.mouse.up();
  const gaps = frames.slice(1).map((t, i) => t - frames[i]);
  const moved = counts.filter((c) => c.includes('t7'));
  if (moved.length === 0) throw new Error('The tile was not taken up.');
  console.log('\none of 60 tiles on a tab is dragged');
  report('frames a second in which it moved', ((moved.length / (frames.at(-1) - frames[0])) * 1000).toFixed(0), '60');
  report("frames a second in all", ((frames.length / (frames.at(-1) - frames[0])) * 1000).toFixed(0));
  report("longest gaps, ms", gaps.sort((a, b) => b - a).slice(0, 5).map((g) => g.toFixed(0)).join(" "));
  report('moves of the hand a second', ((moves / 4000) * 1000).toFixed(0));
  report('tiles drawn anew for a frame, besides the dragged one', middle(moved.map((c) => c.length - 1)).toFixed(0), '0');
} finally {
  await demo.stop();
}
