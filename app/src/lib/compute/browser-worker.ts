import type { WorkerHandle } from '@ulvex/core';

/** Starts one compute worker of the browser. */
export function spawnBrowserWorker(): WorkerHandle {
  const worker = new Worker(new URL('./compute.worker.ts', import.meta.url), {
    type: 'module',
    name: 'ulvex compute',
  });
  return {
    post: (message) => worker.postMessage(message),
    listen(onMessage, onDeath) {
      worker.onmessage = (event: MessageEvent) => onMessage(event.data);
      worker.onerror = (event) => {
        event.preventDefault();
        onDeath(event.message || 'the worker stopped');
      };
      worker.onmessageerror = () => onDeath('a message could not be read');
    },
    terminate: () => worker.terminate(),
  };
}
