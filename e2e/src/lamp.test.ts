import { expect } from 'chai';
import { By, Key } from 'selenium-webdriver';
import type { Bench } from './bench.ts';
import { useBench } from './suite.ts';

describe('beginning with a lamp', () => {
  let bench: Bench;
  useBench('/projects', (started) => (bench = started), { webgl: true });

  const room = async (path: string, ready: string) => {
    await bench.driver.findElement(By.css(`nav a[href="${path}"]`)).click();
    await bench.waitFor(`the room ${path}`, () => bench.has(ready));
    await bench.settled();
  };
  const figure = (name: string) => bench.value(`figure-${name}`, 'value');

  it('an empty scene is built with the palette, by keyboard: a source, a body, a detector', async () => {
    await bench.click('new-scene');
    await bench.waitFor('the scene', () => bench.has('scene-add'));
    await bench.click('scene-add');
    await bench.press('sour', Key.ENTER);
    await bench.settled();
    expect(await bench.has('thing-source')).to.equal(true);
    await bench.click('scene-add');
    await bench.press('conc', Key.ARROW_DOWN, Key.ARROW_RIGHT, Key.ESCAPE);
    expect(await bench.has('scene-add-find')).to.equal(false);
    await bench.add('body:lens_block');
    await bench.type('place-dz', '20');
    await bench.add('detector');
    await bench.type('place-dz', '60');
    // The source from where it stands to the body, 20 mm in front of it, and back along the axis.
    await bench.click('thing-source');
    await bench.settled();
    await bench.select('source-to', 'lens_block');
    await bench.settled();
    expect(Number(await bench.shown('towards-z'))).to.be.within(20, 26);
    await bench.chord([Key.CONTROL], 'z');
    await bench.settled();
    expect(await bench.has('towards-z')).to.equal(false);
    await bench.traced();
    expect(await bench.text('map-flux')).to.match(/W$/);
    await bench.enter('find-thing', 'simple');
    expect(await bench.text('parts-list')).to.match(/^parts\s*1/);
    await bench.click('find-thing');
    await bench.chord([Key.CONTROL], 'a');
    await bench.press(Key.BACK_SPACE);
    expect(await bench.has('thing-source')).to.equal(true);
  });

  it('any material of the shelf is chosen by name, and a wrong name says so', async () => {
    await bench.click('thing-lens_block');
    await bench.enter('part-material', 'PMMA');
    await bench.settled();
    expect(await bench.shown('part-material')).to.match(/^PMMA · acrylic/);
    await bench.enter('part-material', 'unobtainium');
    expect(await bench.text('thing-panel')).to.match(/There is no material “unobtainium”/);
    expect(await bench.text('thing-lens_block')).to.include('PMMA');
  });

  it('a spectrum is made of lines, or taken by name', async () => {
    await bench.click('thing-source');
    await bench.select('spectrum-named', 'white LED, four lines');
    expect(await bench.shown('line-nm-3')).to.equal('620');
    await bench.type('line-nm-0', '530');
    expect(await bench.complaint('line-nm-0')).to.match(/there already/);
    await bench.press(Key.ESCAPE);
    await bench.click('line-add');
    await bench.settled();
    expect(await bench.shown('line-nm-4')).to.equal('640');
  });

  it('a form from the shelf comes in the size that is asked for', async () => {
    await room('/projects', 'start-forms');
    await bench.click('start-forms');
    await bench.waitFor('the forms', () => bench.has('form-list'));
    await bench.driver.findElement(By.css('[data-form=led_lens]')).click();
    await bench.waitFor(
      'the form',
      async () => (await (await bench.find('form')).getAttribute('data-shown')) === 'led_lens',
    );
    await bench.enter('form-size', '-3');
    expect(await bench.text('form')).to.match(/A size is a number above 0/);
    await bench.enter('form-size', '40');
    await bench.click('form-begin');
    await bench.waitFor('its scene', () => bench.has('run-bar'));
    await bench.traced();
    expect(await bench.shown('project-name')).to.equal('LED with a collimating lens');
  });

  it('light of one wavelength, and in watts, is read from the same run', async () => {
    const flux = async () => Number((await bench.text('map-flux')).split(' ')[0]);
    const before = await flux();
    await bench.driver.executeScript("document.querySelector('[data-testid=map-tile] [aria-expanded]').click()");
    await bench.select('map-wave', '450');
    expect(await flux()).to.be.below(0.1 * before);
    await bench.select('map-light', 'radiometric');
    expect(await bench.text('map-flux')).to.match(/W$/);
    expect(await (await bench.find('run-bar')).getAttribute('data-state')).to.equal('done');
    await bench.select('map-light', '');
    await bench.select('map-wave', '0');
  });

  it('a run goes on to ten times the rays, and knows more', async () => {
    const error = async () => Number(/± ([\d.]+)/.exec(await bench.text('map-flux'))![1]);
    const before = await error();
    await bench.click('run-more');
    await bench.waitAlong(
      'ten times the rays',
      async () => /32\d,\d{3} rays/.test(await bench.text('run-words')),
      () => bench.text('run-words'),
    );
    expect(await error()).to.be.below(before / 2);
  });

  it('its far field, half-angle and efficiency are on a board', async () => {
    await room('/study', 'board');
    await bench.select('add-board', 'far_field');
    await bench.waitFor('the figures', () => bench.has('figure-intensity-0-efficiency'));
    const [angle, efficiency] = [
      await figure('intensity-0-half-angle-at-50-%'),
      await figure('intensity-0-efficiency'),
    ];
    expect(angle).to.be.within(0.5, 0.9);
    // sin² 35° less two faces.
    expect(efficiency).to.be.within(27, 31);
    expect(await bench.has('energy_book-tile')).to.equal(true);
  });

  it('is gone on with where it was left: Layout is the scene of a project without a lens, another project begins anew', async () => {
    await room('/layout', 'run-bar');
    await room('/study', 'board');
    await room('/projects', 'sample-tide-camera');
    await bench.click('sample-tide-camera');
    await bench.waitFor('the lens', () => bench.has('section'));
    await bench.settled();
    await room('/projects', 'project-list');
    const lamp = By.xpath('//*[@data-testid="project-list"]//button[contains(., "LED with a collimating lens")]');
    await bench.waitFor('the list', async () => (await bench.driver.findElements(lamp)).length > 0);
    await bench.driver.findElement(lamp).click();
    await bench.waitFor('its board', () => bench.has('energy_book-tile'));
    await bench.settled();
    // The window, opened at its address alone, goes on there, too.
    await bench.kept();
    await bench.open('/');
    await bench.waitFor('its board', () => bench.has('energy_book-tile'));
    expect(new URL(await bench.driver.getCurrentUrl()).pathname).to.equal('/study');
  });

  it('Improve makes its beam a third narrower', async () => {
    await room('/improve', 'free-numbers');
    expect(await bench.text('free-numbers')).to.match(/Free the shape or the place of a part/);
    expect(await bench.text('goals')).to.match(/what the light should do/);
    for (const name of ['Collimator front radius', 'Collimator dz']) {
      await bench.click('free-more');
      await bench.press(name, Key.ENTER);
      await bench.settled();
    }
    await bench.select('add-goal', 'detector_rms_radius');
    await bench.waitFor('the goal', () => bench.has('goal-target-g1'));
    await bench.settled();
    const before = Number((await bench.text('goal-now-g1')).split('°')[0]);
    // With few rays, for the time of a test.
    await bench.click('goal-g1');
    await bench.enter('goal-setting-rays', '2048');
    await bench.settled();
    await bench.click('goal-g1');
    await bench.type('goal-target-g1', '*2/3');
    await bench.type('from-0', '5');
    await bench.type('to-0', '20');
    await bench.type('from-1', '12');
    await bench.type('to-1', '40');
    await bench.click('run-begin');
    const points = async () =>
      (await bench.has('merit-line')) ? String(await (await bench.find('merit-line')).getAttribute('data-points')) : '';
    await bench.waitAlong(
      'the end of the run',
      async () => (await (await bench.find('run')).getAttribute('data-status')) === 'done',
      points,
    );
    await bench.click('run-keep');
    await bench.settled();
    expect(Number((await bench.text('goal-now-g1')).split('°')[0])).to.be.below(0.72 * before);
  });
});
