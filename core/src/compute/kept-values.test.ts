import { expect } from 'chai';
import { KeptValues, SentValues } from './kept-values.ts';

const NAMES = { project: ['meshes'] };
const mesh = (id: string) => ({ id, corners: 'AAAA'.repeat(10) });

/** A worker that is sent inputs: what it unpacks, and how many letters went over. */
function worker() {
  const [sent, kept] = [new SentValues(NAMES), new KeptValues()];
  return (input: unknown) => {
    const packed = sent.pack(input);
    return { input: kept.unpack(structuredClone(packed)) as never, letters: JSON.stringify(packed).length };
  };
}

describe('Values that workers keep', () => {
  it('arrive as they were sent, whatever the input is', () => {
    const send = worker();
    for (const input of [
      { project: { name: 'a', meshes: [mesh('m'), mesh('n')] }, rays: 5 },
      { project: { name: 'b' } },
      { project: null, other: [1] },
      { text: 'no project' },
      'a text',
      [1, 2],
      null,
      undefined,
    ])
      expect(send(input).input).to.deep.equal(input);
  });

  it('go over once: the worker gets the same object again', () => {
    const send = worker();
    const project = { name: 'a', meshes: [mesh('m')] };
    const first = send({ project, from: 0 });
    const again = send({ project, from: 20 });
    expect(again.input).to.deep.equal({ project, from: 20 });
    expect((again.input as { project: object }).project).to.equal((first.input as { project: object }).project);
    expect(again.letters).to.be.below(first.letters / 2);
  });

  it('share their entries between versions', () => {
    const send = worker();
    const heavy = mesh('m');
    const [one, two] = [1, 2].map(
      (radius) => send({ project: { radius, meshes: [heavy] } }).input as { project: { meshes: object[] } },
    );
    expect(two.project).to.not.equal(one.project);
    expect(two.project.meshes[0]).to.equal(one.project.meshes[0]);
    // An entry that was replaced is another one, though it has the same id.
    const changed = send({ project: { radius: 2, meshes: [{ ...heavy, corners: 'BBBB' }] } }).input as typeof one;
    expect(changed.project.meshes[0]).to.deep.equal({ ...heavy, corners: 'BBBB' });
  });

  it('are forgotten on both sides when there are many, and sent again when they are needed again', () => {
    const send = worker();
    const projects = Array.from({ length: 9 }, (_, k) => ({ k, meshes: [mesh(`m${k}`)] }));
    for (let round = 0; round < 3; round++)
      for (const project of projects) expect(send({ project }).input).to.deep.equal({ project });
    const many = { meshes: Array.from({ length: 100 }, (_, k) => mesh(`x${k}`)) };
    for (let round = 0; round < 2; round++)
      expect(send({ project: many, round }).input).to.deep.equal({ project: many, round });
    expect(send({ project: { ...many, name: 'next' } }).input).to.deep.equal({ project: { ...many, name: 'next' } });
  });
});
