/** Runs work that yields now and then to its end. */
export function atOnce<T>(work: Generator<unknown, T, void>): T {
  for (;;) {
    const { done, value } = work.next();
    if (done) return value;
  }
}
