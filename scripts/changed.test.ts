import { expect } from 'chai';
// @ts-expect-error -- plain JavaScript, as all scripts that run before packages are installed
import { importsOf, suitesOf, unitTestsOf } from './changed.mjs';

const FILES = new Map([
  ['core/src/index.ts', "export { a } from './math/a.ts';"],
  ['core/src/math/a.ts', 'export const a = 1;'],
  ['core/src/math/b.ts', "import { a } from './a.ts';"],
  ['core/src/math/b.test.ts', "import { b } from './b.ts';"],
  ['core/src/light/c.test.ts', "import { c } from './c.ts';"],
  ['app/src/lib/format.ts', "import { a } from '@ulvex/core';"],
  ['app/src/lib/format.test.ts', "import { plain } from './format.ts';"],
  ['app/src/lib/tiles/Tile.svelte', '<button data-testid="tile-close">x</button>'],
  ['e2e/src/tiles.test.ts', "await bench.click('tile-close');"],
  ['e2e/src/other.test.ts', "await bench.click('other');"],
  ['e2e/src/bench.ts', ''],
]);

describe('what a change touches', () => {
  it('is found through imports of every way they are written', () => {
    const text =
      "import x from './x.ts'; await import('$lib/y.ts'); export * from '../z.ts'; import { q } from 'chai';";
    expect(importsOf('app/src/routes/page.svelte', text)).to.deep.equal([
      'app/src/routes/x.ts',
      'app/src/lib/y.ts',
      'app/src/z.ts',
    ]);
    expect(importsOf('cli/a.ts', "import '@ulvex/core/improve';")).to.deep.equal(['core/src/improve/index.ts']);
  });

  it('are the unit tests that import it, however far away, and no others', () => {
    expect(unitTestsOf(['core/src/math/b.ts'], FILES)).to.deep.equal(['core/src/math/b.test.ts']);
    expect(unitTestsOf(['core/src/math/a.ts'], FILES)).to.deep.equal([
      'app/src/lib/format.test.ts',
      'core/src/math/b.test.ts',
    ]);
    expect(unitTestsOf(['core/src/light/c.test.ts'], FILES)).to.deep.equal(['core/src/light/c.test.ts']);
    expect(unitTestsOf(['README.md'], FILES)).to.deep.equal([]);
  });

  it('are the interface tests that name something of it; all, if what they share has changed', () => {
    expect(suitesOf(['app/src/lib/tiles/Tile.svelte'], FILES)).to.deep.equal(['e2e/src/tiles.test.ts']);
    expect(suitesOf(['e2e/src/other.test.ts'], FILES)).to.deep.equal(['e2e/src/other.test.ts']);
    expect(suitesOf(['e2e/src/bench.ts'], FILES)).to.have.length(2);
    expect(suitesOf(['core/src/math/a.ts'], FILES)).to.deep.equal([]);
  });
});
