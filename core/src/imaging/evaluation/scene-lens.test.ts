import { readFileSync } from 'node:fs';
import { expect } from 'chai';
import { RAY_STATUS } from '../../compute/ray-block.ts';
import type { Project } from '../../project/model.ts';
import { SAMPLING, type Scene } from '../../project/scene.ts';
import { readProjectText } from '../../project/read.ts';
import { traceBundle } from '../../sequence/bundle.ts';
import { pupilPoints } from '../../sequence/pupil-sampling.ts';
import { SceneTracer, type Stretch } from '../../scene/tracer.ts';
import { Evaluation } from './evaluation.ts';

const SCENE: Scene = {
  id: 'station',
  name: 'Station',
  medium: 'air',
  parts: [
    {
      id: 'camera',
      body: { kind: 'lens', lens: 'tide' },
      frame: { dx: 5, dy: -7, dz: 11, tx: 20, ty: -30, tz: 40 },
    },
  ],
  sources: [
    {
      id: 'lamp',
      flux: 1,
      unit: 'W',
      light: [
        { nm: 486.1327, weight: 1 },
        { nm: 587.5618, weight: 1 },
        { nm: 656.2725, weight: 1 },
      ],
      region: { kind: 'point' },
      law: { kind: 'parallel', half: 0 },
    },
  ],
  detectors: [],
  sampling: { ...SAMPLING, threshold: 1e-3 },
};

function sample(name: string): Project {
  const read = readProjectText(
    readFileSync(new URL(`../../../../samples/${name}.ulvex.json`, import.meta.url), 'utf8'),
  );
  if (!read.ok) throw new Error(JSON.stringify(read.problems));
  return { ...read.project, scenes: [SCENE] };
}

describe('A lens of the prescription in the scene', () => {
  const project = sample('tide-camera');
  const evaluation = new Evaluation(project);
  const lens = evaluation.lens('tide');
  const scene = evaluation.scene('station');
  if (!lens.ok || !scene.ok) throw new Error('no tide camera');
  const { model } = scene.value;

  it('becomes elements, ground rims, the ring of the stop and the image', () => {
    expect(model.findings).to.deep.equal([]);
    expect(model.solids.map(({ material }) => material?.label)).to.have.length(4);
    const names = model.faces.map(({ name }) => name);
    for (const surface of project.lenses[0].surfaces)
      if (surface.id !== project.lenses[0].stop) expect(names, surface.id).to.include(surface.id);
    expect(names.filter((name) => name.endsWith('_ring'))).to.have.length(1);
    expect(names.filter((name) => name.endsWith('_rim'))).to.have.length(4);
  });

  it('brings the same rays to the same places of the image, wherever it stands, to 1e-9 mm', () => {
    const aimer = lens.value.aimer();
    if (!aimer.ok) throw new Error(aimer.reason);
    const { px, py } = pupilPoints({ kind: 'polar', rings: 3, arms: 6 }, 0);
    const place = model.faces[0].pose;
    let [worst, arrived] = [0, 0];
    for (const field of project.lenses[0].fields.points)
      for (const wave of [0, 1, 2]) {
        const starts: number[][] = [];
        const rays = traceBundle(
          aimer.value,
          { field, wave, px, py },
          {
            clip: true,
            onLaunch: ({ x, y, z, l, m, n }) => px.forEach((_, i) => starts.push([x[i], y[i], z[i], l[i], m[i], n[i]])),
          },
        );
        const nm = lens.value.model.wavelengths[wave].nm;
        for (let i = 0; i < px.length; i++) {
          if (rays.status[i] !== RAY_STATUS.alive) continue;
          const seen: Stretch[] = [];
          const tracer = new SceneTracer(model, { watch: (stretch) => seen.push(stretch) });
          const { shift: s, rotation: r } = place;
          // Back along it: launches lie in the plane of the entrance pupil, within the glass.
          const [x, y, z, l, m, n] = starts[i];
          const back = 60;
          const [bx, by, bz] = [x - back * l, y - back * m, z - back * n];
          const turn = (a: number, b: number, c: number) =>
            [r[0] * a + r[1] * b + r[2] * c, r[3] * a + r[4] * b + r[5] * c, r[6] * a + r[7] * b + r[8] * c] as const;
          const [gx, gy, gz] = turn(bx, by, bz);
          tracer.follow({
            at: [gx + s[0], gy + s[1], gz + s[2]],
            direction: turn(l, m, n),
            wave: model.waves.indexOf(nm),
          });
          const image = model.faces.findIndex(({ name }) => name === project.lenses[0].surfaces.at(-1)!.id);
          const direct = seen.filter(({ face }) => face === image).sort((a, b) => b.share - a.share)[0];
          expect(direct, `${field.id} ${nm} nm ray ${i}`).to.not.equal(undefined);
          const { pose } = model.faces[image];
          const d = direct.to.map((value, axis) => value - pose.shift[axis]);
          const q = pose.rotation;
          const local = [q[0] * d[0] + q[3] * d[1] + q[6] * d[2], q[1] * d[0] + q[4] * d[1] + q[7] * d[2]];
          worst = Math.max(worst, Math.abs(local[0] - rays.x[i]), Math.abs(local[1] - rays.y[i]));
          arrived++;
        }
      }
    expect(arrived).to.be.above(100);
    expect(worst).to.be.below(1e-9);
  });

  it('moves with the radius that the prescription gives it', () => {
    const changed = structuredClone(project) as unknown as {
      lenses: { surfaces: { shape: { radius?: number | string } }[] }[];
    };
    changed.lenses[0].surfaces[0].shape.radius = 31;
    const next = new Evaluation(changed as unknown as Project).scene('station');
    if (!next.ok) throw new Error(next.reason);
    const sag = (which: typeof model) => which.faces[0].form.box;
    expect(sag(next.value.model)).to.not.deep.equal(sag(model));
  });
});
