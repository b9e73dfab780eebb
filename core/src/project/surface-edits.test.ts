import { expect } from 'chai';
import { applyEdits } from './edit.ts';
import { projectOf, quickProject } from './fixtures.ts';
import type { Gesture } from './lens-edits.ts';
import type { Project } from './model.ts';
import { findParameter, setParameter } from './parameters.ts';
import { readProject } from './read.ts';
import {
  addObscuration,
  cornersText,
  followOf,
  readCorners,
  removeObscuration,
  setApertureKind,
  setFollow,
  setPhaseKind,
  setShapeKind,
} from './surface-edits.ts';

/** The project after a gesture, checked as a file would be. */
function after(project: Project, gesture: Gesture): Project {
  const next = applyEdits(project, gesture.edits).project;
  const read = readProject(JSON.parse(JSON.stringify(next)));
  expect(read.ok, read.ok ? '' : JSON.stringify(read.problems)).to.equal(true);
  return next;
}

const surfaceOf = (project: Project, id: string) => project.lenses[0].surfaces.find((surface) => surface.id === id)!;

describe('shape, aperture and place of a surface', () => {
  const project = quickProject([{ r: 50, k: -0.5, t: 4, n: 1.5 }, { r: -50, t: 2 }, { t: 20 }]);
  const [lens] = project.lenses;

  it('makes an ideal lens of a surface, whose numbers may be left out', () => {
    const ideal = after(project, setShapeKind(lens, 's1', 'ideal_lens'));
    expect(surfaceOf(ideal, 's1').shape).to.deep.equal({ kind: 'ideal_lens', focal_length: 'infinity' });
    const object = findParameter(ideal, 'lenses.lens.surfaces.s1.object');
    expect(object.ok && object.value.value).to.equal(Infinity);
  });

  it('lets a surface diffract, keeps what both kinds have, and takes it away', () => {
    const ruled = after(project, setPhaseKind(lens, 's1', 'grating'));
    expect(surfaceOf(ruled, 's1').phase).to.deep.equal({ kind: 'grating', lines: 0 });
    const address = 'lenses.lens.surfaces.s1.phase.order';
    const order = findParameter(ruled, address);
    if (!order.ok) throw new Error(order.reason);
    expect(order.value.value).to.equal(1);
    const refused = setParameter(order.value, 1.5);
    expect(!refused.ok && refused.reason).to.equal('Order must be a whole number.');
    const second = setParameter(order.value, -1);
    if (!second.ok) throw new Error(second.reason);
    const other = applyEdits(ruled, [second.value]).project;
    const rings = after(other, setPhaseKind(other.lenses[0], 's1', 'kinoform'));
    expect(surfaceOf(rings, 's1').phase).to.deep.equal({ kind: 'kinoform', order: -1 });
    const plain = after(rings, setPhaseKind(rings.lenses[0], 's1', null));
    expect(surfaceOf(plain, 's1').phase).to.equal(undefined);
  });

  it('another shape keeps the numbers that both have', () => {
    const asphere = after(project, setShapeKind(lens, 's1', 'even_asphere'));
    expect(surfaceOf(asphere, 's1').shape).to.deep.equal({ kind: 'even_asphere', radius: 50, conic: -0.5 });
    const plane = after(asphere, setShapeKind(asphere.lenses[0], 's1', 'plane'));
    expect(surfaceOf(plane, 's1').shape).to.deep.equal({ kind: 'plane' });
    const sphere = after(plane, setShapeKind(plane.lenses[0], 's1', 'sphere'));
    expect(surfaceOf(sphere, 's1').shape).to.deep.equal({ kind: 'sphere', radius: 'infinity' });
  });

  it('apertures of every kind begin as large as the present one', () => {
    for (const kind of ['circle', 'rectangle', 'ellipse', 'polygon'] as const) {
      const next = after(project, setApertureKind(lens, 's2', kind, 6));
      expect(surfaceOf(next, 's2').aperture.kind).to.equal(kind);
    }
    expect(surfaceOf(after(project, setApertureKind(lens, 's2', 'rectangle', 6)), 's2').aperture).to.deep.equal({
      kind: 'rectangle',
      half_x: 6,
      half_y: 6,
    });
    const set = after(project, setApertureKind(lens, 's2', 'ellipse', 6));
    const automatic = after(set, setApertureKind(set.lenses[0], 's2', 'automatic', 6));
    expect(surfaceOf(automatic, 's2').aperture).to.deep.equal({ kind: 'automatic' });
  });

  it('obscurations come and go, each with numbers of its own address', () => {
    const hub = after(project, addObscuration(lens, 's1', 'circle', 6));
    const both = after(hub, addObscuration(hub.lenses[0], 's1', 'spider', 6));
    const width = findParameter(both, 'lenses.lens.surfaces.s1.obscurations.spider1.width');
    if (!width.ok) throw new Error(width.reason);
    expect(width.value.value).to.equal(0.6);
    const edit = setParameter(width.value, 0.25);
    if (!edit.ok) throw new Error(edit.reason);
    const thin = applyEdits(both, [edit.value]).project;
    expect(surfaceOf(thin, 's1').obscurations![1]).to.deep.include({ kind: 'spider', width: 0.25 });
    const one = after(thin, removeObscuration(thin.lenses[0], 's1', 'circle1'));
    expect(surfaceOf(one, 's1').obscurations!.map(({ id }) => id)).to.deep.equal(['spider1']);
    const none = after(one, removeObscuration(one.lenses[0], 's1', 'spider1'));
    expect(surfaceOf(none, 's1')).to.not.have.property('obscurations');
  });

  it('a shift can be set where the document has no frame yet', () => {
    const tilt = findParameter(project, 'lenses.lens.surfaces.s2.tx');
    if (!tilt.ok) throw new Error(tilt.reason);
    expect(tilt.value.value).to.equal(0);
    const edit = setParameter(tilt.value, 3);
    if (!edit.ok) throw new Error(edit.reason);
    const tilted = applyEdits(project, [edit.value]).project;
    expect(surfaceOf(tilted, 's2').frame).to.deep.equal({ tx: 3 });
    const again = findParameter(tilted, 'lenses.lens.surfaces.s2.dy');
    if (!again.ok) throw new Error(again.reason);
    const second = setParameter(again.value, -1);
    if (!second.ok) throw new Error(second.reason);
    expect(surfaceOf(applyEdits(tilted, [second.value]).project, 's2').frame).to.deep.equal({
      tx: 3,
      dy: -1,
    });
  });

  it('what follows is chosen and told again, groups included', () => {
    const choose = (from: Project, id: string, follow: Parameters<typeof setFollow>[2]) => {
      const gesture = setFollow(from.lenses[0], id, follow);
      if (!gesture.ok) throw new Error(gesture.reason);
      return after(from, gesture.value);
    };
    const group = choose(project, 's1', { upTo: 's2' });
    expect(followOf(group.lenses[0], 's1')).to.deep.equal({ upTo: 's2' });
    expect(surfaceOf(group, 's2').behind).to.deep.equal({ returnTo: 's1' });
    const carried = choose(group, 's1', 'carry');
    expect(followOf(carried.lenses[0], 's1')).to.equal('carry');
    expect(surfaceOf(carried, 's2')).to.not.have.property('behind');
    expect(followOf(choose(carried, 's1', 'return').lenses[0], 's1')).to.equal('return');
    expect(setFollow(lens, 's2', { upTo: 's1' }).ok).to.equal(false);
    expect(setFollow(lens, 's2', { upTo: 'image' }).ok).to.equal(false);
  });

  it('corners are read as they are written', () => {
    const points = [
      [0, 3.5],
      [-2, -1],
      [2, -1],
    ] as const;
    expect(readCorners(cornersText(points))).to.deep.equal({ ok: true, value: points });
    expect(readCorners('0 1; 2 3')).to.have.property('ok', false);
    const wrong = readCorners('0 1; 2 x; 3 4');
    expect(!wrong.ok && wrong.reason).to.contain('Corner 2');
  });

  it('files with broken areas and frames are refused, saying where', () => {
    const broken = (surface: object) => {
      const file = JSON.parse(JSON.stringify(projectOf())) as { lenses: { surfaces: object[] }[] };
      Object.assign(file.lenses[0].surfaces[0], surface);
      const read = readProject(file);
      return read.ok ? [] : read.problems.map(({ place }) => place);
    };
    expect(broken({ aperture: { kind: 'rectangle', half_x: 2 } })[0]).to.contain('half_y');
    expect(
      broken({
        aperture: {
          kind: 'polygon',
          points: [
            [0, 1],
            [2, 3],
          ],
        },
      })[0],
    ).to.contain('points');
    expect(broken({ obscurations: [{ kind: 'circle', semi: 1 }] })).to.have.length(1);
    expect(broken({ frame: { axis: 'sideways' } })[0]).to.contain('axis');
    expect(broken({ behind: { returnTo: 7 } })[0]).to.contain('returnTo');
  });
});
