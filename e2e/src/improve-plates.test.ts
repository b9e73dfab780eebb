import { expect } from 'chai';
import { writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';
import { Key } from 'selenium-webdriver';
import type { Bench } from './bench.ts';
import { useBench } from './suite.ts';
import { improveRadii } from './improve-steps.ts';

describe('test plates of Improve', () => {
  let bench: Bench;
  useBench('/improve', (started) => (bench = started));

  const count = async () => Number(await (await bench.find('plates')).getAttribute('data-count'));
  const checks = async () => Number(await (await bench.find('making-checks')).getAttribute('data-found'));

  it('refuse a file that is no list, saying where, and lose nothing', async () => {
    const path = join(tmpdir(), `plates-${process.pid}.csv`);
    writeFileSync(path, 'radius\n10\nabout 12\n');
    await bench.choose('plates-file', path);
    await bench.waitFor(
      'the refusal',
      async () => (await bench.has('notice')) && (await bench.text('notice')).includes('Line 3'),
    );
    expect(await count()).to.equal(0);
  });

  it('are taken in, and every radius without one is told with what would make it right', async () => {
    await bench.choose('plates-file', resolve('samples/yard-test-plates.csv'));
    await bench.waitFor('the list', async () => (await count()) > 300);
    await bench.settled();
    expect(await checks()).to.equal(7);
    await bench.click('mend-l1_front');
    await bench.settled();
    expect(await checks()).to.equal(6);
    expect(await bench.text('notice')).to.match(/that plate: done/);
    await bench.chord([Key.CONTROL], 'z');
    await bench.settled();
    expect(await checks()).to.equal(7);
  });

  it('are fitted to all radii in one go, beside the lens, and kept as one step with what was before in grey', async () => {
    await improveRadii(bench);
    await bench.click('plates-fit');
    await bench.waitFor('all radii on plates', () => bench.has('plates-keep'));
    expect(await bench.value('plates-state', 'done')).to.equal(7);
    expect(await checks()).to.equal(7); // nothing has changed yet
    await bench.click('plates-keep');
    await bench.settled();
    expect(await checks()).to.equal(0);
    expect(await bench.has('free-0')).to.equal(false);
    await bench.chord([Key.CONTROL], 'z');
    await bench.settled();
    expect(await checks()).to.equal(7);
    expect(await bench.has('free-6')).to.equal(true);
  });
});
