import { expect } from 'chai';
import { By, Key } from 'selenium-webdriver';
import type { Bench } from './bench.ts';
import { useBench } from './suite.ts';
import { improveAll, improveRadii } from './improve-steps.ts';

describe('Improve', () => {
  let bench: Bench;
  useBench('/improve', (started) => (bench = started));

  const status = async () => (await bench.find('run')).getAttribute('data-status');
  const over = () =>
    bench.waitAlong(
      'the end of the run',
      async () => /done|cancelled/.test((await status()) ?? '') && (await bench.has('why')),
      async () => `${await status()} ${await (await bench.find('run')).getAttribute('data-merit')}`,
    );
  const goTo = async (room: string, sign: string) => {
    // A link to where one is takes the focus away once more when it has been followed: what is typed meanwhile is lost.
    if (new URL(await bench.driver.getCurrentUrl()).pathname === room) return bench.settled();
    await bench.driver.findElement(By.css(`nav a[href="${room}"]`)).click();
    await bench.waitFor(room, () => bench.has(sign));
    await bench.settled();
  };

  it('says what is missing before it can run', async () => {
    await bench.click('run-begin');
    await bench.waitFor('the word', () => bench.has('run-failure'));
    expect(await bench.text('run-failure')).to.match(/No number is free/);
  });

  it('takes numbers and goals in few actions, and shows how they stand', async () => {
    await improveAll(bench);
    expect(await bench.text('goal-now-g1')).to.match(/6\.98\d* µm/);
    expect(await bench.value('merit', 'merit')).to.be.above(50); // an edge is too thin for the usual limits
    await bench.click('goal-g1');
    expect(await bench.text('goals')).to.match(/4 rings × 8 arms/);
  });

  it('polishes beside the lens, says why it stopped, and is kept as one step', async () => {
    const spot = await bench.value('chip-worst_spot', 'value');
    await bench.click('run-begin');
    await over();
    expect(await bench.value('chip-worst_spot', 'value')).to.equal(spot); // nothing has changed yet
    expect(await bench.value('run', 'merit')).to.be.below(8);
    expect(Number(await (await bench.find('merit-line')).getAttribute('data-points'))).to.be.above(3);
    expect(await bench.text('why')).to.match(/makes \d+ % of it/);
    await bench.click('run-keep');
    await bench.settled();
    expect(await bench.value('chip-worst_spot', 'value')).to.not.equal(spot);
    expect(await bench.value('merit', 'merit')).to.be.below(8);
    await bench.chord([Key.CONTROL], 'z');
    await bench.settled();
    expect(await bench.value('chip-worst_spot', 'value')).to.equal(spot);
  });

  it('goes on behind other rooms while the lens is edited: neither the edits nor the run are lost', async () => {
    await bench.click('run-begin');
    await bench.waitFor('the run', async () => (await status()) !== 'none');
    await goTo('/layout', 'section');
    await bench.type('semi-l4_back', '5.7');
    await goTo('/improve', 'run');
    await over();
    expect(await bench.text('run')).to.match(/changed since the run began/);
    const before = await bench.value('merit', 'merit');
    await bench.click('run-keep');
    await bench.settled();
    expect(await bench.value('merit', 'merit')).to.be.below(0.2 * before);
    await goTo('/layout', 'section');
    expect(await bench.shown('semi-l4_back')).to.match(/^5\.70?/);
  });

  it('finds what a workshop would regret, and mends it in one step that can be taken back', async () => {
    await goTo('/layout', 'section');
    await bench.type('radius-l1_back', '90000');
    await goTo('/improve', 'run');
    await bench.waitFor('the check', () => bench.has('mend-l1_back'));
    expect(await bench.text('making-checks')).to.match(/L1 back is nearly flat/);
    await bench.click('mend-l1_back');
    await bench.settled();
    await bench.waitFor('it to be mended', async () => !(await bench.has('mend-l1_back')));
    await bench.chord([Key.CONTROL], 'z');
    await bench.waitFor('it to be back', () => bench.has('mend-l1_back'));
    await bench.settled();
  });

  it('asks before a run without any limit, and keeps the lens where the answer is no', async () => {
    await bench.open('/improve');
    await bench.click('making-on');
    await bench.settled();
    for (const id of ['g2', 'g3', 'g4', 'g5', 'g6', 'g7'])
      if (await bench.has(`goal-on-${id}`)) await bench.click(`goal-on-${id}`);
    await bench.settled();
    await bench.click('run-begin');
    await bench.waitFor('the question', () => bench.has('run-ask'));
    expect(await status()).to.equal('asking');
    await bench.driver.findElement(By.css('[data-testid=run-ask] button:last-child')).click();
    expect(await status()).to.equal('none');
    await bench.click('run-begin');
    await bench.waitFor('the question', () => bench.has('run-ask'));
    await bench.click('run-anyway');
    // One that is stopped before its first evaluation has nothing to look at, and says that instead of why it ended.
    await bench.waitFor('its first evaluation', async () => {
      const merit = await (await bench.find('run')).getAttribute('data-merit');
      return merit !== null && merit !== '';
    });
    // It may end by itself at any moment: looked for and pressed in one go.
    await bench.driver.executeScript(() => document.querySelector<HTMLElement>('[data-testid=run-stop]')?.click());
    await over();
    await bench.click('run-throw');
    expect(await status()).to.equal('none');
  });

  it('says so where it is stopped before its first evaluation', async () => {
    // Pressed as soon as it is there, before any answer of a worker can arrive.
    await bench.driver.executeScript(() => {
      const watch = new MutationObserver(() => {
        const stop = document.querySelector<HTMLElement>('[data-testid=run-stop]');
        if (!stop) return;
        watch.disconnect();
        stop.click();
      });
      watch.observe(document.body, { childList: true, subtree: true });
    });
    await bench.click('run-begin');
    await bench.waitFor('the question', () => bench.has('run-ask'));
    await bench.click('run-anyway');
    await bench.waitFor('the word', () => bench.has('run-early'));
    expect(await bench.text('run-early')).to.match(/before its first evaluation/);
    expect(await status()).to.equal('cancelled');
    expect(await bench.has('why')).to.equal(false);
    expect(await bench.has('run-begin')).to.equal(true);
  });
});

describe('a search of Improve', () => {
  let bench: Bench;
  useBench('/improve', (started) => (bench = started));

  const found = async () => Number(await (await bench.find('search')).getAttribute('data-found'));
  const running = async () => (await (await bench.find('search')).getAttribute('data-running')) === 'true';

  it('fills a gallery, is stopped, and one of its lenses is kept with its glasses', async () => {
    await improveRadii(bench);
    await bench.click('search-begin');
    await bench.waitFor('two candidates', async () => (await found()) >= 2);
    expect(await running()).to.equal(true);
    await bench.click('search-stop');
    await bench.waitFor('its end', async () => !(await running()));
    await bench.waitFor('what it keeps', async () => /\d of 6 kept/.test(await bench.text('search')));
    await bench.click('candidate-beside');
    await bench.driver.findElement(By.css('nav a[href="/layout"]')).click();
    await bench.waitFor('the candidate in grey', async () => (await bench.text('window')).includes('found: merit'));
    await bench.driver.findElement(By.css('nav a[href="/improve"]')).click();
    await bench.waitFor('the gallery', () => bench.has('candidate-keep'));
    await bench.settled();
    const before = await bench.value('merit', 'merit');
    await bench.click('candidate-keep');
    await bench.settled();
    expect(await bench.value('merit', 'merit')).to.be.below(before);
    await bench.chord([Key.CONTROL], 'z');
    await bench.settled();
    expect(await bench.value('merit', 'merit')).to.equal(before);
  });

  it('is there again after the page was closed, and goes on', async () => {
    const kept = await found();
    await bench.kept();
    await bench.reload();
    await bench.waitFor('the gallery', async () => (await found()) === kept);
    await bench.click('search-on');
    await bench.waitFor('the search', running);
    await bench.click('search-stop');
    await bench.waitFor('its end', async () => !(await running()));
    expect(await found()).to.be.at.least(kept);
    await bench.click('search-throw');
    expect(await found()).to.equal(0);
  });
});
