// Visits of a page in a browser that nobody looks into. What drives tests has the browser's inspector listen to every script and request:
// on a slow processor that reads the whole script twice more, and a fifth of the time until a first tile was the measurement's own.
import { spawn } from 'node:child_process';
import { once } from 'node:events';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { setTimeout as pause } from 'node:timers/promises';
import { chromiumPath } from '../scripts/chromium.mjs';

/** Runs in the page: notes when what stands, in milliseconds after the visit's beginning. */
function watch() {
  window.times = { long: 0 };
  const { times } = window;
  new PerformanceObserver((list) => {
    for (const entry of list.getEntries()) times.long += entry.duration;
  }).observe({ type: 'longtask', buffered: true });
  const stands = (t) => t.dataset.state === 'ready' && (t.querySelector('[data-figure], [data-drawn], tbody tr, input') || t.querySelector('p'));
  const look = () => {
    const tiles = [...document.querySelectorAll('[data-tile]')];
    if (document.querySelector('main, h1')) times.shown ??= performance.now();
    if (document.querySelector('main a, main li')) times.listed ??= performance.now();
    if (tiles.some(stands)) times.first ??= performance.now();
    if (document.querySelector('[data-tile][data-state=ready] :is([data-figure], [data-drawn])')) times.figure ??= performance.now();
    if (tiles.length > 0 && tiles.every(stands)) times.all ??= performance.now();
    requestAnimationFrame(look);
  };
  requestAnimationFrame(look);
}

/** Runs in the page: what came over the network, in bytes. */
const bytes = () =>
  [...performance.getEntriesByType('navigation'), ...performance.getEntriesByType('resource')].reduce((sum, e) => sum + e.transferSize, 0);

/** A browser for visits, in which whoever a browser's state tells of is signed in. */
export async function visitor(state) {
  const folder = mkdtempSync(join(tmpdir(), 'weir-visits-'));
  const given = ['--headless', '--no-sandbox', '--disable-gpu', '--hide-scrollbars', '--remote-debugging-pipe', `--user-data-dir=${folder}`];
  const browser = spawn(chromiumPath, given, { stdio: ['ignore', 'ignore', 'ignore', 'pipe', 'pipe'] });
  const [, , , to, from] = browser.stdio;
  const asked = new Map();
  let rest = '';
  from.on('data', (chunk) => {
    const parts = (rest + chunk).split('\0');
    rest = parts.pop();
    for (const { id, result, error } of parts.map((p) => JSON.parse(p))) {
      if (error) asked.get(id)?.reject(new Error(error.message));
      else asked.get(id)?.resolve(result);
      asked.delete(id);
    }
  });
  let last = 0;
  const ask = (method, params = {}, sessionId = undefined) =>
    new Promise((resolve, reject) => {
      asked.set(++last, { resolve, reject });
      to.write(`${JSON.stringify({ id: last, method, params, sessionId })}\0`);
    });
  const cookies = state.cookies.map(({ name, value, domain, path, httpOnly, sameSite }) => ({ name, value, domain, path, httpOnly, sameSite }));

  return {
    /**
     * Times of one visit by somebody who has nothing of it in their browser.
     * @param until What is waited for: one of the times.
     */
    async visit(address, slower, until) {
      const { browserContextId } = await ask('Target.createBrowserContext');
      const { targetId } = await ask('Target.createTarget', { url: 'about:blank', browserContextId, width: 1280, height: 800 });
      const { sessionId } = await ask('Target.attachToTarget', { targetId, flatten: true });
      const say = (method, params) => ask(method, params, sessionId);
      const get = async (expression) => (await say('Runtime.evaluate', { expression, returnByValue: true })).result.value;
      await ask('Storage.setCookies', { cookies, browserContextId });
      await say('Emulation.setEmulatedMedia', { features: [{ name: 'prefers-reduced-motion', value: 'reduce' }] });
      await say('Emulation.setCPUThrottlingRate', { rate: slower });
      await say('Page.enable');
      await say('Page.addScriptToEvaluateOnNewDocument', { source: `(${watch})()` });
      await say('Page.navigate', { url: address });
      const latest = Date.now() + 120_000;
      while (!(await get(`window.times?.${until} !== undefined`))) {
        if (Date.now() > latest) throw new Error(`${address} never came to "${until}".`);
        await pause(200);
      }
      const times = { ...(await get('window.times')), bytes: await get(`(${bytes})()`) };
      await ask('Target.disposeBrowserContext', { browserContextId });
      return times;
    },
    async close() {
      const gone = once(browser, 'exit');
      await ask('Browser.close');
      await gone;
      rmSync(folder, { recursive: true, force: true });
    },
  };
}
