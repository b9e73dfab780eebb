import { expect } from 'chai';
import { share } from '../finishes/optics/optics.ts';
import { applyEdits } from './edit.ts';
import {
  addSpectralRow,
  oneNumber,
  overWavelength,
  pasteSpectral,
  removeSpectralRow,
  spectralTableAt,
} from './spectral-edits.ts';
import { readProject } from './read.ts';
import { part, sceneProject } from './scene-fixtures.ts';
import { VOLUME_SPECS } from './scene-parameters.ts';

const REFLECTANCE = share('reflectance', 'Reflectance', 'Share of the flux that is reflected.');
const PATH = 'finishes.paint.optics.reflectance';
const plain = sceneProject({
  finishes: [{ id: 'paint', name: 'paint', optics: { kind: 'paint', reflectance: 0.8 } }],
});
const pairs = (project: typeof plain) => spectralTableAt(project, PATH)!.rows.map(({ nm, value }) => [nm, value]);

describe('A number given over the wavelength', () => {
  const spread = applyEdits(plain, overWavelength(plain, PATH, REFLECTANCE, [400, 700])).project;

  it('is the same everywhere at first, and one number again when asked', () => {
    expect(spectralTableAt(plain, PATH)).to.equal(null);
    expect(pairs(spread)).to.deep.equal([
      [400, 0.8],
      [700, 0.8],
    ]);
    expect(readProject(spread).ok).to.equal(true);
    const back = applyEdits(spread, oneNumber(PATH, spectralTableAt(spread, PATH)!)).project;
    expect(JSON.stringify(back)).to.equal(JSON.stringify(plain));
  });

  it('gets rows in its widest gaps, on its line, and loses them', () => {
    let project = spread;
    for (let k = 0; k < 3; k++)
      project = applyEdits(project, addSpectralRow(PATH, spectralTableAt(project, PATH)!)).project;
    expect(pairs(project)).to.deep.equal([400, 475, 550, 625, 700].map((nm) => [nm, 0.8]));
    const fewer = applyEdits(project, removeSpectralRow(PATH, spectralTableAt(project, PATH)!, 'r1')).project;
    expect(pairs(fewer).map(([nm]) => nm)).to.deep.equal([475, 550, 625, 700]);
  });

  it('also where nothing holds it yet: the absorption of a body of plain glass', () => {
    const clear = sceneProject({ parts: [part('bulb', { kind: 'sphere', radius: 2 }, { material: 'glass' })] });
    const path = 'scenes.scene.parts.bulb.volume.absorption';
    const edits = overWavelength(clear, path, VOLUME_SPECS[0], [400, 700]);
    const { project, inverse } = applyEdits(clear, edits);
    expect(spectralTableAt(project, path)!.rows.map(({ value }) => value)).to.deep.equal([0, 0]);
    expect(readProject(project).ok).to.equal(true);
    expect(JSON.stringify(applyEdits(project, inverse).project)).to.equal(JSON.stringify(clear));
  });

  it('with one row goes on above it, and without any is a number', () => {
    const one = applyEdits(spread, removeSpectralRow(PATH, spectralTableAt(spread, PATH)!, 'r2')).project;
    expect(pairs(applyEdits(one, addSpectralRow(PATH, spectralTableAt(one, PATH)!)).project)).to.deep.equal([
      [400, 0.8],
      [500, 0.8],
    ]);
    const none = applyEdits(one, removeSpectralRow(PATH, spectralTableAt(one, PATH)!, 'r1')).project;
    expect(spectralTableAt(none, PATH)).to.equal(null);
  });
});

describe('Two pasted columns', () => {
  const pasted = (text: string) => {
    const edits = pasteSpectral(PATH, REFLECTANCE, text);
    return edits.ok ? pairs(applyEdits(plain, edits.value).project) : edits.reason;
  };

  it('are read as spreadsheets and files write them', () => {
    const rows = [
      [400, 0.1],
      [550.5, 0.82],
    ];
    for (const text of [
      'nm\tR\n550.5\t0.82\n400\t0.1\n',
      '400;0,1\r\n550,5;0,82\r\n',
      '400 10 %\n550.5 82%',
      'wavelength R\n400, 0.1\n550.5, 0.82',
      '400,0.1\n550.5,0.82',
    ])
      expect(pasted(text), JSON.stringify(text)).to.deep.equal(rows);
  });

  it('are refused with the line that is wrong, and change nothing', () => {
    expect(pasted('400 0.1\n500')).to.match(/Line 2, “500”, is not a wavelength in nm and a value/);
    expect(pasted('400 0.1\n500 1.2')).to.match(/Line 2.*reflectance must be at most 1/);
    expect(pasted('400 0.1\n500 0.2 0.3')).to.match(/Line 2/);
    expect(pasted('-400 0.1')).to.match(/Line 1.*above 0 nm/);
    expect(pasted('R')).to.match(/no row/);
    expect(pasted('')).to.match(/no row/);
    const many = Array.from({ length: 501 }, (_, i) => `${400 + i} 0.5`).join('\n');
    expect(pasted(many)).to.match(/501 rows; at most 500/);
  });
});
