import { expect } from 'chai';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { By, Key } from 'selenium-webdriver';
import type { Bench } from './bench.ts';
import { useBench } from './suite.ts';

describe('the Shelf', () => {
  let bench: Bench;
  const folder = mkdtempSync(join(tmpdir(), 'ulvex-shelf-'));
  useBench('/shelf', (started) => (bench = started));
  after(() => rmSync(folder, { recursive: true, force: true }));

  const rows = () =>
    bench.driver.executeScript<string[]>(() =>
      [...document.querySelectorAll<HTMLElement>('[data-testid=shelf-list] button')].map(
        (row) => row.dataset.material ?? '',
      ),
    );
  const sheet = () => bench.text('material-sheet');

  /** Gives the shelf a file with a text in it. */
  async function take(name: string, text: string): Promise<void> {
    const path = join(folder, name);
    writeFileSync(path, text);
    await bench.choose('material-file', path);
  }

  it('shows the catalogue as list and map, with the glass of the lens in view', async () => {
    expect(await rows()).to.have.lengthOf.at.least(90);
    expect(await sheet()).to.match(/517642[\s\S]*1\.51680[\s\S]*64\.17/);
    await bench.waitFor('the map', async () => {
      const charts = await bench.driver.findElements(By.css('section.map [data-points]'));
      return charts.length > 0 && Number(await charts[0].getAttribute('data-points')) > 80;
    });
  });

  it('is searched and walked by keys; a glass is put into an element, and undone', async () => {
    await bench.click('shelf-search');
    await bench.press('lanthanum flint');
    expect(await rows())
      .to.include('g743494')
      .and.not.include('g517642');
    await bench.driver.findElement(By.css('[data-material=g743494]')).click();
    await bench.press(Key.ARROW_DOWN);
    expect(await sheet()).to.contain('744449');
    await bench.press(Key.ARROW_UP);
    await bench.click('use-material');
    await bench.settled();
    await bench.open('/layout');
    expect(await bench.shown('material-l1_front')).to.equal('743494');
    await bench.driver.findElement(By.css('button[aria-label^="Undo"]')).click();
    await bench.settled();
    expect(await bench.shown('material-l1_front')).to.equal('691547');
    await bench.open('/shelf');
  });

  it('takes in a table of indices, which the prescription then knows by name', async () => {
    await take('skerry-resin.csv', 'wavelength nm,n\n400,1.55\n500,1.54\n600,1.535\n700,1.532\n');
    await bench.waitFor('the table', async () => (await sheet()).includes('skerry-resin'));
    await bench.settled();
    expect(await rows()).to.include('skerry_resin');
    await bench.open('/layout');
    await bench.type('material-l1_front', 'skerry-resin');
    expect(await bench.shown('material-l1_front')).to.equal('skerry-resin');
    await bench.open('/shelf');
  });

  it('refuses a broken table with the line, and takes nothing', async () => {
    const before = await rows();
    await take('broken.csv', 'wavelength,n\n500,1.5\n600,oops\n');
    await bench.waitFor('the refusal', async () =>
      (await bench.driver.findElement(By.css('body')).getText()).includes('Line 3: “oops” is not a number'),
    );
    expect(await rows()).to.deep.equal(before);
  });
});

describe('surroundings', () => {
  let bench: Bench;
  useBench('/brief', (started) => (bench = started));

  it('change the lens by its air and its glass, and say what cannot be', async () => {
    await bench.type('pressure', '0');
    await bench.open('/study');
    // In vacuum every glass is stronger by the index of air it lost.
    expect(await bench.text('first_order-tile')).not.to.contain('36.0006');
    await bench.open('/brief');
    await bench.type('pressure', '1 atm');
    expect(await bench.shown('pressure')).to.equal('101325');
    await bench.type('temperature', '-400');
    expect(await bench.complaint('temperature')).to.match(/at least −273 °C/);
    await bench.press(Key.ESCAPE);
  });
});

describe('start forms', () => {
  let bench: Bench;
  useBench('/shelf/forms', (started) => (bench = started));
  const shown = (name: string) =>
    bench.waitFor(`the form ${name}`, async () => {
      const form = await bench.find('form');
      return (await form.getAttribute('data-shown')) === name && (await bench.has('form-sketch'));
    });

  it('are walked by keys, scaled, and begun with', async () => {
    await shown('Triplet');
    await bench.driver.executeScript(() => document.querySelector<HTMLElement>('[data-form=triplet]')!.focus());
    await bench.press(Key.ARROW_DOWN);
    await shown('Four elements');
    await bench.click('form-focal');
    await bench.press('-3');
    expect(await bench.text('form')).to.match(/A focal length is a number above 0/);
    await bench.press(Key.BACK_SPACE, Key.BACK_SPACE, '36');
    await bench.waitFor('its size', async () => /36\.00 mm/.test(await bench.text('form')));
    await bench.click('form-begin');
    await bench.waitFor('the Layout', () => bench.has('section'));
    await bench.settled();
    expect(await bench.value('chip-worst_spot', 'value')).to.be.below(8);
    // What it must keep grew along.
    for (const id of ['worst_spot', 'focal_length'])
      expect(await (await bench.find(`chip-${id}`)).getAttribute('data-verdict')).to.not.equal('missed');
    expect(await bench.has('state-of-radius-s1')).to.equal(true); // free already
    await bench.open('/improve');
    const targets = await bench.driver.executeScript<string[]>(() =>
      [...document.querySelectorAll<HTMLInputElement>('[data-testid^="goal-target-"]')].map(({ value }) => value),
    );
    expect(targets, 'the focal length that was typed').to.include('36');
  });

  it('are taken into the lens at hand, and taken back', async () => {
    await bench.open('/shelf/forms');
    await shown('Triplet');
    await bench.click('form-insert');
    await bench.waitFor('the Layout', () => bench.has('section'));
    await bench.settled();
    expect(await bench.text('notice')).to.match(/Insert the lens of Triplet/);
    await bench.click('notice-action');
    await bench.settled();
  });
});
