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

export default defineConfig({
  plugins: [react(), compressed],
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
              test: /[\\/]ChartTile\.tsx$|[\\/]chart[\\/](bar|line)[\\/]install\.js$|[\\/]parts[\\/](cartesian|drawing)\.ts$/,
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
