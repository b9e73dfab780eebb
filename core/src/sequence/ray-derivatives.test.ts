import { expect } from 'chai';
import { RAY_STATUS } from '../compute/ray-block.ts';
import { ridders } from '../math/ridders.ts';
import { applyEdits } from '../project/edit.ts';
import { quickProject, type Quick } from '../project/fixtures.ts';
import type { Lens, Project, Surface } from '../project/model.ts';
import { findParameter, setParameter } from '../project/parameters.ts';
import { traceKernel, type TraceKernel } from '../compute/kernel.ts';
import { PHASE_SAMPLES } from '../phases/fixtures.ts';
import { PHASES } from '../phases/registry.ts';
import { SAMPLES } from '../shapes/fixtures.ts';
import { SHAPES } from '../shapes/registry.ts';
import { Aimer } from './aiming.ts';
import { BundleGradients, seedOf } from './bundle-gradients.ts';
import { traceBundle } from './bundle.ts';
import { launchPupil } from './launch.ts';
import { compileLens, type LensModel } from './lens-model.ts';
import { firstOrder } from './paraxial.ts';
import { RAY_QUANTITIES, RayDerivatives } from './ray-derivatives.ts';
import { resolveLens } from './resolve.ts';
import { solverVariable, type SolverVariable } from './solver-variable.ts';

function aimerOf(model: LensModel): Aimer {
  const data = firstOrder(model, model.primary);
  if (!data.ok) throw new Error(data.reason);
  const pupil = launchPupil(model, data.value);
  if (!pupil.ok) throw new Error(pupil.reason);
  return new Aimer(model, pupil.value);
}

/** The project with a solver's variable moved by `by`: a curvature, an index, or the number itself. */
function moved(project: Project, address: string, by: number): Project {
  const parts = address.split('.');
  if (parts.at(-1) === 'index') {
    const surface = project.lenses[0].surfaces.find(({ id }) => id === parts[3])!;
    const glass = project.materials.find(({ id }) => id === surface.after!.material)!;
    if (glass.dispersion.kind !== 'constant') throw new Error('the test lens has constant indices');
    const changed = {
      ...glass,
      id: 'moved',
      dispersion: { kind: 'constant', index: glass.dispersion.index + by },
    };
    return {
      ...applyEdits(project, [
        { kind: 'set', path: `lenses.lens.surfaces.${surface.id}.after.material`, value: 'moved' },
      ]).project,
      materials: [...project.materials, changed as Project['materials'][number]],
    };
  }
  const parameter = findParameter(project, address);
  if (!parameter.ok) throw new Error(parameter.reason);
  const { spec, value } = parameter.value;
  const next = spec.transform === 'reciprocal' ? 1 / (1 / value + by) : value + by;
  const edit = setParameter(parameter.value, next);
  if (!edit.ok) throw new Error(edit.reason);
  return applyEdits(project, [edit.value]).project;
}

const PUPIL: readonly [number, number] = [0.35, -0.62];

/** The ray at the image, by the ordinary trace. */
function rayOf(project: Project): number[] {
  const model = resolveLens(compileLens(project, project.lenses[0]));
  const [field] = model.lens.fields.points;
  const request = { field, wave: 0, px: [PUPIL[0]], py: [PUPIL[1]] };
  const rays = traceBundle(aimerOf(model), request, { clip: false });
  if (rays.status[0] !== RAY_STATUS.alive) throw new Error(`the test ray ended with ${rays.status[0]}`);
  return RAY_QUANTITIES.map((key) => rays[key][0]);
}

/** Step with which differences begin, by what is moved. */
function stepFor(address: string): number {
  const name = address.split('.').at(-1)!;
  if (name === 'radius') return 4e-4;
  if (name === 'radius_x' || name === 'focal_length' || name === 'object') return 4e-4;
  if (name === 'lines') return 2;
  const rings = /^p(\d+)$/.exec(name);
  if (rings) return 2 * 4 ** -Number(rings[1]);
  if (/^a\d+$/.test(name)) return 2e-3 * 3 ** -Number(name.slice(1));
  const powers = /^x(\d)y(\d)$/.exec(name);
  if (powers) return 2e-3 * 3 ** -(Number(powers[1]) + Number(powers[2]));
  if (/^[zq]\d+$/.test(name)) return 2e-3;
  return name === 'index' ? 0.01 : name.startsWith('t') && name !== 'thickness' ? 0.5 : 0.05;
}

/** The way back through a bundle gives what the way forward along its rays gives, but for rounding. */
function expectSameBackward(model: LensModel, variables: readonly SolverVariable[], forward: Float64Array) {
  expectBackward(model, variables, forward, traceKernel());
  expectBackward(model, variables, forward, null);
}

function expectBackward(
  model: LensModel,
  variables: readonly SolverVariable[],
  forward: Float64Array,
  kernel: TraceKernel | null,
) {
  const made = BundleGradients.of(aimerOf(model), variables, kernel);
  if (model.surfaces.some(({ shape }) => shape.ideal)) {
    expect(made).to.have.property('ok', false);
    return;
  }
  if (!made.ok) throw new Error(made.reason);
  // Others beside it, so that none is taken for another; an odd number of them, which do not fill pairs.
  const [px, py] = [Float64Array.of(0.1, PUPIL[0], 0), Float64Array.of(-0.2, PUPIL[1], 0.3)];
  const bundle = made.value.trace(model.lens.fields.points[0], 0, px, py);
  const seeds = RAY_QUANTITIES.map((quantity) => {
    const seed = seedOf(3);
    seed[quantity].fill(1);
    return seed;
  });
  const width = RAY_QUANTITIES.length;
  bundle.back(seeds).forEach((by, q) => {
    const column = variables.map((_, v) => forward[width * v + q]);
    const largest = Math.max(...column.map(Math.abs), 1e-3);
    column.forEach((value, v) =>
      expect(by[3 * v + 1], `${RAY_QUANTITIES[q]} by ${JSON.stringify(variables[v])}`).to.be.closeTo(
        value,
        // The image is a plane: what z has is rounding.
        RAY_QUANTITIES[q] === 'z' ? 1e-11 : 1e-9 * Math.max(Math.abs(value), 1e-2 * largest),
      ),
    );
  });
}

/** Compares every derivative with Ridders differences: 1e-6 of its size, or of a thousandth of the largest of its quantity. */
function expectExact(project: Project, addresses: readonly string[]) {
  const model = resolveLens(compileLens(project, project.lenses[0]));
  const variables = addresses.map((address) => {
    const variable = solverVariable(model, address);
    if (!variable.ok) throw new Error(variable.reason);
    return variable.value;
  });
  const prepared = RayDerivatives.of(aimerOf(model), variables);
  if (!prepared.ok) throw new Error(prepared.reason);
  const traced = prepared.value.trace(model.lens.fields.points[0], 0, PUPIL);
  if (!traced.ok) throw new Error(traced.reason);
  const at = traced.value.at(-1)!;
  expectSameBackward(model, variables, at.by);
  rayOf(project).forEach((value, q) => expect(at.ray[q], RAY_QUANTITIES[q]).to.be.closeTo(value, 1e-10));
  const differences = addresses.map(
    (address) => ridders((by) => rayOf(moved(project, address, by)), stepFor(address)).values,
  );
  RAY_QUANTITIES.forEach((quantity, q) => {
    const largest = Math.max(...differences.map((row) => Math.abs(row[q])));
    differences.forEach((row, v) => {
      if (quantity === 'z') {
        expect(at.by[RAY_QUANTITIES.length * v + q]).to.be.closeTo(0, 1e-9); // the image is a plane: differences are noise
        return;
      }
      const within = 1e-6 * Math.max(Math.abs(row[q]), 1e-3 * largest, 1e-9);
      expect(at.by[RAY_QUANTITIES.length * v + q], `d ${quantity} / d ${addresses[v]}`).to.be.closeTo(row[q], within);
    });
  });
}

const at = (surface: string, ...names: string[]) => names.map((name) => `lenses.lens.surfaces.${surface}.${name}`);
const PLACE = ['dx', 'dy', 'dz', 'tx', 'ty', 'tz'];

const TRIPLET: readonly Quick[] = [
  { r: 40, t: 6, n: 1.6 },
  { r: -300, k: -2, t: 4 },
  { r: -50, t: 2, n: 1.7 },
  { r: 45, k: 0.4, t: 3 },
  { t: 5 },
  { r: 90, t: 5, n: 1.55 },
  { r: -35, t: 70 },
];
const EVERY = [
  ...at('s1', 'radius', 'thickness', 'index'),
  ...at('s2', 'radius', 'conic', 'thickness'),
  ...at('s3', 'radius', 'index'),
  ...at('s4', 'radius', 'conic', 'thickness'),
  ...at('s5', 'thickness'),
  ...at('s6', 'radius', 'index', 'thickness'),
  ...at('s7', 'radius', 'thickness'),
];
const FIELD = [{ id: 'f', x: 3, y: -7, weight: 1 }];

function lensWith(change: Partial<Lens>, surfaces = TRIPLET): Project {
  return quickProject(surfaces, { stop: 's5', fields: { kind: 'angle', points: FIELD }, ...change });
}

describe('exact derivatives of rays', () => {
  for (const aim of ['paraxial', 'stop'] as const) {
    const pupil = { aim, obscuration: 0 };
    describe(aim === 'stop' ? 'aimed at the stop' : 'aimed at the entrance pupil', () => {
      it('agree with differences for every curvature, conic, thickness and index', () => {
        expectExact(lensWith({ pupil }), EVERY);
      });

      it('follow every kind of aperture and field, for far and near objects', () => {
        const near = { distance: 250 };
        const heights = { points: [{ id: 'f', x: 4, y: 9, weight: 1 }] };
        for (const change of [
          { aperture: { kind: 'stop_semi_aperture', value: 4 } },
          { aperture: { kind: 'image_f_number', value: 5 } },
          { aperture: { kind: 'working_f_number', value: 6 } },
          { fields: { kind: 'image_height', ...heights } },
          { object: near, aperture: { kind: 'working_f_number', value: 8 } },
          { object: near, aperture: { kind: 'object_na', value: 0.02 } },
          { object: near, fields: { kind: 'object_height', ...heights } },
          { object: near, fields: { kind: 'image_height', ...heights } },
        ] satisfies Partial<Lens>[])
          expectExact(lensWith({ pupil, ...change }), EVERY);
      });

      it('agree for coefficients of aspheres', () => {
        const project = lensWith({ pupil });
        const shape = {
          kind: 'even_asphere',
          radius: 40,
          conic: -0.3,
          a2: 1e-4,
          a4: 2e-6,
          a6: -3e-8,
          a8: 1e-10,
        };
        const asphere = applyEdits(project, [
          { kind: 'set', path: 'lenses.lens.surfaces.s1.shape', value: shape as Surface['shape'] },
        ]).project;
        expectExact(asphere, at('s1', 'radius', 'conic', 'a2', 'a4', 'a6', 'a8', 'a10', 'a12', 'thickness'));
      });

      it('agree for shifts and tilts, of surfaces alone, of what they carry, of groups and of the axis behind', () => {
        const framed: Quick[] = TRIPLET.map((surface, j) => ({
          ...surface,
          ...(j === 1 && { frame: { dx: 0.1, dy: -0.2, dz: 0.1, tx: 2, ty: -1, tz: 5 } }),
          ...(j === 2 && { frame: { dy: 0.3, tx: 1.5, ty: 1, axis: 'carry' as const } }),
          ...(j === 3 && { behind: { returnTo: 's3', dx: 0.1, ty: -0.5 } }),
        }));
        expectExact(lensWith({ pupil }, framed), [
          ...at('s2', ...PLACE),
          ...at('s3', ...PLACE, 'thickness', 'radius'),
          ...at('s4', ...PLACE.map((name) => `behind.${name}`)),
          ...at('s6', ...PLACE),
          ...at('s1', 'thickness'),
        ]);
      });

      it('agree for mirrors that fold the axis, and through the media before and behind them', () => {
        const folded: Quick[] = [
          { r: 60, t: 6, n: 1.6 },
          { r: -80, t: 20 },
          { t: 15 },
          { r: -900, n: 'mirror', t: -30, frame: { tx: 40, axis: 'reflect' } },
          { n: 'mirror', t: 25, frame: { tx: -35, ty: 4, axis: 'reflect' } },
        ];
        expectExact(lensWith({ pupil, stop: 's3' }, folded), [
          ...at('s1', 'radius', 'index', 'thickness'),
          ...at('s2', 'radius', 'thickness'),
          ...at('s3', 'thickness'),
          ...at('s4', 'radius', 'thickness', ...PLACE),
          ...at('s5', 'thickness', ...PLACE),
        ]);
      });
    });
  }

  it('agree for every number of every shape, behind an aimed stop', () => {
    for (const { kind, parameters } of SHAPES) {
      const project = lensWith({ pupil: { aim: 'stop', obscuration: 0 } });
      const shaped = applyEdits(project, [
        { kind: 'set', path: 'lenses.lens.surfaces.s1.shape', value: SAMPLES[kind] },
      ]).project;
      expectExact(shaped, at('s1', 'thickness', 'tx', ...parameters.map(({ id }) => id)));
    }
  });

  it('agree for every number of what diffracts, in glass and at a mirror', () => {
    for (const { kind, parameters } of PHASES)
      for (const mirror of [false, true]) {
        const surfaces: readonly Quick[] = mirror
          ? [
              { r: 60, t: 6, n: 1.6 },
              { r: -80, t: 20 },
              { r: -900, n: 'mirror', t: -30 },
            ]
          : TRIPLET;
        const project = lensWith({ pupil: { aim: 'stop', obscuration: 0 }, stop: 's2' }, surfaces);
        const s = mirror ? 's3' : 's1';
        const diffracting = applyEdits(project, [
          { kind: 'set', path: `lenses.lens.surfaces.${s}.phase`, value: PHASE_SAMPLES[kind] },
        ]).project;
        expectExact(diffracting, [
          ...at(
            s,
            'radius',
            'thickness',
            'tx',
            ...parameters.filter(({ whole }) => !whole).map(({ id }) => `phase.${id}`),
          ),
          ...at('s1', 'index'),
        ]);
      }
  });

  it('agree in a telecentric object space, whose pupil comes from infinity as the lens changes', () => {
    const surfaces: Quick[] = [{ r: 100, t: 0, n: 1.5 }, { r: -100, k: -1, t: 100 }, { t: 60 }];
    const addresses = [...at('s1', 'radius', 'thickness', 'index'), ...at('s2', 'radius', 'conic', 'thickness')];
    // At the stop only: points of the entrance pupil change sides as it passes through infinity.
    const pupil = { aim: 'stop', obscuration: 0 } as const;
    const fields = { kind: 'object_height', points: [{ id: 'f', x: 2, y: 6, weight: 1 }] } as const;
    for (const aperture of [
      { kind: 'object_na', value: 0.05 },
      { kind: 'stop_semi_aperture', value: 5 },
      { kind: 'working_f_number', value: 50 },
    ] as const) {
      const object = { distance: 120 };
      const project = lensWith({ stop: 's3', object, aperture, fields, pupil }, surfaces);
      expect(aimerOf(compileLens(project, project.lenses[0])).pupil.z).to.equal(Infinity);
      expectExact(project, addresses);
    }
  });

  it('are refused by name where they are not to be had', () => {
    const model = compileLens(lensWith({}), lensWith({}).lenses[0]);
    const unknown = solverVariable(model, 'lenses.lens.surfaces.s1.colour');
    expect(!unknown.ok && unknown.reason).to.contain('s1.colour');
    // orders are whole numbers
    expect(solverVariable(model, 'lenses.lens.surfaces.s1.phase.order').ok).to.equal(false);
    const project = lensWith({ aperture: { kind: 'real_working_f_number', value: 8 } });
    const resolved = resolveLens(compileLens(project, project.lenses[0]));
    const variable = solverVariable(resolved, 'lenses.lens.surfaces.s1.radius');
    if (!variable.ok) throw new Error(variable.reason);
    const prepared = RayDerivatives.of(aimerOf(resolved), [variable.value]);
    expect(!prepared.ok && prepared.reason).to.contain('working F-number of real rays');
  });

  it('of bundles are the same when many others were traced in between', () => {
    const project = lensWith({});
    const model = resolveLens(compileLens(project, project.lenses[0]));
    const variables: SolverVariable[] = [
      { kind: 'shape', id: 'radius', surface: 0 },
      { kind: 'thickness', surface: 1 },
    ];
    const made = BundleGradients.of(aimerOf(model), variables);
    if (!made.ok) throw new Error(made.reason);
    const side = Float64Array.from({ length: 256 }, (_, i) => Math.sin(i));
    const bundle = made.value.trace(model.lens.fields.points[0], 0, side, side);
    const seed = seedOf(256);
    seed.y.fill(1);
    const [first] = bundle.back([seed]);
    // Far more than the kernel has room for.
    for (let k = 0; k < 100; k++)
      made.value.trace(
        model.lens.fields.points[0],
        0,
        side.map((x) => x / (k + 2)),
        side,
      );
    const [again] = bundle.back([seed]);
    expect([...again]).to.deep.equal([...first]);
    expect(first.some((value) => value !== 0)).to.equal(true);
  });

  it('say why a ray has none', () => {
    const project = lensWith({ aperture: { kind: 'entrance_pupil_diameter', value: 200 } });
    const model = compileLens(project, project.lenses[0]);
    const prepared = RayDerivatives.of(aimerOf(model), []);
    if (!prepared.ok) throw new Error(prepared.reason);
    const traced = prepared.value.trace(model.lens.fields.points[0], 0, [0, 1], { aim: 'paraxial' });
    expect(!traced.ok && traced.reason).to.match(/misses|totally/);
  });
});
