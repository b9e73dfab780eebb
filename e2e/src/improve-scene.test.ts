import { expect } from 'chai';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Key } from 'selenium-webdriver';
import { projectText } from '@ulvex/core';
import { mirrorScene } from '../../core/src/improve/fixtures.ts';
import { Bench, useBench } from './bench.ts';

describe('goals in a scene', () => {
  let bench: Bench;
  let folder: string;
  useBench('/layout', (started) => (bench = started));
  before(() => (folder = mkdtempSync(join(tmpdir(), 'ulvex-e2e-'))));
  after(() => rmSync(folder, { recursive: true }));

  it('are wanted of a detector, with the standard error of what it counts', async () => {
    const { goals: _goals, ...scene } = mirrorScene(0.6, -0.45, 165);
    const file = join(folder, 'mirror.ulvex.json');
    writeFileSync(file, projectText({ ...scene, name: 'Lamp and mirror' }));
    const open = (await bench.state())!.project;
    await bench.choose('file-input', file);
    await bench.waitFor('the scene', async () => (await bench.state())!.project !== open);
    await bench.settled();
    await bench.open('/improve');
    await bench.waitFor('free numbers', () => bench.has('free-2'));
    expect(await bench.has('free-3')).to.equal(false);
    for (const measure of ['detector_centroid_x', 'detector_centroid_y', 'detector_rms_radius']) {
      await bench.select('add-goal', measure);
      await bench.settled();
    }
    expect(await bench.text('goal-now-g1')).to.match(/^−?\d\.\d+ mm\s± 0\.00\d+$/);
    for (const id of ['g1', 'g2', 'g3']) await bench.type(`goal-target-${id}`, '0');
    await bench.settled();
    await bench.click('goal-g3');
    expect(await bench.text('goals')).to.match(/detector\s+the first/i);
  });

  it('are come to by values alone, and the run stops where rays tell no more', async () => {
    await bench.click('run-begin');
    await bench.waitFor('the end of the run', async () => (await (await bench.find('run')).getAttribute('data-status')) === 'over');
    await bench.waitFor('why', () => bench.has('why'));
    expect(await bench.text('run')).to.match(/standard errors/);
    await bench.click('run-keep');
    await bench.settled();
    for (const id of ['g1', 'g2']) {
      const [, value, error] = /^(−?[\d.]+) mm\s± ([\d.]+)$/.exec(await bench.text(`goal-now-${id}`))!;
      expect(Math.abs(Number(value.replace('−', '-')))).to.be.below(3 * Number(error));
    }
    await bench.chord([Key.CONTROL], 'z');
    await bench.settled();
    expect(await bench.text('goal-now-g1')).to.match(/^−?\d\.\d+ mm\s± 0\.00\d+$/);
  }); // prettier-ignore
});
