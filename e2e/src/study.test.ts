import { expect } from 'chai';
import { By, Key } from 'selenium-webdriver';
import type { Bench } from './bench.ts';
import { useBench } from './suite.ts';

describe('the Study room', () => {
  let bench: Bench;
  useBench('/study', (started) => (bench = started));

  const kinds = () =>
    bench.driver.executeScript<string[]>(() =>
      [...document.querySelectorAll<HTMLElement>('[data-kind]')].map((tile) => tile.dataset.kind ?? ''),
    );

  /** Waits for the chart of a tile to be drawn and returns how many curves, bars and clouds it has. */
  async function drawn(tile: string): Promise<number> {
    let count = 0;
    await bench.waitFor(`the chart of ${tile}`, async () => {
      count = await bench.driver.executeScript<number>(
        (name: string) =>
          Number(document.querySelector<HTMLElement>(`[data-testid=${name}] .chart`)?.dataset.series ?? 0),
        tile,
      );
      return count > 0;
    });
    return count;
  }

  /** Opens or shuts the choices of a tile. */
  const choose = (tile: string) =>
    bench.driver.executeScript(
      (name: string) => document.querySelector<HTMLElement>(`[data-testid=${name}] [aria-expanded]`)!.click(),
      tile,
    );

  it('opens with a first look: section, spots, fans, first order', async () => {
    expect(await kinds()).to.deep.equal(['section', 'spots', 'ray_fans', 'first_order']);
    expect(await bench.value('figure-spots-2-RMS', 'value')).to.be.closeTo(8.209, 0.001);
    // Three fields, two directions, three colours.
    expect(await drawn('ray_fans-tile')).to.be.at.least(18);
    expect(await bench.text('first_order-tile')).to.contain('36.0006');
  });

  it('draws the fields and as many rays as a section is asked for', async () => {
    const fields = () =>
      bench.driver.executeScript<string[]>(() =>
        [...document.querySelectorAll<SVGElement>('[data-testid=section-tile] path.ray')].map(
          (path) => path.dataset.field ?? '',
        ),
      );
    expect(await fields()).to.deep.equal(['axis', 'zone', 'edge']);
    await bench.driver.findElement(By.css('button[aria-label="Choices of Section"]')).click();
    await bench.select('section-field', 'edge');
    expect(await fields()).to.deep.equal(['edge']);
    await bench.select('section-rays', '11');
    expect(await bench.text('section-tile')).to.contain('11 rays of field 16°');
    for (const _ of [1, 2]) await bench.chord([Key.CONTROL], 'z');
    await bench.settled();
    expect(await fields()).to.have.length(3);
  });

  it('takes tiles from the shelf, moves, resizes and takes them off by keyboard, and undoes it', async () => {
    await bench.click('add-spots');
    await bench.settled();
    expect(await kinds()).to.have.length(5);
    const grip = await bench.driver.findElement(By.css('[data-grip=t5]'));
    await bench.driver.executeScript((element: HTMLElement) => element.focus(), grip);
    await bench.press(Key.ARROW_LEFT);
    await bench.waitFor('the tile to move', async () => (await kinds())[3] === 'spots');
    await bench.chord([Key.SHIFT], Key.ARROW_RIGHT);
    const width = () =>
      bench.driver.executeScript<string>(
        () => document.querySelector<HTMLElement>('[data-testid=tile-t5]')!.style.gridColumn,
      );
    await bench.waitFor('a wider tile', async () => (await width()) === 'span 8');
    await bench.press(Key.DELETE);
    await bench.waitFor('the tile to go', async () => (await kinds()).length === 4);
    await bench.chord([Key.CONTROL], 'z');
    await bench.waitFor('it to come back', async () => (await kinds()).length === 5);
    await bench.settled();
  });

  it('keeps the arrangement and the choices of tiles with the project', async () => {
    await choose('spots-tile');
    await bench.select('spots-reference', 'chief');
    await bench.kept();
    await bench.reload();
    expect(await kinds()).to.have.length(5);
    expect(await (await bench.find('spots-tile')).getText()).to.contain('about the chief ray');
  });

  it('writes the points of a tile as CSV and its picture as SVG and PNG', async () => {
    const menu = await bench.driver.findElement(By.css('select[aria-label="Write spots to a file"]'));
    await menu.findElement(By.css('option[value=csv]')).click();
    const lines = (await bench.downloaded('spots.csv')).trim().split('\r\n');
    expect(lines[0]).to.equal('picture,series,x µm,y µm');
    // Three fields in three colours, and the outline of an Airy disk each.
    expect(lines).to.have.length(1 + 3 * (3 * 288 + 49));
    await menu.findElement(By.css('option[value=svg]')).click();
    expect(await bench.downloaded('spots.svg')).to.match(/^<svg xmlns=.*8\.\d+ µm/s);
    await menu.findElement(By.css('option[value=png]')).click();
    expect((await bench.downloaded('spots.png')).slice(1, 4)).to.equal('PNG');
    const fans = await bench.driver.findElement(By.css('select[aria-label="Write ray-fans to a file"]'));
    await fans.findElement(By.css('option[value=csv]')).click();
    expect(await bench.downloaded('ray-fans.csv')).to.match(/^picture,series,pupil,error µm\r\naxis tangential,F 486/);
    await fans.findElement(By.css('option[value=svg]')).click();
    expect(await bench.downloaded('ray-fans.svg')).to.match(/^<svg/);
  });

  it('shows wavefront, contrast, field and third order, and follows the lens', async () => {
    const total = async () =>
      (await bench.find('seidel-tile'))
        .findElement(By.css('tfoot td:nth-child(2)'))
        .getProperty('textContent') as Promise<string>;
    for (const kind of ['opd_fans', 'mtf', 'field_curves', 'seidel']) await bench.click(`add-${kind}`);
    await bench.settled();
    expect(await bench.text('opd_fans-tile')).to.match(/λ about the chief ray of each colour/);
    expect(await bench.text('mtf-tile')).to.match(/pupil on the reference sphere · all colours by weight/);
    expect(await bench.text('field_curves-tile')).to.match(/distortion about f·tan θ, the scale of the image surface/);
    expect(await total()).to.equal('6.12'); // waves, as in the reference
    for (const tile of ['opd_fans-tile', 'mtf-tile', 'field_curves-tile']) expect(await drawn(tile)).to.be.above(6);
    await choose('seidel-tile');
    await bench.select('seidel-unit', 'mm');
    await bench.settled();
    expect(await total()).to.equal('0.0288');
    await choose('mtf-tile');
    await bench.select('mtf-method', 'geometric');
    await bench.settled();
    expect(await bench.text('mtf-tile')).to.match(/without diffraction/);
  });

  it('has boards for common questions, and keeps them by name', async () => {
    await bench.select('add-board', 'image');
    await bench.settled();
    expect(await kinds()).to.deep.equal([
      'point_spread',
      'encircled_energy',
      'mtf',
      'mtf_focus',
      'mtf_field',
      'picture',
      'line_edge',
      'point_sections',
    ]);
    // Two curves a field and what the cone of light passes, alike both ways.
    expect(await drawn('mtf_focus-tile')).to.equal(7);
    const peak = Number(await bench.text('figure-point_spread-0-peak').then((text) => /[\d.]+$/.exec(text)![0]));
    expect(peak).to.be.closeTo(0.3363, 0.0005);
    expect(await bench.text('point_spread-tile')).not.to.contain('being refined');
    await bench.click('rename-board');
    await bench.type('board-name', 'Sharpness');
    await bench.settled();
    await bench.kept();
    await bench.reload();
    const names = () =>
      bench.driver.executeScript<string[]>(() =>
        [...document.querySelectorAll<HTMLElement>('nav[aria-label=Boards] .tab')].map((tab) => tab.innerText),
      );
    expect(await names()).to.deep.equal(['First look', 'Sharpness']);
    await bench.click('board-board_2');
    await bench.settled();
    expect(await kinds()).to.have.length(8);
  });

  it('calls a tile as one wishes, by keyboard, and takes the name back', async () => {
    const heading = () =>
      bench.driver.executeScript<string>(
        () => document.querySelector<HTMLElement>('[data-testid=mtf_focus-tile] h2')?.innerText ?? '',
      );
    const grip = await bench.driver.findElement(By.css('[data-kind=mtf_focus] .grip'));
    await grip.sendKeys(Key.F2);
    await bench.type('tile-name', 'Depth for the sensor');
    await bench.waitFor('the name', async () => (await heading()) === 'Depth for the sensor');
    await bench.chord([Key.CONTROL], 'z');
    await bench.waitFor('its title', async () => (await heading()) === 'MTF through focus');
  });

  it('asks an analysis otherwise, refuses numbers out of range, and finds tiles by their questions', async () => {
    await choose('mtf_focus-tile');
    await bench.type('mtf_focus-frequency', '20');
    await bench.settled();
    await bench.type('mtf_focus-range', '-1');
    const tile = await bench.text('mtf_focus-tile');
    expect(tile).to.match(/Range must be from 0 to 1000 mm; 0 is used meanwhile/);
    await choose('mtf_focus-tile');
    await bench.type('find-tile', 'waist');
    const offered = await bench.driver.findElements(By.css('aside[aria-label="Shelf of tiles"] button'));
    expect(await Promise.all(offered.map((one) => one.getAttribute('data-testid')))).to.deep.equal([
      'add-gaussian_beam',
    ]);
    await bench.click('add-gaussian_beam');
    await bench.settled();
    expect(await bench.text('gaussian_beam-tile')).to.match(/last waist 0\.0067\d\d mm/);
    const menu = await bench.driver.findElement(By.css('select[aria-label="Write gaussian-beam to a file"]'));
    await menu.findElement(By.css('option[value=csv]')).click();
    expect(await bench.downloaded('gaussian-beam.csv')).to.match(/surface,radius mm,wavefront behind mm/);
  });

  it('lays the reference under charts, and takes maps from each other', async () => {
    await bench.open('/layout');
    await bench.press(Key.F9);
    await bench.waitFor('the history', () => bench.has('reference-start'));
    await bench.click('reference-start');
    await bench.press(Key.F9);
    await bench.type('radius-l1_front', '*1.002');
    await bench.settled();
    await bench.driver.executeScript(() => document.querySelector<HTMLElement>('nav a[href="/study"]')!.click());
    await bench.waitFor('the board', () => bench.has('board'));
    await bench.click('board-board_2');
    await bench.settled();
    await bench.waitAlong(
      'the reference',
      async () => (await bench.text('figure-point_spread-0-peak')).includes('was'),
      () => bench.text('board'),
    );
    expect(await bench.text('figure-point_spread-0-peak')).to.match(/was 0\.33\d\d/);
    await bench.waitAlong(
      'grey curves',
      async () => (await drawn('mtf_focus-tile')) === 14,
      () => bench.text('board'),
    );
    const maps = () =>
      bench.driver.executeScript<number>(
        () => document.querySelectorAll('[data-testid=point_spread-tile] canvas').length,
      );
    expect(await maps()).to.equal(6);
    await bench.driver.findElement(By.xpath('//button[text()="beside"]')).click();
    await bench.waitFor('differences', async () => (await maps()) === 3);
  });
});
