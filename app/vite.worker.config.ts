import { defineConfig } from 'vite';

// The server's compute worker as one file beside the built server; built after the application, whose build empties the folder.
export default defineConfig({
  build: {
    ssr: 'src/lib/server/compute.worker.ts',
    outDir: 'build',
    emptyOutDir: false,
    rolldownOptions: { output: { entryFileNames: 'compute-worker.mjs' } },
  },
  ssr: { noExternal: true },
});
