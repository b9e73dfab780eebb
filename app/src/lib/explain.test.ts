import { ANALYSES, MEASURES, listParameters, readProjectText } from '@ulvex/core';
import { expect } from 'chai';
import { readFileSync, readdirSync } from 'node:fs';
import { join, resolve } from 'node:path';
import { explanation } from './explain.ts';

const root = resolve(import.meta.dirname, '../../..');
const read = readProjectText(readFileSync(join(root, 'samples/tide-camera.ulvex.json'), 'utf8'));
if (!read.ok) throw new Error('the sample does not read');
const { project } = read;

describe('explanations', () => {
  it('exist for every measure and every parameter', () => {
    for (const { id, title } of MEASURES) {
      const said = explanation(`measure:${id}`, project);
      expect(said?.title).to.equal(title);
      expect(said?.text.length, id).to.be.greaterThan(20);
    }
    for (const { address } of listParameters(project)) {
      const said = explanation(`parameter:${address}`, project);
      expect(said?.text.length, address).to.be.greaterThan(10);
      expect(said?.more).to.include(`address ${address}`);
    }
  });

  it('exist for every word that a component asks for', () => {
    const folder = join(root, 'app/src');
    const asked = readdirSync(folder, { recursive: true, encoding: 'utf8' })
      .filter((name) => name.endsWith('.svelte'))
      .flatMap((name) => [...readFileSync(join(folder, name), 'utf8').matchAll(/explain="(word:\w+)"/g)])
      .map(([, key]) => key);
    expect(asked).to.include('word:radius');
    for (const key of asked) expect(explanation(key, project), key).to.not.equal(null);
  });

  it('exist for every word that a setting of an analysis is explained by', () => {
    const words = ANALYSES.flatMap(({ settings }) => Object.values(settings).flatMap(({ word }) => word ?? []));
    expect(words).to.include.members(['pupil', 'sampling', 'scale']);
    for (const word of words) expect(explanation(`word:${word}`, project), word).not.to.equal(null);
  });

  it('are silent about what there is not', () => {
    for (const key of ['measure:beauty', 'parameter:lenses.tide.nothing', 'word:nothing', 'nothing', ''])
      expect(explanation(key, project), key).to.equal(null);
  });
});
