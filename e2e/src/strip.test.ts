import { expect } from 'chai';
import { By, Key } from 'selenium-webdriver';
import type { Bench } from './bench.ts';
import { useBench } from './suite.ts';

describe('the requirement strip', () => {
  let bench: Bench;
  useBench('/layout', (started) => (bench = started));

  it('edits limits in place and goes to what computes the number', async () => {
    await bench.click('open-worst_spot');
    await bench.type('limit-max', '7');
    expect(await (await bench.find('chip-worst_spot')).getAttribute('data-verdict')).to.equal('missed');
    await bench.type('limit-min', '8');
    expect(await bench.shown('limit-min')).to.equal('–');
    await bench.click('jump');
    await bench.waitFor('the Study', async () => (await bench.driver.getCurrentUrl()).endsWith('/study'));
    await bench.settled();
    await bench.chord([Key.CONTROL], 'z');
    await bench.settled();
    expect(await (await bench.find('chip-worst_spot')).getAttribute('data-verdict')).to.equal('close');
  });

  it('takes a measure into the strip', async () => {
    await (await bench.find('require')).findElement(By.css('option[value=back_focal_distance]')).click();
    await bench.settled();
    const chips = await bench.driver.executeScript<string>(() => document.querySelector('.strip')?.textContent ?? '');
    expect(chips).to.match(/Back focal distance/);
    await bench.chord([Key.CONTROL], 'z');
    await bench.settled();
  });
});

describe('the section drawing', () => {
  let bench: Bench;
  useBench('/layout', (started) => (bench = started));

  /** Clicks at shares of the drawing's width and height. */
  const clickAt = async (across: number, down: number) => {
    const { x, y, width, height } = await (await bench.find('section')).getRect();
    await bench.driver
      .actions()
      .move({ x: Math.round(x + across * width), y: Math.round(y + down * height) })
      .click()
      .perform();
  };
  const choose = async (testid: string, value: string) => {
    await (await bench.find(testid)).findElement(By.css(`option[value="${value}"]`)).click();
    await bench.settled();
  };

  it('tells the story of a ray that is clicked', async () => {
    await choose('ray-count', '1');
    await clickAt(0.8, 0.485);
    expect(await bench.text('ray-story')).to.match(
      /axis, pupil \(0, 0\.000\)[\s\S]*Sensor\s+42\.204 0\.0000 0\.000°[\s\S]*It arrives/,
    );
    await clickAt(0.12, 0.9);
    expect(await bench.has('ray-story')).to.equal(false);
    await choose('ray-count', '7');
  });

  it('draws the lens alone, with a break mark and where the image lies', async () => {
    await choose('range', 'lens');
    expect(await bench.text('section')).to.match(/sensor at 42\.2038 mm/);
    await choose('range', 'whole');
    expect(await bench.text('section')).to.not.match(/sensor at/);
  });

  it('measures between two clicks', async () => {
    await bench.click('measure-tool');
    await clickAt(0.3, 0.8);
    await clickAt(0.6, 0.8);
    const text = await bench.text('rule');
    const [, length, dz, dy] = /([\d.]+) mm\s+\(z ([\d.]+), y ([\d.]+)\)/.exec(text)!.map(Number);
    expect(length).to.be.closeTo(Math.hypot(dz, dy), 1e-3);
    expect(dz).to.be.greaterThan(5);
    expect(dy).to.equal(0);
    await bench.click('measure-tool');
    expect(await bench.has('rule')).to.equal(false);
  });
});
