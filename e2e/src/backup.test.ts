import { expect } from 'chai';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { By, Key } from 'selenium-webdriver';
import type { Bench } from './bench.ts';
import { useBench } from './suite.ts';

describe('the store as a whole', () => {
  let bench: Bench;
  let folder: string;
  before(() => (folder = mkdtempSync(join(tmpdir(), 'ulvex-backup-'))));
  after(() => rmSync(folder, { recursive: true }));
  useBench('/layout', (started) => (bench = started));

  const list = () => bench.text('project-list');
  const notice = (pattern: RegExp) =>
    bench.waitFor(String(pattern), async () => (await bench.has('notice')) && pattern.test(await bench.text('notice')));

  it('goes into one file and comes back beside what has changed since', async () => {
    await bench.type('radius-l1_front', '13.9');
    await bench.press(Key.F9);
    await bench.waitFor('the history', () => bench.has('history'));
    await bench.type('state-name', 'calm sea');
    await bench.kept();
    await bench.press(Key.F9);
    await bench.open('/projects');
    await bench.kept();
    await bench.click('backup');
    const name = `ulvex-store-${new Date().toISOString().slice(0, 10)}.json`;
    const text = await bench.downloaded(name);
    const file = join(folder, name);
    writeFileSync(file, text);
    await bench.choose('restore-input', file);
    await notice(/0 of 1 projects of the backup came in/);
    await bench.open('/layout');
    await bench.type('radius-l1_front', '14.2');
    await bench.kept();
    await bench.open('/projects');
    await bench.choose('restore-input', file);
    await notice(/1 of 1 projects/);
    await bench.waitFor('both projects', async () => /Tide camera \(backup\)/.test(await list()));
    await bench.driver.findElement(By.xpath("//li//strong[text()='Tide camera (backup)']")).click();
    await bench.waitFor(
      'the project from the backup',
      async () => (await bench.shown('project-name')) === 'Tide camera (backup)',
    );
    await bench.settled();
    expect(await bench.shown('radius-l1_front')).to.equal('13.9000');
    await bench.press(Key.F9);
    await bench.waitFor('the history', () => bench.has('history'));
    expect(await bench.text('history')).to.match(/calm sea/);
    await bench.press(Key.F9);
  });

  it('refuses a file that is no backup, and says how much of the store is used', async () => {
    await bench.open('/projects');
    const file = join(folder, 'other.json');
    writeFileSync(file, readFileSync(join(import.meta.dirname, '../../samples/tide-camera.ulvex.json')));
    await bench.choose('restore-input', file);
    await notice(/other\.json: The file is not a backup/);
    expect(await bench.text('store-use')).to.match(/[kMG]B of [\d.]+ GB/);
  });
});

describe('choices of the window', () => {
  let bench: Bench;
  useBench('/brief', (started) => (bench = started));

  it('take another number of workers, and usual wavelengths as one gesture', async () => {
    await bench.click('activity');
    await (await bench.find('workers')).findElement(By.css('option[value="1"]')).click();
    expect(await bench.text('activity')).to.match(/1 worker$/);
    await (await bench.find('wavelength-preset')).findElement(By.css('option[value^="near infrared 850"]')).click();
    await bench.settled();
    expect(await bench.shown('nm-w2')).to.equal('850');
    await bench.chord([Key.CONTROL], 'z');
    await bench.settled();
    expect(await bench.has('nm-w2')).to.equal(false);
    await bench.reload();
    expect(await bench.text('activity')).to.match(/1 worker$/);
  });
});
