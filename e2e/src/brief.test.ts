import { expect } from 'chai';
import { By, Key } from 'selenium-webdriver';
import type { Bench } from './bench.ts';
import { useBench } from './suite.ts';

describe('the Brief room', () => {
  let bench: Bench;
  useBench('/brief', (started) => (bench = started));

  const verdict = async (id: string) => (await bench.find(`chip-${id}`)).getAttribute('data-verdict');

  it('edits the system aperture, and the strip follows', async () => {
    await bench.type('aperture-value', '36/4');
    expect(await bench.value('chip-f_number', 'value')).to.be.closeTo(4, 0.001);
    expect(await verdict('f_number')).to.equal('missed');
    await bench.chord([Key.CONTROL], 'z');
    await bench.settled();
    expect(await verdict('f_number')).to.equal('met');
  });

  it('says the aperture and the field in other ways, for the same beam', async () => {
    const choose = async (testid: string, value: string) => {
      await (await bench.find(testid)).findElement(By.css(`option[value=${value}]`)).click();
      await bench.settled();
    };
    const spot = await bench.value('chip-worst_spot', 'value');
    await choose('aperture-kind', 'image_f_number');
    expect(Number(await bench.shown('aperture-value'))).to.be.closeTo(3.50006, 1e-5);
    expect(await bench.text('field-spans')).to.match(/angle half ±16.00°, full 32.00°/);
    await choose('field-kind', 'image_height');
    expect(Number(await bench.shown('field-y-edge'))).to.be.closeTo(36.00061 * Math.tan((16 * Math.PI) / 180), 1e-4);
    expect(await bench.value('chip-worst_spot', 'value')).to.be.closeTo(spot, 1e-6);
    await choose('aperture-kind', 'object_na');
    expect(await bench.text('notice')).to.match(/object NA needs an object at a finite distance/);
    for (let i = 0; i < 2; i++) await bench.chord([Key.CONTROL], 'z');
    await bench.settled();
    expect(await bench.shown('field-y-edge')).to.equal('16');
  });

  it('moves a limit, and refuses limits that contradict each other', async () => {
    await bench.type('max-worst_spot', '8');
    expect(await verdict('worst_spot')).to.equal('missed');
    await bench.type('min-worst_spot', '9');
    expect(await bench.text('notice')).to.match(/lower limit must not be above/);
    expect(await bench.shown('min-worst_spot')).to.equal('–');
    await bench.type('max-worst_spot', '–');
    expect(await verdict('worst_spot')).to.equal('met');
  });

  it('makes a requirement of any measure', async () => {
    const choice = await bench.driver.findElement(By.css('select[aria-label="Measure for a new requirement"]'));
    await choice.findElement(By.css('option[value=back_focal_distance]')).click();
    await bench.click('add-requirement');
    await bench.waitFor('its chip', async () => bench.has('chip-r1'));
    await bench.settled();
    expect(await bench.value('chip-r1', 'value')).to.be.closeTo(30.6439, 0.0001);
    await bench.type('min-r1', '31');
    expect(await verdict('r1')).to.equal('missed');
  });

  it('adds a field point and shows its spot', async () => {
    await bench.click('add-field');
    await bench.settled();
    await bench.type('field-y-f1', '18');
    await bench.open('/layout');
    expect(await bench.value('figure-spots-3-RMS', 'value')).to.be.greaterThan(8);
    await bench.expectQuietConsole();
  });

  it('refuses a field angle that no ray has', async () => {
    await bench.open('/brief');
    await bench.click('field-y-f1');
    await bench.press('95', Key.ENTER);
    expect(await bench.complaint('field-y-f1')).to.match(/below 90/);
    await bench.press(Key.ESCAPE);
  });

  it('shows a lens without wavelengths and says so', async () => {
    for (let i = 0; i < 3; i++) {
      await bench.driver.findElement(By.css('button[aria-label^="Remove wavelength"]')).click();
      await bench.settled();
    }
    await bench.open('/layout');
    expect(await bench.text('findings')).to.match(/No wavelength is given/);
    expect(await bench.has('section')).to.equal(true);
    expect(await bench.text('spots-tile')).to.match(/No primary wavelength/);
  });

  it('keeps notes', async () => {
    await bench.open('/brief');
    await bench.click('notes');
    await bench.chord([Key.CONTROL], 'a');
    await bench.press('Wind from the north.');
    await bench.press(Key.TAB);
    await bench.kept();
    await bench.reload();
    expect(await bench.shown('notes')).to.equal('Wind from the north.');
  });
});
