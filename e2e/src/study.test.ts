import { expect } from 'chai';
import { By, Key } from 'selenium-webdriver';
import { useBench, type Bench } from './bench.ts';

describe('the Study room', () => {
  let bench: Bench;
  useBench('/study', (started) => (bench = started));

  const kinds = () =>
    bench.driver.executeScript<string[]>(() =>
      [...document.querySelectorAll<HTMLElement>('[data-kind]')].map((tile) => tile.dataset.kind ?? ''),
    );

  /** Waits for a chart of the ray fans to be drawn and returns its lines. */
  async function fanLines(): Promise<number> {
    let count = 0;
    await bench.waitFor('ray fans', async () => {
      count = (await bench.driver.findElements(By.css('[data-testid=fan-tile] svg path[fill=none]'))).length;
      return count > 0;
    });
    return count;
  }

  it('opens with a first look: section, spots, fans, first order', async () => {
    expect(await kinds()).to.deep.equal(['section', 'spots', 'ray_fans', 'first_order']);
    expect(await bench.value('spot-edge', 'rms')).to.be.closeTo(8.209, 0.001);
    // Three fields, two directions, three colours.
    expect(await fanLines()).to.be.at.least(18);
    expect(await bench.text('first-order-tile')).to.contain('36.0006');
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
    const first = await bench.find('spot-tile');
    await first.findElement(By.css('button.choice')).click();
    await bench.settled();
    await bench.kept();
    await bench.reload();
    expect(await kinds()).to.have.length(5);
    expect(await (await bench.find('spot-tile')).getText()).to.contain('about chief');
  });

  it('writes the points of a tile as CSV and its picture as SVG and PNG', async () => {
    const menu = await bench.driver.findElement(By.css('select[aria-label="Write spots to a file"]'));
    await menu.findElement(By.css('option[value=csv]')).click();
    const lines = (await bench.downloaded('spots.csv')).trim().split('\r\n');
    expect(lines[0]).to.equal('field,wavelength nm,x µm,y µm');
    expect(lines).to.have.length(1 + 3 * 3 * 288);
    await menu.findElement(By.css('option[value=svg]')).click();
    expect(await bench.downloaded('spots.svg')).to.match(/^<svg xmlns=.*RMS 8\.\d+ µm/s);
    await menu.findElement(By.css('option[value=png]')).click();
    expect((await bench.downloaded('spots.png')).slice(1, 4)).to.equal('PNG');
    const fans = await bench.driver.findElement(By.css('select[aria-label="Write ray-fans to a file"]'));
    await fans.findElement(By.css('option[value=csv]')).click();
    expect(await bench.downloaded('ray-fans.csv')).to.match(
      /^field,fan,wavelength nm,pupil,error µm\r\naxis,tangential,486/,
    );
    await fans.findElement(By.css('option[value=svg]')).click();
    expect(await bench.downloaded('ray-fans.svg')).to.match(/^<svg/);
  });

  it('shows wavefront, contrast, field and third order, and follows the lens', async () => {
    for (const kind of ['opd_fans', 'mtf', 'field_curves', 'seidel']) await bench.click(`add-${kind}`);
    await bench.settled();
    expect(await bench.text('opd-tile')).to.match(/λ about the chief ray of each colour/);
    expect(await bench.text('mtf-tile')).to.match(/pupil in direction cosines · all colours by weight/);
    expect(await bench.text('field-tile')).to.match(/distortion about f·tan θ/);
    expect(await bench.text('seidel-s1')).to.equal('6.12'); // waves, as in the reference
    const curves = (tile: string) =>
      bench.driver.executeScript<number>(
        (name: string) => document.querySelectorAll(`[data-testid=${name}] svg path[fill=none]`).length,
        tile,
      );
    for (const tile of ['opd-tile', 'mtf-tile', 'field-tile'])
      await bench.waitFor(`curves of ${tile}`, async () => (await curves(tile)) > 6);
    const choose = (tile: string) =>
      bench.driver.executeScript(
        (name: string) =>
          document.querySelector<HTMLElement>(`[data-testid=${name}] [aria-expanded]`)!.click(),
        tile,
      );
    await choose('seidel-tile');
    await bench.select('seidel-unit', 'mm');
    await bench.settled();
    expect(await bench.text('seidel-s1')).to.equal('0.0288');
    await choose('mtf-tile');
    await bench.select('mtf-method', 'geometric');
    await bench.settled();
    expect(await bench.text('mtf-tile')).to.match(/without diffraction/);
  });
});
