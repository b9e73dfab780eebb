import {
  AIR, compileScene, detectorNumbers, internalTransmittance, SAMPLING, SceneTracer, traceAll,
  type Detector, type Finish, type Material, type Part, type Project, type Sampling, type SceneModel, type Source, type Stretch, type TracerOptions,
} from '@ulvex/core'; // prettier-ignore
import type { Found, PhysicsCase } from './judge-physics.ts';

/** A number found by tracing rays drawn by lot, over several runs with seeds of their own. */
export interface Sampled {
  readonly value: number;
  /** Standard error of the mean over the runs, as the runs claim it. */
  readonly error: number;
  /** Whether the runs spread as they claim: χ² of their values over their own errors lies where all but a thousandth of such sums do. */
  readonly honest: boolean;
}

interface Given {
  readonly parts: readonly Part[];
  readonly sources: readonly Partial<Source>[];
  readonly detectors?: readonly Detector[];
  readonly finishes?: readonly Finish[];
  readonly materials?: readonly Material[];
  readonly sampling?: Partial<Sampling>;
}

const GLASS: Material = {
  id: 'glass',
  label: 'glass',
  family: 'test glass',
  dispersion: { kind: 'constant', index: 1.5 },
  range: [100, 20000],
};

function modelOf({
  parts,
  sources,
  detectors = [],
  finishes = [],
  materials = [GLASS],
  sampling,
}: Given): SceneModel {
  const lamp: Source = {
    id: 'lamp',
    flux: 1,
    unit: 'W',
    light: [{ nm: 550, weight: 1 }],
    region: { kind: 'point' },
    law: { kind: 'parallel', half: 0 },
  };
  const project: Project = {
    format: 'ulvex-project',
    version: 1,
    name: 'Physics',
    notes: '',
    lenses: [],
    materials: [AIR, ...materials],
    requirements: [],
    finishes,
    scenes: [
      {
        id: 'scene',
        name: 'Scene',
        medium: 'air',
        parts,
        sources: sources.map((source, i) => ({ ...lamp, id: `lamp_${i}`, ...source })),
        detectors,
        sampling: { ...SAMPLING, ...sampling },
      },
    ],
  };
  const model = compileScene(project, project.scenes![0], () => 'no lens');
  const wrong = model.findings.find(({ severity }) => severity === 'error');
  if (wrong) throw new Error(wrong.text);
  return model;
}

const RUNS = 10;
const RAYS = 16_384;
/** Bounds of χ² with nine degrees of freedom that leave out a thousandth together. */
const LEAST = 0.97;
const MOST = 29.7;

/** Flux share on the first detector, over several seeds, times a factor. */
function sampled(given: Given, factor = 1, rays = RAYS, options: TracerOptions = {}): Sampled {
  const runs = Array.from({ length: RUNS }, (_, seed) => {
    const model = modelOf({ ...given, sampling: { ...given.sampling, seed: seed + 1 } });
    const tally = traceAll(model, rays, options);
    return detectorNumbers(model.detectors[0], tally.detectors[0], tally.chunks).flux;
  });
  const mean = runs.reduce((sum, { value }) => sum + value, 0) / RUNS;
  const error = Math.sqrt(runs.reduce((sum, { standardError }) => sum + standardError ** 2, 0)) / RUNS;
  const chi = runs.reduce((sum, { value, standardError }) => sum + ((value - mean) / standardError) ** 2, 0);
  const exact = runs.every(
    ({ value, standardError }) => standardError < 1e-12 && Math.abs(value - mean) < 1e-12,
  );
  return { value: mean * factor, error: error * factor, honest: exact || (chi > LEAST && chi < MOST) };
}

const on = (part: string): Detector => ({
  id: 'meter',
  on: { kind: 'face', part, face: 'face' },
  columns: 1,
  rows: 1,
  counts: 'incident',
  light: 'radiometric',
});
const LAMBERT: Partial<Source> = { law: { kind: 'lambertian', half: 90 } };
const disc = (radius: number, frame: Part['frame'], inner = 0): Part => ({
  id: 'target',
  body: { kind: 'disc', radius, inner },
  frame: frame!,
});
const sheet = (width: number, height: number, frame: Part['frame']): Part => ({
  id: 'target',
  body: { kind: 'sheet', width, height },
  frame: frame!,
});
const rowsOf = (values: unknown) => values as readonly Readonly<Record<string, number>>[];
const radians = (degrees: number) => (degrees * Math.PI) / 180;

/** Light from a place to a target: what comes the other way from an even Lambertian target, by reciprocity. */
const fromPoint = (target: Part, factor = 1) =>
  sampled({ parts: [target], sources: [LAMBERT], detectors: [on('target')] }, factor);

/** Everything of a slab at one angle and polarisation, summed up exactly by splitting. */
function slab(deg: number, polarised: 's' | 'p'): Readonly<Record<string, number>> {
  const glass: Material = {
    ...GLASS,
    transmittance: { thickness: 1, nm: [100, 20000], share: [Math.exp(-0.02), Math.exp(-0.02)] },
  };
  const far = { kind: 'sheet', width: 1e5, height: 1e5 } as const;
  const at = (events: number) => {
    const model = modelOf({
      parts: [
        {
          id: 'slab',
          body: { kind: 'box', width: 1e4, height: 1e4, thickness: 10 },
          material: 'glass',
          frame: { dz: 5 },
        },
        { id: 'behind', body: far, frame: { dz: 100 } },
        { id: 'before', body: far, frame: { dz: -100 } },
      ],
      sources: [{ frame: { ty: deg } }],
      detectors: [
        { ...on('behind'), id: 'behind' },
        { ...on('before'), id: 'before' },
      ],
      materials: [glass],
      sampling: { threshold: 0, events },
    });
    const tally = traceAll(model, 2, { polarised });
    const flux = (d: number) => tally.detectors[d].moments[0];
    return { T: flux(0), R: flux(1), A: tally.ledger.inBodies / tally.chunks };
  };
  const all = at(40);
  const direct = at(3).T;
  const glassAngle = Math.asin(Math.sin(radians(deg)) / 1.5);
  return {
    tauInternal: internalTransmittance(glass, 550, 10 / Math.cos(glassAngle)) ?? NaN,
    [`T${polarised}`]: all.T,
    [`R${polarised}`]: all.R,
    [`A${polarised}`]: all.A,
    [`direct${polarised}`]: direct,
    [`ghost2bounce${polarised}`]: at(5).T - direct,
  };
}

/** A sphere of white paint with a port, in three sheets; a thin beam meets the wall first. */
function integratingSphere({ values }: PhysicsCase): Found {
  const r = 10;
  const port = r * Math.sqrt(0.2 - 0.01); // rim of a cap of a twentieth of the area: h = 2rf, s² = 2rh − h²
  const edge = r * (1 - 1e-12);
  return rowsOf(values).map((row) => {
    const rho = Number(row.rho);
    const flux = sampled({
      parts: [
        { id: 'left', body: { kind: 'shell', radius: r, semi: edge }, frame: { dz: -r }, finish: 'white' },
        { id: 'zone', body: { kind: 'shell', radius: -r, semi: edge, hole: port }, frame: { dz: r }, finish: 'white' },
        { id: 'port', body: { kind: 'shell', radius: -r, semi: port }, frame: { dz: r } },
      ],
      sources: [{ frame: { ty: 160 } }],
      detectors: [on('port')],
      finishes: [{ id: 'white', name: 'white', optics: { kind: 'paint', reflectance: rho } }],
      sampling: { splitting: 'one', threshold: 1e-6, events: 100_000 },
    }, 1, 4096); // prettier-ignore
    const scaled = { ...flux, value: flux.value / 0.05, error: flux.error / 0.05 };
    return { rho: row.rho, M: scaled, portFluxFraction_firstHitOnWall: flux };
  });
}

/** What a pile of glass plates at Brewster's angle lets through of light across the plane of incidence. */
function pile({ values }: PhysicsCase): Found {
  const brewster = (Math.atan(1.5) * 180) / Math.PI;
  return rowsOf(values).map(({ plates }) => {
    const parts: Part[] = Array.from({ length: plates }, (_, i) => ({
      id: `plate_${i}`,
      body: { kind: 'box', width: 1e4, height: 1e4, thickness: 1 },
      material: 'glass',
      frame: { dz: 5 + 2 * i },
    }));
    const given: Given = {
      parts: [...parts, sheet(1e5, 1e5, { dz: 100 })],
      sources: [{ frame: { ty: brewster } }],
      detectors: [on('target')],
      sampling: { splitting: 'one', threshold: 0, events: 100_000 },
    };
    const straight = straightShare(modelOf(given));
    const through = sampled(given, 1, RAYS, { polarised: 's' });
    // DOP = (T_p − T_s)/(T_p + T_s) with T_p = 1; its error by its slope.
    const { value, error } = through;
    return {
      Ts_noMultiple: straight,
      DOP_noMultiple: (1 - straight) / (1 + straight),
      Ts_incoherentMultiple: through,
      DOP_incoherentMultiple: {
        ...through,
        value: (1 - value) / (1 + value),
        error: (2 * error) / (1 + value) ** 2,
      },
    };
  });
}

/** The strongest light that comes to the target: that which was never reflected. */
function straightShare(model: SceneModel): number {
  let best = 0;
  const target = model.faces.findIndex(({ part }) => part === 'target');
  const tracer = new SceneTracer(
    {
      ...model,
      scene: { ...model.scene, sampling: { ...model.scene.sampling, splitting: 'split', threshold: 0.03 } },
    },
    { polarised: 's', watch: ({ face, share }) => (best = face === target ? Math.max(best, share) : best) },
  );
  const angle = Math.atan(1.5);
  tracer.follow({ at: [0, 0, 0], direction: [Math.sin(angle), 0, Math.cos(angle)], wave: 0 });
  return best;
}

function plateShift({ values }: PhysicsCase): Found {
  const model = modelOf({
    parts: [
      {
        id: 'slab',
        body: { kind: 'box', width: 1e3, height: 1e3, thickness: 10 },
        material: 'glass',
        frame: { dz: 5 },
      },
    ],
    sources: [{}],
    sampling: { threshold: 0.5 },
  });
  return rowsOf(values).map(({ deg }) => {
    const sine = Math.sin(radians(deg));
    const cosine = Math.cos(radians(deg));
    let out: Stretch | null = null;
    const tracer = new SceneTracer(model, { watch: (stretch) => (out = stretch) });
    tracer.follow({ at: [0, 0, 0], direction: [0, sine, cosine], wave: 0 });
    const { from } = out!;
    const lateral = Math.abs(from[1] * cosine - from[2] * sine);
    return { lateral, ...(deg > 0 && { longitudinal: lateral / sine }) };
  });
}

function prism(): Found {
  const glass: Material = { ...GLASS, dispersion: { kind: 'constant', index: 1.5168 } };
  const model = modelOf({
    parts: [{ id: 'prism', body: { kind: 'prism', apex: 60, side: 40, length: 40 }, material: 'glass' }],
    sources: [{}],
    materials: [glass],
    sampling: { threshold: 0.5 },
  });
  /** The deviation of a ray that meets the middle of the entrance at an angle from below its normal. */
  const deviation = (deg: number): number => {
    // The entrance faces (y, z) = (½, −√3/2) of an apex at +y; rays deviate away from the apex.
    const turn = radians(deg - 30);
    const direction = [0, Math.sin(turn), Math.cos(turn)] as const;
    const middle = [0, (40 * Math.cos(radians(30))) / 2, -10] as const;
    let out: Stretch | null = null;
    const tracer = new SceneTracer(model, {
      watch: (stretch) => (out = stretch.face < 0 && stretch.share > 0.5 ? stretch : out),
    });
    tracer.follow({
      at: [0, middle[1] - 5 * direction[1], middle[2] - 5 * direction[2]],
      direction,
      wave: 0,
    });
    const { from, to } = out!;
    const end = Math.atan2(to[1] - from[1], to[2] - from[2]);
    return ((turn - end) * 180) / Math.PI;
  };
  // At least deviation light goes through symmetrically: sin i = n sin 30°.
  return { dmin_deg: deviation((Math.asin(1.5168 * 0.5) * 180) / Math.PI), dev_at_40: deviation(40) };
}

/** Cases that are traced through scenes, by id. */
/** Flat pieces that each wall of the trough is made of. */
const WALL_PIECES = 240;

/**
 * A hollow trough between two tilted parabolas, perfect mirrors at its ends, its mouth lit evenly from the whole half-space: what comes
 * to its exit is the share sin θ of its acceptance, one over the concentration.
 */
function trough({ inputs }: PhysicsCase): Found {
  const { aPrime, thetaDeg } = inputs as { aPrime: number; thetaDeg: number };
  const theta = radians(thetaDeg);
  const focus = aPrime * (1 + Math.sin(theta));
  const wall = Array.from({ length: WALL_PIECES + 1 }, (_, i): [number, number] => {
    const phi = Math.PI / 2 + theta + (i / WALL_PIECES) * (theta - Math.PI / 2);
    const r = (2 * focus) / (1 - Math.cos(phi));
    return [r * Math.sin(phi - theta) - aPrime, r * Math.cos(phi - theta)];
  });
  const [mouth, height] = wall[WALL_PIECES];
  const outside = mouth + 1;
  const profile: [number, number][] = [...wall, [outside, height], [outside, 0]];
  const long = 8;
  const side = (id: string, points: readonly (readonly [number, number])[]): Part => ({
    id,
    body: { kind: 'extruded', points, length: long },
    finish: 'mirror',
    frame: { dz: -long / 2 },
  });
  const end = (id: string, dz: number): Part => ({
    id,
    body: { kind: 'sheet', width: 4 * outside, height: 4 * height },
    finish: 'mirror',
    frame: { dz },
  });
  const lit = sampled({
    parts: [
      side('right', profile),
      side('left', profile.map(([x, y]) => [-x, y] as const).reverse()),
      end('near', -long / 2),
      end('far', long / 2),
      {
        id: 'target',
        body: { kind: 'sheet', width: 2 * aPrime, height: long },
        frame: { tx: 90, dy: -1e-6 },
      },
    ],
    sources: [
      {
        // Downward from a hair under the mouth, between the mirrors of its ends.
        region: { kind: 'rectangle', width: 2 * mouth * (1 - 1e-9), height: long * (1 - 1e-9) },
        law: { kind: 'lambertian', half: 90 },
        frame: { dy: height * (1 - 1e-9), tx: 90 },
      },
    ],
    detectors: [on('target')],
    sampling: { threshold: 0, events: 200 },
  });
  return { C2D: { value: 1 / lit.value, error: lit.error / lit.value ** 2, honest: lit.honest } };
}

export const SCENE_CASES: Readonly<Record<string, (one: PhysicsCase) => Found>> = {
  slab: ({ values }) => rowsOf(values).map(({ deg }) => ({ ...slab(deg, 's'), ...slab(deg, 'p') })),
  slab_shift: plateShift,
  prism,
  pile_of_plates: pile,
  lambert_disk_plane: ({ values }) =>
    rowsOf(values).map(({ R, d, x }) => {
      const factor = fromPoint(disc(R, { dx: x, dz: d }));
      return { configurationFactor: factor, E_for_unit_radiance: times(factor, Math.PI) };
    }),
  lambert_rect_plane: () => ({
    E_centre: fromPoint(sheet(2, 1, { dz: 1 }), Math.PI),
    E_corner: fromPoint(sheet(2, 1, { dx: 1, dy: 0.5, dz: 1 }), Math.PI),
  }),
  lambert_sphere: () => ({
    E: times(
      sampled({
        parts: [{ id: 'target', body: { kind: 'sphere', radius: 1 }, frame: { dz: 3 } }],
        sources: [LAMBERT],
        detectors: [{ ...on('target'), on: { kind: 'face', part: 'target', face: 'surface' } }],
      }),
      Math.PI,
    ),
  }),
  cpc2d: trough,
  etendue: ({ inputs }) => {
    const { thDeg } = inputs as { thDeg: number };
    const target = disc(Math.tan(radians(thDeg)), { dz: 1 });
    const share = (law: Source['law'], factor: number) =>
      sampled({ parts: [target], sources: [{ law }], detectors: [on('target')] }, factor);
    return {
      solidAngleCone30: share({ kind: 'isotropic', half: 180 }, 4 * Math.PI),
      projectedSolidAngleCone30: share({ kind: 'lambertian', half: 90 }, Math.PI),
    };
  },
  cone_flux: ({ values }) =>
    rowsOf(values).map(({ deg }) => {
      const target = disc(Math.tan(radians(deg)), { dz: 1 });
      const share = (law: Source['law']) =>
        sampled({ parts: [target], sources: [{ law }], detectors: [on('target')] });
      return {
        lambert: share({ kind: 'lambertian', half: 90 }),
        isotropic: share({ kind: 'isotropic', half: 180 }),
        cos10: share({ kind: 'cosine_power', power: 10 }),
      };
    }),
  isotropic_point: () => ({
    fractionSquareSide2: sampled({
      parts: [sheet(2, 2, { dz: 1 })],
      sources: [{ law: { kind: 'isotropic', half: 180 } }],
      detectors: [on('target')],
    }),
  }),
  disk_disk: ({ values }) =>
    rowsOf(values).map(({ R1, R2, h }) => {
      const factor = (from: number, to: number) =>
        sampled({
          parts: [disc(to, { dz: h })],
          sources: [{ ...LAMBERT, region: { kind: 'disc', radius: from } }],
          detectors: [on('target')],
        });
      return { F12: factor(R1, R2), F21: factor(R2, R1) };
    }),
  parallel_rects: ({ values }) =>
    rowsOf(values).map(({ a, b, c }) => ({
      F: sampled({
        parts: [sheet(a, b, { dz: c })],
        sources: [{ ...LAMBERT, region: { kind: 'rectangle', width: a, height: b } }],
        detectors: [on('target')],
      }),
    })),
  perp_rects: ({ values }) =>
    rowsOf(values).map(({ w, h, l }) => ({
      F: sampled({
        // The emitter lies in z = 0 with an edge along x at y = −w/2; the receiver stands on that edge.
        parts: [sheet(l, h, { dy: -w / 2, dz: h / 2, tx: 90 })],
        sources: [{ ...LAMBERT, region: { kind: 'rectangle', width: l, height: w } }],
        detectors: [on('target')],
      }),
    })),
  integrating_sphere: integratingSphere,
};

function times(one: Sampled, factor: number): Sampled {
  return { ...one, value: one.value * factor, error: one.error * factor };
}
