import { expect } from 'chai';
import { Key } from 'selenium-webdriver';
import type { Bench } from './bench.ts';
import { useBench } from './suite.ts';

describe('the camera thrown far', () => {
  let bench: Bench;
  useBench('/layout', (started) => (bench = started));

  it('takes its throw with a unit, and does nothing while a field is wrong', async () => {
    await bench.click('operations');
    await bench.waitFor('the panel', () => bench.has('operation-panel'));
    await bench.type('operation-throw', '5 m');
    await bench.waitFor(
      'what it would make',
      async () =>
        (await bench.has('operation-notes')) && (await bench.text('operation-notes')).includes('throw 5000 mm'),
    );
    expect(await bench.text('operation-notes')).to.match(/enlarged 139\.25\d times, 139\.03\d at the largest height/);
    await bench.type('operation-throw', '5 parsec');
    expect(await bench.text('operation-panel')).to.match(/“parsec”.*5000 is used meanwhile/s);
    expect(await (await bench.find('operation-take')).isEnabled()).to.equal(false);
    await bench.type('operation-throw', '2*2.5m');
    await bench.waitFor('the button', async () => (await bench.find('operation-take')).isEnabled());
    await bench.click('operation-take');
    await bench.settled();
  });

  it('has its distortion, its limits and its magnification by the image in use', async () => {
    expect(await bench.value('chip-edge_distortion', 'value')).to.be.closeTo(-0.1546, 1e-4);
    expect(await bench.text('spots-tile')).to.match(/Airy 353–388 µm|Airy 350–390 µm/);
    await bench.select('second-tile', 'first-order');
    await bench.settled();
    expect(await bench.text('first_order-tile')).to.match(/magnification in use\s+−139\.252/);
    // What stands beside the spots stays through another room.
    await bench.open('/study');
    await bench.driver.navigate().back();
    await bench.settled();
  });
});

describe('pictures and pages for a report', () => {
  let bench: Bench;
  useBench('/study', (started) => (bench = started));

  it('say what they show, of what, in which state, how and when', async () => {
    await bench.settled();
    const svg = await bench.driver.executeAsyncScript<string>((done: (text: string) => void) => {
      const create = URL.createObjectURL.bind(URL);
      const click = HTMLAnchorElement.prototype.click;
      HTMLAnchorElement.prototype.click = () => {};
      URL.createObjectURL = (blob: Blob | MediaSource) => {
        void (blob as Blob).text().then(done);
        return create(blob);
      };
      const menu = document.querySelector<HTMLSelectElement>(
        '[data-testid="spots-tile"] select[title="Write to a file"]',
      )!;
      menu.value = 'svg';
      menu.dispatchEvent(new Event('change', { bubbles: true }));
      URL.createObjectURL = create;
      HTMLAnchorElement.prototype.click = click;
    });
    for (const said of [
      />Spots<\/text>/,
      /Tide camera · as designed/,
      /F 486 nm/,
      /12 × 24 rays a colour/,
      new RegExp(new Date().toISOString().slice(0, 10)),
      /RMS 6\.74 µm/,
    ])
      expect(svg).to.match(said);
  });

  it('print on pages of the board’s own width, tools left out, and put everything back', async () => {
    await bench.driver.executeScript(() => (window.print = () => (document.documentElement.dataset.printed = 'yes')));
    await bench.click('print-board');
    await bench.waitFor(
      'the dialog',
      async () => (await bench.driver.executeScript(() => document.documentElement.dataset.printed)) === 'yes',
    );
    const page = await bench.driver.executeScript<string>(
      () =>
        [...document.querySelectorAll('style')]
          .map(({ textContent }) => textContent)
          .find((text) => text?.includes('@page')) ?? '',
    );
    const [, width, height] = /size: ([\d.]+)px ([\d.]+)px/.exec(page)!.map(Number);
    expect(width / height).to.be.within(1, 1.45);
    await bench.driver.executeScript(() => window.dispatchEvent(new Event('afterprint')));
    expect(
      await bench.driver.executeScript(() =>
        [...document.querySelectorAll('style')].some(({ textContent }) => textContent?.includes('@page')),
      ),
    ).to.equal(false);
  });
});

describe('one gesture of the keyboard on an empty lens', () => {
  let bench: Bench;
  useBench('/projects', (started) => (bench = started));

  it('takes an F-number before there is power, waits and says so', async () => {
    await bench.click('new-project');
    await bench.waitFor('the empty lens', async () => (await bench.shown('project-name')) === 'New lens');
    await bench.settled();
    await bench.kept();
    await bench.open('/brief');
    await bench.select('aperture-kind', 'image_f_number');
    await bench.waitFor('the F-number', async () => (await bench.shown('aperture-value')) === '4');
    await bench.open('/layout');
    expect(await bench.text('findings')).to.match(/waits for power/);
    await bench.press(Key.ESCAPE);
  });

  it('says all of what is wrong with a text in a short list, and takes the next keys at once after Escape', async () => {
    await bench.type('thickness-stop', '6 999xxx');
    const message = await bench.driver.executeScript<{ words: string; whole: boolean }>(() => {
      const field = document.querySelector('[data-testid="thickness-stop"]')!;
      const said = document.getElementById(field.getAttribute('aria-describedby')!)!;
      const box = said.getBoundingClientRect();
      const corners = [
        [box.left + 3, box.top + 3],
        [box.right - 3, box.bottom - 3],
      ] as const;
      return {
        words: said.textContent,
        whole: corners.every(([x, y]) => said.contains(document.elementFromPoint(x, y))),
      };
    });
    expect(message.words).to.match(/No material is called “999xxx”.*Esc restores/);
    expect(message.whole, 'nothing stands over the message and nothing cuts it').to.equal(true);
    await bench.press(Key.ESCAPE, '6 517642', Key.ENTER);
    await bench.settled();
    expect(await bench.shown('thickness-stop')).to.equal('6.0000');
    expect(await bench.shown('material-stop')).to.equal('517642');
  });

  it('takes what was said of a gesture away with the next one', async () => {
    await bench.type('radius-stop', '40');
    await bench.press(Key.F8);
    await bench.waitFor('the refocus', async () => (await bench.text('window')).includes('Refocused by'));
    await bench.type('radius-stop', '41');
    expect(await bench.text('window')).not.to.include('Refocused by');
  });
});
