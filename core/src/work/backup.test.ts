import { expect } from 'chai';
import { commit, EMPTY_HISTORY, nameState, returnTo, undo } from '../project/history.ts';
import { projectOf } from '../project/fixtures.ts';
import { backupText, isHistory, readBackup } from './backup.ts';

const first = commit(
  { project: projectOf(), history: EMPTY_HISTORY },
  [{ kind: 'set', path: 'name', value: 'Second name' }],
  'Rename',
  5,
);

describe('a backup of the store', () => {
  it('comes back as it was, histories and names of states included', () => {
    const tracked = nameState(first, 0, 'before the storm');
    const read = readBackup(backupText([{ id: 'abcdef0123', savedAt: 7, tracked }]));
    expect(read).to.deep.equal({
      ok: true,
      value: { projects: [{ id: 'abcdef0123', savedAt: 7, tracked }], broken: [] },
    });
  });

  it('names what does not read and keeps the rest', () => {
    const good = { id: 'abcdef0123', savedAt: 7, tracked: first };
    const bad = {
      id: 'abcdef0124',
      savedAt: 7,
      tracked: { project: { format: 'x' }, history: EMPTY_HISTORY },
    };
    const torn = { ...good, tracked: { ...first, history: { entries: [{}], head: 4, redo: [] } } };
    const read = readBackup(backupText([good, bad as never, torn as never, { ...good, id: '../x' }]));
    if (!read.ok) throw new Error(read.reason);
    expect(read.value.projects).to.have.length(2);
    expect(read.value.projects[1].tracked.history).to.equal(EMPTY_HISTORY);
    expect(read.value.broken).to.have.length(2);
    expect(read.value.broken[0]).to.match(/^project 2: format: /);
  });

  it('is refused when it is something else', () => {
    for (const text of [
      '{',
      '[]',
      'null',
      '{"format":"ulvex-project"}',
      '{"format":"ulvex-store","version":2,"projects":[]}',
    ])
      expect(readBackup(text).ok, text).to.equal(false);
  });

  it('trusts no history that points outside itself', () => {
    expect(isHistory(first.history)).to.equal(true);
    expect(isHistory({ ...first.history, head: 1 })).to.equal(false);
    expect(isHistory({ ...first.history, redo: [3] })).to.equal(false);
    expect(isHistory({ ...first.history, entries: [{ ...first.history.entries[0], parent: 0 }] })).to.equal(false);
    expect(isHistory(null)).to.equal(false);
  });
});

describe('names of states', () => {
  it('stay through undo and return, and go when they are emptied', () => {
    const named = nameState(nameState(first, 0, ' calm sea '), -1, 'as bought');
    expect(undo(named).history.names).to.deep.equal({ '-1': 'as bought', 0: 'calm sea' });
    expect(returnTo(named, -1).history.names).to.deep.equal(named.history.names);
    expect(nameState(named, 0, ' ').history.names).to.deep.equal({ '-1': 'as bought' });
    expect(named.project).to.equal(first.project);
  });
});
