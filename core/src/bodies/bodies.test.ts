import { expect } from 'chai';
import fc from 'fast-check';
import { inverse, movePoint, turnDirection } from '../math/rigid.ts';
import { faceOfShape } from './mirror-shell.ts';
import { bodyDefinition, BODIES, buildBody, type OwnBody } from './registry.ts';
import type { BuiltFace } from './body.ts';
import type { FaceForm } from './face-form.ts';
import { areasBelow } from './triangle-spread.ts';

/** A sample of each solid with its volume and surface by closed forms. */
const SOLIDS: readonly (readonly [OwnBody, number, number])[] = [
  [{ kind: 'box', width: 3, height: 4, thickness: 5 }, 60, 94],
  [{ kind: 'cylinder', radius: 2, length: 5 }, 20 * Math.PI, 28 * Math.PI],
  [{ kind: 'cone', front: 3, back: 0, length: 4 }, 12 * Math.PI, 24 * Math.PI],
  [{ kind: 'tube', radius: 3, inner: 2, length: 5 }, 25 * Math.PI, 60 * Math.PI],
  [{ kind: 'sphere', radius: 2 }, (32 / 3) * Math.PI, 16 * Math.PI],
  [
    { kind: 'mixing_rod', sides: 5, radius: 3, length: 10 },
    450 * Math.tan(Math.PI / 5),
    (90 + 300) * Math.tan(Math.PI / 5),
  ],
  [{ kind: 'torus', ring: 5, tube: 1 }, 10 * Math.PI ** 2, 20 * Math.PI ** 2],
  [{ kind: 'prism', apex: 60, side: 2, length: 3 }, 3 * Math.sqrt(3), 18 + 2 * Math.sqrt(3)],
  [
    { kind: 'plate_hole', width: 10, height: 10, thickness: 2, hole: 3 },
    200 - 18 * Math.PI,
    280 - 18 * Math.PI + 12 * Math.PI,
  ],
  [
    {
      kind: 'revolved',
      points: [
        [1, 0],
        [2, 0],
        [2, 3],
        [1, 3],
      ],
    },
    9 * Math.PI,
    24 * Math.PI,
  ],
  [
    {
      kind: 'extruded',
      points: [
        [0, 0],
        [3, 0],
        [0, 4],
      ],
      length: 2,
    },
    12,
    36,
  ],
  [
    {
      kind: 'extruded',
      points: [
        [0, 4],
        [3, 0],
        [0, 0],
      ],
      length: 2,
    },
    12,
    36,
  ],
  // Two caps of a ball of radius 5 and height 1 on each other; areas 2πRh.
  [
    { kind: 'lens_block', front: 5, back: -5, thickness: 2.5, semi: 3 },
    (2 * Math.PI * 14) / 3 + 4.5 * Math.PI,
    20 * Math.PI + 3 * Math.PI,
  ],
  // Paraboloid-like sags are small here: a plate of 2 mm and what two thin caps add, x²/2R over the disc, R 200 and 400.
  [
    { kind: 'biaxial', front: 200, front_x: 400, back: 'infinity', back_x: 'infinity', thickness: 2, semi: 4 },
    32 * Math.PI - ((Math.PI * 4 ** 4) / 8) * (1 / 200 + 1 / 400),
    48 * Math.PI - 2 * Math.PI * 4 * (16 / 4) * (1 / 200 + 1 / 400),
  ],
  // A duct of 2 × 2 with a right-angled bend: mitred, it has the volume of its middle line.
  [
    {
      kind: 'swept',
      points: [
        [-1, -1],
        [1, -1],
        [1, 1],
        [-1, 1],
      ],
      path: [
        [0, 0, -3],
        [0, 0, 2],
        [0, 4, 2],
      ],
    },
    36,
    8 + 8 * 9,
  ],
  [
    {
      kind: 'swept',
      points: [
        [-1, 1],
        [1, 1],
        [1, -1],
        [-1, -1],
      ],
      path: [
        [0, 0, -3],
        [0, 0, 2],
        [3, 0, 2],
      ],
    },
    32,
    8 + 8 * 8,
  ],
  [{ kind: 'concentrator', exit: 0.8, acceptance: 25 }, ...concentratorSize(0.8, 25)],
];

/** Volume and surface of a filled concentrator, by quadrature along its parabola in polar form. */
function concentratorSize(exit: number, acceptance: number): [number, number] {
  const angle = (acceptance * Math.PI) / 180;
  const focus = exit * (1 + Math.sin(angle));
  const at = (phi: number) => {
    const ray = (2 * focus) / (1 - Math.cos(phi));
    return [ray * Math.sin(phi - angle) - exit, ray * Math.cos(phi - angle)];
  };
  const steps = 20_000;
  let [volume, wall] = [0, 0];
  for (let k = 0; k < steps; k++) {
    const [[r0, z0], [r1, z1]] = [k, k + 1].map((i) => at(2 * angle + (i / steps) * (Math.PI / 2 - angle)));
    volume += ((Math.PI * (r0 * r0 + r0 * r1 + r1 * r1)) / 3) * (z0 - z1);
    wall += Math.PI * (r0 + r1) * Math.hypot(r1 - r0, z1 - z0);
  }
  const mouth = exit / Math.sin(angle);
  return [volume, wall + Math.PI * (exit * exit + mouth * mouth)];
}

/** Meetings of a line with a body: distance and whether the line goes out there. */
function meetings(
  faces: readonly BuiltFace[],
  at: readonly [number, number, number],
  along: readonly [number, number, number],
) {
  const out = new Float64Array(8);
  const normal = new Float64Array(3);
  return faces
    .flatMap(({ form, pose }) => {
      const back = inverse(pose);
      const [x, y, z] = movePoint(back, at);
      const [l, m, n] = turnDirection(back, along);
      const count = form.meet(x, y, z, l, m, n, out);
      return Array.from(out.subarray(0, count), (t) => {
        form.normal(x + t * l, y + t * m, z + t * n, normal);
        return { t, cosine: normal[0] * l + normal[1] * m + normal[2] * n };
      });
    })
    .sort((a, b) => a.t - b.t);
}

/** Starts lie on a face, and their mean and mean square are those of its triangles. */
function expectEven(form: FaceForm) {
  const { positions, indices } = form.triangles(180);
  const below = areasBelow({ positions, indices, normals: positions });
  const size = Math.hypot(...form.box.max.map((value, axis) => value - form.box.min[axis]));
  const [drawn, started] = [new Float64Array(6), new Float64Array(6)];
  below.forEach((sum, k) => {
    const share = (sum - (below[k - 1] ?? 0)) / below.at(-1)!;
    const corners = [0, 1, 2].map((i) => 3 * indices[3 * k + i]);
    for (let axis = 0; axis < 3; axis++) {
      const [a, b, c] = corners.map((at) => positions[at + axis] / size);
      drawn[axis] += (share * (a + b + c)) / 3;
      // Mean of a square over a triangle, by its corners.
      drawn[3 + axis] += (share * (a * a + b * b + c * c + a * b + b * c + c * a)) / 6;
    }
  });
  const [at, normal, met] = [new Float64Array(3), new Float64Array(3), new Float64Array(8)];
  const count = 20_000;
  for (let i = 0; i < count; i++) {
    // Roberts' sequence: evenly in u, v and both together.
    form.spread((0.5 + i * 0.7548776662466927) % 1, (0.5 + i * 0.5698402909980532) % 1, at);
    const [x, y, z] = at;
    form.normal(x, y, z, normal);
    const hits = form.meet(x, y, z, normal[0], normal[1], normal[2], met);
    let off = Infinity;
    for (let k = 0; k < hits; k++) off = Math.min(off, Math.abs(met[k]));
    if (!(off < 1e-9 * size)) expect(off, `from the face, at ${x}, ${y}, ${z}`).to.be.below(1e-9 * size);
    for (let axis = 0; axis < 3; axis++) {
      started[axis] += at[axis] / size / count;
      started[3 + axis] += (at[axis] / size) ** 2 / count;
    }
  }
  started.forEach((value, k) => expect(value, `moment ${k}`).to.be.closeTo(drawn[k], 2e-3));
}

// Away from round numbers: lines in the planes of symmetry run along edges, where rounding decides.
const unit = fc
  .tuple(fc.double({ min: -1, max: 1, noNaN: true }), fc.double({ min: 0, max: 6.28, noNaN: true }))
  .map(([z0, turn0]): [number, number, number] => {
    const [z, turn] = [0.97 * z0 + 0.0131, turn0 + 0.1237];
    const r = Math.sqrt(1 - z * z);
    return [r * Math.cos(turn), r * Math.sin(turn), z];
  });
const place = fc
  .tuple(
    fc.double({ min: -6, max: 6, noNaN: true }),
    fc.double({ min: -6, max: 6, noNaN: true }),
    fc.double({ min: -6, max: 6, noNaN: true }),
  )
  .map(([x, y, z]): [number, number, number] => [x + 0.0173, y + 0.0311, z + 0.0077]);

describe('bodies', () => {
  it('have a sample of every solid here', () => {
    const solid = BODIES.map(({ kind }) => bodyDefinition(kind)!).filter((definition) => definition.solid);
    expect(new Set(SOLIDS.map(([{ kind }]) => kind))).to.deep.equal(new Set(solid.map(({ kind }) => kind)));
  });

  for (const [body, volume, surface] of SOLIDS) {
    const faces = buildBody(body);

    it(`${body.kind}: a line goes in and out by turns, each meeting on the face`, () => {
      fc.assert(
        fc.property(place, unit, (at, along) => {
          const met = meetings(faces, at, along);
          // Lines that graze an edge are neither in nor out: rounding decides there.
          fc.pre(met.every(({ t, cosine }, i) => Math.abs(cosine) > 1e-3 && (i === 0 || t - met[i - 1].t > 1e-6)));
          expect(met.length % 2).to.equal(0);
          met.forEach(({ cosine }, i) => expect(cosine > 0).to.equal(i % 2 === 1));
        }),
        { numRuns: 400 },
      );
    });

    it(`${body.kind}: light can start all over it, evenly`, () => {
      for (const { form } of faces) expectEven(form);
    });

    it(`${body.kind}: has the area, and its drawing the volume, of the closed form`, () => {
      expect(faces.reduce((sum, { form }) => sum + form.area, 0)).to.be.closeTo(surface, 2e-3 * surface);
      let drawn = 0;
      for (const { form, pose } of faces) {
        const { positions, normals, indices } = form.triangles(180);
        for (let i = 0; i < indices.length; i += 3) {
          const [a, b, c] = [0, 1, 2].map((k) =>
            movePoint(pose, [...positions.subarray(3 * indices[i + k], 3 * indices[i + k] + 3)] as never),
          );
          const n = turnDirection(pose, [...normals.subarray(3 * indices[i], 3 * indices[i] + 3)] as never);
          const [u, v] = [b, c].map((point) => point.map((value, axis) => value - a[axis]));
          const cross = [u[1] * v[2] - u[2] * v[1], u[2] * v[0] - u[0] * v[2], u[0] * v[1] - u[1] * v[0]];
          // A sixth of the box over the triangle, counted as its normal says: Gauss's theorem.
          const outward = Math.sign(cross.reduce((sum, value, axis) => sum + value * n[axis], 0));
          drawn += (outward * a.reduce((sum, value, axis) => sum + value * cross[axis], 0)) / 6;
        }
      }
      expect(drawn).to.be.closeTo(volume, 5e-3 * volume);
    });

    it(`${body.kind}: spreads points over its faces, on them`, () => {
      const at = new Float64Array(3);
      for (const { form } of faces)
        for (let k = 0; k < 25 && form.spread; k++) {
          form.spread((k % 5) / 5 + 0.1, Math.floor(k / 5) / 5 + 0.1, at);
          const normal = new Float64Array(3);
          form.normal(at[0], at[1], at[2], normal);
          const out = new Float64Array(8);
          const count = form.meet(
            at[0] - normal[0],
            at[1] - normal[1],
            at[2] - normal[2],
            normal[0],
            normal[1],
            normal[2],
            out,
          );
          const near = Math.min(...Array.from(out.subarray(0, count), (t) => Math.abs(t - 1)));
          expect(near).to.be.below(2e-3); // the profile is followed in straight pieces
        }
    });
  }

  it('say what numbers make no body', () => {
    const wrong: readonly OwnBody[] = [
      { kind: 'tube', radius: 2, inner: 3, length: 1 },
      { kind: 'torus', ring: 1, tube: 2 },
      { kind: 'cone', front: 0, back: 0, length: 1 },
      { kind: 'plate_hole', width: 2, height: 2, thickness: 1, hole: 3 },
      {
        kind: 'revolved',
        points: [
          [-1, 0],
          [2, 0],
          [2, 3],
        ],
      },
      {
        kind: 'extruded',
        points: [
          [0, 0],
          [1, 1],
          [2, 2],
        ],
        length: 1,
      },
      { kind: 'shell', radius: 10, semi: 20 },
      { kind: 'disc', radius: 1, inner: 2 },
      { kind: 'lens_block', front: 10, back: -10, thickness: 1, semi: 5 },
      { kind: 'lens_block', front: 4, back: 'infinity', thickness: 9, semi: 5 },
      {
        kind: 'swept',
        points: [
          [0, 0],
          [1, 0],
          [0, 1],
        ],
        path: [[0, 0, 0]],
      },
      {
        kind: 'swept',
        points: [
          [0, 0],
          [1, 0],
          [0, 1],
        ],
        path: [
          [0, 0, 0],
          [0, 0, 5],
          [0, 0, 1],
        ],
      },
      {
        kind: 'swept',
        points: [
          [-3, -3],
          [3, -3],
          [0, 3],
        ],
        path: [
          [0, 0, 0],
          [0, 0, 5],
          [0, 1, 5],
          [0, 1, -4],
        ],
      },
    ];
    for (const body of wrong) expect(bodyDefinition(body.kind)?.objection?.(body), body.kind).to.be.a('string');
  });
});

describe('faces of surface shapes', () => {
  const out = new Float64Array(8);
  const again = new Float64Array(8);

  it('are met in the same places in closed form and by search', () => {
    const exact = faceOfShape({ kind: 'conic', radius: 20, conic: -0.5 }, 0, 8, null, 1);
    const found = faceOfShape({ kind: 'even_asphere', radius: 20, conic: -0.5, a4: 0 } as never, 0, 8, null, 1);
    fc.assert(
      fc.property(place, unit, (at, along) => {
        const [a, b] = [exact, found].map((form, i) => {
          const list = i === 0 ? out : again;
          return [...list.subarray(0, form.meet(...at, ...along, list))].sort((x, y) => x - y);
        });
        fc.pre(a.every((t) => Math.abs(Math.hypot(at[0] + t * along[0], at[1] + t * along[1]) - 8) > 1e-6));
        fc.pre(a.length < 2 || a[1] - a[0] > 2); // two meetings in one piece of the search are one of its limits
        expect(b.length).to.equal(a.length);
        a.forEach((t, i) => expect(b[i]).to.be.closeTo(t, 1e-10));
      }),
      { numRuns: 500 },
    );
  });
});
