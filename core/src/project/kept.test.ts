import { expect } from 'chai';
import fc from 'fast-check';
import { readFileSync } from 'node:fs';
import { SHAPES } from '../shapes/registry.ts';
import { BODIES } from '../bodies/registry.ts';
import { SHELF_FINISHES } from '../finishes/shelf.ts';
import { applyEdits } from './edit.ts';
import { quickProject } from './fixtures.ts';
import type { Project } from './model.ts';
import { findParameter, listParameters, setParameter } from './parameters.ts';
import { projectText, readProjectText, unkeepable } from './read.ts';
import { addBody } from './scene-edits.ts';
import { sceneProject, source } from './scene-fixtures.ts';
import { setByText } from './set-text.ts';

function sample(name: string): Project {
  const read = readProjectText(readFileSync(`samples/${name}.ulvex.json`, 'utf8'));
  if (!read.ok) throw new Error(JSON.stringify(read.problems));
  return read.project;
}

/** Whether a project comes back from its file as it was. */
function comesBack(project: Project): void {
  const read = readProjectText(projectText(project));
  if (!read.ok) throw new Error(`${read.problems[0].place}: ${read.problems[0].reason}`);
  expect(unkeepable(project)).to.deep.equal([]);
  expect(projectText(read.project)).to.equal(projectText(project));
}

/** A project with every shape of surface, every body and every finish there is. */
function everything(): Project {
  const quick = quickProject([
    { r: 50, t: 5, n: 1.5 },
    { r: -50, t: 90 },
  ]);
  const [lens] = quick.lenses;
  const shapes = SHAPES.map(({ kind, parameters }, i) => ({
    ...lens.surfaces[0],
    id: `every${i}`,
    shape: {
      kind,
      ...Object.fromEntries(parameters.flatMap(({ id, fallback }) => (fallback === undefined ? [[id, 50]] : []))),
    },
  }));
  const scene = sceneProject({ sources: [source({})] });
  const bodies = BODIES.reduce(
    (now, { kind }) => applyEdits(now, addBody(now, now.scenes![0], kind, null).edits).project,
    scene,
  );
  return {
    ...bodies,
    lenses: [{ ...lens, surfaces: [...shapes, ...lens.surfaces] } as Project['lenses'][0]],
    materials: [...bodies.materials, ...quick.materials].filter(
      ({ id }, i, all) => all.findIndex((one) => one.id === id) === i,
    ),
    finishes: SHELF_FINISHES,
  };
}

const PROJECTS = {
  'the tide camera': sample('tide-camera'),
  'the sector lantern': sample('sector-lantern'),
  'sun in the lens': sample('sun-in-the-lens'),
  everything: everything(),
};
const TELLING = [
  0,
  -0,
  1,
  -1,
  0.5,
  1e-300,
  5e-324,
  1e300,
  -1e300,
  89.999,
  90,
  180,
  273,
  -273,
  -274,
  5000,
  5001,
  1e7,
  1.1e7,
  10,
  11,
  1000,
  1001,
  2 ** 31,
  NaN,
  Infinity,
  -Infinity,
  20,
  60,
  2.5,
];

describe('what the editor takes', () => {
  for (const [name, project] of Object.entries(PROJECTS))
    it(`comes back from its file: every number of ${name} at telling values`, function () {
      comesBack(project);
      for (const { address } of listParameters(project)) {
        const found = findParameter(project, address);
        if (!found.ok) throw new Error(found.reason);
        for (const value of TELLING) {
          const edit = setParameter(found.value, value);
          if (!edit.ok) continue;
          const { project: next } = applyEdits(project, [edit.value]);
          const wrong = unkeepable(next);
          if (wrong.length > 0) throw new Error(`${address} = ${value}: ${JSON.stringify(wrong)}`);
          const there = findParameter(next, address);
          expect(there.ok && there.value.value, `${address} = ${value}`).to.equal(value);
        }
      }
    });

  it('comes back whatever was typed into several cells, one after the other', () => {
    const addresses = Object.values(PROJECTS).flatMap((project) =>
      listParameters(project).map(({ address }) => [project, address] as const),
    );
    const texts = fc.oneof(
      fc.constantFrom('flat', 'infinity', '-inf', '*2', '1e999', '1in', '0', '-5', '1/0', 'x', '', '9'.repeat(400)),
      fc.double().map(String),
    );
    const typed = fc.array(fc.tuple(fc.nat(addresses.length - 1), texts), { minLength: 1, maxLength: 6 });
    fc.assert(
      fc.property(fc.nat(addresses.length - 1), typed, (first, rest) => {
        const [project] = addresses[first];
        let now = project;
        for (const [which, text] of rest) {
          const [of, address] = addresses[which];
          const next = of === project ? setByText(now, address, text) : null;
          if (next?.ok) now = next.value;
        }
        comesBack(now);
      }),
      { numRuns: 150, seed: 22 },
    );
  });

  it('looks again at what has changed, and at that alone', () => {
    const project = PROJECTS['the tide camera'];
    expect(unkeepable(project)).to.deep.equal([]);
    const bad = { ...project, name: 'x'.repeat(501) };
    expect(unkeepable(bad)).to.deep.equal([{ place: 'name', reason: 'longer than 500 characters' }]);
    const surfaces = project.lenses[0].surfaces.map((surface, i) =>
      i === 3 ? { ...surface, comment: 'x'.repeat(200_001) } : surface,
    );
    const lens = { ...project, lenses: [{ ...project.lenses[0], surfaces }] };
    const problem = {
      place: 'lenses.tide.surfaces.l2_back.comment',
      reason: 'longer than 200000 characters',
    };
    expect(unkeepable(lens)).to.deep.equal([problem]);
    expect(unkeepable(lens), 'is not taken for known').to.deep.equal([problem]);
    expect(unkeepable({ ...project, notes: 'x'.repeat(200_001) })[0].place).to.equal('notes');
    expect(unkeepable({ ...project, surroundings: { temperature: NaN } })[0].place).to.equal(
      'surroundings.temperature',
    );
  });
});
