import { expect } from 'chai';
import { By, Key } from 'selenium-webdriver';
import type { Bench } from './bench.ts';
import { useBench } from './suite.ts';

describe('finishes on the shelf', () => {
  let bench: Bench;
  useBench('/shelf/finishes', (started) => (bench = started));

  const pick = async (id: string) => (await bench.driver.findElement(By.css(`[data-finish=${id}]`))).click();
  /** A share of the line of values, in percent. */
  async function share(name: string): Promise<number> {
    const found = new RegExp(`${name}\\s+([\\d.e−-]+) %`).exec(await bench.text('curve-values'));
    return Number(found?.[1].replace('−', '-'));
  }
  const reflects = (percent: number) =>
    bench.waitFor(`${percent} % reflected`, async () => Math.abs((await share('reflected')) - percent) < 1e-3);

  it('tells what they do to light, over wavelength and angle', async () => {
    await pick('bare');
    await bench.enter('curve-nm', '587.5618');
    // ((n − 1)/(n + 1))² of the lens’s first glass, 517642.
    await bench.select('curve-behind', 'g517642');
    await reflects(100 * (0.5168 / 2.5168) ** 2);
    await bench.enter('curve-degrees', '95');
    expect(await bench.complaint('curve-degrees')).to.match(/from 0 to 89\.9/);
    await bench.press(Key.ESCAPE);
    await bench.waitFor('both charts', async () => {
      const charts = await bench.driver.findElements(By.css('[data-points]'));
      const points = await Promise.all(charts.map((chart) => chart.getAttribute('data-points')));
      return points.length === 2 && points.every((count) => Number(count) > 100);
    });
  });

  it('a coating is taken in, its films are changed by hand and by material, and all is undone', async () => {
    await pick('single_layer');
    await bench.click('finish-copy');
    await bench.waitFor('its films', () => bench.has('film-thickness-0'));
    await bench.enter('curve-nm', '550');
    // ((n₀ n₂ − n₁²)/(n₀ n₂ + n₁²))² of a quarter wave: near the index of 517642 at 550 nm.
    const quarter = (n: number) => 100 * ((n - 1.38 ** 2) / (n + 1.38 ** 2)) ** 2;
    await bench.waitFor('its quarter wave', async () => Math.abs((await share('reflected')) - quarter(1.51852)) < 2e-3);
    await bench.enter('film-quarters-0', '2');
    await bench.settled();
    expect(Number(await bench.shown('film-thickness-0'))).to.be.closeTo(550 / 2 / 1.38, 1e-3);
    await bench.enter('film-thickness-0', '-4');
    expect(await bench.complaint('film-thickness-0')).to.match(/above 0/);
    await bench.press(Key.ESCAPE);
    await bench.select('film-material-0', 'magnesium_fluoride_o');
    await bench.settled();
    expect(await bench.text('film-0')).to.match(/n 1\.3[78]\d* at 550 nm/);
    await bench.click('film-add-inner');
    await bench.settled();
    expect(await bench.has('film-1')).to.equal(true);
    for (let k = 0; k < 3; k++) await bench.driver.findElement(By.css('button[aria-label^="Undo"]')).click();
    await bench.settled();
    expect(await bench.has('film-1')).to.equal(false);
    await bench.waitFor('the quarter wave again', async () => (await bench.shown('film-quarters-0')) === '1');
  });

  it('a reflectance is given over the wavelength, row by row or pasted, and a wrong row is refused', async () => {
    await pick('white_paint');
    await bench.click('finish-copy');
    await bench.click('finish-reflectance-spectral');
    await bench.settled();
    await bench.enter('finish-reflectance-r2', '0.3');
    await bench.settled();
    await bench.enter('curve-nm', '700');
    await reflects(30);
    await bench.enter('curve-nm', '550');
    await reflects(60); // halfway from 0.9 at 400 nm
    await bench.enter('finish-reflectance-r2', '1.5');
    expect(await bench.complaint('finish-reflectance-r2')).to.match(/Reflectance at 700 nm must be at most 1/);
    await bench.press(Key.ESCAPE);
    const paste = (text: string) =>
      bench.driver.executeScript((given: string) => {
        const data = new DataTransfer();
        data.setData('text/plain', given);
        const rows = document.querySelector('[data-testid=finish-reflectance-rows]')!;
        rows.dispatchEvent(new ClipboardEvent('paste', { clipboardData: data, bubbles: true }));
      }, text);
    await paste('nm\tR\n500\t10 %\n600\t70 %');
    await reflects(40);
    await paste('500 0.1\n600 7');
    expect(await bench.text('notice')).to.match(/Line 2.*at most 1.*Nothing was changed/);
    await reflects(40);
    await bench.click('finish-reflectance-one');
    await bench.settled();
    expect(Number(await bench.shown('finish-reflectance'))).to.be.closeTo(0.43, 1e-9);
  });

  it('knows what carries it, and is not deleted from under a surface', async () => {
    await pick('single_layer');
    expect(await bench.text('finish-uses')).to.match(/On no surface or face yet/);
    await bench.open('/layout');
    await bench.click('radius-l1_front');
    await bench.chord([Key.SHIFT], Key.F2);
    await bench.click('part-coating');
    await bench.select('surface-finish', 'single_layer');
    await bench.settled();
    await bench.click('surface-finish-edit');
    await bench.waitFor('its sheet', async () => /On tide\.l1_front\./.test(await bench.text('finish-uses')));
    expect(await (await bench.find('finish-delete')).isEnabled()).to.equal(false);
    await bench.open('/shelf/finishes?finish=white_paint');
    await bench.click('finish-delete');
    await bench.settled();
    expect(await bench.text('notice')).to.match(/White paint 90 % is deleted/);
    await bench.click('notice-action');
    await bench.settled();
    expect(await bench.driver.findElements(By.css('[data-finish=white_paint]'))).to.have.length(1);
  });
});
