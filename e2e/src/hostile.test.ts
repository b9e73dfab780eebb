import { expect } from 'chai';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Key } from 'selenium-webdriver';
import type { Bench } from './bench.ts';
import { useBench } from './suite.ts';
import { hostileFile, tide, tideAddress as at } from './hostile-files.ts';

describe('files that ask for too much', () => {
  let bench: Bench;
  let folder: string;
  useBench('/layout', (started) => (bench = started));
  before(() => (folder = mkdtempSync(join(tmpdir(), 'ulvex-hostile-'))));
  after(() => rmSync(folder, { recursive: true, force: true }));

  async function take(text: string): Promise<void> {
    const path = join(folder, 'file.ulvex.json');
    writeFileSync(path, text);
    await bench.choose('file-input', path);
  }
  /** What the page says of a file that it does not take; the one at hand stays. */
  async function refusal(text: string): Promise<string> {
    const open = (await bench.state())!.project;
    await take(text);
    await bench.waitFor(
      'the refusal',
      async () => (await bench.has('notice')) && (await bench.text('notice')).includes('your project is untouched'),
    );
    const said = await bench.text('notice');
    await bench.driver.executeScript(() =>
      document.querySelector<HTMLElement>('[aria-label="Close this message"]')?.click(),
    );
    expect((await bench.state())!.project).to.equal(open);
    return said;
  }
  const named = (name: string) =>
    bench.waitFor(name, async () => (await bench.shown('project-name').catch(() => '')) === name);

  it('are refused with what is too large, by length and depth before anything else', async () => {
    expect(await refusal(hostileFile('A formula of 200 kB'))).to.match(/longer than 2000 characters/);
    expect(await refusal(hostileFile('A million empty surfaces'))).to.match(/more than 2000 entries/);
    expect(await refusal(hostileFile('45 MB of empty objects'))).to.match(/more than 2,000,000 values/);
    expect(
      await refusal(tide('Deep').replace('"notes":"', `"deep":${'['.repeat(5000)}${']'.repeat(5000)},"notes":"`)),
    ).to.match(/deeper than 60/);
    expect(await refusal(tide('Key').replace('"notes":"', '"__proto__":{"lenses":[]},"notes":"'))).to.match(
      /__proto__.*reserved/,
    );
  });

  it('that ask for more than is computed say so where it stands, and everything else goes on', async () => {
    await take(hostileFile('500 fields and 500 wavelengths'));
    await named('Too many');
    await bench.settled();
    expect(await bench.text('window')).to.match(/500 fields × 500 wavelengths are .* 400,000 are the most/);
    await bench.open('/projects');
    await bench.waitFor('the samples', () => bench.has('sample-ice-glass'));
    await bench.click('sample-ice-glass');
    await named('Ice glass');
    await bench.settled();
  });

  it('a lens of 2,000 surfaces is a list that is drawn in part, and walked by keys to its end', async () => {
    await bench.open('/layout');
    await take(hostileFile('2,000 surfaces'));
    await named('Two thousand');
    await bench.settled();
    const drawn = () => bench.driver.executeScript<number>(() => document.querySelectorAll('[data-surface]').length);
    expect(await drawn()).to.be.within(20, 300);
    const shown = (id: string) => bench.has(`radius-${id}`);
    expect(await shown('plate_1990')).to.equal(false);
    await bench.driver.executeScript(() => {
      const lines = document.querySelector('[data-testid=prescription] .lines')!;
      lines.scrollTop = lines.scrollHeight;
    });
    await bench.waitFor('the end of the list', () => shown('plate_1990'));
    expect(await shown('l4_back')).to.equal(false);
    await bench.type('radius-plate_1990', '-500');
    await bench.settled();
    expect(await bench.shown('radius-plate_1990')).to.equal('−500.000');
    // By keys from there, and a draft stays although its line is scrolled away.
    await bench.press(Key.ARROW_DOWN, '12');
    const focused = await bench.focused();
    await bench.driver.executeScript(
      () => (document.querySelector('[data-testid=prescription] .lines')!.scrollTop = 0),
    );
    await bench.waitFor('the beginning of the list', () => shown('l1_front'));
    expect(await bench.focused()).to.equal(focused);
    await bench.press(Key.ESCAPE);
  });

  it('of a detector and of triangles say what was left out', async () => {
    for (const [file, name, words] of [
      ['A detector of 1000 × 1000 × 200 cells', 'Seven gigabytes', /200,000,000 cells are more than/],
      ['Two million triangles, all alike', 'All alike', /1999999 triangles .* stand exactly on another one/],
    ] as const) {
      await bench.open('/layout');
      await take(hostileFile(file));
      await named(name);
      await bench.waitFor('its scene: it has no lens', async () =>
        (await bench.driver.getCurrentUrl()).endsWith('/layout/scene'),
      );
      await bench.waitFor(name, async () => words.test(await bench.text('window')));
    }
  });

  it('whose numbers never come to rest are looked at all the same, and can be given up', async () => {
    const surfaces = ['l1_front', 'l1_back', 'l2_front', 'l2_back', 'l3_front', 'l3_l4'];
    const impossible = {
      kind: 'derived',
      measure: 'rms_spot_radius',
      of: 'tide',
      settings: { field: 'worst', rings: 60, arms: 120 },
      equals: '-1',
    };
    const parameters = Object.fromEntries(surfaces.map((name) => [at(`${name}.radius`), impossible]));
    await bench.open('/layout');
    await take(tide('Restless', undefined, { parameters }));
    await named('Restless');
    await bench.waitFor(
      'word of it',
      async () => (await bench.has('settling')) && (await bench.find('settling')).isDisplayed(),
    );
    await bench.click('settling-give-up');
    await bench.settled();
    expect(await bench.has('settling')).to.equal(false);
    expect(await bench.shown('radius-l1_front')).to.equal('13.8165');
    await bench.kept();
    // A start that is left before it is up is no hopeless one; the project opens again, and can be left for another.
    await bench.driver.navigate().refresh();
    await named('Restless');
    await bench.open('/projects');
    await bench.waitFor('the samples', () => bench.has('sample-tide-camera'));
    await bench.click('sample-tide-camera');
    await named('Tide camera');
    await bench.settled();
  });

  it('that did not come up are not opened by themselves again: the list is, and they can be looked at without their relations', async () => {
    await bench.kept();
    await bench.driver.executeAsyncScript((done: () => void) => {
      const request = indexedDB.open('ulvex');
      request.onsuccess = () => {
        const last = request.result.transaction('projects').objectStore('projects').get('last');
        last.onsuccess = () => {
          // As a page leaves it that is ended before it has come up.
          window.addEventListener('pagehide', () => localStorage.setItem('ulvex/starting', String(last.result)));
          request.result.close();
          done();
        };
      };
    });
    await bench.driver.navigate().refresh();
    await bench.waitFor('the list', () => bench.has('project-list'));
    expect(await bench.text('notice')).to.match(/did not open/);
    await bench.waitFor('its line', () => bench.has('open-without-relations'));
    await bench.click('open-without-relations');
    await bench.waitFor('the room', () => bench.has('section'));
    await bench.settled();
    expect(await bench.text('relations-off')).to.match(/Links and conditions are off/);
    await bench.reload();
    expect(await bench.has('section')).to.equal(true);
  });
});
