// The spec reporter, which also leaves its counts in the file named by ULVEX_TEST_COUNTS, for `npm test` to add up, and tells
// which files took longest when there are many.
import { appendFileSync } from 'node:fs';
import { relative } from 'node:path';
import mocha from 'mocha';

const LONGEST = 8;

export default class CountingReporter extends mocha.reporters.Spec {
  constructor(runner, options) {
    super(runner, options);
    const times = new Map();
    const count = ({ file, duration }) => file && times.set(file, (times.get(file) ?? 0) + (duration ?? 0));
    runner.on('test end', count);
    runner.on('hook end', count);
    runner.once('end', () => {
      const file = process.env.ULVEX_TEST_COUNTS;
      const { passes, failures } = this.stats;
      if (file) appendFileSync(file, `${JSON.stringify({ passes, failures })}\n`);
      const longest = [...times].sort(([, a], [, b]) => b - a).slice(0, LONGEST);
      const told = longest.map(([name, ms]) => `${relative('', name)} ${(ms / 1000).toFixed(0)} s`);
      if (times.size > LONGEST) console.log(`  longest: ${told.join(', ')}\n`);
    });
  }
}
