import { expect } from 'chai';
import { readdirSync, readFileSync } from 'node:fs';
import { Evaluation } from '../imaging/evaluation/evaluation.ts';
import { lensFindings } from '../imaging/evaluation/findings.ts';
import { evaluateMeasure } from '../measures/registry.ts';
import type { Project } from '../project/model.ts';
import { readProjectText } from '../project/read.ts';
import { formulaEvaluator } from '../math/formula.ts';
import { settle } from '../relations/settle.ts';
import { makingRows, rimRays } from './making-limits.ts';

const FOLDER = new URL('../../../samples/forms/', import.meta.url);

/** What the largest RMS spot over the fields must not exceed, µm, and the focal length within 1 %, mm; docs/start-forms.md has the table. */
const MUST_KEEP: Readonly<Record<string, readonly [spot: number, focal: number]>> = {
  'landscape-singlet': [31.1, 50],
  achromat: [6.03, 100],
  'symmetrical-pair': [26.3, 50],
  triplet: [14.3, 50],
  'four-element': [10.9, 50],
  retrofocus: [15, 20],
  telephoto: [5.41, 200],
  relay: [14.9, 52.3],
  eyepiece: [17.8, 25],
  'two-mirror': [3.34, 1000],
  'off-axis-paraboloid': [1.81, 200],
  'scan-lens': [0.605, 100],
};

function form(name: string): Project {
  const read = readProjectText(readFileSync(new URL(`${name}.ulvex.json`, FOLDER), 'utf8'));
  if (!read.ok) throw new Error(`${name}: ${JSON.stringify(read.problems)}`);
  return read.project;
}

function measured(project: Project, measure: string, settings: object = {}): number {
  const found = evaluateMeasure(new Evaluation(project), { measure, lens: 'lens', settings });
  if (!found.ok) throw new Error(found.reason);
  return found.value.value;
}

describe('start forms', () => {
  it('are all held to a number', () => {
    const names = readdirSync(FOLDER).flatMap((file) => /^(.*)\.ulvex\.json$/.exec(file)?.[1] ?? []);
    expect(names.sort()).to.deep.equal(Object.keys(MUST_KEEP).sort());
  });

  for (const [name, [spot, focal]] of Object.entries(MUST_KEEP))
    it(`${name} is traced, focused and to be made: spots to ${spot} µm at f = ${focal} mm`, async () => {
      const project = form(name);
      expect(measured(project, 'rms_spot_radius', { field: 'worst' })).to.be.at.most(spot);
      expect(Math.abs(measured(project, 'effective_focal_length'))).to.be.closeTo(focal, 0.01 * focal);
      const lens = new Evaluation(project).lens('lens');
      if (!lens.ok) throw new Error(lens.reason);
      expect(lensFindings(lens.value).filter(({ severity }) => severity === 'error')).to.deep.equal([]);
      for (const { title, over } of makingRows(lens.value.model, rimRays(lens.value)!, project.making))
        expect(over, title).to.be.below(2e-3);
      // Links and conditions hold as the file has them.
      expect(settle(project, await formulaEvaluator()).edits).to.deep.equal([]);
    });

  it('the off-axis paraboloid is perfect on its axis', () => {
    expect(measured(form('off-axis-paraboloid'), 'rms_spot_radius', { field: 'axis' })).to.be.below(1e-6);
  });
});
