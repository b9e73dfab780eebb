import { expect } from 'chai';
import { By, Key } from 'selenium-webdriver';
import type { Bench } from './bench.ts';
import { useBench } from './suite.ts';

describe('other forms of a lens', () => {
  let bench: Bench;
  useBench('/projects', (started) => (bench = started));
  const over = async () => (await (await bench.find('moves')).getAttribute('data-running')) === 'false';

  it('begin with a sample that has its way in the history', async () => {
    await bench.openSample('four-element-way', 'Four elements, the way there');
    await bench.press(Key.F9);
    await bench.waitFor('the history', async () => (await bench.text('window')).includes('Polished, its own glasses'));
    expect(await bench.text('window')).to.include('The rough form');
    await bench.press(Key.F9);
  });

  it('are tried one by one, the best of them first, and one is kept in one step', async () => {
    await bench.driver.findElement(By.css('nav a[href="/improve"]')).click();
    await bench.waitFor('the room', () => bench.has('moves-begin'));
    await bench.settled();
    const merit = await bench.value('merit', 'merit');
    for (const kind of ['glass', 'split']) await bench.click(`move-${kind}`);
    await bench.click('moves-begin');
    await bench.waitFor('the end of the trials', over);
    const text = await bench.text('moves');
    expect(text).to.match(/4 of 4/);
    expect(text).to.match(/−\d+ %\s+[^\n]+ aspheric/);
    await bench.click('move-keep');
    await bench.settled();
    expect(await bench.value('merit', 'merit')).to.be.below(0.9 * merit);
    await bench.waitFor('powers that may move', async () => (await bench.text('free-numbers')).includes('a4'));
    await bench.chord([Key.CONTROL], 'z');
    await bench.settled();
    expect(await bench.value('merit', 'merit')).to.equal(merit);
  });

  it('take glasses of the shortlist alone, and say so where none is left', async () => {
    await bench.click('move-asphere');
    await bench.click('move-glass');
    await bench.click('shortlist-open');
    await bench.type('rule-minIndex', '3');
    expect(Number(await (await bench.find('shortlist')).getAttribute('data-count'))).to.equal(0);
    expect(await bench.text('shortlist')).to.match(/No glass meets all rules/);
    await bench.click('moves-begin');
    await bench.waitFor('the word', () => bench.has('moves-failure'));
    await bench.type('rule-minIndex', 'many');
    expect(await bench.text('window')).to.match(/Type a number/);
    await bench.press(Key.ESCAPE);
    await bench.type('rule-minIndex', '–');
    expect(Number(await (await bench.find('shortlist')).getAttribute('data-count'))).to.be.above(70);
  });
});
