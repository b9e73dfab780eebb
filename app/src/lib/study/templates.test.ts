import { ANALYSES } from '@ulvex/core';
import { expect } from 'chai';
import { BOARD_TEMPLATES } from './templates.ts';

/** Tiles that are no analyses, see the registry of tiles; that one brings all components. */
const OWN = ['section', 'space', 'spots', 'ray_fans', 'opd_fans', 'mtf', 'field_curves', 'seidel', 'first_order'];

describe('boards for common questions', () => {
  it('hold tiles that exist, each once, no wider than a board', () => {
    const known = new Set([...OWN, ...ANALYSES.map(({ id }) => id)]);
    for (const { name, tiles } of BOARD_TEMPLATES) {
      const kinds = tiles.map(({ kind }) => kind);
      expect(new Set(kinds).size, name).to.equal(kinds.length);
      for (const { kind, columns } of tiles) {
        expect(known.has(kind), `${name}: ${kind}`).to.equal(true);
        expect(columns, kind).to.be.within(3, 12);
      }
    }
  });

  it('fill their rows, so that no board begins with holes', () => {
    for (const { name, tiles } of BOARD_TEMPLATES) {
      let filled = 0;
      for (const { columns } of tiles) {
        const room = 12 - (filled % 12);
        if (columns > room) filled += room;
        filled += columns;
      }
      const used = tiles.reduce((sum, { columns }) => sum + columns, 0);
      expect(filled - used, name).to.equal(0);
    }
  });

  it('are told apart by name and question', () => {
    const words = BOARD_TEMPLATES.flatMap(({ id, name, question }) => [id, name, question]);
    expect(new Set(words).size).to.equal(words.length);
  });
});
