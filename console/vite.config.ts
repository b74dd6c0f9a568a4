import react from '@vitejs/plugin-react';
import { defineConfig } from 'vitest/config';

export default defineConfig({
  plugins: [react()],
  build: {
    target: 'es2022',
    chunkSizeWarningLimit: 700,
    manifest: true,
  },
  server: { proxy: { '/api': 'http://127.0.0.1:7410', '/openapi': 'http://127.0.0.1:7410' } },
  test: {
    projects: [
      { extends: true, test: { name: 'unit', include: ['src/**/*.test.ts'], environment: 'node' } },
      {
        extends: true,
        test: {
          name: 'e2e',
          include: ['e2e/**/*.test.ts'],
          environment: 'node',
          testTimeout: 300_000,
          expect: { poll: { timeout: 120_000 } },
          hookTimeout: 300_000,
          fileParallelism: false,
        },
      },
    ],
  },
});
