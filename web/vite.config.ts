import react from '@vitejs/plugin-react';
import { fileURLToPath } from 'node:url';
import { defineConfig } from 'vite';

export default defineConfig({
  root: fileURLToPath(new URL('.', import.meta.url)),
  // Texts of logs become visible on their way into every element: see web/visible.
  plugins: [react({ jsxImportSource: '#visible' })],
  build: {
    outDir: '../dist/web',
    emptyOutDir: true,
    // Everything is its own file: the content security policy allows no data scripts.
    assetsInlineLimit: 0,
    chunkSizeWarningLimit: 900,
  },
});
