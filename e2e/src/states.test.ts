import { expect } from 'chai';
import { By, Key } from 'selenium-webdriver';
import type { Bench } from './bench.ts';
import { useBench } from './suite.ts';

describe('states of the model', () => {
  let bench: Bench;
  useBench('/layout', (started) => (bench = started));

  const DISTANCE = 'in-near-0';

  it('one is looked at: drawing, spots and cells belong to it, requirements stay what they are of', async () => {
    await bench.click('state-button');
    await bench.waitFor('the table', () => bench.has('states'));
    expect(await bench.shown(DISTANCE)).to.equal('4000');
    expect(await bench.shown('in-frost-0')).to.equal('∞');
    await bench.click('look-near');
    await bench.settled();
    expect(await bench.text('drawn-state')).to.equal('Staff at 4 m');
    expect(await bench.value('chip-worst_spot', 'value')).to.be.closeTo(8.21, 0.01);
    expect(await bench.text('strip-state')).to.match(/required\s+as designed/);
    await bench.click('overlay-states');
    await bench.settled();
    const others = await bench.driver.findElements(By.css('[data-testid=other-state]'));
    expect(others).to.have.length(2);
  });

  it('a number that differs is typed over in its state alone, any other in the design', async () => {
    await bench.click('differ');
    await bench.press('L4 back thickness', Key.ENTER);
    await bench.waitFor(
      'its row',
      async () => (await bench.has('in-near-1')) && (await bench.shown('in-near-1')) === '30.3498',
    );
    await bench.type('thickness-l4_back', '30.7');
    await bench.type('radius-l1_front', '13.9');
    expect(await bench.shown('in-near-1')).to.equal('30.7');
    expect(await bench.shown('in-frost-1')).to.equal('30.3498');
    await bench.click('look-designed');
    await bench.settled();
    expect(await bench.shown('thickness-l4_back')).to.equal('30.3498');
    expect(await bench.shown('radius-l1_front')).to.equal('13.9000');
  });

  it('a number of its own is let free where it stands in the table', async () => {
    await bench.click('in-near-1');
    await bench.chord([Key.SHIFT], Key.F7);
    await bench.waitFor('the mark', () => bench.has('state-of-in-near-1'));
    expect(await bench.text('state-of-in-near-1')).to.equal('◇');
    expect(await bench.has('state-of-in-frost-1')).to.equal(false);
    await bench.chord([Key.CONTROL], 'z');
    await bench.settled();
    expect(await bench.has('state-of-in-near-1')).to.equal(false);
  });

  it('what is wrong is refused in place, and an empty cell is as designed', async () => {
    await bench.click(DISTANCE);
    await bench.press('-5');
    expect(await bench.complaint(DISTANCE)).to.match(/above 0/);
    await bench.press(Key.ESCAPE);
    expect(await bench.shown(DISTANCE)).to.equal('4000');
    await bench.click('in-near-1');
    await bench.press(Key.BACK_SPACE, Key.ENTER);
    await bench.waitFor('the row to go', async () => !(await bench.has('in-near-2')));
    await bench.settled();
    await bench.click('differ');
    await bench.press('nothing of the kind', Key.ENTER);
    await bench.waitFor(
      'the refusal',
      async () => (await bench.has('notice')) && /no number or glass/.test(await bench.text('notice')),
    );
  });

  it('a requirement in every state tells the worst of them, and a tile shows all side by side', async () => {
    await bench.open('/brief');
    await bench.select('state-worst_spot', 'every');
    await bench.settled();
    expect(await bench.text('state-of-worst_spot')).to.equal('Staff at 4 m');
    expect(await bench.value('chip-worst_spot', 'value')).to.be.above(25);
    await bench.open('/study');
    await bench.select('tile-state', 'every');
    await bench.settled();
    const shown = await bench.driver.findElements(By.css('[data-kind=section] [data-testid=section]'));
    expect(shown).to.have.length(3);
  });

  it('comes and goes in one step of the history', async () => {
    await bench.open('/layout');
    await bench.click('state-button');
    await bench.waitFor('the table', () => bench.has('states'));
    await bench.click('add-state');
    await bench.settled();
    expect(await bench.shown('state-name-near_1')).to.equal('Near');
    await bench.type('state-name-near_1', 'Wall');
    await bench.chord([Key.CONTROL], 'z');
    await bench.chord([Key.CONTROL], 'z');
    await bench.settled();
    expect(await bench.has('state-name-near_1')).to.equal(false);
  });
});
