import { expect } from 'chai';
import { By, Key } from 'selenium-webdriver';
import type { Bench } from './bench.ts';
import { useBench } from './suite.ts';

/** Closings that are tried; more by `ULVEX_CLOSINGS=200 npm run e2e`. */
const CLOSINGS = Number(process.env.ULVEX_CLOSINGS ?? 6);
/** Within which time after Enter the window goes, ms. */
const WITHIN = 300;

describe('a window that is left while one works', () => {
  let bench: Bench;
  useBench('/layout', (started) => (bench = started));

  /** Has the page left by a way, so many milliseconds after the next Enter: measured in the page, where the driver is no part of it. */
  const leaveAfterEnter = (way: 'reload' | 'leave' | 'close', after: number) =>
    bench.driver.executeScript(
      (how: string, ms: number) =>
        window.addEventListener(
          'keydown',
          (event) => {
            if (event.key !== 'Enter') return;
            if (how === 'reload') setTimeout(() => location.reload(), ms);
            else if (how === 'close') setTimeout(() => window.close(), ms);
            else setTimeout(() => location.assign('about:blank'), ms);
          },
          { capture: true },
        ),
      way,
      after,
    );

  it(`loses nothing that was entered, ${CLOSINGS} times within ${WITHIN} ms`, async function () {
    this.timeout(CLOSINGS * 60_000); // each wait has a patience of its own; this only ends what hangs
    await bench.kept();
    const lost: string[] = [];
    for (let i = 0; i < CLOSINGS; i++) {
      const way = (['reload', 'leave', 'close'] as const)[i % 3];
      const after = Math.round((WITHIN * i) / Math.max(1, CLOSINGS - 1));
      const radius = (13.9 + 0.0001 * (i + 1)).toFixed(4);
      if (way === 'close') {
        // In a tab of its own, for the browser stays.
        const first = await bench.driver.getWindowHandle();
        await bench.driver.executeScript(() => window.open('about:blank', '_blank'));
        const second = (await bench.driver.getAllWindowHandles()).find((handle) => handle !== first)!;
        await bench.driver.get('about:blank');
        await bench.driver.switchTo().window(second);
        await bench.open('/layout');
        await leaveAfterEnter('close', after);
        await bench.enter('radius-l1_front', radius).catch(() => {}); // the window may be gone while the driver still types
        await bench.waitFor(
          'the tab to close',
          async () => !(await bench.driver.getAllWindowHandles()).includes(second),
        );
        await bench.driver.switchTo().window(first);
      } else {
        await leaveAfterEnter(way, after);
        await bench.enter('radius-l1_front', radius).catch(() => {});
        if (way === 'reload')
          await bench.waitFor('the new page', async () =>
            bench.driver.executeScript<boolean>(
              () => performance.getEntriesByType('navigation')[0]?.toJSON().type === 'reload',
            ),
          );
        else
          await bench.waitFor('the other page', async () => (await bench.driver.getCurrentUrl()).startsWith('about:'));
      }
      await bench.open('/layout');
      const shown = await bench.shown('radius-l1_front');
      if (shown !== radius) lost.push(`${way} after ${after} ms: ${shown} in place of ${radius}`);
    }
    expect(lost).to.deep.equal([]);
  });

  it('puts what was being typed back into its cell, with its preview', async () => {
    await bench.kept();
    await bench.click('radius-l2_back');
    await bench.press('12.7');
    await bench.settled();
    await bench.reload();
    await bench.waitFor('the text', async () => (await bench.shown('radius-l2_back')) === '12.7');
    expect(await bench.focused()).to.equal('radius-l2_back');
    await bench.press(Key.ENTER);
    await bench.settled();
    expect(await bench.shown('radius-l2_back')).to.equal('12.7000');
    await bench.kept();
    await bench.reload();
    expect(await bench.shown('radius-l2_back')).to.equal('12.7000');
    expect(await bench.has('notice')).to.equal(false);
  });

  it('says what it will not take instead of keeping what cannot be read back', async () => {
    await bench.click('project-name');
    await bench.press('n'.repeat(501), Key.ENTER);
    await bench.waitFor('the word', () => bench.has('notice'));
    expect(await bench.text('notice')).to.match(/could not be kept.*Nothing was changed.*name: longer than 500/s);
    await bench.reload();
    expect(await bench.shown('project-name')).to.equal('Tide camera');
    await bench.driver.findElement(By.css('nav a[href="/projects"]')).click();
    await bench.waitFor('the list', () => bench.has('sample-sector-lantern'));
    await bench.click('sample-sector-lantern');
    await bench.waitFor(
      'the lantern',
      async () => (await bench.shown('project-name').catch(() => '')) === 'Sector lantern',
    );
    await bench.settled();
    await bench.kept();
    await bench.reload();
    expect(await bench.shown('project-name')).to.equal('Sector lantern');
  });
});
