import { expect } from 'chai';
import { Key } from 'selenium-webdriver';
import type { Bench } from './bench.ts';
import { useBench } from './suite.ts';

describe('states of numbers', () => {
  let bench: Bench;
  useBench('/layout', (started) => (bench = started));

  const choose = async (cell: string, kind: string) => {
    await bench.click(cell);
    await bench.chord([Key.SHIFT], Key.F4);
    await bench.waitFor('the panel', () => bench.has('state-panel'));
    await bench.click(`state-${kind}`);
  };
  const mark = async (cell: string) => ((await bench.has(`state-of-${cell}`)) ? bench.text(`state-of-${cell}`) : '');

  it('free and fixed again by one key, many at once, and undone', async () => {
    await bench.click('radius-l1_front');
    await bench.chord([Key.SHIFT], Key.ARROW_DOWN);
    await bench.chord([Key.SHIFT], Key.F7);
    await bench.waitFor('the mark', async () => (await mark('radius-l1_front')) === '◇');
    await bench.settled();
    expect(await mark('radius-l1_back')).to.equal('◇');
    await bench.chord([Key.CONTROL], 'z');
    await bench.settled();
    expect(await mark('radius-l1_front')).to.equal('');
  });

  it('the last radius holds the focal length while another is turned, by keyboard alone', async () => {
    await bench.click('radius-l4_back');
    await bench.chord([Key.SHIFT], Key.F4);
    await bench.waitFor('the panel', () => bench.has('state-panel'));
    await bench.press(Key.ARROW_LEFT); // around from fixed to derived
    await bench.press(Key.ENTER); // the focal length as it is now
    await bench.waitFor('the mark', async () => (await mark('radius-l4_back')) === '∴');
    await bench.settled();
    expect(await bench.focused()).to.equal('radius-l4_back');
    await bench.type('radius-l1_front', '14.2');
    expect(await bench.value('chip-focal_length', 'value')).to.be.closeTo(36.000612, 1e-6);
    expect(await bench.shown('radius-l4_back')).to.not.equal('−16.2963');
    await bench.click('radius-l4_back');
    await bench.press('-20');
    expect(await bench.complaint('radius-l4_back')).to.match(/is derived, so that Effective focal length/);
    await bench.press(Key.ESCAPE);
    await bench.chord([Key.CONTROL], 'z');
    await bench.settled();
    expect(await bench.shown('radius-l4_back')).to.equal('−16.2963');
  });

  it('a link follows, and one that would go round in a ring is refused with the way', async () => {
    await choose('radius-l2_back', 'linked');
    await bench.click('state-formula');
    await bench.press('-1 * l2_front.radius', Key.ENTER);
    await bench.waitFor('the mark', async () => (await mark('radius-l2_back')) === '⚯');
    await bench.settled();
    expect(await bench.shown('radius-l2_back')).to.equal('23.6555');
    await choose('radius-l2_front', 'linked');
    await bench.click('state-formula');
    await bench.press('-1 * l2_back.radius', Key.ENTER);
    await bench.waitFor('the refusal', () => bench.has('state-wrong'));
    expect(await bench.text('state-wrong')).to.match(/follows from itself: L2 (front|back) radius ← L2/);
    await bench.press(Key.ESCAPE);
    expect(await mark('radius-l2_front')).to.equal('');
    await bench.kept();
    await bench.reload();
    expect(await mark('radius-l2_back')).to.equal('⚯');
    await bench.chord([Key.CONTROL], 'z');
    await bench.settled();
    expect(await mark('radius-l2_back')).to.equal('');
  });
});

describe('operations on the lens', () => {
  let bench: Bench;
  useBench('/layout', (started) => (bench = started));
  const notes = (text: string) =>
    bench.waitFor(
      `notes with ${text}`,
      async () => (await bench.has('operation-notes')) && (await bench.text('operation-notes')).includes(text),
    );

  it('turn it around in four actions, tried before it is done, and undone by one', async () => {
    await bench.click('operations');
    // What it would make comes in, and moves what stands below it, before anything is typed.
    await bench.waitFor('what it would make', () => bench.has('operation-notes'));
    await bench.settled();
    await bench.click('operation-throw');
    await bench.chord([Key.CONTROL], 'a');
    await bench.press('1300', Key.TAB);
    await notes('throw 1300 mm');
    await bench.settled();
    expect(await bench.text('operation-notes')).to.match(/object heights up to 10\.25\d* mm, as the image was/);
    expect(await bench.value('chip-length', 'value')).to.be.closeTo(1311.9, 0.5); // previewed
    expect(await bench.text('window')).to.include('0 undoable');
    // Another throw, taken by keys before its trial is back: what is done is the new one.
    await bench.click('operation-throw');
    await bench.chord([Key.CONTROL], 'a');
    await bench.press('1250');
    await bench.chord([Key.SHIFT], Key.TAB);
    await bench.press(Key.ENTER);
    await bench.waitFor('the panel to close', async () => !(await bench.has('operation-panel')));
    await bench.settled();
    expect(await bench.shown('thickness-l1_front')).to.equal('1250.00');
    expect(await bench.shown('radius-l4_back')).to.equal('16.2963');
    await bench.chord([Key.CONTROL], 'z');
    await bench.settled();
    expect(await bench.shown('radius-l1_front')).to.equal('13.8165');
  });

  it('say what cannot be done, and leave the lens as it was', async () => {
    await bench.press(Key.F4);
    await bench.press('Split an element');
    await bench.press(Key.ENTER);
    await bench.waitFor('the panel', () => bench.has('operation-panel'));
    const from = await bench.find('operation-at');
    await from.findElement({ css: 'option[value="l3_front"]' }).click();
    await bench.waitFor('the reason', () => bench.has('operation-wrong'));
    expect(await bench.text('operation-wrong')).to.match(/cemented to another/);
    await from.findElement({ css: 'option[value="l2_front"]' }).click();
    await notes('two elements');
    await bench.press(Key.ESCAPE);
    await bench.settled();
    expect(await bench.has('operation-panel')).to.equal(false);
    expect(await bench.shown('radius-l2_front')).to.equal('−23.6555');
    expect(await bench.text('window')).to.include('0 undoable');
  });
});

describe('a dial', () => {
  let bench: Bench;
  useBench('/layout', (started) => (bench = started));

  it('turns a number from anywhere; everything follows, and it goes back to where it began', async () => {
    await bench.click('thickness-l4_back');
    await bench.chord([Key.SHIFT], Key.F9);
    await bench.waitFor('the dial', () => bench.has('dials'));
    const dial = await bench.find('dial-range');
    // Its range is that in which the spot changes: a few tenths of a millimetre, where the distance is 30 mm.
    const judged = await bench.find('dial-l4_back-thickness');
    await bench.waitFor('the range of the dial', async () => (await judged.getAttribute('data-judged')) === 'true');
    expect(Number(await dial.getAttribute('max')) - Number(await dial.getAttribute('min'))).to.be.within(0.05, 2);
    await dial.sendKeys(Key.ARROW_RIGHT, Key.ARROW_RIGHT);
    await bench.waitFor('one gesture', async () => (await bench.text('window')).includes('1 undoable'));
    await bench.settled();
    const turned = await bench.shown('thickness-l4_back');
    expect(turned).to.not.equal('30.3498');
    expect(await bench.value('chip-length', 'value')).to.be.above(42.2);
    await bench.driver.actions().doubleClick(dial).perform();
    await bench.waitFor('the way back', async () => (await bench.shown('thickness-l4_back')) === '30.3498');
    await bench.settled();
    expect(await bench.shown('thickness-l4_back')).to.equal('30.3498');
    await bench.driver
      .actions()
      .contextClick(await bench.find('radius-l1_front'))
      .perform();
    await bench.waitFor(
      'a second dial',
      async () => (await bench.driver.findElements({ css: '[data-testid="dial-range"]' })).length === 2,
    );
  });
});

describe('a scan', () => {
  let bench: Bench;
  useBench('/study', (started) => (bench = started));
  const figures = async (name: string) => (await bench.find('scan-figures')).getAttribute(`data-${name}`);
  const choices = () =>
    bench.driver.executeScript(() =>
      document.querySelector<HTMLElement>('[data-testid="scan-tile"] button[aria-expanded]')!.click(),
    );

  it('of one number is a line that finds the best focus, and follows the lens', async () => {
    await bench.click('add-scan');
    await bench.settled();
    await bench.waitFor(
      'the scan',
      async () => (await bench.has('scan-figures')) && (await figures('state')) === 'done',
    );
    expect(await bench.text('scan-figures')).to.match(/least 6\.\d+ µm\s+at L4 back thickness 30\.3/);
    expect(await figures('done')).to.equal('21');
  });

  it('of two numbers is a map, with progress, stopped on request and written as a table', async () => {
    await choices();
    await bench.click('scan-second');
    await bench.settled();
    await bench.type('scan-points-0', '41');
    await bench.type('scan-points-1', '41');
    await bench.click('scan-start');
    await bench.waitFor(
      'first points',
      async () => (await bench.has('scan-figures')) && Number(await figures('done')) > 8,
    );
    await bench.click('scan-stop');
    expect(await figures('state')).to.equal('cancelled');
    expect(await bench.text('scan-tile')).to.match(/\d+ of 1681|41 points/);
    await bench.type('scan-points-1', '5');
    await bench.type('scan-points-0', '5');
    await bench.waitFor(
      'the short scan',
      async () => (await bench.has('scan-figures')) && (await figures('state')) === 'done',
    );
    expect(await figures('done')).to.equal('25');
    expect(
      await bench.driver.executeScript(() => document.querySelectorAll('[data-testid="scan-tile"] canvas').length),
    ).to.be.at.least(1);
  });
});
