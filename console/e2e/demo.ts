import { type ChildProcess, spawn } from 'node:child_process';
import { cpSync, existsSync, mkdirSync, mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { createRequire } from 'node:module';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { DuckDBInstance } from '@duckdb/node-api';
import { type Browser, type BrowserContext, chromium, type Locator, type Page } from 'playwright-core';
import { onTestFailed } from 'vitest';
// @ts-expect-error a script of the project, in plain JavaScript
import { chromiumPath } from '../../scripts/chromium.mjs';

const root = new URL('../..', import.meta.url).pathname;
const weir = join(root, 'src/Weir.Cli/bin/Release/net10.0/weir');

/** The demo in a service of its own and a browser before it. */
export class Demo {
  private constructor(
    readonly url: string,
    private readonly service: ChildProcess,
    private readonly folder: string,
    readonly browser: Browser,
    /** The page that shows what the service sent by mail. */
    readonly mail: string,
  ) {}

  static async start(): Promise<Demo> {
    const folder = mkdtempSync(join(tmpdir(), 'weir-e2e-'));
    const made = join(root, '.test/files');
    mkdirSync(join(folder, 'files'));
    if (existsSync(made)) cpSync(made, join(folder, 'files'), { recursive: true });
    const service = spawn(weir, ['demo', '--data', folder, '--port', '0'], { stdio: ['ignore', 'pipe', 'pipe'] });
    const [url, mail] = await new Promise<[string, string]>((resolve, reject) => {
      let said = '';
      const listen = (chunk: Buffer) => {
        said += chunk.toString();
        const match = /ready at (http:\/\/[\d.:]+)[\s\S]*comes in at (http:\/\/[\d.:]+),/.exec(said);
        if (match?.[1] && match[2]) resolve([match[1].replace(/\.$/, ''), match[2]]);
      };
      service.stdout.on('data', listen);
      service.stderr.on('data', listen);
      service.once('exit', () => reject(new Error(`The service did not start: ${said}`)));
    });
    const browser = await chromium.launch({
      executablePath: chromiumPath,
      args: [
        '--no-sandbox',
        '--disable-gpu',
        '--disable-quic',
        '--disable-background-networking',
        '--disable-component-update',
        '--disable-sync',
        '--no-first-run',
      ],
    });
    return new Demo(url, service, folder, browser, mail);
  }

  async stop(): Promise<void> {
    await this.browser.close();
    const gone = new Promise((resolve) => this.service.once('exit', resolve));
    this.service.kill('SIGTERM');
    await gone;
    rmSync(this.folder, { recursive: true });
  }

  /** The header by which an account is known to the service without a browser. */
  async authorization(account: string): Promise<string> {
    const json = { 'Content-Type': 'application/json' };
    const token = await fetch(`${this.url}/api/tokens`, {
      method: 'POST',
      headers: json,
      body: JSON.stringify({ name: account, password: `${account}-lantern`, label: 'test' }),
    });
    const { secret } = (await token.json()) as { secret: string };
    return `Bearer ${secret}`;
  }

  /** Calls of the service as an account, without a browser: POST with a body, GET without. */
  async client(account: string): Promise<(path: string, body?: unknown) => Promise<Response>> {
    const headers = { 'Content-Type': 'application/json', Authorization: await this.authorization(account) };
    return (path, body) =>
      fetch(
        this.url + path,
        body === undefined ? { headers } : { method: 'POST', headers, body: JSON.stringify(body) },
      );
  }

  /** A browser of its own. */
  async context(options: { hasTouch?: boolean } = {}): Promise<BrowserContext> {
    const context = await this.browser.newContext({
      viewport: { width: 1280, height: 800 },
      reducedMotion: 'reduce',
      ...options,
    });
    // A machine may be ten times slower than the one this was written on: what is awaited comes late, and not never.
    context.setDefaultTimeout(Number(process.env.WAIT ?? 180_000));
    return context;
  }

  /** A browser of its own in which an account is signed in. */
  async as(
    account: string,
    path = '/',
    options: { hasTouch?: boolean } = {},
  ): Promise<{ page: Page; context: BrowserContext }> {
    const context = await this.context(options);
    // Past the form, which has a test of its own: a page is opened once and not twice.
    const answer = await context.request.post(`${this.url}/api/session`, {
      headers: { Origin: this.url },
      data: { name: account, password: `${account}-lantern` },
    });
    if (!answer.ok()) throw new Error(`${account} can't sign in: ${await answer.text()}`);
    const page = await context.newPage();
    // How many times slower the browser is to be, to see here what a slow machine sees.
    const slower = Number(process.env.SLOWER ?? 1);
    if (slower > 1) await (await context.newCDPSession(page)).send('Emulation.setCPUThrottlingRate', { rate: slower });
    tellWhenFailed(page, account);
    await page.goto(this.url + path);
    await page.locator('header h1').waitFor();
    return { page, context };
  }

  /** Holds the demo's database as a program that writes to it does, until the result is called. */
  async lock(): Promise<() => void> {
    const instance = await DuckDBInstance.create(join(this.folder, 'files/lantern-isles.duckdb'));
    const connection = await instance.connect();
    await connection.run('CREATE TABLE IF NOT EXISTS held (a INTEGER); DROP TABLE held');
    return () => {
      connection.closeSync();
      instance.closeSync();
    };
  }

  /** A query straight to the demo's database, past Weir. */
  async sql(query: string): Promise<unknown[][]> {
    const instance = await DuckDBInstance.create(join(this.folder, 'files/lantern-isles.duckdb'), {
      access_mode: 'READ_ONLY',
    });
    const connection = await instance.connect();
    try {
      return (await connection.runAndReadAll(query)).getRowsJson() as unknown[][];
    } finally {
      connection.closeSync();
      instance.closeSync();
    }
  }

  /** How many sailings meet a condition over sailing s, its route r and its vessel v, past Weir. */
  async sailings(where: string): Promise<number> {
    const [[count] = []] = await this.sql(
      `SELECT count(*)::INTEGER FROM sailing s JOIN route r ON r.id = s.route_id JOIN vessel v ON v.id = s.vessel_id WHERE ${where}`,
    );
    return Number(count);
  }
}

/** What a page says when its test has failed: what went wrong on a slow machine is seldom seen again. */
function tellWhenFailed(page: Page, account: string): void {
  const went: string[] = [];
  page.on('response', (r) => r.status() >= 400 && went.push(`${r.status()} ${r.request().method()} ${r.url()}`));
  page.on('requestfailed', (r) => went.push(`${r.failure()?.errorText} ${r.method()} ${r.url()}`));
  page.on('pageerror', (e) => went.push(e.message));
  onTestFailed(async () => {
    if (page.isClosed()) return;
    const said = await page.locator('[role=alert], [role=status], [role=dialog]').allInnerTexts();
    console.error([`${account} at ${page.url()}`, ...said, ...went.slice(-20)].join('\n  '));
  });
}

/** The kinds of pictures that are drawn on a canvas. */
export const drawnKinds =
  'area bar box density heatmap histogram line map pie places sankey scatter sunburst treemap waterfall'.split(' ');

/** Waits until every tile has its figures, and is drawn. */
export async function settled(page: Page): Promise<void> {
  await page.waitForFunction(() => {
    const tiles = [...document.querySelectorAll<HTMLElement>('[data-tile]')];
    const done = (t: HTMLElement) =>
      t.dataset.picture === 'text' || ['ready', 'failed', 'on request'].includes(t.dataset.state ?? '');
    return tiles.length > 0 && tiles.every(done);
  });
  await page.waitForFunction(
    (drawn) =>
      [...document.querySelectorAll<HTMLElement>('[data-tile]')].every(
        (t) =>
          !drawn.includes(t.dataset.picture ?? '') ||
          t.querySelector('[role=img][data-drawn][data-told]') ||
          t.querySelector('p'),
      ),
    drawnKinds,
  );
}

/** A tile by name. */
export const tile = (page: Page, name: string) => page.locator(`[data-tile="${name}"]`);

/** The figure of a number tile, without marks and unit. */
export async function figure(page: Page, name: string): Promise<number> {
  const text = await tile(page, name).locator('[data-figure]').innerText();
  return Number(text.replace(/[^\d.\u2212-]/g, '').replace('\u2212', '-'));
}

/** Waits for the answer to the next question, then for the page to show it. */
export async function asked(page: Page, act: () => Promise<unknown>): Promise<void> {
  const answer = page.waitForResponse((r) => r.url().endsWith('/results') && r.request().method() === 'POST');
  await act();
  await answer; // by now the tiles asked are marked as running
  await settled(page);
}

/**
 * Takes a tile up by its handle, as a hand does: once it has come to rest, and anew where it slipped, which it does where
 * the page moves between the look and the grip.
 */
export async function takeUp(page: Page, handle: Locator): Promise<void> {
  for (let grip = 0; grip < 10; grip++) {
    await handle.hover();
    const box = await handle.boundingBox();
    await page.mouse.down();
    await page.mouse.move((box?.x ?? 0) - 10, (box?.y ?? 0) - 10, { steps: 4 });
    const held = page.locator('.react-grid-placeholder').waitFor({ timeout: 15_000 });
    const isHeld = await held.then(
      () => true,
      () => false,
    );
    if (isHeld) return;
    await page.mouse.up();
  }
  throw new Error('The tile could not be taken up.');
}

/** What the filter bar says. */
export const picked = (page: Page) => page.getByLabel('What is picked').innerText();

/** What is picked, by the address. */
export const pickOf = (page: Page) => JSON.parse(new URL(page.url()).searchParams.get('pick') ?? '{}');

/** The picture of a tile. */
export const chart = (page: Page, name: string) => tile(page, name).locator('[role=img]');

/** Comes near a tile and waits until the page can answer picks on it by itself. */
export async function approach(
  page: Page,
  name: string,
): Promise<{ x: number; y: number; width: number; height: number }> {
  await tile(page, name).getByRole('listbox').focus();
  const box = await chart(page, name).boundingBox();
  if (!box) throw new Error(`${name} is not drawn`);
  await page.mouse.move(box.x + box.width / 2, box.y + box.height / 2);
  await page.locator(`[data-tile="${name}"][data-answers="true"]`).waitFor();
  return box;
}

/** The middle of the nth bar of a chart, from the top down or from the left; found by its shape in the picture. */
export async function bar(page: Page, name: string, index: number): Promise<{ x: number; y: number }> {
  // A bar under the pointer or the focus has another colour.
  await page.mouse.move(0, 0);
  await page.evaluate(() => (document.activeElement as HTMLElement | null)?.blur());
  return chart(page, name).evaluate((element, at) => {
    // Bars are on a layer of their own, above the axes.
    const canvas = [...element.querySelectorAll('canvas')].at(-1) as HTMLCanvasElement;
    const { width, height, data } = (canvas.getContext('2d') as CanvasRenderingContext2D).getImageData(
      0,
      0,
      canvas.width,
      canvas.height,
    );
    const colours = new Uint32Array(data.buffer);
    // Rectangles of one colour: equal runs below one another.
    interface Box {
      x: number;
      y: number;
      width: number;
      height: number;
      colour: number;
    }
    const boxes: Box[] = [];
    let above: Box[] = [];
    for (let y = 0; y < height; y++) {
      const row: Box[] = [];
      for (let x = 0; x < width; ) {
        const colour = colours[y * width + x] as number;
        let end = x + 1;
        while (end < width && colours[y * width + end] === colour) end++;
        // Neither the ground nor the shade behind the one pointed at.
        const isPlain = colour === 0 || [0, 8, 16].every((shift) => ((colour >>> shift) & 255) >= 240);
        if (!isPlain && end - x > 3) {
          const same = above.find((b) => b.x === x && b.width === end - x && b.colour === colour);
          const box = same ?? { x, y, width: end - x, height: 0, colour };
          if (!same) boxes.push(box);
          box.height++;
          row.push(box);
        }
        x = end;
      }
      above = row;
    }
    const bars = boxes.filter((b) => b.height > 3).sort((a, b) => a.y - b.y || a.x - b.x);
    const box = bars[at] as Box;
    const [frame, scale] = [canvas.getBoundingClientRect(), canvas.width / canvas.clientWidth];
    return {
      x: frame.x + (box.x + Math.min(box.width / 2, 12)) / scale,
      y: frame.y + (box.y + box.height / 2) / scale,
    };
  }, index);
}

/** The middle of the bar of a member, by the list that a screen reader has. */
export async function barOf(page: Page, name: string, member: string) {
  const at = await tile(page, name)
    .getByRole('option')
    .evaluateAll((options, m) => options.findIndex((o) => o.textContent?.startsWith(m)), member);
  return bar(page, name, at);
}

const axe = readFileSync(createRequire(import.meta.url).resolve('axe-core/axe.min.js'), 'utf8');

/** What axe finds serious or worse on the page. */
export async function seriousFaults(page: Page): Promise<string[]> {
  await page.evaluate(axe);
  return page.evaluate(async () => {
    const { axe } = window as unknown as {
      axe: {
        run: (options: object) => Promise<{ violations: { id: string; impact: string; nodes: { html: string }[] }[] }>;
      };
    };
    // What is as it should be is not listed in full, which takes long on a page of many marks.
    const { violations } = await axe.run({ resultTypes: ['violations'] });
    return violations
      .filter((v) => v.impact === 'serious' || v.impact === 'critical')
      .map((v) => `${v.id}: ${v.nodes[0]?.html}`);
  });
}
