import { expect } from 'chai';
import { readFileSync } from 'node:fs';
import { Evaluation } from '../imaging/evaluation/evaluation.ts';
import { atOnce } from '../math/steps.ts';
import { readProjectText } from '../project/read.ts';
import { analyse } from './analysis.ts';
import { panelRows } from './panels.ts';
import { prescriptionTable } from './prescription.ts';

describe('the prescription as a table', () => {
  const read = readProjectText(readFileSync('samples/tide-camera.ulvex.json', 'utf8'));
  if (!read.ok) throw new Error('the sample does not read');
  const [lens] = read.project.lenses;
  const evaluated = new Evaluation(read.project).lens(lens.id);
  if (!evaluated.ok) throw new Error(evaluated.reason);
  const found = atOnce(analyse(evaluated.value, prescriptionTable, {}, 'full'));
  if (!found.ok) throw new Error(found.reason);
  const [panel] = found.value.panels;
  if (panel.kind !== 'table') throw new Error('no table');

  it('has a row for every surface with what it is made of, every digit kept in files', () => {
    expect(panel.rows).to.have.length(lens.surfaces.length);
    const [first] = panel.rows;
    expect(first.slice(0, 4)).to.deep.equal(['L1 front', 13.8165, 2.3027, '691547']);
    expect(first[4]).to.be.closeTo(6.469, 1e-3);
    expect(panelRows(found.value.panels)[1][1]).to.equal(13.8165);
  });

  it('marks the stop, flats and the image', () => {
    const stop = panel.rows.find(([name]) => name === 'Stop')!;
    expect(stop[1]).to.equal(Infinity);
    expect(stop.at(-1)).to.match(/^stop/);
    expect(panel.rows.at(-1)!.slice(2, 4)).to.deep.equal(['', '']);
    expect(found.value.about.join()).to.match(/far object,.*10\.2857,.*16/);
  });
});
