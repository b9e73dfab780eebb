import { expect } from 'chai';
import { By, Key } from 'selenium-webdriver';
import type { Bench } from './bench.ts';
import { useBench } from './suite.ts';

describe('things in space: on faces, and many at once', () => {
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

  it('several parts are chosen by key and mouse, changed together, grouped and folded', async () => {
    for (const kind of ['sphere', 'cylinder']) {
      await bench.add(`body:${kind}`);
      await bench.settled();
    }
    const option = (id: string) => bench.driver.findElement(By.css(`[data-testid="thing-${id}"]`));
    const chosen = async () => (await bench.driver.findElements(By.css('[role=option][aria-selected=true]'))).length;
    await bench.click('thing-box');
    await bench.chord([Key.SHIFT], Key.ARROW_DOWN);
    await bench.chord([Key.SHIFT], Key.ARROW_DOWN);
    expect(await chosen()).to.equal(3);
    expect(await bench.text('thing-panel')).to.match(/^3 parts/);
    await bench.enter('many-material', 'PMMA');
    await bench.settled();
    for (const id of ['box', 'sphere', 'cylinder']) expect(await option(id).getText(), id).to.include('PMMA');
    await bench.select('many-finish', 'white_paint');
    await bench.settled();
    await bench.click('many-exclude');
    await bench.settled();
    expect(await option('sphere').getText()).to.include('excluded');
    await bench.click('many-exclude');
    await bench.driver
      .actions()
      .keyDown(Key.CONTROL)
      .click(await option('sphere'))
      .keyUp(Key.CONTROL)
      .perform();
    expect(await chosen()).to.equal(2);
    await bench.click('many-group');
    await bench.settled();
    // The group is chosen then; what stands in it can be put out of sight in the list.
    await bench.click('fold-group');
    expect(await bench.has('thing-box')).to.equal(false);
    expect(await bench.has('thing-sphere')).to.equal(true);
    await bench.click('thing-group');
    await bench.press(Key.ARROW_RIGHT);
    expect(await bench.has('thing-box')).to.equal(true);
    await bench.click('thing-sphere');
    await bench.driver
      .actions()
      .keyDown(Key.CONTROL)
      .click(await option('box'))
      .keyUp(Key.CONTROL)
      .perform();
    await bench.click('many-group');
    expect(await bench.text('notice')).to.match(/different frames/);
    await bench.click('many-remove');
    await bench.settled();
    expect(await bench.has('thing-box')).to.equal(false);
    for (let k = 0; k < 2; k++) await bench.driver.findElement(By.css('button[aria-label^="Undo"]')).click();
    await bench.settled();
    expect(await bench.has('thing-group')).to.equal(false);
    expect(await bench.has('thing-box')).to.equal(true);
  });
});
