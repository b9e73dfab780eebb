import { expect } from 'chai';
import { Key } from 'selenium-webdriver';
import type { Bench } from './bench.ts';
import { useBench } from './suite.ts';

describe('editing the prescription', () => {
  let bench: Bench;
  useBench('/layout', (started) => (bench = started));

  const undoAll = async (times: number) => {
    for (let k = 0; k < times; k++) {
      await bench.chord([Key.CONTROL], 'z');
      await bench.settled();
    }
  };
  const lines = () =>
    bench.driver.executeScript<string[]>(() =>
      [...document.querySelectorAll<HTMLElement>('[data-surface]:not([data-medium])')].map(
        ({ dataset }) => dataset.surface!,
      ),
    );
  const nameOf = (surface: string) =>
    bench.driver.executeScript(
      (id: string) =>
        document.querySelector<HTMLElement>(`[data-surface="${id}"]:not([data-medium]) [data-handle]`)!.focus(),
      surface,
    );

  it('chooses several cells by keyboard and sets all of them with one text', async () => {
    await bench.click('radius-l1_front');
    await bench.chord([Key.SHIFT], Key.ARROW_DOWN);
    await bench.chord([Key.SHIFT], Key.ARROW_DOWN);
    expect(await bench.focused()).to.equal('radius-l2_front');
    await bench.press('*2', Key.ENTER);
    await bench.settled();
    expect([
      await bench.shown('radius-l1_front'),
      await bench.shown('radius-l1_back'),
      await bench.shown('radius-l2_front'),
    ]).to.deep.equal(['27.6330', '1940.40', '−47.3110']);
    expect(await bench.shown('radius-l2_back')).to.equal('12.4498');
    await undoAll(1);
    expect(await bench.shown('radius-l1_back')).to.equal('970.198');
  });

  it('fills chosen cells with the first, and refuses a text that one of them does not take', async () => {
    await bench.click('thickness-l1_front');
    await bench.chord([Key.SHIFT], Key.ARROW_DOWN);
    expect(await bench.focused()).to.equal('thickness-l1_back');
    await bench.chord([Key.ALT], Key.ENTER);
    await bench.settled();
    expect(await bench.focused()).to.equal('thickness-l1_back');
    expect(await bench.shown('thickness-l1_back')).to.equal('2.3027');
    await undoAll(1);
    await bench.click('radius-l1_front');
    await bench.chord([Key.SHIFT], Key.ARROW_DOWN);
    await bench.press('0', Key.ENTER);
    expect(await bench.driver.executeScript<string>(() => document.body.textContent ?? '')).to.match(
      /Nothing was changed. L1 front: A radius is not 0/,
    );
    await bench.press(Key.ESCAPE);
    await bench.settled();
    expect(await bench.shown('radius-l1_front')).to.equal('13.8165');
  });

  it('moves, doubles and removes lines', async () => {
    const before = await lines();
    await nameOf('stop');
    await bench.chord([Key.ALT], Key.ARROW_DOWN);
    await bench.settled();
    const moved = await lines();
    expect(moved.indexOf('stop')).to.equal(before.indexOf('stop') + 1);
    await bench.chord([Key.ALT, Key.SHIFT], Key.ARROW_DOWN);
    await bench.settled();
    expect(await lines()).to.have.length(before.length + 1);
    await nameOf('l1_front');
    await bench.chord([Key.SHIFT], Key.ARROW_DOWN);
    await bench.press(Key.DELETE);
    await bench.settled();
    expect(await lines()).to.not.include.members(['l1_front']);
    expect(await lines()).to.have.length(before.length - 1);
    await undoAll(3);
    expect(await lines()).to.deep.equal(before);
  });

  it('shows a column for comments on request, and keeps what is written there', async () => {
    await bench.driver.executeScript(() => document.querySelector<HTMLElement>('.choose summary')!.click());
    await bench.click('column-comment');
    await bench.type('comment-l2_front', 'hard to polish');
    await bench.kept();
    await bench.reload();
    expect(await bench.shown('comment-l2_front')).to.equal('hard to polish');
    await bench.driver.executeScript(() => document.querySelector<HTMLElement>('.choose summary')!.click());
    await bench.click('column-comment');
    await undoAll(1);
  });

  it('takes thickness and material in one cell', async () => {
    await bench.type('thickness-l1_back', '2 1.6');
    expect(await bench.shown('material-l1_back')).to.equal('1.6');
    await undoAll(1);
    expect(await bench.shown('material-l1_back')).to.equal('air');
  });

  it('leaves an element out by one key, and takes it in again as it was', async () => {
    const before = await bench.value('chip-focal_length', 'value');
    const nameOfElement = (surface: string) =>
      bench.driver.executeScript(
        (id: string) =>
          document.querySelector<HTMLElement>(`[data-surface="${id}"][data-medium] [data-handle]`)!.focus(),
        surface,
      );
    await nameOfElement('l2_front');
    await bench.press(Key.SPACE);
    await bench.settled();
    expect(await bench.text('out-l2_front')).to.equal('excluded');
    expect(await bench.value('chip-focal_length', 'value')).to.be.below(25);
    await nameOfElement('l2_front');
    await bench.press(Key.SPACE);
    await bench.settled();
    expect(await bench.value('chip-focal_length', 'value')).to.equal(before);
  });
});

/** Strokes beyond the digits, points, signs and glass codes themselves; a chord counts each of its keys. */
describe('a doublet typed into an empty project', () => {
  let bench: Bench;
  useBench('/layout', (started) => (bench = started));

  it('takes four strokes a surface beyond the digits, by keyboard alone', async () => {
    await bench.press(Key.F4);
    await bench.press('empty lens');
    await bench.press(Key.ENTER);
    await bench.waitFor('the empty lens', async () => (await bench.shown('project-name')) === 'New lens');
    await bench.settled();
    await bench.press(Key.F4);
    await bench.press('surface stop');
    await bench.press(Key.ENTER);
    await bench.waitFor('its first radius', async () => /^radius-/.test(await bench.focused()));
    const surfaces = [
      ['37.0096', '5', '517642'],
      ['-25.2986', '2.5', '648338'],
      ['-79.7298', '56.3729', ''],
    ];
    let strokes = 0;
    for (const [i, [radius, thickness, glass]] of surfaces.entries()) {
      await bench.press(radius, Key.ENTER);
      strokes += 1;
      await bench.press(glass ? `${thickness} ${glass}` : thickness);
      strokes += glass ? 1 : 0;
      if (i < surfaces.length - 1) {
        await bench.chord([Key.CONTROL], Key.ENTER);
        strokes += 2;
        await bench.waitFor('the next surface', async () => /^radius-s/.test(await bench.focused()));
      } else {
        await bench.press(Key.ENTER);
        strokes += 1;
      }
    }
    await bench.settled();
    expect(strokes / surfaces.length).to.be.at.most(4);
    const text = await bench.driver.executeScript<string[]>(() =>
      [
        ...document.querySelectorAll<HTMLInputElement>(
          '[data-testid^="radius-"], [data-testid^="thickness-"], [data-testid^="material-"]',
        ),
      ].map(({ value }) => value),
    );
    expect(text.slice(0, 9)).to.deep.equal([
      '37.0096',
      '5.0000',
      '517642',
      '−25.2986',
      '2.5000',
      '648338',
      '−79.7298',
      '56.3729',
      'air',
    ]);
  });
});
