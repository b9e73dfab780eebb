import { expect } from 'chai';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { By, Key } from 'selenium-webdriver';
import type { Bench } from './bench.ts';
import { useBench } from './suite.ts';

describe('shape, aperture and place of a surface', () => {
  let bench: Bench;
  useBench('/layout', (started) => (bench = started));

  const undo = async (times: number) => {
    for (let k = 0; k < times; k++) await bench.chord([Key.CONTROL], 'z');
    await bench.settled();
  };
  const rms = () => bench.value('figure-spots-0-RMS', 'value');

  it('opens by a key for the surface that is chosen, and turns a sphere into an asphere', async () => {
    await bench.click('radius-l4_back');
    await bench.chord([Key.SHIFT], Key.F2);
    expect(await bench.text('surface-panel')).to.contain('L4 back');
    const before = await rms();
    await bench.select('shape-kind', 'even_asphere');
    expect(await rms()).to.be.closeTo(before, 1e-9);
    await bench.type('shape-a4', '2e-5');
    expect(await rms()).to.not.be.closeTo(before, 0.1);
    expect(await bench.shown('conic-l4_back')).to.equal('asphere');
    await undo(2);
    expect(await rms()).to.be.closeTo(before, 1e-9);
  });

  it('lets a surface diffract, and marks it', async () => {
    const before = await rms();
    await bench.select('phase-kind', 'kinoform');
    expect(await bench.text('tag-l4_back')).to.equal('≋');
    await bench.type('phase-p2', '0.5');
    expect(await rms()).to.not.be.closeTo(before, 0.1);
    await bench.type('phase-order', '0');
    expect(await rms()).to.be.closeTo(before, 1e-9);
    await undo(3);
    expect(await bench.has('tag-l4_back')).to.equal(false);
  });

  it('takes a list of points as a sampled surface, and refuses one with a hole', async () => {
    const before = await rms();
    const folder = mkdtempSync(join(tmpdir(), 'ulvex-sag-'));
    const points = Array.from({ length: 121 }, (_, i) => {
      const [x, y] = [2 * ((i % 11) - 5), 2 * (Math.floor(i / 11) - 5)];
      return `${x} ${y} ${1e-4 * x * x}`;
    });
    writeFileSync(join(folder, 'wave.xyz'), points.join('\n'));
    writeFileSync(join(folder, 'hole.xyz'), points.slice(1).join('\n'));
    await bench.select('shape-kind', 'sampled_sag');
    expect(await rms()).to.be.closeTo(before, 1e-9);
    await bench.choose('sag-file', join(folder, 'hole.xyz'));
    await bench.waitFor('the refusal', async () =>
      (await bench.driver.findElement(By.css('body')).getText()).includes('lacks one at x -10, y -10'),
    );
    await bench.choose('sag-file', join(folder, 'wave.xyz'));
    await bench.waitFor('the grid', async () => (await bench.text('sag-grid')).startsWith('11 × 11 points'));
    await bench.settled();
    expect(await rms()).to.not.be.closeTo(before, 0.1);
    await undo(2);
    expect(await rms()).to.be.closeTo(before, 1e-9);
    rmSync(folder, { recursive: true });
  });

  it('says what is wrong with a number, and keeps what was there', async () => {
    await bench.click('part-place');
    await bench.click('place-tx');
    await bench.chord([Key.CONTROL], 'a');
    await bench.press('steep', Key.ENTER);
    expect(await bench.complaint('place-tx')).to.match(/steep/);
    await bench.press(Key.ESCAPE);
    expect(await bench.shown('place-tx')).to.equal('0');
  });

  it('tilts a surface alone or with what follows, marks it, and draws the axis bent', async () => {
    await bench.type('place-tx', '5');
    expect(await bench.text('tag-l4_back')).to.equal('∠');
    expect((await bench.driver.findElements(By.css('path.axis'))).length).to.equal(0);
    await bench.select('follow', 'carry');
    expect((await bench.driver.findElements(By.css('path.axis'))).length).to.equal(1);
    await undo(2);
    expect(await bench.has('tag-l4_back')).to.equal(false);
  });

  it('sets apertures of other outlines and obscurations, which clip', async () => {
    await bench.click('part-aperture');
    await bench.select('aperture-area', 'rectangle');
    await bench.type('area-half_y', '2');
    await bench.select('add-obscuration', 'spider');
    expect(await bench.text('surface-panel')).to.contain('Obscuration: spider');
    expect(await bench.value('figure-spots-0-of-the-rays', 'value')).to.be.below(100);
    await undo(3);
  });

  it('carries a coating, alone or with all between glass and air, and says what is lost', async () => {
    const lost = async () => Number(/Here ([\d.]+) %/.exec(await bench.text('coating-loss'))![1]);
    const through = async () => Number(/; ([\d.]+) % comes/.exec(await bench.text('coating-loss'))![1]);
    const coated = async () => (await bench.driver.findElements(By.css('[data-finish]'))).length;
    await bench.click('radius-l4_back');
    await bench.click('part-coating');
    await bench.settled();
    const [bare, whole] = [await lost(), await through()];
    await bench.select('surface-finish', 'broadband');
    await bench.settled();
    expect(await lost()).to.be.below(bare / 4);
    expect(await coated()).to.equal(1);
    await bench.click('coat-all');
    await bench.settled();
    expect(await coated()).to.equal(6);
    // Six faces of about 6 % each.
    expect(await through()).to.be.above(whole + 20);
    // A finish that every project knows is given to all as it is, not taken off.
    await bench.select('surface-finish', 'bare');
    await bench.settled();
    await bench.click('coat-all');
    await bench.settled();
    expect(await coated()).to.equal(6);
    expect(await through()).to.be.closeTo(whole, 0.01);
    await bench.click('radius-l3_l4');
    await bench.settled();
    expect(await bench.has('coat-all')).to.equal(false); // cemented: no air
    await undo(4);
    await bench.click('radius-l4_back');
    await bench.settled();
    expect(await through()).to.be.closeTo(whole, 0.01);
    expect(await coated()).to.equal(0);
    await bench.click('part-shape');
  });
});

describe('the ray inspector', () => {
  let bench: Bench;
  useBench('/layout', (started) => (bench = started));

  const cell = async (surface: string, column: number) =>
    (await bench.find('ray-tile')).findElement(By.css(`tr[data-step=${surface}] td:nth-of-type(${column})`)).getText();

  it('tells a ray surface by surface, in local and global coordinates', async () => {
    await bench.select('second-tile', 'ray');
    await bench.select('ray-field', 'edge');
    await bench.type('ray-py', '1');
    const { stopY, z } = { stopY: Number(await cell('stop', 2)), z: Number(await cell('sensor', 3)) };
    expect(stopY).to.be.closeTo(4.17, 0.01); // aimed at the stop’s rim
    expect(z).to.equal(0);
    await bench.click('ray-frame');
    expect(Number(await cell('sensor', 3))).to.be.closeTo(42.2, 0.01);
    await bench.click('ray-frame');
  });

  it('refuses points outside of the pupil, and says where a ray ends', async () => {
    await bench.click('ray-py');
    await bench.chord([Key.CONTROL], 'a');
    await bench.press('1.5', Key.ENTER);
    expect(await bench.complaint('ray-py')).to.contain('between −1 and 1');
    await bench.press(Key.ESCAPE);
    await bench.select('ray-kind', 'launched');
    await bench.type('ray-y', '30');
    expect(await bench.text('ray-end')).to.match(/misses the surface at L1 front/);
  });

  it('keeps rays with the project, draws them, and exports what it shows', async () => {
    await bench.type('ray-y', '3');
    await bench.click('keep-ray');
    await bench.settled();
    expect(await bench.text('kept-rays')).to.contain('from 0, 3, 0 at 0, 0°, d');
    expect((await bench.driver.findElements(By.css('[data-kept=ray1]'))).length).to.equal(1);
    await (await bench.find('ray-tile')).findElement(By.css('select option[value=csv]')).click();
    const lines = (await bench.downloaded('ray.csv')).trim().split(/\r?\n/);
    expect(lines[0]).to.contain('surface,x,y,z,L,M,N');
    expect(lines).to.have.length(10);
    await bench.kept();
    await bench.reload();
    expect((await bench.driver.findElements(By.css('[data-kept=ray1]'))).length).to.equal(1);
  });
});
