import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { brotliCompressSync } from 'node:zlib';
import react from '@vitejs/plugin-react';
import type { Plugin } from 'vite';
import { defineConfig } from 'vitest/config';

/** Writes what is text beside itself as small as it gets, so that the service need not compress it with every visit. */
const compressed: Plugin = {
  name: 'compressed',
  apply: 'build',
  writeBundle({ dir }, bundle) {
    for (const name of Object.keys(bundle).filter((n) => /^assets\/.*\.(js|css|svg)$/.test(n))) {
      const file = join(dir ?? '', name);
      writeFileSync(`${file}.br`, brotliCompressSync(readFileSync(file)));
    }
  },
};

/**
 * Has the browser compile what the first page needs while it is read, beside the page's own work: found out one by one as they are
 * called, the functions of these files took a slow machine a third of its time. The comment is V8's; to others it says nothing.
 */
const compiledAtOnce: Plugin = {
  name: 'compiled-at-once',
  apply: 'build',
  generateBundle: {
    order: 'post',
    handler(_, bundle) {
      for (const chunk of Object.values(bundle))
        if (chunk.type === 'chunk' && ['index', 'charts', 'inputs'].includes(chunk.name))
          chunk.code = `//# allFunctionsCalledOnLoad\n${chunk.code}`;
    },
  },
};

export default defineConfig({
  plugins: [react(), compiledAtOnce, compressed],
  build: {
    target: 'es2022',
    chunkSizeWarningLimit: 700,
    manifest: true,
    rolldownOptions: {
      output: {
        // Left alone, what several parts use becomes a file for each set of parts that use it: some seventy files for a first page, many
        // of a few lines. Asking for each and linking them took a slow machine longer than reading them.
        codeSplitting: {
          groups: [
            { name: 'shell', tags: ['$initial'], priority: 3 },
            {
              name: 'inputs',
              test: /[\\/](Select|MultiSelect|Autocomplete|TextInput)[\\/][A-Za-z]+\.mjs$/,
              priority: 2,
            },
            {
              name: 'charts',
              test: /[\\/]ChartTile\.tsx$|[\\/]chart[\\/](bar|line)[\\/]install\.js$|[\\/]parts[\\/](cartesian[\\/][a-z]+|drawing)\.ts$/,
              priority: 1,
            },
          ],
        },
      },
    },
  },
  server: { proxy: { '/api': 'http://127.0.0.1:7410', '/openapi': 'http://127.0.0.1:7410' } },
  test: {
    projects: [
      {
        extends: true,
        // A machine may be ten times slower than the one this was written on, here as in the browser.
        test: { name: 'unit', include: ['src/**/*.test.ts'], environment: 'node', testTimeout: 300_000 },
      },
      {
        extends: true,
        test: {
          name: 'e2e',
          include: ['e2e/**/*.test.ts'],
          environment: 'node',
          testTimeout: 900_000,
          expect: { poll: { timeout: 180_000 } },
          // What axe finds is told in full: a fault that only a slow machine has is not seen twice.
          chaiConfig: { truncateThreshold: 0 },
          hookTimeout: 900_000,
          fileParallelism: false,
        },
      },
    ],
  },
});
