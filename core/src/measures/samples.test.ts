import { expect } from 'chai';
import { readdirSync, readFileSync } from 'node:fs';
import { Evaluation } from '../imaging/evaluation/evaluation.ts';
import { lensFindings } from '../imaging/evaluation/findings.ts';
import { readProjectText } from '../project/read.ts';
import { evaluateMeasure } from './registry.ts';

describe('the samples', () => {
  for (const name of readdirSync('samples').filter((file) => file.endsWith('.ulvex.json'))) {
    it(`${name} is a sound project: it reads, has no findings, and every requirement has a value`, () => {
      const read = readProjectText(readFileSync(`samples/${name}`, 'utf8'));
      if (!read.ok) throw new Error(JSON.stringify(read.problems));
      const evaluation = new Evaluation(read.project);
      for (const { id } of read.project.lenses) {
        const lens = evaluation.lens(id);
        if (!lens.ok) throw new Error(lens.reason);
        expect(lensFindings(lens.value)).to.deep.equal([]);
      }
      expect(read.project.requirements.length).to.be.greaterThan(0);
      for (const requirement of read.project.requirements) {
        const measured = evaluateMeasure(evaluation, requirement);
        expect(measured.ok, `${requirement.id}: ${measured.ok ? '' : measured.reason}`).to.equal(true);
      }
    });
  }
});
