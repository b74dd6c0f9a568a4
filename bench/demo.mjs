// What the measurements in a browser have in common: a demo of its own, a browser, and an account that is signed in.
import { spawn } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { createRequire } from 'node:module';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { chromiumPath } from '../scripts/chromium.mjs';

export const root = new URL('..', import.meta.url).pathname;
const { chromium } = createRequire(join(root, 'console/package.json'))('playwright-core');
export const weir = join(root, 'src/Weir.Cli/bin/Release/net10.0/weir');

/** A browser to measure in. */
export const launch = () => chromium.launch({ executablePath: chromiumPath, args: ['--no-sandbox', '--disable-gpu'] });

export const middle = (values) => [...values].sort((a, b) => a - b)[Math.floor(values.length / 2)];

export const report = (text, value, aim = '') => console.log(`${text.padEnd(60)} ${value}${aim && `   (aim ${aim})`}`);

/** A service that runs: its address, its process, and what ends it. */
export async function startService(given) {
  const service = spawn(weir, given);
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
  return {
    url,
    pid: service.pid,
    async end() {
      const gone = new Promise((resolve) => service.once('exit', resolve));
      service.kill('SIGTERM');
      await gone;
    },
  };
}

/** Calls of a service as an account. */
export async function callsOf(url, name, password) {
  const made = await fetch(`${url}/api/tokens`, {
    method: 'POST',
    headers: { 'Content-Type': 'application/json' },
    body: JSON.stringify({ name, password, label: 'bench', days: 1 }),
  });
  const headers = { 'Content-Type': 'application/json', Authorization: `Bearer ${(await made.json()).secret}` };
  return async (method, path, body) => {
    const response = await fetch(url + path, { method, headers, body: body && JSON.stringify(body) });
    if (!response.ok) throw new Error(`${method} ${path}: ${response.status} ${await response.text()}`);
    return response.headers.get('Content-Type')?.includes('json') ? response.json() : response.arrayBuffer();
  };
}

/** The demo in a service and a data folder of its own, with a browser before it; stop() takes all of it away. */
export async function startDemo(prefix) {
  const data = mkdtempSync(join(tmpdir(), prefix));
  const { url, end } = await startService(['demo', '--data', data, '--port', '0']);
  const browser = await launch();
  return {
    url,
    data,
    browser,
    /** What a browser holds in which an account is signed in. */
    async signedIn(account) {
      const context = await browser.newContext();
      const page = await context.newPage();
      await page.goto(url);
      await page.locator('input[name=name]').fill(account);
      await page.locator('input[name=password]').fill(`${account}-lantern`);
      await page.getByRole('button', { name: 'Sign in' }).click();
      await page.getByRole('heading', { name: 'Dashboards' }).waitFor();
      const state = await context.storageState();
      await context.close();
      return state;
    },
    /** Calls of the service as an account. */
    client: (account) => callsOf(url, account, `${account}-lantern`),
    async stop() {
      await browser.close();
      await end();
      rmSync(data, { recursive: true });
    },
  };
}
