import { expect } from 'chai';
import { writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';
import { By, Key } from 'selenium-webdriver';
import type { Bench } from './bench.ts';
import { useBench } from './suite.ts';

describe('pictures of targets, landscapes, and other projects as the reference', () => {
  let bench: Bench;
  useBench('/study', (started) => (bench = started));

  /** Darkest, brightest and mean tone of the picture, and how far its colours are from grey. */
  const tones = () =>
    bench.driver.executeScript<{ low: number; high: number; mean: number; colour: number; side: number }>(() => {
      const canvas = document.querySelector<HTMLCanvasElement>('[data-testid=picture-tile] canvas')!;
      const { data } = canvas.getContext('2d')!.getImageData(0, 0, canvas.width, canvas.height);
      let [low, high, sum, colour] = [255, 0, 0, 0];
      for (let i = 0; i < data.length; i += 4) {
        low = Math.min(low, data[i + 1]);
        high = Math.max(high, data[i + 1]);
        sum += data[i + 1];
        colour = Math.max(colour, Math.abs(data[i] - data[i + 2]));
      }
      return { low, high, mean: sum / (data.length / 4), colour, side: canvas.width };
    });
  const choices = () => bench.driver.findElement(By.css('button[aria-label="Choices of Picture of a target"]')).click();
  const tile = () => bench.text('picture-tile');

  it('renders words at the edge of the field, and in full when the model rests', async () => {
    await bench.click('add-picture');
    await bench.settled();
    expect(await tile()).to.match(
      /256 × 256 cells of 1\.17 µm · spread by diffraction at 27 places · all colours by weight/,
    );
    const { low, high, side } = await tones();
    expect(side).to.equal(256);
    // Letters of 7 µm strokes are blurred, but read: neither black nor gone.
    expect(low).to.be.within(60, 200);
    expect(high).to.be.above(230);
  });

  it('takes another target and the whole field, and shows only the choices that count', async () => {
    await choices();
    expect(await bench.has('picture-text')).to.equal(true);
    await bench.select('picture-target', 'grid');
    expect(await bench.has('picture-text')).to.equal(false);
    await bench.type('picture-periods', '0');
    expect(await tile()).to.match(/Periods must be from 0\.5 to 500; 12 is used meanwhile/);
    await bench.select('picture-field', 'whole');
    expect(await tile()).to.match(/384 × 384 cells of 37\.\d µm/);
    expect((await tones()).low).to.be.below(140);
    await bench.select('picture-blur', 'none');
    expect(await tile()).to.match(/not spread/);
  });

  it('takes a picture from a file, and refuses what is none', async () => {
    await bench.select('picture-target', 'picture');
    expect(await tile()).to.match(/Choose a picture file/);
    const text = join(tmpdir(), `ulvex-words-${process.pid}.png`);
    writeFileSync(text, 'no picture');
    await bench.choose('picture-picture', text);
    await bench.waitFor('the refusal', async () => (await tile()).includes('cannot be read as a picture'));
    await bench.choose('picture-picture', resolve(import.meta.dirname, '../../docs/screenshots/brief.png'));
    await bench.waitFor('the picture', async () => (await tile()).includes('192×120 dots kept'));
    await bench.settled();
    // Beside the picture it is black, in it as bright as paper.
    const { low, high } = await tones();
    expect(low).to.equal(0);
    expect(high).to.be.above(200);
    await bench.kept();
    await bench.reload();
    await bench.settled();
    expect((await tones()).high).to.equal(high);
    const menu = await bench.driver.findElement(By.css('select[aria-label="Write picture to a file"]'));
    await menu.findElement(By.css('option[value=svg]')).click();
    expect(await bench.downloaded('picture.svg')).to.match(/<image [^>]*href="data:image\/png;base64,/);
  });

  it('draws clouds of dots whole, however many they are', async () => {
    await bench.click('add-spots_field');
    await bench.settled();
    // Thousands of dots in three colours: the upper half of the picture holds as many as the lower one.
    const halves = () =>
      bench.driver.executeScript<readonly number[]>(() => {
        const found = [0, 0];
        // The chart library draws each cloud on a sheet of its own.
        for (const canvas of document.querySelectorAll<HTMLCanvasElement>('[data-testid=spots_field-tile] canvas')) {
          const { width, height } = canvas;
          const { data } = canvas.getContext('2d')!.getImageData(0, 0, width, height);
          for (let i = 0; i < width * height; i++) {
            const [r, g, b] = [data[4 * i], data[4 * i + 1], data[4 * i + 2]];
            if (data[4 * i + 3] > 200 && Math.max(r, g, b) - Math.min(r, g, b) > 90)
              found[i < (width * height) / 2 ? 0 : 1]++;
          }
        }
        return found;
      });
    await bench.waitFor('the dots', async () => (await halves())[1] > 300);
    const [upper, lower] = await halves();
    expect(upper / lower).to.be.within(0.6, 1.7);
  });

  it('shows maps as landscapes', async () => {
    await bench.click('add-wavefront_map');
    await bench.settled();
    const button = await bench.driver.findElement(
      By.css('[data-testid=wavefront_map-tile] button[title="Show the values as heights"]'),
    );
    await button.click();
    const lands = await bench.driver.findElements(By.css('[data-testid=wavefront_map-tile] [data-testid=height-plot]'));
    expect(lands).to.have.length(3);
    expect((await lands[0].findElements(By.css('.line'))).length).to.be.above(50);
  });

  it('lays another project under this one', async () => {
    await bench.open('/projects');
    await bench.choose('file-input', resolve(import.meta.dirname, '../../samples/ice-glass.ulvex.json'));
    await bench.waitFor('the telescope', async () => (await bench.driver.getTitle()).startsWith('Ice glass'));
    await bench.kept();
    await bench.open('/layout');
    await bench.press(Key.F9);
    await bench.waitFor('the other project', () => bench.has('reference-project'));
    const list = await bench.find('reference-project');
    await list.findElement(By.xpath('./option[text()="Tide camera"]')).click();
    await bench.waitFor('the reference', async () =>
      (await bench.driver.findElement(By.css('header')).getText()).includes('reference: Tide camera'),
    );
    await bench.waitFor('its lens in grey', async () =>
      bench.driver.executeScript<boolean>(
        () => document.querySelectorAll('[data-testid=section] path.before').length > 8,
      ),
    );
  });
});
