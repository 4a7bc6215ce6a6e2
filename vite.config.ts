import tailwindcss from '@tailwindcss/vite';
import react from '@vitejs/plugin-react';
import { defineConfig } from 'vite';

export default defineConfig({
  root: 'web',
  plugins: [react(), tailwindcss()],
  build: {
    outDir: '../dist/web',
    emptyOutDir: true,
    // A font or picture in the script would be counted against its budget and refused by the content policy.
    assetsInlineLimit: 0,
    rolldownOptions: {
      output: {
        codeSplitting: {
          groups: [
            { name: 'three', test: /node_modules[\\/](three|camera-controls)[\\/]/ },
            { name: 'chart', test: /node_modules[\\/](chart\.js|@kurkle)[\\/]/ },
            { name: 'react', test: /node_modules[\\/](react|react-dom|scheduler|react-router)[\\/]/ },
          ],
        },
      },
    },
  },
  worker: {
    format: 'es',
    // The server knows the kernel's worker by its name: it alone may compile code.
    rolldownOptions: { output: { entryFileNames: 'assets/kernel-[name]-[hash].js' } },
  },
  server: { proxy: { '/api': 'http://127.0.0.1:4310' } },
});
