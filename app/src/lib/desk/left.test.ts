import { expect } from 'chai';
import { halfLeft, noteLeft, roomLeft } from './left.ts';

/** A store that keeps one text, or refuses. */
function storeOf(text: string | null = null, refuses = false) {
  const store = {
    text,
    getItem: () => {
      if (refuses) throw new Error('refused');
      return store.text;
    },
    setItem: (_key: string, value: string) => {
      if (refuses) throw new Error('full');
      store.text = value;
    },
  };
  return store;
}

describe('where a project was left', () => {
  it('is its room, and the half of the Layout that was looked at last', () => {
    const store = storeOf();
    expect(roomLeft(store, 'a')).to.equal(null);
    noteLeft(store, 'a', '/layout/scene');
    noteLeft(store, 'a', '/study');
    noteLeft(store, 'b', '/layout');
    noteLeft(store, 'a', '/projects'); // no room of a project
    noteLeft(store, 'a', '/shelf/glasses');
    expect([roomLeft(store, 'a'), halfLeft(store, 'a')]).to.deep.equal(['/study', '/layout/scene']);
    expect([roomLeft(store, 'b'), halfLeft(store, 'b')]).to.deep.equal(['/layout', '/layout']);
  });

  it('is forgotten of the projects that were left longest ago', () => {
    const store = storeOf();
    for (let k = 0; k < 150; k++) noteLeft(store, `p${k}`, '/brief');
    expect(roomLeft(store, 'p149')).to.equal('/brief');
    expect(roomLeft(store, 'p50')).to.equal('/brief');
    expect(roomLeft(store, 'p49')).to.equal(null);
  });

  it('is nowhere in a store that refuses, or holds something else', () => {
    for (const text of ['{', '7', '[null, 3, {"id": 1}]', '[{"id": "a", "room": "https://elsewhere"}]'])
      expect(roomLeft(storeOf(text), 'a'), text).to.equal(null);
    const half = storeOf('[{"id": "a", "room": "/study", "half": "/study"}]');
    expect([roomLeft(half, 'a'), halfLeft(half, 'a')]).to.deep.equal(['/study', null]);
    const refusing = storeOf(null, true);
    noteLeft(refusing, 'a', '/study');
    expect(roomLeft(refusing, 'a')).to.equal(null);
  });
});
