// Which browser tests, measurements and pictures of the docs are made in.
import { existsSync } from 'node:fs';

const bare = '/usr/bin/chromium-headless-shell';

/**
 * The browser without windows, where it is there, else the whole one. That draws its own menus with scripts beside each page which is
 * opened: with it tests take three times as long, and measurements count its time as the page's.
 */
export const chromiumPath = process.env.CHROMIUM ?? (existsSync(bare) ? bare : '/usr/bin/chromium');
