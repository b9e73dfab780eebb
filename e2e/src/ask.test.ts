import { expect } from 'chai';
import { Key } from 'selenium-webdriver';
import type { Bench } from './bench.ts';
import { useBench } from './suite.ts';

describe('the ask bar', () => {
  let bench: Bench;
  useBench('/layout', (started) => (bench = started));

  const ask = async (text: string) => {
    await bench.press(Key.F4);
    await bench.chord([Key.CONTROL], 'a');
    await bench.press(text);
  };
  const answered = (test: (value: number) => boolean) =>
    bench.waitFor('the answer', async () => (await bench.has('answer')) && test(await bench.value('answer', 'value')));

  it('answers arithmetic on measures with units, by keyboard alone', async () => {
    await ask('effective focal length / entrance pupil diameter');
    await answered((value) => Math.abs(value - 3.5) < 1e-3);
    expect(await bench.text('answer')).to.match(/= 3\.5000\d+\n/);
    await ask('2 in + 3 mm');
    await answered((value) => value === 53.8);
    expect(await bench.text('answer')).to.match(/= 53\.80000 mm/);
    await bench.press(Key.ESCAPE);
  });

  it('says what does not go together', async () => {
    await ask('effective focal length + 2°');
    const panel = () =>
      bench.driver.executeScript<string>(() => document.querySelector('.ask .panel')?.textContent ?? '');
    await bench.waitFor('the reason', async () => /cannot be/.test(await panel()));
    await ask('distortion');
    await bench.waitFor('the choices', async () => /of which field\? .*axis, zone, edge/s.test(await panel()));
    await bench.press(Key.ESCAPE);
  });

  it('does commands and goes to places by name', async () => {
    await ask('refocus paraxial');
    await bench.press(Key.ENTER);
    await bench.waitFor('the refocus', async () =>
      (await bench.driver.executeScript<string>(() => document.body.textContent ?? '')).includes('Refocused by'),
    );
    await bench.settled();
    await ask('undo');
    await bench.press(Key.ENTER);
    await bench.settled();
    await ask('surface L2 back');
    await bench.press(Key.ENTER);
    await bench.waitFor('the cell', async () => (await bench.focused()) === 'radius-l2_back');
    await ask('study');
    await bench.press(Key.ENTER);
    await bench.waitFor('the room', async () => (await bench.driver.getCurrentUrl()).endsWith('/study'));
    await bench.settled();
    await bench.open('/layout');
  });

  it('coats a whole lens by name, and answers what comes through it', async () => {
    const through = async (test: (value: number) => boolean) => {
      await ask('transmission[axis]');
      await answered(test);
      await bench.press(Key.ESCAPE);
    };
    // Seven faces, six of them of 4 to 6 % each while they are bare.
    await through((value) => value > 50 && value < 80);
    await ask('coat all broadband');
    await bench.press(Key.ENTER);
    await bench.settled();
    await through((value) => value > 93 && value < 99);
    await ask('take coatings off');
    await bench.press(Key.ENTER);
    await bench.settled();
    await through((value) => value > 50 && value < 80);
    for (let k = 0; k < 2; k++) await bench.chord([Key.CONTROL], 'z');
    await bench.settled();
  });

  it('makes a requirement of a measure, in the strip at once', async () => {
    await ask('require magnification');
    await bench.press(Key.ENTER);
    await bench.settled();
    const chips = await bench.driver.executeScript<string>(
      () => document.querySelector('[aria-label=Requirements]')?.textContent ?? '',
    );
    expect(chips).to.match(/Magnification/);
    await bench.chord([Key.CONTROL], 'z');
    await bench.settled();
  });

  it('lists what was asked before once an answer was taken', async () => {
    await ask('25.4 mm / 2');
    await answered((value) => value === 12.7);
    await bench.press(Key.ENTER, Key.ESCAPE);
    await bench.press(Key.F4);
    const first = await bench.driver.executeScript<string>(
      () => document.querySelector('[role=option]')?.textContent ?? '',
    );
    expect(first).to.match(/25\.4 mm \/ 2\s*asked before/);
    await bench.press(Key.ARROW_DOWN, Key.ARROW_UP, Key.ENTER);
    await answered((value) => value === 12.7);
    await bench.press(Key.ESCAPE);
  });
});

describe('help in place', () => {
  let bench: Bench;
  useBench('/layout', (started) => (bench = started));

  it('explains the cell that has the focus, and goes with the next key', async () => {
    await bench.click('conic-l2_front');
    await bench.chord([Key.SHIFT], Key.F1);
    await bench.waitFor('the explanation', () => bench.has('explanation'));
    expect(await bench.text('explanation')).to.match(/Conic constant[\s\S]*paraboloid/);
    await bench.press(Key.ARROW_UP);
    expect(await bench.has('explanation')).to.equal(false);
  });

  it('shows all keys on ?, and types a ? where one types', async () => {
    await bench.driver.executeScript(() => (document.activeElement as HTMLElement).blur());
    await bench.press('?');
    await bench.waitFor('the sheet', () => bench.has('keys'));
    expect(await bench.text('keys')).to.match(/Ctrl Z[\s\S]*In a cell/);
    await bench.press(Key.ESCAPE);
    await bench.waitFor('the sheet to close', async () => !(await bench.has('keys')));
    await bench.click('material-l1_front');
    await bench.press('?');
    expect(await bench.shown('material-l1_front')).to.equal('?');
    expect(await bench.has('keys')).to.equal(false);
    await bench.press(Key.ESCAPE);
  });
});
