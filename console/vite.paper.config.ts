import react from '@vitejs/plugin-react';
import { defineConfig } from 'vite';

/** What draws files that people take along: all of it in one script and one sheet of styles, which the service puts into each of them. */
export default defineConfig({
  plugins: [react()],
  publicDir: false,
  define: { 'process.env.NODE_ENV': '"production"' },
  build: {
    outDir: 'dist/paper',
    emptyOutDir: true,
    target: 'es2022',
    cssCodeSplit: false,
    assetsInlineLimit: Number.MAX_SAFE_INTEGER,
    chunkSizeWarningLimit: 4000,
    lib: {
      entry: 'src/paper/main.tsx',
      formats: ['iife'],
      name: 'paper',
      fileName: () => 'paper.js',
      cssFileName: 'paper',
    },
  },
});
