import { expect } from 'chai';
import fc from 'fast-check';
import { compileShape } from '../shapes/registry.ts';
import { applyEdits } from './edit.ts';
import { quickProject } from './fixtures.ts';
import { bendThrough, moveVertex } from './lens-drags.ts';

const project = quickProject([{ r: 50, t: 4, n: 1.5 }, { r: -80, k: -0.6, t: 20 }, { t: 30 }]);
const lens = project.lenses[0];

function vertices(of: typeof project): number[] {
  let z = 0;
  return of.lenses[0].surfaces.map((surface) => {
    const here = z;
    z += surface.after?.thickness ?? 0;
    return here;
  });
}

describe('drags', () => {
  it('move one vertex and no other', () => {
    const moved = applyEdits(project, moveVertex(lens, 's2', 1.5).edits).project;
    expect(vertices(moved)).to.deep.equal([0, 5.5, 24, 54]);
    const image = applyEdits(project, moveVertex(lens, 'image', -2).edits).project;
    expect(vertices(image)).to.deep.equal([0, 4, 24, 52]);
    // The first vertex is the origin: moving it brings the rest nearer.
    const first = applyEdits(project, moveVertex(lens, 's1', 1).edits).project;
    expect(vertices(first)).to.deep.equal([0, 3, 23, 53]);
  });

  it('bend a surface through any point it can reach', () => {
    const number = fc.double({ min: -6, max: 6, noNaN: true });
    fc.assert(
      fc.property(
        fc.constantFrom('s1', 's2', 's3'),
        fc.double({ min: 1, max: 10, noNaN: true }),
        number,
        (id, height, sag) => {
          const bent = bendThrough(lens, id, height, sag);
          fc.pre(bent.ok);
          if (!bent.ok) return;
          const { shape } = applyEdits(project, bent.value.edits).project.lenses[0].surfaces.find(
            (entry) => entry.id === id,
          )!;
          expect(compileShape(shape).sag(0, height)).to.be.closeTo(sag, 1e-9);
        },
      ),
    );
  });

  it('refuse what no surface can do', () => {
    const reason = (height: number, sag: number) => {
      const bent = bendThrough(lens, 's1', height, sag);
      return bent.ok ? 'bent' : bent.reason;
    };
    expect(reason(5, 0)).to.equal('bent');
    expect(reason(5, 5)).to.match(/would end before/);
    expect(reason(0, 0)).to.match(/No such conic/);
    const asphere = quickProject([{ t: 1 }]);
    const surfaces = asphere.lenses[0].surfaces.with(0, {
      ...asphere.lenses[0].surfaces[0],
      shape: { kind: 'even_asphere', radius: 10, a4: 1e-4 },
    });
    const refused = bendThrough({ ...asphere.lenses[0], surfaces }, 's1', 2, 0.1);
    expect(refused.ok ? '' : refused.reason).to.match(/asphere/);
    expect(() => moveVertex(lens, 'gone', 1)).to.throw('gone');
  });
});
