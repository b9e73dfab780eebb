// The spec reporter, which also leaves its counts in the file named by ULVEX_TEST_COUNTS, for `npm test` to add up.
import { appendFileSync } from 'node:fs';
import mocha from 'mocha';

export default class CountingReporter extends mocha.reporters.Spec {
  constructor(runner, options) {
    super(runner, options);
    runner.once('end', () => {
      const file = process.env.ULVEX_TEST_COUNTS;
      const { passes, failures } = this.stats;
      if (file) appendFileSync(file, `${JSON.stringify({ passes, failures })}\n`);
    });
  }
}
