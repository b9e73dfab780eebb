import { expect } from 'chai';
import { compileFinish, type Finish } from '../finishes/finish.ts';
import { movePoint } from '../math/rigid.ts';
import { detector, glassOf, part, sceneOf, source } from './fixtures.ts';
import { noTally, traceAll } from './run.ts';
import { detectorNumbers } from './statistics.ts';
import { SceneTracer, type Stretch } from './tracer.ts';

const texts = (model: ReturnType<typeof sceneOf>) => model.findings.map(({ where, text }) => `${where}: ${text}`);

/** Numbers of the first detector of a scene. */
function numbersOf(given: Parameters<typeof sceneOf>[0], rays: number) {
  const model = sceneOf(given);
  const tally = traceAll(model, rays);
  return detectorNumbers(model.detectors[0], tally.detectors[0], tally.chunks);
}

describe('compiling a scene', () => {
  it('frames lie in frames: shift, then tilt, at each step', () => {
    const model = sceneOf({
      parts: [
        part('table', { kind: 'group' }, { frame: { dx: 10, tz: 90 } }),
        part('pin', { kind: 'sphere', radius: 1 }, { material: 'glass', within: 'table', frame: { dx: 5, dz: 2 } }),
      ],
    });
    expect(movePoint(model.faces[0].pose, [0, 0, 0])).to.deep.equal([10, 5, 2]);
  });

  it('patterns and mirrored copies stand where they should, with the finish of their original', () => {
    const model = sceneOf({
      parts: [
        part(
          'wedge',
          {
            kind: 'extruded',
            points: [
              [0, 0],
              [4, 0],
              [0, 2],
            ],
            length: 1,
          },
          { finish: 'mirror', frame: { dx: 3 } },
        ),
        part('other', { kind: 'copy', of: 'wedge', mirrored: 'x' }, { frame: { dx: -3 } }),
        part('row', { kind: 'copy', of: 'wedge' }, { pattern: { kind: 'grid', columns: 3, rows: 1, dx: 10, dy: 0 } }),
        part('round', { kind: 'copy', of: 'wedge' }, { pattern: { kind: 'ring', count: 4, radius: 20 } }),
      ],
    });
    const boxOf = (id: string) => {
      const faces = model.faces.filter((face) => face.id.startsWith(`${id}.`));
      return [Math.min(...faces.map(({ box }) => box.min[0])), Math.max(...faces.map(({ box }) => box.max[0]))];
    };
    expect(boxOf('wedge')).to.deep.equal([3, 7]);
    expect(boxOf('other')).to.deep.equal([-7, -3]);
    expect(boxOf('row#3')).to.deep.equal([10, 14]);
    expect(model.faces.filter(({ part: of }) => of === 'round')).to.have.length(20);
    expect(new Set(model.faces.map(({ finish }) => finish.id))).to.deep.equal(new Set(['mirror']));
    // A mirrored body is as closed as its original: its normals point outward still.
    const tracer = new SceneTracer(model);
    expect(tracer.bodiesAt(-4, 0.3, 0.5)).to.have.length(1);
    expect(tracer.bodiesAt(-4, 0.3, 1.5)).to.have.length(0);
  });

  it('what is left out is left out with all that stands in it', () => {
    const model = sceneOf({
      parts: [
        part('table', { kind: 'group' }, { excluded: true }),
        part('pin', { kind: 'sphere', radius: 1 }, { material: 'glass', within: 'table' }),
        part('free', { kind: 'sphere', radius: 1 }, { material: 'glass' }),
      ],
      sources: [source({ within: 'table' })],
    });
    expect(model.faces.map(({ part: of }) => of)).to.deep.equal(['free']);
    expect(model.sources).to.deep.equal([]);
    expect(texts(model).join()).to.match(/nothing is traced/);
  });

  it('says what is missing, by name and place', () => {
    const model = sceneOf({
      medium: 'fog',
      parts: [
        part('a', { kind: 'sphere', radius: 1 }, { material: 'amber', within: 'b' }),
        part('b', { kind: 'sphere', radius: 1 }, { finish: 'velvet', within: 'a' }),
        part('c', { kind: 'copy', of: 'nobody' }),
        part('d', { kind: 'lens', lens: 'none' }),
        part('e', { kind: 'box', width: 1, height: 1, thickness: 1 }),
        part('f', { kind: 'sheet', width: 1, height: 1 }, { finish: 'velvet' }),
      ],
      sources: [
        source({ region: { kind: 'face', part: 'zz', face: 'front' } }),
        source({ id: 'ir', unit: 'lm', light: [{ nm: 1000, weight: 1 }] }),
      ],
      detectors: [detector({ kind: 'face', part: 'e', face: 'middle' })],
    });
    const all = texts(model).join('\n');
    for (const expected of [
      /no material “fog”/,
      /Its frame lies within itself: a in b in a|b in a in b/,
      /c: There is no part “nobody” to copy/,
      /d: There is no lens “none”/,
      /e: It has neither a material nor a finish/,
      /f: The project has no finish “velvet”/,
      /lamp: There is no face zz\.front/,
      /ir: Its light is invisible/,
      /meter: There is no face e\.middle/,
    ])
      expect(all).to.match(expected);
  });
});

describe('sources', () => {
  it('look at a place, and shine within their cone', () => {
    const model = sceneOf({
      parts: [part('far', { kind: 'sphere', radius: 1e4 }, { finish: 'absorber' })],
      sources: [source({ law: { kind: 'lambertian', half: 20 }, frame: { dx: 3 }, towards: { x: 1, y: 2, z: -2 } })],
    });
    const ends: Stretch[] = [];
    new SceneTracer(model, { watch: (stretch) => ends.push(stretch) }).chunk(0, 256, 1, noTally(model));
    for (const { from, to } of ends) {
      const way = to.map((value, axis) => value - from[axis]);
      const cosine = (way[0] + 2 * way[1] - 2 * way[2]) / 3 / Math.hypot(...way);
      expect(cosine).to.be.at.least(Math.cos(Math.PI / 9) - 1e-9);
    }
  });

  it('given in lumens send the watts that make them', () => {
    const model = sceneOf({
      sources: [
        source({ flux: 683, unit: 'lm' }),
        source({ id: 'two', flux: 2, unit: 'lm', light: [{ nm: 510, weight: 1 }] }),
      ],
    });
    expect(model.sources[0].watts).to.be.closeTo(1, 1e-12);
    expect(model.sources[1].watts).to.be.closeTo(2 / (683 * 0.503), 1e-12);
  });

  it('emit by a table as by the law that it was made of', () => {
    const degrees = Array.from({ length: 91 }, (_, i) => i);
    const scene = (law: Parameters<typeof source>[0]) =>
      numbersOf(
        {
          parts: [part('disc', { kind: 'disc', radius: 10 }, { frame: { dz: 10 } })],
          sources: [source(law)],
          detectors: [detector({ kind: 'face', part: 'disc', face: 'face' })],
        },
        16_384,
      );
    const table = scene({
      law: { kind: 'table', degrees, intensity: degrees.map((d) => Math.cos((d * Math.PI) / 180)) },
    });
    expect(table.flux.value).to.be.closeTo(0.5, 1e-3);
  });
});

describe('detectors', () => {
  it('far away count by direction: a narrow beam lies where it points', () => {
    const numbers = numbersOf(
      {
        sources: [source({ frame: { ty: 12, tx: -5 } })],
        detectors: [detector({ kind: 'far', halfX: 30, halfY: 20 }, { columns: 60, rows: 40 })],
      },
      512,
    );
    // R = Rx(−5°)·Ry(12°): (L, M, N) = (sin 12°, sin 5°·cos 12°, cos 5°·cos 12°).
    const [h, v] = [
      Math.atan2(Math.sin(rad(12)), Math.cos(rad(5)) * Math.cos(rad(12))),
      Math.asin(Math.sin(rad(5)) * Math.cos(rad(12))),
    ];
    expect(numbers.centroidX.value).to.be.closeTo((h * 180) / Math.PI, 1e-9);
    expect(numbers.centroidY.value).to.be.closeTo((v * 180) / Math.PI, 1e-9);
    expect(numbers.flux.value).to.be.closeTo(1, 1e-12);
  });

  it('count what comes, what stays and what goes', () => {
    const face = { kind: 'face', part: 'wall', face: 'face' } as const;
    const model = sceneOf({
      finishes: [{ id: 'grey', name: 'grey', optics: { kind: 'paint', reflectance: 0.3 } }],
      parts: [part('wall', { kind: 'sheet', width: 10, height: 10 }, { frame: { dz: 5 }, finish: 'grey' })],
      sources: [source()],
      detectors: (['incident', 'absorbed', 'leaving'] as const).map((counts) => detector(face, { id: counts, counts })),
    });
    const tally = traceAll(model, 128);
    const flux = tally.detectors.map(({ moments }) => moments[0]);
    expect(flux[0]).to.be.closeTo(1, 1e-12);
    expect(flux[1]).to.be.closeTo(0.7, 1e-12);
    expect(flux[2]).to.be.closeTo(0.3, 1e-12);
  });
});

const rad = (degrees: number) => (degrees * Math.PI) / 180;

describe('unknown glass', () => {
  it('is no way for light', () => {
    const model = sceneOf({
      materials: [{ ...glassOf(1.5), range: [600, 700] }],
      parts: [part('ball', { kind: 'sphere', radius: 1 }, { material: 'glass', frame: { dz: 5 } })],
      sources: [source()],
    });
    expect(texts(model).join()).to.match(/no refractive index at 555 nm/);
    const tally = traceAll(model, 64);
    expect(tally.ledger.absorbed / tally.chunks).to.be.closeTo(1, 1e-12);
    expect(tally.mishaps[0].kind).to.equal('opaque');
  });
});

describe('numbers that make no sense together', () => {
  it('are said, leave the rest of the scene as it is, and make no light of nothing', () => {
    const finish: Finish = {
      id: 'f',
      name: 'Too bright',
      optics: { kind: 'split', reflectance: 0.9, transmittance: 0.6 },
    };
    const { plain } = compileFinish(finish, 550);
    expect(plain).to.deep.equal({ kind: 'fixed', reflectance: 0.9 / 1.5, transmittance: 0.6 / 1.5 });
    const disc = { kind: 'disc', radius: 5 } as const;
    const tube = { kind: 'tube', radius: 24, inner: 60, length: 5 } as const;
    const { faces, findings } = sceneOf({
      parts: [part('hood', tube), { ...part('plate', disc), finish: 'f' }],
      finishes: [finish],
    });
    expect(faces.map((face) => face.part)).to.deep.equal(['plate']);
    expect(findings.map(({ text, where }) => `${where ?? ''}: ${text}`)).to.deep.equal([
      'hood: No such body: the inner radius must be below the outer one.',
      ': Too bright reflects and transmits 150.0 % together; both are reduced in proportion to 100 %. Give it shares that sum to 1 at most.',
    ]);
  });
});

describe('scenes beyond the budget', () => {
  it('say what is too large and what would do, and go on with the rest', () => {
    const block = { kind: 'block', width: 1, height: 1, depth: 1, layers: 200 } as const;
    const disc = { kind: 'disc', radius: 5 } as const;
    const many = { kind: 'grid', columns: 100, rows: 100, dx: 20, dy: 20 } as const;
    const parts = Array.from({ length: 6 }, (_, i) => part(`p${i}`, disc, { finish: 'mirror', pattern: many }));
    const { detectors, findings, faces } = sceneOf({
      parts,
      detectors: [
        detector(block, { id: 'huge', columns: 1000, rows: 1000 }),
        detector({ kind: 'rectangle', width: 1, height: 1 }, { id: 'small' }),
      ],
    });
    expect(detectors.map(({ id }) => id)).to.deep.equal(['small']);
    expect(new Set(faces.filter((face) => face.part).map((face) => face.part)).size).to.equal(5);
    expect(
      findings.filter(({ severity }) => severity === 'error').map(({ where, text }) => `${where}: ${text}`),
    ).to.deep.equal([
      'p5: Its 10,000 bodies, with 50,000 before it, are more than the 50,000 that a scene may have: it is excluded. Give it fewer.',
      'huge: Its 200,000,000 cells are more than the 20,000,000 that a scene may have: it is excluded. Give it fewer.',
    ]);
  });
});

describe('numbers over the wavelength', () => {
  const absorption = {
    kind: 'table',
    rows: [
      { id: 'r1', nm: 450, value: 0.2 },
      { id: 'r2', nm: 650, value: 0.1 },
    ],
  } as const;
  const model = sceneOf({
    parts: [
      part('filter', { kind: 'sphere', radius: 2 }, { material: 'glass', volume: { absorption }, finish: 'red' }),
    ],
    sources: [
      source({
        light: [
          { nm: 450, weight: 1 },
          { nm: 550, weight: 1 },
          { nm: 700, weight: 1 },
        ],
      }),
    ],
    finishes: [
      {
        id: 'red',
        name: 'Red splitter',
        optics: {
          kind: 'split',
          reflectance: { kind: 'table', rows: absorption.rows.map((row) => ({ ...row, value: 4 * row.value })) },
          transmittance: 0.55,
        },
      },
    ],
  });

  it('hold for each wavelength that is traced: absorption inside, shares at faces', () => {
    expect(model.waves).to.deep.equal([450, 550, 700]);
    [0.2, 0.15, 0.1].forEach((value, i) => expect(model.solids[0].absorption[i]).to.be.closeTo(value, 1e-15));
    const shares = model.faces[0].optics.map(({ plain }) => (plain?.kind === 'fixed' ? plain.reflectance : NaN));
    // At 450 nm 0.8 and 0.55 are more than there is: both in proportion.
    [0.8 / 1.35, 0.6 / 1.15, 0.4].forEach((value, i) => expect(shares[i]).to.be.closeTo(value, 1e-12));
  });

  it('report what is outside their range, and what is too much', () => {
    const told = model.findings.map(({ severity, text }) => `${severity}: ${text}`).join('\n');
    expect(told).to.match(
      /warning: Its absorption is given from 450 to 650 nm: at 700 nm the value at the nearest end/,
    );
    expect(told).to.match(/error: Red splitter reflects and transmits 135\.0 % together/);
    expect(told).to.match(/warning: Reflectance, Red splitter, is given from 450 to 650 nm: at 700 nm/);
    expect(model.findings).to.have.length(3);
  });
});
