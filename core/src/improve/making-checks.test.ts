import { expect } from 'chai';
import { Evaluation } from '../imaging/evaluation/evaluation.ts';
import { formulaEvaluator } from '../math/formula.ts';
import { catalogueMaterial } from '../materials/catalogue.ts';
import { abbeNumber, indexIn } from '../materials/material.ts';
import { applyEdits } from '../project/edit.ts';
import { embedMaterial } from '../project/embed-material.ts';
import { quickProject, type Quick } from '../project/fixtures.ts';
import type { Project } from '../project/model.ts';
import { settle } from '../relations/settle.ts';
import { isExceeded } from '../project/improve.ts';
import { makingChecks, type MakingCheck } from './making-checks.ts';

function lensOf(surfaces: readonly Quick[]): Project {
  return quickProject(surfaces, { aperture: { kind: 'entrance_pupil_diameter', value: 10 } });
}

function looked(project: Project): MakingCheck[] {
  const lens = new Evaluation(project).lens('lens');
  if (!lens.ok) throw new Error(lens.reason);
  return makingChecks(project, lens.value);
}

/** The project after the remedy of the only check of a kind. */
function mended(project: Project, kind: MakingCheck['kind']): Project {
  const found = looked(project).filter((one) => one.kind === kind);
  expect(found.map(({ text }) => text)).to.have.length(1);
  return applyEdits(project, found[0].remedy!.edits).project;
}

describe('making-checks', () => {
  it('find an element that is nearly symmetric, and make it so for good by a link', async () => {
    const project = lensOf([
      { r: 60, t: 4, n: 1.6 },
      { r: -61.5, t: 50 },
    ]);
    const fixed = mended(project, 'nearly symmetric');
    expect(fixed.lenses[0].surfaces[1].shape).to.have.property('radius', -60);
    expect(looked(fixed)).to.deep.equal([]);
    const turned = applyEdits(fixed, [
      { kind: 'set', path: 'lenses.lens.surfaces.s1.shape.radius', value: 70 },
    ]).project;
    const settled = settle(turned, await formulaEvaluator()).project;
    expect(settled.lenses[0].surfaces[1].shape).to.have.property('radius', -70);
  });

  it('leave alone what is symmetric, what is not, and what is cemented', () => {
    for (const back of [-60, -80, 61])
      expect(
        looked(
          lensOf([
            { r: 60, t: 4, n: 1.6 },
            { r: back, t: 50 },
          ]),
        ).filter(({ kind }) => kind === 'nearly symmetric'),
      ).to.deep.equal([]);
    const cemented = lensOf([
      { r: 60, t: 4, n: 1.6 },
      { r: -61, t: 2, n: 1.7 },
      { r: -300, t: 50 },
    ]);
    expect(looked(cemented).some(({ kind }) => kind === 'nearly symmetric')).to.equal(false);
  });

  it('find a radius that cannot be measured, and make it flat and fixed', () => {
    const project: Project = {
      ...lensOf([
        { r: 60, t: 4, n: 1.6 },
        { r: -9000, t: 50 },
      ]),
      parameters: { 'lenses.lens.surfaces.s2.radius': { kind: 'free' } },
    };
    const fixed = mended(project, 'nearly flat');
    expect(fixed.lenses[0].surfaces[1].shape).to.have.property('radius', 'infinity');
    expect(fixed.parameters).to.equal(undefined);
    expect(
      looked(
        lensOf([
          { r: 60, t: 4, n: 1.6 },
          { r: -2000, t: 50 },
        ]),
      ),
    ).to.deep.equal([]);
  });

  it('find radii that one test plate would do for, whichever way they bend', () => {
    const project = lensOf([
      { r: 60, t: 4, n: 1.6 },
      { r: -200, t: 8 },
      { r: -60.3, t: 3, n: 1.7 },
      { r: 150, t: 50 },
    ]);
    const fixed = mended(project, 'nearly alike');
    expect(fixed.lenses[0].surfaces[2].shape).to.have.property('radius', -60);
    expect(looked(fixed)).to.deep.equal([]);
  });

  it('tell glass that weather attacks, and put the next one of the map in its place', () => {
    const made = lensOf([
      { r: 60, t: 4, n: 1.6 },
      { r: -200, t: 50 },
    ]);
    const of = (id: string) =>
      applyEdits(made, [
        ...embedMaterial(made, catalogueMaterial(id)!),
        { kind: 'set', path: 'lenses.lens.surfaces.s1.after.material', value: id },
      ]).project;
    expect(looked(of('g517642'))).to.deep.equal([]);
    const [check] = looked(of('g620603'));
    expect(check.text).to.match(/is of 620603.*, climate class 4, stain class 4: /);
    const fixed = mended(of('g620603'), 'poor glass');
    const { material } = fixed.lenses[0].surfaces[0].after!;
    const [own, other] = ['g620603', material].map((id) => catalogueMaterial(id)!);
    expect(material).to.not.equal('g620603');
    expect(indexIn(other, 587.56)).to.be.closeTo(indexIn(own, 587.56), 0.02);
    expect(abbeNumber(other.dispersion)).to.be.closeTo(abbeNumber(own.dispersion), 4);
    expect(looked(fixed)).to.deep.equal([]);
  });

  it('tell limits that are exceeded, with what is asked for', () => {
    const [thin] = looked(
      lensOf([
        { r: 60, t: 0.5, n: 1.6 },
        { r: -200, t: 50 },
      ]),
    );
    expect(thin).to.deep.include({ kind: 'limit', surface: 's1' });
    expect(thin.text).to.match(/is 0\.5 mm, at least 1 mm is asked for/);
  });

  it('never pass what has a negative thickness, or what no rays get through', () => {
    const negative = looked(
      lensOf([
        { r: 60, t: -2, n: 1.6 },
        { r: -200, t: 50 },
      ]),
    );
    expect(negative.map(({ kind, text }) => `${kind}: ${text}`).join('\n')).to.match(
      /impossible: .* has a negative thickness, -2 mm\./,
    );
    const blocked = looked(
      lensOf([
        { t: 10, n: 1.9 },
        { r: -5.2, t: 50 },
      ]),
    );
    expect(blocked.map(({ text }) => text).join()).to.match(/Rays at the rim of the pupil do not get through/);
  });

  it('ask for a largest thickness of glass and of air, and take a limit for met up to rounding', () => {
    const made = (making: object) =>
      looked({
        ...lensOf([
          { r: 60, t: 5, n: 1.6 },
          { r: -200, t: 12 },
          { r: 80, t: 3, n: 1.6 },
          { r: -90, t: 50 },
        ]),
        making,
      });
    const limits = (making: object) =>
      made(making)
        .filter(({ kind }) => kind === 'limit')
        .map(({ surface, text }) => `${surface}: ${text}`);
    expect(limits({})).to.deep.equal([]);
    const [glass, air] = limits({ glassMost: 4, airMost: 10 });
    expect(glass).to.match(/^s1: centre of .* is 5 mm, at most 4 mm is asked for/);
    expect(air).to.match(/^s2: gap after .* is 12 mm, at most 10 mm is asked for/);
    expect(limits({ airMost: 11.995 })).to.deep.equal([]);
    expect(isExceeded({ over: 0.02, max: 60 })).to.equal(false);
    expect(isExceeded({ over: 0.04, max: 60 })).to.equal(true);
    expect(isExceeded({ over: -1, min: 1 })).to.equal(false);
  });
});
