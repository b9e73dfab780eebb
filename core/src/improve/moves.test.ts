import { expect } from 'chai';
import { catalogueMaterial } from '../materials/catalogue.ts';
import { quickProject, type Quick } from '../project/fixtures.ts';
import type { Lens, Project } from '../project/model.ts';
import { projectText, readProjectText } from '../project/read.ts';
import { focalGoal, imageGoal } from './fixtures.ts';
import { tryMoves, type MoveKind, type MovesState } from './moves.ts';
import { glassShortlist } from './shortlist.ts';

const image = imageGoal('lens');
const focal = focalGoal(100);

/** A lens of quick surfaces with all radii and the last distance free, its media of catalogue glasses by the ids that are given. */
function lensOf(
  surfaces: readonly Quick[],
  glasses: Readonly<Record<string, string>>,
  more: Partial<Lens> = {},
): Project {
  const made = quickProject(surfaces, { aperture: { kind: 'entrance_pupil_diameter', value: 20 }, ...more });
  const [lens] = made.lenses;
  const filled = lens.surfaces.map((surface) =>
    glasses[surface.id]
      ? { ...surface, after: { ...surface.after!, material: glasses[surface.id], name: `E${surface.id.slice(1)}` } }
      : surface,
  );
  const numbers = lens.surfaces.slice(0, -1).map(({ id }) => `${id}.radius`);
  const last = lens.surfaces.at(-2)!.id;
  return {
    ...made,
    lenses: [{ ...lens, surfaces: filled }],
    materials: [
      ...made.materials.filter(({ id }) => id === 'air'),
      ...[...new Set(Object.values(glasses))].map((id) => catalogueMaterial(id)!),
    ],
    goals: [image, focal],
    parameters: Object.fromEntries(
      [...numbers, `${last}.thickness`].map((name) => [`lenses.lens.surfaces.${name}`, { kind: 'free' as const }]),
    ),
  };
}

function tried(project: Project, kinds: readonly MoveKind[], shortlist: readonly string[] = []): MovesState {
  const run = tryMoves(project, null, { lens: 'lens', kinds, shortlist });
  for (;;) {
    const step = run.next();
    if (!step.done) continue;
    if (!step.value.ok) throw new Error(step.value.reason);
    return step.value.value;
  }
}

const singlet = () =>
  lensOf(
    [
      { r: 60, t: 8, n: 1.5 },
      { r: -400, t: 95 },
    ],
    { s1: 'g517642' },
  );
/** Two air-spaced elements whose inner radii are alike. */
const spaced = () =>
  lensOf(
    [
      { r: 60, t: 8, n: 1.5 },
      { r: -45, t: 1 },
      { r: -47, t: 4, n: 1.6 },
      { r: -160, t: 92 },
    ],
    { s1: 'g517642', s3: 'g620364' },
    {
      wavelengths: [
        { id: 'f', nm: 486.13, weight: 1 },
        { id: 'd', nm: 587.56, weight: 1 },
        { id: 'c', nm: 656.27, weight: 1 },
      ],
      primary: 'd',
    },
  );

describe('moves of the form', () => {
  it('make a singlet of one colour aspheric: what is left of its spherical aberration is nothing', () => {
    const { base, tried: found } = tried(singlet(), ['asphere']);
    expect(base).to.be.above(10);
    expect(found.length).to.equal(2);
    expect(found[0].merit).to.be.below(0.01 * base);
    const { project } = found[0];
    const read = readProjectText(projectText(project!));
    expect(read.ok).to.equal(true);
    expect(Object.keys(project!.parameters!).filter((address) => /\.a[468]$/.test(address)).length).to.equal(3);
  });

  it('are ranked by what they gain after a polish, each glass in its neighbours', () => {
    const { base, tried: found } = tried(spaced(), ['glass'], ['g620364', 'g805254', 'g497816', 'g517642']);
    // Each of two elements in the three glasses that it is not of.
    expect(found.map(({ title }) => title).sort()).to.deep.equal(
      ['E1 of 497816', 'E1 of 620364', 'E1 of 805254', 'E3 of 497816', 'E3 of 517642', 'E3 of 805254'].sort(),
    );
    const merits = found.map(({ merit }) => merit!);
    expect(merits).to.deep.equal([...merits].sort((a, b) => a - b));
    found.forEach(({ merit, gain }) => expect(gain).to.be.closeTo(merit! / base - 1, 1e-12));
    // Colour cannot be mended with one glass twice.
    expect(found.at(-1)!.title).to.be.oneOf(['E3 of 517642', 'E1 of 620364', 'E3 of 497816']);
  });

  it('leave a sound project each: fewer surfaces where a pair is cemented or an element dropped, more where one is split', () => {
    const { tried: found } = tried(spaced(), ['split', 'cement', 'drop', 'flip']);
    const surfaces = (kind: MoveKind) =>
      found.filter((one) => one.kind === kind && one.project).map(({ project }) => project!.lenses[0].surfaces.length);
    expect(surfaces('split')).to.deep.equal([7, 7]);
    expect(surfaces('cement')).to.deep.equal([4]);
    for (const count of surfaces('drop')) expect(count).to.equal(3);
    for (const { project, title } of found) {
      if (!project) continue;
      expect(readProjectText(projectText(project)).ok, title).to.equal(true);
      const ids = project.lenses[0].surfaces.map(({ id }) => id);
      for (const address of Object.keys(project.parameters!)) expect(ids, title).to.include(address.split('.')[3]);
    }
    const split = found.find(({ kind }) => kind === 'split')!.project!;
    expect(Object.keys(split.parameters!).length).to.be.above(Object.keys(spaced().parameters!).length);
  });

  it('say why what cannot be polished was not, and refuse where there is nothing to be tried', () => {
    const thick = lensOf(
      [
        { r: 30, t: 8, n: 1.5 },
        { r: 22, t: 60 },
      ],
      { s1: 'g517642' },
    );
    for (const one of tried(thick, ['flip']).tried) if (one.merit === null) expect(one.why).to.be.a('string');
    const run = tryMoves(singlet(), null, { lens: 'lens', kinds: ['cement'], shortlist: [] });
    let step = run.next();
    while (!step.done) step = run.next();
    expect(step.value).to.deep.include({ ok: false });
  });
});

describe('the shortlist of glasses', () => {
  it('keeps what all rules allow; what is not known goes only where that is asked for', () => {
    const all = glassShortlist({});
    expect(all.length).to.be.above(70);
    const high = glassShortlist({ minIndex: 1.7, maxAbbe: 40 });
    expect(high).to.include('g805254').and.not.include('g517642');
    expect(high.every((id) => all.includes(id))).to.equal(true);
    expect(glassShortlist({ maxClimate: 2 })).to.not.include('g620603');
    // Lanthanum crowns typically do not stand it; what is typical of a family counts unless the glass itself is asked for.
    expect(glassShortlist({ maxClimate: 2 }))
      .to.include('g805254')
      .and.not.include('g754523');
    expect(glassShortlist({ maxClimate: 2 }).length).to.be.within(40, all.length - 10);
    expect(glassShortlist({ maxClimate: 2, knownOnly: true })).not.to.include('g805254');
    expect(glassShortlist({ maxClimate: 2, knownOnly: true }))
      .to.include('g517642')
      .and.not.include('g754523');
    expect(glassShortlist({ minBlue: 0.99, knownOnly: true })).to.include('g517642');
    expect(glassShortlist({ minIndex: 3 })).to.deep.equal([]);
    expect(glassShortlist({ minIndex: 3, with: ['g517642'] })).to.deep.equal(['g517642']);
    const without = glassShortlist({ without: ['g517642', 'no_such'] });
    expect(without).to.deep.equal(all.filter((id) => id !== 'g517642'));
  });
});
