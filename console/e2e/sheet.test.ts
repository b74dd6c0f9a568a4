import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { type Browser, chromium } from 'playwright-core';
import { build as makeSheet, type PreviewServer, preview } from 'vite';
import { afterAll, beforeAll, expect, test } from 'vitest';
// @ts-expect-error a script of the project, in plain JavaScript
import { chromiumPath } from '../../scripts/chromium.mjs';

const root = new URL('..', import.meta.url).pathname;
const sizes = [
  [220, 150],
  [300, 200],
  [400, 260],
  [640, 220],
  [820, 480],
  [1200, 640],
] as const;
/** Tiles are as wide as their page has it: what is cut between two sizes alone is found by others for each kind. */
const between = (kind: number) => [225 + ((kind * 83) % 640), [160, 230, 310][kind % 3] as number] as const;

let server: PreviewServer;
let folder: string;
let browser: Browser;
beforeAll(async () => {
  // The drawings themselves, apart from the page, where a browser can read them: on loopback, at a free port.
  folder = mkdtempSync(join(tmpdir(), 'weir-sheet-'));
  const rollupOptions = { input: join(root, 'sheet/index.html') };
  const build = { outDir: folder, emptyOutDir: true, target: 'es2022', rollupOptions };
  await makeSheet({ root, configFile: false, logLevel: 'error', build });
  server = await preview({
    root,
    configFile: false,
    logLevel: 'error',
    build,
    preview: { host: '127.0.0.1', port: 0 },
  });
  browser = await chromium.launch({
    executablePath: chromiumPath,
    args: ['--no-sandbox', '--disable-gpu', '--no-first-run'],
  });
});
afterAll(async () => {
  await browser?.close();
  await server?.close();
  rmSync(folder, { recursive: true });
});

test('No text of any kind of picture is cut off or lies on another, at six sizes, in both main looks and in large type, whatever the figures are', async () => {
  const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
  // As on a slow machine: what the width of a letter costs decides how the drawing library shortens texts.
  await page.addInitScript(() => {
    const measure = CanvasRenderingContext2D.prototype.measureText;
    CanvasRenderingContext2D.prototype.measureText = function (text) {
      const until = performance.now() + (text.length === 1 ? 0.3 : 0);
      while (performance.now() < until);
      return measure.call(this, text);
    };
  });
  await page.goto(`${server.resolvedUrls?.local[0]}sheet/index.html`);
  await page.waitForFunction(() => 'sheet' in window, null, { timeout: 240_000 });
  const faults: string[] = [];
  for (const [at, kind] of (await page.evaluate(() => window.sheet.kinds)).entries())
    faults.push(
      ...(await page.evaluate(
        ([of, all]) =>
          window.sheet.likes.flatMap((like) =>
            ['light', 'dark', 'large'].flatMap((theme) =>
              // Large type is for walls: there is no tile as small as the smallest of these.
              all
                .slice(theme === 'large' ? 4 : 0)
                .flatMap(([width, height]) =>
                  window.sheet
                    .check(of, like, theme, width, height)
                    .map((fault) => `${of}, ${like}, ${theme}, ${width}×${height}: ${fault}`),
                ),
            ),
          ),
        [kind, [between(at), ...sizes]] as const,
      )),
    );
  // As one text, so that a failure tells it whole.
  expect(faults.join('\n')).toBe('');
});
