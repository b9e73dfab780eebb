import { sveltekit } from '@sveltejs/kit/vite';
import { defineConfig } from 'vite';

// Shared memory between workers needs an isolated page; the built server (serve.mjs) sends the same headers.
const isolation = {
  'Cross-Origin-Opener-Policy': 'same-origin',
  'Cross-Origin-Embedder-Policy': 'require-corp',
  'Cross-Origin-Resource-Policy': 'same-origin',
};

export default defineConfig({
  plugins: [sveltekit()],
  worker: { format: 'es' },
  build: { rolldownOptions: { checks: { pluginTimings: false, bundlerTimings: false } } },
  server: { headers: isolation, fs: { allow: ['..'] } },
});
