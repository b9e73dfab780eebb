import axe from 'axe-core';
import { expect } from 'chai';
import { Key } from 'selenium-webdriver';
import type { Bench } from './bench.ts';
import { useBench } from './suite.ts';

interface Violation {
  readonly id: string;
  readonly impact: string | null;
  readonly nodes: readonly { readonly target: readonly string[]; readonly failureSummary?: string }[];
}

describe('everyone can use', () => {
  let bench: Bench;
  useBench('/layout', (started) => (bench = started));

  /** Serious and critical findings of axe on the page as it stands. */
  async function findings(): Promise<string[]> {
    await bench.driver.executeScript(axe.source);
    const violations = await bench.driver.executeAsyncScript<Violation[]>((done: (violations: unknown) => void) => {
      const { axe: tool } = window as unknown as { axe: { run: () => Promise<{ violations: unknown }> } };
      void tool.run().then((result) => done(result.violations));
    });
    return violations
      .filter(({ impact }) => impact === 'serious' || impact === 'critical')
      .flatMap(({ id, nodes }) =>
        nodes.map(({ target, failureSummary }) => `${id}: ${target.join(' ')}: ${failureSummary ?? ''}`),
      );
  }

  for (const room of ['layout', 'layout/scene', 'brief', 'study', 'shelf', 'projects']) {
    it(`the ${room} room, by day and by night`, async () => {
      await bench.open(`/${room}`);
      expect(await findings()).to.deep.equal([]);
      await bench.driver.findElement({ css: 'button[aria-label="Night theme"]' }).click();
      await bench.settled();
      expect(await findings()).to.deep.equal([]);
      await bench.driver.findElement({ css: 'button[aria-label="Day theme"]' }).click();
    });
  }

  it('a coating with its films and curves, by day and by night', async () => {
    await bench.open('/shelf/finishes?finish=broadband');
    await bench.click('finish-copy');
    await bench.waitFor('its films', () => bench.has('film-thickness-0'));
    await bench.click('film-index-0-spectral');
    await bench.select('finish-transmitted', 'gaussian');
    await bench.settled();
    for (const theme of ['Night', 'Day']) {
      expect(await findings(), theme).to.deep.equal([]);
      await bench.driver.findElement({ css: `button[aria-label="${theme} theme"]` }).click();
      await bench.settled();
    }
  });

  it('the numbers of a surface and the ray inspector, by day and by night', async () => {
    await bench.open('/layout');
    await bench.click('radius-l4_back');
    await bench.chord([Key.SHIFT], Key.F2);
    await bench.select('second-tile', 'ray');
    for (const theme of ['Night', 'Day']) {
      for (const part of ['shape', 'aperture', 'place']) {
        await bench.click(`part-${part}`);
        expect(await findings(), part).to.deep.equal([]);
      }
      await bench.driver.findElement({ css: `button[aria-label="${theme} theme"]` }).click();
      await bench.settled();
    }
  });

  it('a study of tolerances and a lot, by day and by night', async () => {
    await bench.open('/tolerance');
    await bench.click('ladder-run');
    await bench.waitFor('the ladder', async () => (await bench.text('ladder')).includes('Tried'));
    await bench.click('suggest');
    await bench.waitFor('the suggestion', () => bench.has('suggest-after'));
    await bench.click('joint-run');
    await bench.waitFor('the fit', async () => (await bench.text('joint-run')) === 'Fitted');
    expect(await findings(), 'by response').to.deep.equal([]);
    await bench.click('way-traced');
    await bench.type('lot-count', '12');
    await bench.click('lot-run');
    await bench.waitFor('the lot', async () => !(await bench.has('lot-progress')) && (await bench.has('histogram')));
    for (const theme of ['Night', 'Day']) {
      expect(await findings(), theme).to.deep.equal([]);
      await bench.driver.findElement({ css: `button[aria-label="${theme} theme"]` }).click();
      await bench.settled();
    }
  });

  it('the bench by keyboard alone: edit, refocus, undo', async () => {
    await bench.open('/layout');
    await bench.driver.executeScript(() => (document.activeElement as HTMLElement | null)?.blur());
    let steps = 0;
    while ((await bench.focused()) !== 'radius-l1_front' && steps++ < 40) await bench.press(Key.TAB);
    expect(await bench.focused()).to.equal('radius-l1_front');
    await bench.press('14', Key.ENTER, Key.ARROW_DOWN);
    await bench.settled();
    expect(await bench.shown('radius-l1_front')).to.equal('14.0000');
    expect(await bench.focused()).to.equal('radius-l1_back');
    const before = await bench.value('chip-worst_spot', 'value');
    await bench.press(Key.F8);
    await bench.waitFor('the refocus', async () => (await bench.value('chip-worst_spot', 'value')) < before);
    await bench.chord([Key.CONTROL], 'z');
    await bench.chord([Key.CONTROL], 'z');
    await bench.settled();
    expect(await bench.shown('radius-l1_front')).to.equal('13.8165');
  });
});
