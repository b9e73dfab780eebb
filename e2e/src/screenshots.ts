// `npm run screenshots`: the pictures of docs/screenshots, made from the demo data in the built application.
import { mkdirSync, writeFileSync } from 'node:fs';
import { join, resolve } from 'node:path';
import { By, Key } from 'selenium-webdriver';
import { Bench } from './bench.ts';
import { improveAll } from './improve-steps.ts';

const folder = resolve(import.meta.dirname, '../../docs/screenshots');
mkdirSync(folder, { recursive: true });
const bench = await Bench.start();

/** Takes a picture once two frames have passed over the settled page. */
async function picture(name: string): Promise<void> {
  await bench.settled();
  await bench.driver.executeAsyncScript((done: () => void) =>
    requestAnimationFrame(() => requestAnimationFrame(() => done())),
  );
  writeFileSync(join(folder, `${name}.png`), await bench.driver.takeScreenshot(), 'base64');
  console.log(`docs/screenshots/${name}.png`);
}

try {
  await bench.open('/shelf');
  await bench.waitFor('the charts', async () => {
    const charts = await bench.driver.findElements(By.css('section.map [data-points]'));
    return charts.length > 0 && Number(await charts[0].getAttribute('data-points')) > 80;
  });
  await picture('shelf');
  await bench.open('/shelf/finishes');
  await bench.driver.findElement(By.css('[data-finish=broadband]')).click();
  await bench.click('finish-copy');
  await bench.select('film-material-0', 'magnesium_fluoride_o');
  await bench.enter('curve-degrees', '45');
  await bench.settled();
  await picture('finishes');
  await bench.driver.findElement(By.css('button[aria-label^="Undo"]')).click();
  await bench.driver.findElement(By.css('button[aria-label^="Undo"]')).click();
  await bench.open('/layout');
  await bench.kept();
  await bench.click('radius-l3_l4');
  await picture('layout-day');
  await bench.driver.findElement(By.css('button[aria-label="Night theme"]')).click();
  await picture('layout-night');
  await bench.driver.findElement(By.css('button[aria-label="Day theme"]')).click();
  await bench.click('state-button');
  await bench.waitFor('the states', () => bench.has('states'));
  await bench.click('look-near');
  await bench.settled();
  await bench.click('overlay-states');
  await picture('states');
  await bench.click('look-designed');
  await bench.click('overlay-states');
  await bench.click('state-button');
  await bench.settled();
  await bench.click('operations');
  await bench.waitFor('the panel', () => bench.has('operation-panel'));
  await bench.type('operation-throw', '1300');
  await bench.waitFor(
    'what it would make',
    async () => (await bench.has('operation-notes')) && (await bench.text('operation-notes')).includes('1300'),
  );
  await bench.settled();
  await picture('turn-around');
  await bench.press(Key.ESCAPE);
  await bench.settled();
  await bench.select('second-tile', 'ray');
  await bench.select('ray-field', 'edge');
  await bench.type('ray-py', '0.8');
  await bench.click('keep-ray');
  await bench.click('radius-l4_back');
  await bench.click('surface-panel-toggle');
  await bench.click('part-place');
  await picture('ray-inspector');
  await bench.select('second-tile', 'fans');
  await bench.driver.findElement(By.css('button[aria-label^="Undo"]')).click();
  await bench.settled();
  await bench.click('surface-panel-toggle');
  await bench.open('/study');
  await bench.driver.wait(
    async () =>
      (await bench.driver.findElements(By.css('[data-testid=ray_fans-tile] .chart:not([data-series="0"])'))).length > 0,
    15_000,
  );
  await picture('study');
  await bench.select('add-board', 'image');
  await bench.settled();
  await bench.driver.wait(
    async () =>
      (await bench.driver.findElements(By.css('[data-testid=mtf_field-tile] .chart:not([data-series="0"])'))).length >
      0,
    15_000,
  );
  await picture('study-image');
  await bench.open('/layout');
  await bench.type('radius-l1_front', '14');
  await bench.press(Key.F8);
  await bench.driver.wait(async () => (await bench.shown('thickness-l4_back')) !== '30.3498', 15_000);
  await bench.press(Key.F9);
  await bench.waitFor('the history', () => bench.has('reference-start'));
  await bench.click('reference-start');
  await bench.waitFor('the reference', async () => (await bench.text('chip-focal_length')).includes('+'));
  await picture('reference');
  await bench.click('entry-start');
  await bench.settled();
  await bench.open('/shelf/forms');
  await bench.waitFor('the form', () => bench.has('form-sketch'));
  await picture('start-forms');
  await bench.open('/improve');
  await improveAll(bench);
  await bench.click('run-begin');
  await bench.waitFor('the end of the run', () => bench.has('why'));
  await picture('improve');
  for (let k = 0; k < 4; k++) {
    await bench.driver.findElement(By.css('button[aria-label^="Undo"]')).click();
    await bench.settled();
  }
  await bench.open('/tolerance');
  await bench.select('watched', 'worst_spot');
  await bench.click('ladder-run');
  await bench.waitFor('the ladder', async () => (await bench.text('ladder')).includes('Tried'));
  await bench.click('joint-run');
  await bench.waitFor('the fit', async () => (await bench.text('joint-run')) === 'Fitted');
  await bench.waitFor('all trials', async () => (await bench.value('response-yield', 'trials')) === 100_000);
  await bench.driver.findElement(By.css('[data-deviation]')).click();
  await picture('tolerance');
  await bench.open('/brief');
  await picture('brief');
  await bench.open('/projects');
  await bench.kept();
  await picture('projects');
  for (const [sample, name] of [
    ['sector-lantern', 'scene-lantern'],
    ['sun-in-the-lens', 'scene-sun-night'],
  ]) {
    await bench.open('/projects');
    await bench.choose('file-input', resolve(import.meta.dirname, `../../samples/${sample}.ulvex.json`));
    const title = name === 'scene-lantern' ? 'Sector lantern' : 'Sun in the lens';
    await bench.waitFor('the sample', async () => (await bench.driver.getTitle()).startsWith(title));
    await bench.kept();
    await bench.open('/layout/scene');
    if (name.endsWith('night')) {
      await bench.driver.findElement(By.css('button[aria-label="Night theme"]')).click();
      await bench.click('cut-open');
      await bench.click('thing-camera');
    } else await bench.click('thing-white_led');
    await bench.select('standpoint', name.endsWith('night') ? 'side' : 'oblique');
    await bench.traced();
    await picture(name);
  }
  await bench.driver.findElement(By.css('button[aria-label="Day theme"]')).click();

  // A source on a tilted mirror, step by step.
  await bench.open('/projects');
  await bench.choose('file-input', resolve(import.meta.dirname, '../../samples/tide-camera.ulvex.json'));
  await bench.waitFor('the sample', async () => (await bench.driver.getTitle()).startsWith('Tide camera'));
  await bench.kept();
  await bench.open('/layout/scene');
  await bench.click('scene-begin');
  await bench.settled();
  await bench.click('thing-tide');
  await bench.press(Key.DELETE);
  await bench.add('body:shell');
  await bench.type('place-tx', '45');
  await bench.settled();
  await bench.add('source');
  await bench.select('source-law', 'parallel');
  await bench.type('place-dz', '60');
  await bench.waitFor('the warning', () => bench.has('lost-source'));
  await bench.settled();
  await picture('mirror-1-light-astray');

  // A lamp from the shelf, and its far field.
  await bench.open('/shelf/forms?form=led_lens');
  await bench.waitFor(
    'the form',
    async () => (await (await bench.find('form')).getAttribute('data-shown')) === 'led_lens',
  );
  await bench.click('form-begin');
  await bench.waitFor('its scene', () => bench.has('run-bar'));
  await bench.traced();
  await bench.open('/study');
  await bench.select('add-board', 'far_field');
  await bench.waitFor('its figures', () => bench.has('figure-intensity-0-efficiency'));
  await picture('light-board');
} finally {
  await bench.close();
}
