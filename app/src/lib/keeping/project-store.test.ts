import { expect } from 'chai';
import { backupText, commit, EMPTY_HISTORY, readBackup, type Project, type Tracked } from '@ulvex/core';
import { MemoryStore, memoryPages } from './fixtures.ts';
import { Journal, leftOf, putIn, withLeft } from './journal.ts';
import { Overtaken, ProjectStore } from './project-store.ts';
import { makeSlot, type Slot } from './slots.ts';

const PROJECT: Project = {
  format: 'ulvex-project',
  version: 3,
  name: 'Ice glass',
  notes: '',
  lenses: [],
  materials: [],
  requirements: [],
};
const start: Tracked = { project: PROJECT, history: EMPTY_HISTORY };
const noted = (tracked: Tracked, notes: string, time = 1) =>
  commit(tracked, [{ kind: 'set', path: 'notes', value: notes }], notes, time);
const notes = (tracked: Tracked | null | undefined) => tracked?.project.notes;

describe('the store of projects', () => {
  let memory: MemoryStore;
  let store: ProjectStore;
  let clock = 1000;
  beforeEach(() => {
    memory = new MemoryStore();
    store = new ProjectStore(memory, () => clock++);
  });

  /** Keeps versions one after the other; returns them and the keep. */
  async function kept(...texts: string[]) {
    const keep = { id: 'a', sequence: 0 };
    let tracked = start;
    for (const text of texts) await store.keep(keep, (tracked = noted(tracked, text)));
    return { keep, tracked };
  }
  const slots = () => [0, 1].map((n) => [`slot/a/${n}`, memory.values.get(`slot/a/${n}`) as Slot] as const);
  const newest = () => slots().sort(([, a], [, b]) => b.sequence - a.sequence)[0];

  it('gives the last version back, with its history', async () => {
    const { tracked } = await kept('one', 'two', 'three');
    const recalled = await store.recall('a');
    expect(recalled?.tracked).to.deep.equal(tracked);
    expect(recalled?.keep).to.deep.equal({ id: 'a', sequence: 3 });
    expect(await store.list()).to.deep.include({ id: 'a', name: 'Ice glass', savedAt: clock - 1 });
    expect(await store.recall('b')).to.equal(null);
  });

  for (const [what, spoil] of [
    ['torn', (slot: Slot): unknown => ({ ...slot, text: slot.text.slice(0, -9) })],
    ['no project', (slot: Slot): unknown => makeSlot('{"project":{"format":"other"}}', slot.sequence, slot.savedAt)],
    ['not JSON', (slot: Slot): unknown => makeSlot('{"pro', slot.sequence, slot.savedAt)],
    ['something else', (): unknown => ({ sequence: 99, text: 7 })],
  ] as const)
    it(`falls back to the older slot where the newer is ${what}, hands its text over, and goes on from there`, async () => {
      await kept('one', 'two');
      const [key, slot] = newest();
      memory.values.set(key, spoil(slot));
      const recalled = (await store.recall('a'))!;
      expect(notes(recalled.tracked)).to.equal('one');
      expect(recalled.unreadable).to.have.length(1);
      expect(recalled.unreadable[0].reason).to.not.equal('');
      await store.keep(recalled.keep, noted(recalled.tracked, 'mended'));
      expect(notes((await store.recall('a'))?.tracked), 'the broken slot does not win').to.equal('mended');
      expect(notes((await new ProjectStore(memory).recall('a'))?.tracked)).to.equal('mended');
    });

  it('keeps what is unreadable at hand, also when it is written over', async () => {
    await kept('one');
    memory.values.set('slot/a/0', makeSlot('{"project":3}', 5, 1));
    expect(await store.recall('a')).to.equal(null);
    await store.restore([{ id: 'a', savedAt: 1, tracked: noted(start, 'from the backup') }], () => 'fresh');
    expect(notes((await store.recall('a'))?.tracked), 'a restored backup wins').to.equal('from the backup');
    expect((await store.unreadable('a'))[0].text).to.equal('{"project":3}');
  });

  it('overwrites nothing that another tab has kept since', async () => {
    const { keep, tracked } = await kept('one');
    const other = (await store.recall('a'))!;
    await store.keep(other.keep, noted(other.tracked, 'theirs'));
    const refusal = await store.keep(keep, noted(tracked, 'mine')).then(
      () => null,
      (error: unknown) => error,
    );
    expect(refusal).to.be.instanceOf(Overtaken);
    expect(notes((await store.recall('a'))?.tracked)).to.equal('theirs');
  });

  it('backs up what reads and, as text, what does not, and says so on reading', async () => {
    await kept('one');
    await store.keep({ id: 'abcdef00', sequence: 0 }, noted(start, 'whole'));
    memory.values.set('slot/a/0', makeSlot('{"project":3}', 5, 1));
    const { projects, unreadable } = await store.backup();
    expect(projects.map(({ id }) => id)).to.deep.equal(['abcdef00']);
    expect(unreadable[0]).to.include({ id: 'a', name: 'Ice glass', text: '{"project":3}' });
    const read = readBackup(backupText(projects, unreadable));
    if (!read.ok) throw new Error(read.reason);
    expect(read.value.projects).to.have.length(1);
    expect(read.value.broken).to.deep.equal([
      'Ice glass: it did not read when the backup was made; its text is in the file',
    ]);
  });

  it('restores beside what has changed since, leaves alone what is as it was, and deletes and puts back whole', async () => {
    await kept('one', 'two');
    const { projects } = await store.backup();
    expect(await store.restore(projects, () => 'fresh')).to.equal(0);
    const recalled = (await store.recall('a'))!;
    await store.keep(recalled.keep, noted(recalled.tracked, 'three'));
    expect(await store.restore(projects, () => 'fresh')).to.equal(1);
    expect((await store.recall('fresh'))?.tracked.project).to.include({
      name: 'Ice glass (backup)',
      notes: 'two',
    });
    const [card] = (await store.list()).filter(({ id }) => id === 'a');
    const removed = await store.remove(card);
    expect(await store.recall('a')).to.equal(null);
    await store.putBack(removed);
    expect(notes((await store.recall('a'))?.tracked)).to.equal('three');
  });

  it('has the old version or the new one, whichever operation fails', async () => {
    for (let failing = 1; failing < 12; failing++) {
      memory.values.clear();
      memory.fails = () => false;
      const { keep, tracked } = await kept('one');
      memory.operations = 0;
      memory.fails = () => memory.operations === failing;
      const written = await store.keep(keep, noted(tracked, 'two')).then(
        () => true,
        () => false,
      );
      memory.fails = () => false;
      const there = notes((await store.recall('a'))?.tracked);
      expect(there, `operation ${failing}`).to.be.oneOf(written ? ['two'] : ['one', 'two']);
      const again = (await store.recall('a'))!;
      await store.keep(again.keep, noted(again.tracked, 'three'));
      expect(notes((await store.recall('a'))?.tracked)).to.equal('three');
    }
  });
});

describe('the journal', () => {
  const two = noted(noted(start, 'one'), 'two', 2);
  const three = noted(two, 'three', 3);

  it('brings what a window did after the store, once, whatever the store got meanwhile', () => {
    const left = leftOf('a', three, 1, true, null, 5);
    expect(left.tail.entries).to.have.length(2);
    for (const recalled of [noted(start, 'one'), two, three])
      expect(withLeft({ tracked: recalled }, left)).to.deep.equal(three);
    const undone = { project: noted(start, 'one').project, history: { ...two.history, head: 0, redo: [1] } };
    expect(withLeft({ tracked: two }, leftOf('a', undone, 2, true, null, 5))).to.deep.equal(undone);
  });

  it('does not put it on what somebody else has made, and keeps the whole as a copy where it has it', () => {
    const theirs = noted(noted(start, 'one'), 'theirs', 9);
    expect(withLeft({ tracked: theirs }, leftOf('a', three, 1, true, null, 5))).to.equal(null);
    const whole = leftOf('a', three, 0, false, null, 5);
    const { tracked, copies } = putIn({ tracked: theirs }, [['page', whole]]);
    expect(tracked).to.equal(theirs);
    expect(copies).to.deep.equal([['page', three]]);
    expect(putIn(null, [['page', whole]]).tracked).to.deep.equal(three);
  });

  it('says when there is no room, passes over what is no page, and trusts nothing', () => {
    const pages = memoryPages(50);
    const journal = new Journal(pages, 'w');
    expect(journal.write(leftOf('a', three, 0, false, null, 5), 1)).to.equal(false);
    for (const [i, text] of ['', '{', '7', 'null', '{"id":"a"}', '{"id":"a","at":1,"from":0}'].entries())
      pages.all.set(`ulvex/left/a/${i}`, text);
    expect(journal.pages('a')).to.deep.equal([]);
    const lie = {
      ...leftOf('a', three, 1, true, null, 5),
      tail: {
        ...three.history,
        entries: [{ ...three.history.entries[1], edits: [{ kind: 'set', path: 'lenses', value: 3 }] }],
        head: 1,
      },
    } as never;
    expect(withLeft({ tracked: noted(start, 'one') }, lie)).to.equal(null);
    const deep = { ...leftOf('a', three, 1, true, null, 5), tail: { ...three.history, head: 77 } };
    expect(withLeft({ tracked: three }, deep)).to.equal(null);
  });

  it('keeps windows apart, and drops a page when the store has it', () => {
    const pages = memoryPages();
    const [one, other] = [new Journal(pages, 'one'), new Journal(pages, 'other')];
    one.write(leftOf('a', two, 0, true, { cell: 'c', label: 'L1', text: '13', room: '/layout' }, 7), 1);
    other.write(leftOf('a', three, 0, true, null, 6), 1);
    other.write(leftOf('b', three, 0, true, null, 6), 1);
    expect(one.pages('a').map(([, { at }]) => at)).to.deep.equal([6, 7]);
    expect(one.pages()).to.have.length(3);
    one.clear('a', 1);
    expect(other.pages('a').map(([, { at }]) => at)).to.deep.equal([6]);
  });
});
