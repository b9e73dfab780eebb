import { expect } from 'chai';
import { Key } from 'selenium-webdriver';
import type { Bench } from './bench.ts';
import { useBench } from './suite.ts';

describe('things put on faces', () => {
  let bench: Bench;
  useBench('/projects', (started) => (bench = started), { webgl: true });

  async function place(): Promise<Record<string, number>> {
    await bench.settled();
    const read = async (id: string) => [id, Number((await bench.shown(`place-${id}`)).replace('−', '-'))] as const;
    return Object.fromEntries(await Promise.all(['dx', 'dy', 'dz', 'tx', 'ty', 'tz'].map(read)));
  }
  /** Clicks the drawing at shares of its width and height. */
  async function clickDrawing(x: number, y: number): Promise<void> {
    const canvas = await bench.find('scene-canvas');
    const { width, height } = await canvas.getRect();
    const at = { x: Math.round((x - 0.5) * width), y: Math.round((y - 0.5) * height), origin: canvas };
    await bench.driver.actions().move(at).click().perform();
  }

  it('a detector stands on a flat face that is chosen by name, in one step', async () => {
    await bench.click('new-scene');
    await bench.waitFor('the scene', () => bench.has('scene-add'));
    await bench.add('body:box');
    await bench.enter('place-dz', '30');
    await bench.enter('body-thickness', '6');
    await bench.settled();
    await bench.add('detector');
    const before = await place();
    await bench.select('stand-on', 'box.back');
    expect(await place()).to.deep.equal({ dx: 0, dy: 0, dz: 36, tx: 0, ty: 0, tz: 0 });
    await bench.select('stand-on', 'box.front');
    expect(await place()).to.deep.equal({ dx: 0, dy: 0, dz: 30, tx: 180, ty: 0, tz: 0 });
    await bench.chord([Key.CONTROL], 'z');
    await bench.chord([Key.CONTROL], 'z');
    expect(await place()).to.deep.equal(before);
  });

  it('or on the face that is clicked, which Esc calls off', async () => {
    await bench.select('standpoint', 'side');
    await bench.click('place-by-click');
    expect(await bench.text('scene-words')).to.match(/^Click a face: .*Esc cancels/);
    await (await bench.find('scene-canvas')).sendKeys(Key.ESCAPE);
    expect(await (await bench.find('place-by-click')).getAttribute('aria-pressed')).to.equal('false');
    const before = await place();
    await bench.click('place-by-click');
    await clickDrawing(0.02, 0.02); // beside everything: goes on waiting
    expect(await (await bench.find('place-by-click')).getAttribute('aria-pressed')).to.equal('true');
    // The box, seen along x, right of the detector.
    await bench.select('standpoint', 'side');
    await clickDrawing(0.82, 0.5);
    await bench.settled();
    const after = await place();
    expect(after).to.not.deep.equal(before);
    expect(Math.abs(after.ty), 'its axis along x').to.equal(90);
    expect(after.dz).to.be.within(30, 36);
    expect(Math.abs(after.dx)).to.be.above(1);
    await bench.chord([Key.CONTROL], 'z');
    expect(await place()).to.deep.equal(before);
  });
});
