import { expect } from 'chai';
import { mkdtempSync, rmSync, writeFileSync, truncateSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { By, Key } from 'selenium-webdriver';
import { readProjectText } from '@ulvex/core';
import type { Bench } from './bench.ts';
import { useBench } from './suite.ts';

describe('keeping and sharing', () => {
  let bench: Bench;
  let folder: string;
  before(() => (folder = mkdtempSync(join(tmpdir(), 'ulvex-files-'))));
  after(() => rmSync(folder, { recursive: true }));
  useBench('/layout', (started) => (bench = started));

  /** Writes a file and gives it to the import dialog of the Projects room. */
  async function importFile(name: string, content: string, size?: number): Promise<void> {
    const path = join(folder, name);
    writeFileSync(path, content);
    if (size !== undefined) truncateSync(path, size);
    await bench.choose('file-input', path);
  }

  async function refusal(name: string, content: string, size?: number): Promise<string> {
    await importFile(name, content, size);
    await bench.waitFor(
      `word about ${name}`,
      async () => (await bench.has('notice')) && (await bench.text('notice')).includes(name),
    );
    return bench.text('notice');
  }

  it('finds everything again after a reload, with the history', async () => {
    await bench.type('radius-l1_front', '13.9');
    await bench.press(Key.F8);
    await bench.waitFor('the refocus', async () => (await bench.shown('thickness-l4_back')) !== '30.3498');
    await bench.kept();
    const [distance, spot] = [await bench.shown('thickness-l4_back'), await bench.value('chip-worst_spot', 'value')];
    await bench.reload();
    expect(await bench.shown('radius-l1_front')).to.equal('13.9000');
    expect(await bench.shown('thickness-l4_back')).to.equal(distance);
    expect(await bench.value('chip-worst_spot', 'value')).to.equal(spot);
    expect(await bench.text('window')).to.contain('2 undoable');
    await bench.chord([Key.CONTROL], 'z');
    await bench.chord([Key.CONTROL], 'z');
    await bench.settled();
    expect(await bench.shown('radius-l1_front')).to.equal('13.8165');
  });

  it('writes a file and reads it back exactly', async () => {
    await bench.type('radius-l1_front', '13.8165+1/3e3');
    await bench.chord([Key.CONTROL], 's');
    const text = await bench.downloaded('tide-camera.ulvex.json');
    const read = readProjectText(text);
    if (!read.ok) throw new Error(JSON.stringify(read.problems));
    expect(read.project.lenses[0].surfaces[0].shape).to.deep.equal({
      kind: 'sphere',
      radius: 13.8165 + 1 / 3e3,
    });
    await bench.chord([Key.CONTROL], 'z');
    await bench.settled();
    const open = (await bench.state())!.project;
    await importFile('copy.ulvex.json', text);
    await bench.waitFor('the copy', async () => (await bench.state())!.project !== open);
    await bench.settled();
    await bench.click('radius-l1_front');
    await bench.press(Key.F2);
    expect(await bench.shown('radius-l1_front')).to.equal(String(13.8165 + 1 / 3e3));
    await bench.press(Key.ESCAPE);
  });

  it('refuses wrong files with place and reason and leaves the project alone', async () => {
    const { project, revision } = (await bench.state())!;
    const name = await bench.shown('project-name');
    expect(await refusal('words.json', 'not json at all')).to.match(/line 1, column 1: this is not JSON/);
    expect(await refusal('other.json', '{"format":"something else"}')).to.match(/no Ulvex project/);
    const newer = '{"format":"ulvex-project","version":7}';
    expect(await refusal('newer.json', newer)).to.match(/version 7; this Ulvex reads up to 3/);
    const schema = JSON.stringify({
      format: 'ulvex-project',
      version: 1,
      name: 'x',
      notes: '',
      lenses: [{ id: 'a' }],
      materials: [],
      requirements: [],
    });
    expect(await refusal('schema.json', schema)).to.match(/lenses\.a\.surfaces: is missing/);
    expect(await refusal('huge.json', '{}', 51 * 1024 * 1024)).to.match(/51 MB; the limit is 50 MB/);
    expect(await bench.state()).to.include({ project, revision });
    expect(await bench.shown('project-name')).to.equal(name);
  });

  it('keeps several projects in a list', async () => {
    await bench.open('/projects');
    const first = (await bench.state())!.project;
    await bench.click('new-project');
    await bench.waitFor(
      'the empty lens',
      async () => (await bench.has('section')) && (await bench.state())!.project !== first,
    );
    await bench.settled();
    expect(await bench.shown('project-name')).to.equal('New lens');
    await bench.click('project-name');
    await bench.press('Buoy finder', Key.ENTER);
    await bench.kept();
    await bench.open('/projects');
    const entries = async () => bench.driver.findElements(By.css('[data-testid=project-list] button'));
    await bench.waitFor('the list', async () => (await entries()).length >= 3);
    expect(await (await entries())[0].getText()).to.contain('Buoy finder');
    for (const entry of await entries()) {
      if ((await entry.getText()).startsWith('Tide camera')) {
        await entry.click();
        break;
      }
    }
    await bench.waitFor(
      'the tide camera',
      async () => (await bench.has('project-name')) && (await bench.shown('project-name')) === 'Tide camera',
    );
    await bench.settled();
    expect(await bench.has('radius-l1_front')).to.equal(true);
  });

  it('takes the lens of a file into the one at hand, as a group behind a surface', async () => {
    await bench.open('/layout');
    const surfaces = () =>
      bench.driver.executeScript<number>(() => document.querySelectorAll('[data-surface]:not([data-medium])').length);
    const before = await surfaces();
    await bench.click('radius-l4_back');
    await bench.driver.findElement(By.css('a[href="/projects"]')).click();
    await bench.waitFor('the list', () => bench.has('insert-input'));
    await bench.choose('insert-input', fileURLToPath(new URL('../../samples/tide-camera.ulvex.json', import.meta.url)));
    await bench.waitFor('the Layout', () => bench.has('section'));
    await bench.settled();
    expect(await surfaces()).to.equal(before + 8);
    expect(await bench.text('notice')).to.match(/Insert the lens of Tide camera.*It was inserted without/s);
    await bench.click('notice-action');
    await bench.settled();
    expect(await surfaces()).to.equal(before);
  });

  it('falls back to the older copy when the newest one is torn', async () => {
    await bench.type('radius-l1_front', '15');
    await bench.kept();
    await bench.type('radius-l1_front', '16');
    await bench.kept();
    const id = (await bench.state())!.project;
    const torn = await bench.driver.executeAsyncScript<number>((project: string, done: (sequence: number) => void) => {
      const request = indexedDB.open('ulvex');
      request.onsuccess = () => {
        const projects = request.result.transaction('projects', 'readwrite').objectStore('projects');
        const slots = [0, 1].map((n) => projects.get(`slot/${project}/${n}`));
        slots[1].onsuccess = () => {
          const newest = slots[0].result.sequence > slots[1].result.sequence ? 0 : 1;
          const slot = slots[newest].result;
          projects.put({ ...slot, text: slot.text.slice(0, -40) }, `slot/${project}/${newest}`).onsuccess = () => {
            request.result.close();
            done(slot.sequence);
          };
        };
      };
    }, id);
    expect(torn).to.be.greaterThan(1);
    await bench.reload();
    expect(await bench.shown('radius-l1_front')).to.equal('15.0000');
  });
});

describe('two tabs on one project', () => {
  let bench: Bench;
  useBench('/layout', (started) => (bench = started));

  it('tells the second one, overwrites nothing, and lets it take over', async () => {
    await bench.kept();
    const first = await bench.driver.getWindowHandle();
    await bench.type('radius-l1_front', '14');
    await bench.kept();
    await bench.driver.switchTo().newWindow('tab');
    const second = await bench.driver.getWindowHandle();
    await bench.open();
    await bench.waitFor('word of the other tab', async () => bench.has('elsewhere'));
    expect(await bench.shown('radius-l1_front')).to.equal('14.0000');
    await bench.type('radius-l1_front', '15'); // seen here only

    await bench.driver.switchTo().window(first);
    await bench.type('radius-l1_front', '13');
    await bench.kept();
    await bench.driver.switchTo().window(second);
    expect(await bench.shown('radius-l1_front')).to.equal('15.0000');
    await bench.click('take-over');
    await bench.waitFor('what the first tab kept', async () => (await bench.shown('radius-l1_front')) === '13.0000');
    await bench.settled();
    await bench.type('radius-l1_front', '16');
    await bench.kept();

    await bench.driver.switchTo().window(first);
    await bench.waitFor('word of the take-over', async () => bench.has('elsewhere'));
    await bench.type('radius-l1_front', '12'); // kept as a copy: the project is the other tab's
    await bench.waitFor('word of the copy', async () =>
      (await bench.text('elsewhere')).includes('is kept as a copy, “'),
    );
    await bench.driver.close();
    await bench.driver.switchTo().window(second);
    await bench.reload();
    expect(await bench.shown('radius-l1_front')).to.equal('16.0000');
    // What each tab had changed while the other one had the project is a project of its own.
    await bench.open('/projects');
    const list = await bench.text('project-list');
    expect(list.match(/Tide camera \(second tab\)/g)).to.have.length(2);
  });

  it('deletes a project, and brings it back on undo', async () => {
    const button = { css: 'button[aria-label="Delete Tide camera (second tab)"]' };
    const there = async () => (await bench.driver.findElements(button)).length;
    await bench.driver.findElement(button).click();
    await bench.waitFor('it to go', async () => (await there()) === 1);
    await bench.click('notice-action');
    await bench.waitFor('it to come back', async () => (await there()) === 2);
  });
});

describe('a browser that stores nothing', () => {
  let bench: Bench;
  useBench('/layout', (started) => (bench = started), {
    before: "indexedDB.open = () => { throw new DOMException('blocked by a test', 'SecurityError'); };",
  });

  it('says plainly that the work is not kept and offers the file', async () => {
    await bench.type('radius-l1_front', '14');
    await bench.waitFor('the warning', async () => bench.has('keeping-trouble'));
    expect(await bench.text('keeping-trouble')).to.match(
      /not being kept: the browser does not let Ulvex store anything/,
    );
    await (await bench.find('keeping-trouble')).findElement(By.css('button')).click();
    expect(await bench.downloaded('tide-camera.ulvex.json')).to.contain('"radius": 14');
  });
});
