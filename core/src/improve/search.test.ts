import { expect } from 'chai';
import { quickProject } from '../project/fixtures.ts';
import { catalogueMaterial } from '../materials/catalogue.ts';
import type { Material } from '../materials/material.ts';
import type { Project } from '../project/model.ts';
import { focalGoal, imageGoal } from './fixtures.ts';
import { polish } from './polish.ts';
import { nearestGlasses } from './nearest-glasses.ts';
import { allGlasses, search, SEARCH_WAYS, type SearchOptions, type SearchState } from './search.ts';

const image = imageGoal('lens');
const focal = focalGoal(100);

/** A cemented pair of one glass twice: whatever it is bent to, its colour stays. */
function pair(): Project {
  const made = quickProject(
    [
      { r: 60, t: 6, n: 1.5168 },
      { r: -45, t: 3, n: 1.62 },
      { r: -160, t: 96 },
    ],
    {
      aperture: { kind: 'entrance_pupil_diameter', value: 15 },
      wavelengths: [
        { id: 'f', nm: 486.13, weight: 1 },
        { id: 'd', nm: 587.56, weight: 1 },
        { id: 'c', nm: 656.27, weight: 1 },
      ],
      primary: 'd',
    },
  );
  const crown = catalogueMaterial('g517642')!;
  const [lens] = made.lenses;
  const surfaces = lens.surfaces.map((surface, j) =>
    j < 2 ? { ...surface, after: { ...surface.after!, material: crown.id } } : surface,
  );
  const free = { kind: 'free' } as const;
  return {
    ...made,
    lenses: [{ ...lens, surfaces }],
    materials: [...made.materials.filter(({ id }) => id === 'air'), crown],
    goals: [image, focal],
    parameters: Object.fromEntries(
      ['s1.radius', 's2.radius', 's3.radius', 's3.thickness'].map((name) => [`lenses.lens.surfaces.${name}`, free]),
    ),
  };
}

/** A search of some trials. */
function states(
  project: Project,
  trials: number,
  seed: number,
  starts = 0,
  more: Partial<SearchOptions> = {},
): SearchState[] {
  const run = search(project, null, {
    seed,
    starts,
    ...more,
    glass: { lens: 'lens', surfaces: ['s1', 's2'], shortlist: allGlasses() },
  });
  const seen: SearchState[] = [];
  while (seen.length <= trials) {
    const step = run.next();
    if (step.done) throw new Error(step.value.ok ? 'ended' : step.value.reason);
    seen.push(step.value);
  }
  return seen;
}

describe('a search', () => {
  it('finds an achromat in a pair of one glass, which no polish can', () => {
    const project = pair();
    const alone = polish(project, null);
    let merit = Infinity;
    for (let step = alone.next(); ; step = alone.next()) {
      if (!step.done) continue;
      if (step.value.ok) ({ merit } = step.value.value);
      break;
    }
    const [last] = states(project, 40, 1).slice(-1);
    expect(last.gallery[0].merit).to.be.below(0.5 * merit);
    const [crown, flint] = last.gallery[0].glasses;
    expect(crown).to.not.equal(flint);
  });

  it('keeps distinct candidates, best first, and never loses the best', () => {
    let best = Infinity;
    for (const { gallery } of states(pair(), 25, 2)) {
      const merits = gallery.map(({ merit }) => merit);
      expect(merits).to.deep.equal([...merits].sort((a, b) => a - b));
      expect(gallery.length).to.be.at.most(12);
      expect(merits[0]).to.be.at.most(best);
      [best] = merits;
      const names = gallery.map(({ merit, glasses }) => `${Math.round(Math.log(merit) / 0.004)} ${glasses.join()}`);
      expect(new Set(names).size).to.equal(names.length);
    }
  });

  it('is the same again for the same seed, and another one for another', () => {
    const trace = (seed: number) => states(pair(), 8, seed).map(({ gallery }) => gallery[0].merit);
    expect(trace(5)).to.deep.equal(trace(5));
    expect(trace(5)).to.not.deep.equal(trace(6));
  });

  it('starts from elsewhere in the bounds, too', () => {
    // From flats no polish can begin: they have no focal length.
    const project = pair();
    const [lens] = project.lenses;
    const surfaces = lens.surfaces.map((surface, j) =>
      j < 3 ? { ...surface, shape: { kind: 'sphere', radius: 'infinity' } as const } : surface,
    );
    const flats: Project = { ...project, lenses: [{ ...lens, surfaces }] };
    const last = states(flats, 10, 3, 10).at(-1)!;
    expect(last.gallery.length).to.be.above(0);
    expect(last.gallery.every(({ by }) => by === 'start')).to.equal(true);
    expect(() => states(flats, 4, 3)).to.throw(/no value at the start/);
  });

  it('goes each of its ways, alone or with the others', () => {
    const project = pair();
    const seen = (ways?: SearchOptions['ways']) =>
      new Set(states(project, 60, 4, 0, ways && { ways }).flatMap(({ gallery }) => gallery.map(({ by }) => by)));
    for (const way of SEARCH_WAYS) {
      const found = seen([way]);
      expect(found, way).to.include(way);
      for (const other of SEARCH_WAYS) if (other !== way) expect(found, way).to.not.include(other);
    }
    expect(seen()).to.include.members(['hop', 'glass']);
  }).timeout(60_000);

  it('puts weights, fields and apertures back that it had deformed', () => {
    const project = pair();
    for (const { gallery } of states(project, 20, 7, 0, { ways: ['deform'] }))
      for (const { project: found } of gallery) {
        expect(found.goals).to.deep.equal(project.goals);
        const [lens, own] = [found.lenses[0], project.lenses[0]];
        for (const key of ['aperture', 'fields', 'wavelengths'] as const) expect(lens[key]).to.deep.equal(own[key]);
      }
  });

  it('knows glasses by their neighbours in the map', () => {
    const crown = catalogueMaterial('g517642')!;
    const known = allGlasses().map((id) => catalogueMaterial(id)!);
    const near = nearestGlasses(
      crown,
      known.filter(({ id }) => id !== crown.id),
    )
      .slice(0, 4)
      .map(({ id }) => id);
    expect(near).to.include('g508612');
    expect(near).to.not.include('g923209');
    // Of two with the same index and Abbe number the one of the same partial dispersion comes first.
    const twin = (id: string, deviation: number): Material => ({
      ...crown,
      id,
      dispersion: { kind: 'model', nd: 1.62, vd: 40, deviation },
    });
    const [odd, normal] = [twin('odd', 0.03), twin('normal', 0)];
    expect(nearestGlasses(twin('own', 0.028), [normal, odd])[0].id).to.equal('odd');
    expect(nearestGlasses(twin('own', 0.002), [odd, normal])[0].id).to.equal('normal');
  });
});
