import { JOBS, serveJobs, type ToWorker } from '@ulvex/core';

// A message to oneself lets those that wait come first, without the 4 ms floor of nested timers.
const channel = new MessageChannel();
let wake: (() => void)[] = [];
channel.port1.onmessage = () => {
  const waiting = wake;
  wake = [];
  for (const go of waiting) go();
};
const pause = () =>
  new Promise<void>((resolve) => {
    wake.push(resolve);
    channel.port2.postMessage(null);
  });

// The app's types know windows only; a worker's own scope posts without a target.
const scope = self as unknown as { postMessage(message: unknown): void };
const serve = serveJobs(JOBS, (message) => scope.postMessage(message), pause);
self.addEventListener('message', (event: MessageEvent<ToWorker>) => void serve(event.data));
