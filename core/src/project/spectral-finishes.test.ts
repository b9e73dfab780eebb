import { expect } from 'chai';
import type { Finish } from '../finishes/finish.ts';
import { compileFinish } from '../finishes/finish.ts';
import { finishProblems } from '../finishes/finish-problems.ts';
import type { FaceShares } from '../finishes/fresnel.ts';
import { filmShares } from '../finishes/thin-film.ts';
import { catalogueMaterial } from '../materials/catalogue.ts';
import { indexIn, type Material } from '../materials/material.ts';
import { filmMedia } from './film-media.ts';
import { findParameter, listParameters, setParameter } from './parameters.ts';
import { applyEdit } from './edit.ts';
import { readProject } from './read.ts';
import { glassOf, sceneProject } from './scene-fixtures.ts';

const rows = (...values: readonly (readonly [number, unknown])[]) => ({
  kind: 'table' as const,
  rows: values.map(([nm, value], k) => ({ id: `r${k + 1}`, nm, value: value as number })),
});
const paint = (reflectance: unknown): Finish => ({
  id: 'paint',
  name: 'Red paint',
  optics: { kind: 'paint', reflectance } as Finish['optics'],
});
const silica = catalogueMaterial('fused_silica')!;
const filmOfSilica: Finish = {
  id: 'film',
  name: 'Quarter wave',
  optics: { kind: 'coating', layers: [{ id: 'f1', material: 'fused_silica', thickness: 94 }] },
};
const projectWith = (finish: Finish, materials: readonly Material[] = [glassOf(1.5)]) =>
  sceneProject({ finishes: [finish], materials });

describe('Finishes over the wavelength', () => {
  const red = paint(rows([500, 0.1], [600, 0.8]));

  it('reflect what their table says at each wavelength', () => {
    const out: FaceShares = { rs: 0, rp: 0, ts: 0, tp: 0 };
    for (const [nm, reflected] of [
      [450, 0.1],
      [550, 0.45],
      [650, 0.8],
    ]) {
      compileFinish(red, nm).shares(1, 1, 0.7, false, out);
      expect((out.rs + out.rp) / 2, `${nm} nm`).to.be.closeTo(reflected, 1e-12);
    }
  });

  it('scatter the share of each wavelength, and draw one law for all where nothing differs', () => {
    const dull: Finish = {
      id: 'dull',
      name: 'dull',
      optics: { kind: 'mirror', reflectance: 0.9 },
      reflected: { kind: 'gaussian', share: rows([400, 1], [700, 0.4]), angle: 5 },
    };
    expect(compileFinish(dull, 550).reflected!.share(0)).to.be.closeTo(0.7, 1e-12);
    expect(compileFinish(dull, 700).reflected!.share(0)).to.be.closeTo(0.4, 1e-12);
    const plain: Finish = { ...dull, reflected: { kind: 'gaussian', share: 0.5, angle: 5 } };
    expect(compileFinish(plain, 550).reflected).to.equal(compileFinish(plain, 700).reflected);
  });

  it('have an address for every number of their tables', () => {
    const project = projectWith(red);
    const at = 'finishes.paint.optics.reflectance';
    expect(findParameter(project, at).ok).to.equal(false);
    const addresses = listParameters(project).map(({ address }) => address);
    expect(addresses).to.include.members([`${at}.r1.nm`, `${at}.r1.value`, `${at}.r2.nm`, `${at}.r2.value`]);
    const found = findParameter(project, `${at}.r2.value`);
    if (!found.ok) throw new Error(found.reason);
    expect(found.value.value).to.equal(0.8);
    expect(found.value.spec.title).to.equal('Reflectance at 600 nm');
    expect(setParameter(found.value, 1.2)).to.deep.equal({
      ok: false,
      reason: 'Reflectance at 600 nm must be at most 1.',
    });
    const edit = setParameter(found.value, 0.6);
    if (!edit.ok) throw new Error(edit.reason);
    const next = applyEdit(project, edit.value).project;
    expect(next.finishes![0].optics).to.have.deep.property('reflectance', rows([500, 0.1], [600, 0.6]));
  });

  it('are refused by files with the place of what is wrong: a gap, a share above 1, no row, another kind', () => {
    const complaint = (reflectance: unknown) => {
      const read = readProject(projectWith(paint(reflectance)));
      return read.ok ? null : read.problems.map(({ place, reason }) => `${place}: ${reason}`).join('; ');
    };
    expect(complaint(rows([500, 0.1], [600, 0.8]))).to.equal(null);
    expect(complaint(rows([500, 0.1], [600, null]))).to.match(/finishes\.paint\.optics\.reflectance\.rows\.r2\.value/);
    expect(complaint(rows([500, 0.1], [600, 1.3]))).to.match(/rows\.r2\.value.*must be at most 1/);
    expect(complaint(rows([-5, 0.1]))).to.match(/rows\.r1\.nm.*above 0/);
    expect(complaint(rows())).to.match(/reflectance\.rows.*has no row/);
    expect(complaint({ kind: 'curve', rows: [] })).to.match(/must be “table”/);
    expect(complaint('dark')).to.match(/must be a number or a table over the wavelength/);
  });

  it('say at which wavelengths a table ends, and what counts then', () => {
    const [problem, ...others] = finishProblems(red, [480, 550, 633], filmMedia(projectWith(red)));
    expect(others).to.deep.equal([]);
    expect(problem).to.deep.equal({
      severity: 'warning',
      text: 'Reflectance, Red paint, is given from 500 to 600 nm: at 480, 633 nm the value at the nearest end counts.',
    });
  });
});

describe('Films of materials', () => {
  const project = projectWith(filmOfSilica, [silica]);

  it('have the index of the material at each wavelength', () => {
    const [found, out]: FaceShares[] = [0, 1].map(() => ({ rs: 0, rp: 0, ts: 0, tp: 0 }));
    for (const nm of [400, 550, 700]) {
      compileFinish(filmOfSilica, nm, filmMedia(project)).shares(1, 1.7, 0.8, false, found);
      filmShares(nm, 1, 0.8, [{ n: indexIn(silica, nm), k: 0, nm: 94 }], { n: 1.7, k: 0 }, out);
      expect(found.rs, `${nm} nm`).to.be.closeTo(out.rs, 1e-7);
      expect(found.tp, `${nm} nm`).to.be.closeTo(out.tp, 1e-7);
    }
  });

  it('absorb as their material does: k = αλ/4π', () => {
    const { k } = filmMedia(projectWith(filmOfSilica, [glassOf(1.5, 0.2)]))('glass', 500)!;
    expect(k).to.be.closeTo((0.2 * 500e-6) / (4 * Math.PI), 1e-18);
  });

  it('without an index at a wavelength absorb its light and are reported, and the others work on', () => {
    const media = filmMedia(project);
    expect(media('fused_silica', 90_000)).to.equal(null);
    const [problem] = finishProblems(filmOfSilica, [550, 90_000], media);
    expect(problem.severity).to.equal('error');
    expect(problem.text).to.match(/Film 1 of Quarter wave of “fused_silica” has no index at 90000 nm/);
    const out: FaceShares = { rs: 1, rp: 1, ts: 1, tp: 1 };
    compileFinish(filmOfSilica, 90_000, media).shares(1, 1.5, 1, false, out);
    expect(out).to.deep.equal({ rs: 0, rp: 0, ts: 0, tp: 0 });
    compileFinish(filmOfSilica, 550, media).shares(1, 1.5, 1, false, out);
    expect(out.ts).to.be.above(0.9);
  });

  it('are read from files with a material or an index, one of the two', () => {
    expect(readProject(project).ok).to.equal(true);
    const without = { ...filmOfSilica, optics: { kind: 'coating', layers: [{ id: 'f1', thickness: 94 }] } } as Finish;
    const read = readProject(projectWith(without));
    expect(read.ok ? '' : `${read.problems[0].place} ${read.problems[0].reason}`).to.match(
      /layers\.f1\.index.*a number is missing/,
    );
  });
});
