import { expect } from 'chai';
import { Key } from 'selenium-webdriver';
import type { Bench } from './bench.ts';
import { useBench } from './suite.ts';

describe('goals of Improve', () => {
  let bench: Bench;
  useBench('/improve', (started) => (bench = started));

  const now = async (id: string) => Number((await bench.text(`goal-now-${id}`)).split(' ')[0]);
  const by = async (kind: string) => {
    await bench.select('goal-what-g1', kind);
    await bench.settled();
  };

  it('judge the image by spots, extremes, wavefronts and the MTF', async () => {
    await bench.select('add-goal', ':spot');
    await bench.settled();
    await bench.click('goal-g1');
    expect(await now('g1')).to.be.within(6.9, 7.1);
    await by('spot peak');
    expect(await now('g1')).to.be.within(15, 40);
    expect(await bench.text('goals')).to.match(/the rim and the middle/);
    await by('wavefront');
    const rms = await now('g1');
    await by('wavefront peak');
    expect(await now('g1')).to.be.above(3 * rms);
    await by('mtf');
    const coarse = await now('g1');
    expect(coarse).to.be.within(0.3, 0.99);
    expect(await bench.text('goals')).to.match(/tangential.*sagittal/s);
    await bench.type('goal-frequency-g1', '100');
    await bench.settled();
    expect(await now('g1')).to.be.below(coarse);
    await bench.type('goal-frequency-g1', '-3');
    expect(await bench.complaint('goal-frequency-g1')).to.match(/above 0/);
    await bench.press(Key.ESCAPE);
    await by('spot');
    expect(await now('g1')).to.be.within(6.9, 7.1);
  });

  it('count what a workshop adds', async () => {
    const drawn = await now('g1');
    await bench.select('goal-workshop-g1', 'coarse');
    await bench.settled();
    expect(await now('g1')).to.be.above(1.2 * drawn);
    expect(await bench.text('goals')).to.match(/as drawn\s+by errors/);
    // The tolerances of the project in place of a workshop: 90 % of lenses keep it.
    await bench.select('goal-workshop-g1', 'tolerances');
    await bench.settled();
    expect(await now('g1')).to.be.above(1.2 * drawn);
    expect(await bench.text('goal-g1')).to.include('spot of 90 % as made');
    await bench.select('goal-workshop-g1', '');
    await bench.settled();
    await bench.click('goal-g1');
  });

  it('are weighed, switched off and on in groups, which can be dissolved', async () => {
    await bench.select('add-goal', 'total_length');
    await bench.settled();
    await bench.type('goal-target-g2', '40');
    await bench.settled();
    const alone = await bench.value('merit', 'merit');
    await bench.click('goal-g2');
    await bench.select('goal-group-g2', ':new');
    await bench.settled();
    expect(await bench.value('merit', 'merit')).to.equal(alone);
    await bench.type('group-name-group1', 'Size');
    await bench.type('group-weight-group1', '9');
    await bench.settled();
    expect(await bench.value('merit', 'merit')).to.be.above(2 * alone);
    await bench.click('group-on-group1');
    await bench.settled();
    expect(await bench.value('merit', 'merit')).to.be.below(alone);
    await bench.click('group-on-group1');
    await bench.chord([Key.CONTROL], 'z');
    await bench.settled();
    await bench.chord([Key.CONTROL], 'z');
    await bench.settled();
    expect(await bench.value('merit', 'merit')).to.be.above(2 * alone);
    await bench.click('group-dissolve-group1');
    await bench.settled();
    expect(await bench.has('group-on-group1')).to.equal(false);
    expect(await bench.value('merit', 'merit')).to.equal(alone);
  });
});
