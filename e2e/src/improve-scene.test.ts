import { expect } from 'chai';
import { Key } from 'selenium-webdriver';
import type { Bench } from './bench.ts';
import { useBench } from './suite.ts';

describe('goals in a scene', () => {
  let bench: Bench;
  useBench('/projects', (started) => (bench = started));

  it('are wanted of a detector, with the standard error of what it counts', async () => {
    await bench.openSample('signal-lamp', 'Signal lamp');
    await bench.open('/improve');
    await bench.waitFor('free numbers', () => bench.has('free-2'));
    expect(await bench.has('free-3')).to.equal(false);
    await bench.select('add-goal', 'detector_flux');
    await bench.settled();
    expect(await bench.text('goal-now-x')).to.match(/^−?\d\.\d+ mm\s± 0\.00\d+$/);
    // What it is now becomes its target, in its own unit.
    expect(await bench.text('goal-now-g1')).to.match(/^120\.00 lm$/);
    await bench.click('goal-g1');
    expect(await bench.text('goals')).to.match(/detector\s+the first\s+Light on the screen/i);
    await bench.click('goal-on-g1');
    await bench.settled();
  });

  it('are come to by values alone, and the run stops where rays tell no more', async () => {
    await bench.click('run-begin');
    await bench.waitFor(
      'some generations',
      async () =>
        (await bench.has('merit-line')) &&
        Number(await (await bench.find('merit-line')).getAttribute('data-points')) > 4,
    );
    await bench.click('run-pause');
    await bench.waitFor('the pause', () => bench.has('run-on'));
    const sofar = await bench.value('run', 'merit');
    await bench.click('run-on');
    const points = async () => String(await (await bench.find('merit-line')).getAttribute('data-points'));
    await bench.waitAlong(
      'the end of the run',
      async () => (await (await bench.find('run')).getAttribute('data-status')) === 'done',
      points,
    );
    await bench.waitFor('why', () => bench.has('why'));
    expect(await bench.text('run')).to.match(/standard errors/);
    expect(await bench.value('run', 'merit')).to.be.at.most(sofar);
    await bench.click('run-keep');
    await bench.settled();
    for (const id of ['x', 'y']) {
      const [, value, error] = /^(−?[\d.]+) mm\s± ([\d.]+)$/.exec(await bench.text(`goal-now-${id}`))!;
      expect(Math.abs(Number(value.replace('−', '-')))).to.be.below(3 * Number(error));
    }
    await bench.chord([Key.CONTROL], 'z');
    await bench.settled();
    expect(await bench.text('goal-now-x')).to.match(/^−?\d\.\d+ mm\s± 0\.00\d+$/);
  });
});
