import { expect } from 'chai';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';
import { By, Key } from 'selenium-webdriver';
import type { Project } from '@ulvex/core';
import type { Bench } from './bench.ts';
import { useBench } from './suite.ts';

const sample = (name: string) => resolve(import.meta.dirname, `../../samples/${name}.ulvex.json`);

describe('the scene in the Layout', () => {
  let bench: Bench;
  useBench('/layout/scene', (started) => (bench = started), { webgl: true });

  const folder = mkdtempSync(join(tmpdir(), 'ulvex-scene-'));
  after(() => rmSync(folder, { recursive: true }));

  /** Puts a sample on the desk and goes to its scene, which is traced with few rays: these tests are not about numbers. */
  async function open(name: string, rays = 8192): Promise<void> {
    const project = JSON.parse(readFileSync(sample(name), 'utf8')) as Project;
    const scenes = project.scenes!.map((scene) => ({ ...scene, sampling: { ...scene.sampling, rays } }));
    const file = join(folder, `${name}.ulvex.json`);
    writeFileSync(file, JSON.stringify({ ...project, scenes }));
    await bench.choose('file-input', file);
    await bench.waitFor(
      'the sample',
      async () => (await bench.shown('project-name')) === project.name && (await bench.has('run-bar')),
    );
    await bench.traced();
  }

  /** How much of the drawing is anything but its ground. */
  const drawn = () =>
    bench.driver.executeAsyncScript<number>((done: (share: number) => void) =>
      requestAnimationFrame(() =>
        requestAnimationFrame(() => {
          const canvas = document.querySelector<HTMLCanvasElement>('[data-testid=scene-canvas]')!;
          const copy = new OffscreenCanvas(canvas.width, canvas.height);
          const context = copy.getContext('2d')!;
          context.drawImage(canvas, 0, 0);
          const { data } = context.getImageData(0, 0, canvas.width, canvas.height);
          let filled = 0;
          for (let i = 3; i < data.length; i += 4) filled += data[i] > 8 ? 1 : 0;
          done(filled / (data.length / 4));
        }),
      ),
    );

  const text = (testid: string) => bench.text(testid);
  const findings = async () => ((await bench.has('findings')) ? text('findings') : '');

  it('a project without one offers to add one, with its lens in it', async () => {
    await bench.click('scene-begin');
    await bench.settled();
    expect(await text('parts-list')).to.include('Tide camera');
    expect(await drawn()).to.be.above(0.05);
    await bench.driver.findElement(By.css('button[aria-label^="Undo"]')).click();
    await bench.settled();
    expect(await bench.has('scene-begin')).to.equal(true);
  });

  it('the lantern is traced at once: its book closes, its map has numbers with errors', async () => {
    await open('sector-lantern', 131_072);
    const book = await text('energy-book');
    const shares = [...book.matchAll(/([\d.]+) %/g)].map(([, share]) => Number(share));
    expect(shares.reduce((sum, share) => sum + share, 0)).to.be.closeTo(100, 0.3);
    // 250 lm into the half-space, of which the lens takes sin²(24°) and Fresnel leaves some nine tenths.
    const flux = /([\d.]+) ± ([\d.]+) lm/.exec(await text('map-flux'))!;
    expect(Number(flux[1])).to.be.within(26, 33);
    expect(Number(flux[2])).to.be.below(0.3);
    expect(await drawn()).to.be.above(0.02);
  });

  it('a trace goes on behind other rooms, is shown in the header, and is stopped from there', async () => {
    await bench.traceSettings();
    await bench.enter('scene-rays', '20000000');
    const first = await bench.driver.findElement(By.css('nav a[href="/study"]'));
    await bench.waitFor('the trace', async () => /^\S Trace \d+ %/.test(await bench.text('activity')));
    await first.click();
    await bench.waitFor('the Study', () => bench.has('spots-tile'));
    expect(await bench.text('activity')).to.match(/Trace \d+ %/);
    await bench.click('activity');
    await (await bench.find('active-run')).findElement(By.css('a')).click();
    await bench.waitFor('the room of the trace', () => bench.has('run-bar'));
    expect(await (await bench.find('run-bar')).getAttribute('data-state')).to.equal('running');
    await bench.click('activity');
    await (await bench.find('active-run')).findElement(By.css('button')).click();
    await bench.waitFor('its end', async () => !(await bench.has('active-run')));
    await bench.click('activity');
    await bench.traceSettings();
    await bench.type('scene-rays', '8192');
    await bench.traced();
  });

  it('a number that is changed moves bodies, rays and map; undo takes it back', async () => {
    const before = await text('map-flux');
    await bench.click('thing-collimator');
    await bench.type('place-dz', '26');
    await bench.traced();
    expect(await text('map-flux')).to.not.equal(before);
    await bench.driver.findElement(By.css('button[aria-label^="Undo"]')).click();
    await bench.traced();
    expect(await text('map-flux')).to.equal(before); // the same seed, the same light, to the last digit
  });

  it('by keyboard: through the list, out and in again, away and back', async () => {
    await bench.click('thing-board');
    await bench.press(Key.ARROW_DOWN, Key.ARROW_DOWN);
    expect(await (await bench.find('thing-hood')).getAttribute('aria-selected')).to.equal('true');
    await bench.press(' ');
    await bench.settled();
    expect(await text('thing-hood')).to.include('excluded');
    await bench.press(' ');
    await bench.settled();
    await bench.press(Key.DELETE);
    await bench.settled();
    expect(await bench.has('thing-hood')).to.equal(false);
    await bench.driver.findElement(By.css('button[aria-label^="Undo"]')).click();
    await bench.settled();
    expect(await bench.has('thing-hood')).to.equal(true);
  });

  it('a radius in the prescription moves the glass of the scene, with no step in between', async () => {
    await open('sun-in-the-lens');
    await bench.click('thing-camera');
    const before = await text('face-l1_front');
    await bench.click('half-lens');
    await bench.waitFor('the prescription', () => bench.has('radius-l1_front'));
    await bench.settled();
    await bench.type('radius-l1_front', '15');
    await bench.click('half-scene');
    await bench.waitFor('the scene', () => bench.has('faces-rule'));
    await bench.traced();
    const after = await text('face-l1_front');
    expect(after).to.not.equal(before);
    await bench.driver.findElement(By.css('button[aria-label^="Undo"]')).click();
    await bench.traced();
    expect(await text('face-l1_front')).to.equal(before);
  });

  it('finishes go to chosen faces and show in the list', async () => {
    await bench.click('thing-window');
    await bench.select('faces-rule', 'flat');
    await bench.select('finish-choice', 'broadband');
    expect(await text('face-front')).to.include('Broadband');
    expect(await text('face-back')).to.include('Broadband');
    expect(await text('face-side')).to.include('Ground');
  });

  it('a hole is cut into a body', async () => {
    await open('sector-lantern');
    await bench.add('body:box');
    await bench.type('place-dz', '-60');
    await bench.add('body:cylinder');
    await bench.type('place-dz', '-65');
    await bench.type('body-length', '40');
    await bench.click('thing-box');
    await bench.select('combine-with', 'cylinder');
    await bench.settled();
    expect(await text('thing-panel')).to.match(/One body made of two others/);
    expect(await text('face-cylinder_side')).to.match(/mm²/);
    expect(await text('face-box_front')).to.match(/8\d\.\d+ mm²/); // 20 × 20 less π 10², its drawing's hole a little small
  });

  it('taking the tool of a hole away takes the combination with it', async () => {
    await bench.click('thing-cylinder');
    await bench.click('thing-remove');
    await bench.settled();
    expect(await bench.has('thing-combination')).to.equal(false);
    await bench.driver.findElement(By.css('button[aria-label^="Undo"]')).click();
    await bench.settled();
    expect(await bench.has('thing-combination')).to.equal(true);
  });

  it('light is aimed, starts in order, and is counted on balls and in blocks of cells', async () => {
    await bench.traced();
    const before = await text('map-flux');
    await bench.driver.executeScript("document.querySelector('[data-testid=map-tile] [aria-expanded]').click()");
    await bench.traceSettings();
    await bench.select('scatter-aims', 'hood');
    await bench.traced();
    expect(await text('scatter-aims')).to.match(/importance sampling: Hood/);
    // The same light within the errors of both.
    const number = (shown: string) => shown.match(/[\d.]+/g)!.map(Number);
    const [a, b] = [number(before), number(await text('map-flux'))];
    expect(Math.abs(a[0] - b[0])).to.be.below(4 * Math.hypot(a[1], b[1]) + 1e-9);
    await bench.add('source');
    await bench.select('source-region', 'disc');
    await bench.select('source-order', 'rings');
    await bench.type('order-rings', '3');
    await bench.select('source-aim', 'board');
    await bench.traced();
    await bench.add('detector');
    await bench.select('detector-on', 'sphere');
    await bench.traced();
    await bench.select('map-shape', 'polar');
    expect(await bench.has('polar-plot')).to.equal(true);
    await bench.select('detector-on', 'block');
    await bench.traced();
    expect(await bench.has('polar-plot')).to.equal(false); // a block has no directions
    expect(await text('map-tile')).to.match(/50 × 50 × 10 cells/);
    expect(await text('map-tile')).to.match(/W\/mm³/);
    expect(await bench.has('map-layer')).to.equal(true);
    await bench.select('map-shape', 'heights');
    expect(await bench.has('height-plot')).to.equal(true);
  });

  it('a source on a tilted mirror: what goes astray is said, and can be mended', async () => {
    await bench.open('/layout/scene');
    await bench.choose('file-input', sample('tide-camera'));
    await bench.waitFor('the tide camera', () => bench.has('scene-begin'));
    await bench.click('scene-begin');
    await bench.traceSettings();
    await bench.type('scene-rays', '8192');
    await bench.click('thing-tide');
    await bench.press(Key.DELETE);
    await bench.add('body:shell');
    await bench.type('place-tx', '45');
    await bench.add('source');
    await bench.select('source-law', 'parallel');
    await bench.type('place-dz', '60');
    await bench.waitFor('the warning', () => bench.has('lost-source'));
    expect(await text('lost-source')).to.match(/hits nothing/);
    await bench.type('place-tx', '180');
    await bench.waitFor('the light on the mirror', async () => !(await bench.has('lost-source')));
    await bench.add('detector');
    await bench.type('place-dy', '-40');
    await bench.type('place-tx', '90');
    await bench.traced();
    // Parallel light on a perfect mirror at 45° goes down, all of it through the detector.
    expect(await text('map-flux')).to.match(/^1\.0* W|^1\.0000/);
  });

  it('a mesh comes in from a file, is traced, and says where it is torn', async () => {
    const folder = mkdtempSync(join(tmpdir(), 'ulvex-mesh-'));
    const skin = (torn: boolean) => {
      const corners = ['-20 -20 30', '20 -20 30', '0 20 30', '0 0 60'];
      const sides = [
        [0, 2, 1],
        [0, 1, 3],
        [1, 2, 3],
        [2, 0, 3],
      ].slice(torn ? 1 : 0);
      const facet = (side: readonly number[]) =>
        `facet normal 0 0 0\nouter loop\n${side.map((k) => `vertex ${corners[k]}`).join('\n')}\nendloop\nendfacet`;
      return `solid lid\n${sides.map(facet).join('\n')}\nendsolid`;
    };
    try {
      for (const [name, torn] of [
        ['lid', false],
        ['torn', true],
      ] as const)
        writeFileSync(join(folder, `${name}.stl`), skin(torn));
      writeFileSync(join(folder, 'bad.stl'), 'nothing of the kind');
      await bench.choose('mesh-file', join(folder, 'bad.stl'));
      await bench.waitFor('the refusal', async () =>
        /bad\.stl was not imported: it is no STL/.test(await text('notice')),
      );
      await bench.choose('mesh-file', join(folder, 'lid.stl'));
      await bench.waitFor('the mesh', () => bench.has('thing-mesh'));
      expect(await text('thing-panel')).to.match(/mesh of 4 triangles from “lid”/);
      await bench.traced();
      expect(await findings()).to.not.match(/mesh/);
      await bench.type('body-scale', '0.5');
      await bench.traced();
      await bench.choose('mesh-file', join(folder, 'torn.stl'));
      await bench.waitFor('the finding', async () =>
        /3 edges bound one triangle only, the first at \(/.test(await text('thing-panel')),
      );
      for (let undone = 0; undone < 3; undone++)
        await bench.driver.findElement(By.css('button[aria-label^="Undo"]')).click();
      await bench.settled();
      expect(await bench.has('thing-mesh')).to.equal(false);
    } finally {
      rmSync(folder, { recursive: true });
    }
  });

  it('wrong numbers are refused where they stand; impossible bodies and overlaps are named', async () => {
    await bench.add('body:tube');
    await bench.click('body-inner');
    await bench.chord([Key.CONTROL], 'a');
    await bench.press('-3', Key.ENTER);
    expect(await bench.complaint('body-inner')).to.match(/above 0/);
    await bench.press(Key.ESCAPE);
    await bench.type('body-inner', '30');
    expect(await text('thing-panel')).to.match(/inner radius must be below/);
    await bench.driver.findElement(By.css('button[aria-label^="Undo"]')).click();
    await bench.settled();
    await bench.add('body:box');
    await bench.type('place-dz', '5');
    await bench.add('body:sphere');
    await bench.traced();
    await bench.waitFor('the overlap', async () => /overlap/.test(await findings()));
    expect(await findings()).to.match(/first at x, y, z/);
  });
});
