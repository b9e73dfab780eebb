import { expect } from 'chai';
import { By, Key } from 'selenium-webdriver';
import type { Bench } from './bench.ts';
import { useBench } from './suite.ts';

describe('the Tolerance room', () => {
  let bench: Bench;
  useBench('/tolerance', (started) => (bench = started));
  const R = 'limits-tide_l1_front_form';
  const sigma = (id: string) => bench.value(`rung-tide_${id}`, 'deviation');
  const undo = async () => {
    await bench.chord([Key.CONTROL], 'z');
    await bench.settled();
  };
  const made = () => bench.waitFor('the lot', async () => !(await bench.has('lot-progress')));

  it('has the tolerances of the tide camera by kind, and what they watch', async () => {
    await bench.settled();
    const list = await bench.text('tolerances');
    for (const word of ['Form', 'Distances', 'Wedge', 'Shift in cell', 'Tilt in cell', 'Index', 'Abbe number'])
      expect(list).to.include(word);
    expect(await bench.shown(R)).to.equal('±3');
    expect(await bench.shown('limits-of-form')).to.equal('±3');
    expect(await bench.shown('limits-of-thickness')).to.equal('mixed');
  });

  it('takes limits by keyboard: one, two, a share, a whole kind, and says what it cannot take', async () => {
    await bench.type(R, '-1 +2');
    expect(await bench.shown(R)).to.equal('−1 +2');
    await bench.type(R, '*2');
    expect(await bench.shown(R)).to.equal('−2 +4');
    await bench.type(R, '0.1 0.2');
    expect(await bench.complaint(R)).to.match(/design must be within/);
    await bench.press(Key.ESCAPE);
    await bench.type('limits-of-form', '1');
    expect(await bench.shown(R)).to.equal('±1');
    expect(await bench.shown('limits-tide_l4_back_form')).to.equal('±1');
    await undo();
    expect(await bench.shown(R)).to.equal('−2 +4');
    await undo();
    await undo();
    expect(await bench.shown(R)).to.equal('±3');
  });

  it('ranks what each does by derivatives at once, and says so', async () => {
    await bench.settled();
    expect(await bench.text('ladder-by')).to.include('By derivatives at the design');
    expect(await bench.driver.findElements(By.css('[data-deviation]'))).to.have.length(40);
  });

  it('ranks what each does, and follows limits that are typed without a new study', async () => {
    await bench.click('ladder-run');
    await bench.waitFor('the ladder', async () => (await bench.text('ladder')).includes('Tried'));
    const before = await sigma('l1_front_form');
    expect(before).to.be.above(0);
    const rungs = await bench.driver.findElements(By.css('[data-deviation]'));
    const deviations = await Promise.all(rungs.map(async (one) => Number(await one.getAttribute('data-deviation'))));
    expect(deviations).to.have.length(40);
    expect(deviations).to.deep.equal([...deviations].sort((a, b) => b - a));
    // The focal length goes with the curvature, nearly straight: half the limits, half the spread.
    await bench.type(R, '1.5');
    expect((await sigma('l1_front_form')) / before).to.be.closeTo(0.5, 1e-3);
    expect(await bench.text('ladder')).to.include('Tried');
    // Wider than it was tried: by the fit, and it can be tried again.
    await bench.type(R, '6');
    expect((await sigma('l1_front_form')) / before).to.be.closeTo(2, 1e-2);
    expect(await bench.text('ladder')).to.include('wider than it was tried');
    expect(await bench.text('ladder-run')).to.equal('Try 1 more');
    await undo();
    await undo();
    await bench.select('watched', 'worst_spot');
    expect(await bench.value('ladder-sigma', 'value')).to.be.within(0.3, 5);
  });

  it('knows the yield by derivatives before anything is traced, and says how good they are once it was checked', async () => {
    await bench.waitFor('all its trials', async () => (await bench.value('response-yield', 'trials')) === 100_000);
    const byDerivatives = await bench.value('response-yield', 'value');
    expect(byDerivatives).to.be.within(0.6, 0.95);
    expect(await bench.text('fit')).to.include('Not checked');
    await bench.type('limits-of-form', '6');
    await bench.settled();
    expect(await bench.value('response-yield', 'value')).to.be.below(byDerivatives);
    await undo();
    await bench.click('joint-run');
    await bench.waitFor('the fit', async () => (await bench.text('joint-run')) === 'Fitted');
    await bench.settled();
    expect(await bench.text('fit')).to.match(/good fit\s.*off by \d/);
    expect(await bench.value('response-yield', 'value')).to.be.closeTo(byDerivatives, 0.03);
    expect(await bench.value('ladder-by', 'apart')).to.be.below(0.05);
  });

  it('makes a lot, the same for the same seed, and its yield follows the limit that is moved', async () => {
    await bench.click('way-traced');
    await bench.type('lot-count', '40');
    await bench.click('lot-run');
    await made();
    expect(await bench.value('lot-yield', 'trials')).to.equal(40);
    const first = await bench.value('lot-yield', 'value');
    await bench.type('lot-seed', '2');
    await bench.click('lot-run');
    await made();
    const second = await bench.value('lot-yield', 'value');
    await bench.type('lot-seed', '1');
    await bench.click('lot-run');
    await made();
    expect(await bench.value('lot-yield', 'value')).to.equal(first);
    expect([first, second].every((value) => value > 0 && value < 1)).to.equal(true);
    // More trials are added to those that are there.
    await bench.type('lot-count', '44');
    await bench.click('lot-run');
    await made();
    expect(await bench.value('lot-yield', 'trials')).to.equal(44);
    const yieldOf = () => bench.value('yield-worst_spot', 'value');
    const before = await yieldOf();
    const limit = await bench.find('limit-max');
    await bench.driver.executeScript((one: HTMLElement) => one.focus(), limit);
    await bench.press(...Array.from({ length: 25 }, () => Key.ARROW_RIGHT));
    await bench.settled();
    expect(await yieldOf()).to.be.above(before);
    // The Brief asks the same of the design as before.
    expect(await bench.text('window')).to.not.include('Limit of');
    await bench.press(...Array.from({ length: 60 }, () => Key.ARROW_LEFT));
    await bench.settled();
    expect(await yieldOf()).to.be.below(before);
  });

  it('suggests the loosest limits for a yield, says what each buys, and takes them in one step', async () => {
    await bench.click('suggest');
    await bench.waitFor('the suggestion', () => bench.has('suggest-after'));
    expect(await bench.value('suggest-after', 'value')).to.be.at.least(0.9);
    await bench.type('suggest-yield', '100');
    expect(await bench.complaint('suggest-yield')).to.match(/below 100/);
    await bench.press(Key.ESCAPE);
    await bench.type('suggest-yield', '95');
    await bench.waitFor('another suggestion', async () => {
      const shown = (await bench.has('suggest-after')) ? await bench.value('suggest-after', 'value') : 0;
      return shown >= 0.95;
    });
    expect(await bench.text('suggestion')).to.match(/±\S+ → ±/);
    const before = await bench.shown('limits-tide_l2_front_shift_y');
    await bench.click('suggest-apply');
    await bench.settled();
    expect(await bench.has('suggestion')).to.equal(false);
    expect(await bench.shown('limits-tide_l2_front_shift_y')).to.not.equal(before);
    await undo();
    expect(await bench.shown('limits-tide_l2_front_shift_y')).to.equal(before);
  });

  it('opens a trial as it was made in every room, and leaves it in one step', async () => {
    await bench.click('open-worst');
    await bench.waitFor('the trial', () => bench.has('made'));
    await bench.settled();
    await bench.driver.findElement(By.css('nav a[href="/layout"]')).click();
    await bench.waitFor('Layout', () => bench.has('radius-l1_front'));
    await bench.settled();
    expect(await bench.shown('radius-l1_front')).to.not.equal('13.8165');
    expect(await bench.value('chip-worst_spot', 'value')).to.be.above(10);
    await (await bench.find('made')).findElement(By.css('button')).click();
    await bench.settled();
    expect(await bench.has('made')).to.equal(false);
    expect(await bench.shown('radius-l1_front')).to.equal('13.8165');
    expect(await bench.value('chip-worst_spot', 'value')).to.be.below(8.5);
  });

  it('a change of the design makes what was studied old, and says so', async () => {
    await bench.type('radius-l1_front', '13.9');
    await bench.settled();
    await bench.driver.findElement(By.css('nav a[href="/tolerance"]')).click();
    await bench.waitFor('the room', () => bench.has('ladder'));
    await bench.settled();
    expect(await bench.text('ladder')).to.include('The design has changed since it was tried');
    expect(await bench.text('lot')).to.include('have changed since this lot');
    await undo();
    expect(await bench.text('ladder')).to.include('Tried');
    expect(await bench.text('lot')).to.not.include('have changed');
  });

  it('shows in the prescription what a requirement spreads by, and follows the design', async () => {
    await bench.open('/layout');
    await bench.settled();
    await bench.click('columns-menu');
    await bench.click('sensitivity-toggle');
    await bench.waitFor('the bars', () => bench.has('bar-of-material-l2_front'));
    await bench.settled();
    // L2, whose shifts matter most, has the longest one.
    expect(await bench.value('bar-of-material-l2_front', 'share')).to.equal(1);
    const share = await bench.value('bar-of-radius-l4_back', 'share');
    expect(share).to.be.within(0.1, 1);
    await bench.select('sensitivity-of', 'focal_length');
    await bench.settled();
    expect(await bench.value('bar-of-material-l2_front', 'share')).to.not.equal(1);
    // In the strip, too, on request: a softer lens spreads less.
    await bench.click('strip-made');
    await bench.waitFor('spreads in the strip', () => bench.has('spread-worst_spot'));
    const spread = await bench.value('spread-focal_length', 'value');
    expect(spread).to.be.within(0.08, 0.12);
    await bench.type('radius-l1_front', '*1.1');
    await bench.waitFor(
      'the spread to follow',
      async () => Math.abs((await bench.value('spread-focal_length', 'value')) / spread - 1) > 0.02,
    );
    await undo();
    await bench.click('strip-made');
    await bench.driver.findElement(By.css('nav a[href="/tolerance"]')).click();
    await bench.waitFor('the room', () => bench.has('ladder'));
    await bench.settled();
  });

  it('begins with a grade for the whole lens, in one step, and names what cannot be', async () => {
    await bench.select('grade', 'finest');
    await bench.click('apply-grade');
    await bench.settled();
    expect(await bench.shown(R)).to.equal('±1');
    await undo();
    expect(await bench.shown(R)).to.equal('±3');
    await bench.enter('tolerance-more', 'no such number');
    await bench.press(Key.ENTER);
    await bench.waitFor('the refusal', async () => (await bench.text('notice')).includes('no such number'));
  });

  it('gives faces errors of figure and lets a group move, each in one step', async () => {
    await bench.click('add-figures');
    await bench.settled();
    expect(await bench.text('tolerances')).to.include('Figure 14');
    await bench.select('group-from', 'l3_front');
    await bench.select('group-to', 'l4_back');
    await bench.click('add-group');
    await bench.settled();
    const list = await bench.text('tolerances');
    expect(list).to.match(/Groups 4\s/);
    expect(list).to.include('L3–L4 tilt x');
    expect(await bench.driver.findElements(By.css('[data-deviation]'))).to.have.length(58);
    await bench.select('group-to', 'l1_front');
    await bench.click('add-group');
    await bench.waitFor('the refusal', async () => (await bench.text('notice')).includes('no surface after'));
    await bench.click('add-homogeneity');
    await bench.settled();
    expect(await bench.text('tolerances')).to.match(/Homogeneity 8\s/);
    expect(await bench.driver.findElements(By.css('[data-deviation]'))).to.have.length(66);
    for (let k = 0; k < 3; k++) await undo();
    expect(await bench.text('tolerances')).to.not.include('Figure');
  });

  it('keeps a lot over a reload of the page, and goes on with it', async () => {
    await bench.open('/tolerance');
    await bench.settled();
    await bench.click('way-traced');
    await bench.type('lot-count', '60');
    await bench.click('lot-run');
    await bench.waitFor('the first trials', () => bench.has('lot-yield'));
    await bench.reload();
    await bench.waitFor('the rest of them', async () => {
      if (!(await bench.has('lot-yield')) || (await bench.has('lot-progress'))) return false;
      return (await bench.value('lot-yield', 'trials')) === 60;
    });
  });

  it('lets tolerances depart together, and says what that does to the whole', async () => {
    const pair = ['tide_l1_front_shift_y', 'tide_l2_front_shift_y'];
    await bench.select('watched', 'worst_spot');
    const before = await bench.value('ladder-sigma', 'value');
    for (const id of pair) {
      await bench.click(`tolerance-${id}`);
      await bench.type(`with-${id}`, 'A 2');
      expect(await bench.complaint(`with-${id}`)).to.match(/from −1 to 1/);
      await bench.press(Key.ESCAPE);
      await bench.type(`with-${id}`, 'A');
      expect(await bench.text(`tolerance-${id}`)).to.match(/ · A$/);
    }
    expect(await bench.value('ladder-sigma', 'value')).not.to.be.closeTo(before, 1e-3);
    await undo();
    await undo();
  });

  it('adjusts an image tilt after making, draws trials against it, and keeps one as a state', async () => {
    const pick = async (text: string) => {
      await bench.click('adjust-more');
      await bench.press(text, Key.ENTER);
      await bench.settled();
    };
    await pick('Sensor tilt x');
    await bench.type('range-adjusted', '0.1 0.2');
    expect(await bench.complaint('range-adjusted')).to.match(/design must be within/);
    await bench.press(Key.ESCAPE);
    await bench.type('range-adjusted', '1');
    expect(await bench.shown('range-adjusted')).to.equal('±1');
    await bench.click('way-traced');
    await bench.type('lot-count', '16');
    await bench.click('lot-run');
    await bench.waitFor('the lot', () => bench.has('moved-adjusted'));
    await made();
    expect(await bench.text('moved-adjusted')).to.match(/^Sensor tilt x .*°$/);
    await bench.select('against', 'set adjusted');
    await bench.waitFor('the cloud', () => bench.has('scatter'));
    expect(await bench.value('scatter', 'r')).to.be.within(-1, 1);
    await bench.click('open-worst');
    await bench.settled();
    const trial = /\d+/.exec(await bench.text('keep-as-state'))![0];
    await bench.click('keep-as-state');
    await bench.settled();
    expect(await bench.has('keep-as-state')).to.equal(false);
    expect(await bench.text('lot')).not.to.include('have changed since this lot');
    await bench.click('state-button');
    await bench.waitFor('the table of states', () => bench.has(`look-trial_${trial}`));
    await bench.click('state-button');
    await undo();
    await undo();
    await undo();
    expect(await bench.has('range-adjusted')).to.equal(false);
  });

  it('takes the places of a lantern, and tells what tolerances do from the noise of rays', async () => {
    await bench.open('/projects');
    await bench.openSample('sector-lantern', 'Sector lantern');
    await bench.driver.findElement(By.css('nav a[href="/tolerance"]')).click();
    await bench.waitFor('the room', () => bench.has('ladder'));
    const list = await bench.text('tolerances');
    for (const word of ['Place in space', 'Tilt in space', 'Flux']) expect(list).to.include(word);
    expect(list).to.match(/red led/i);
    await bench.type('lot-count', '10');
    await bench.click('lot-run');
    await bench.waitFor('the noise', () => bench.has('noise'));
    await made();
    expect(await bench.text('noise')).to.match(/σ by tolerances \S+.*by rays \S+/);
    expect(await bench.value('noise', 'spread')).to.be.at.least(0);
  });
});
