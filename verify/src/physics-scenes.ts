import {
  internalTransmittance,
  SceneTracer,
  traceAll,
  type Material,
  type Part,
  type SceneModel,
  type Stretch,
} from '@ulvex/core';
import type { Found, PhysicsCase } from './judge-physics.ts';
import { GLASS, modelOf, on, radians, RAYS, rowsOf, sampled, sheet, type Given } from './physics-bench.ts';
import { trough } from './physics-concentrator.ts';
import { paraxialPlateShift, RADIOMETRY } from './physics-radiometry.ts';

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
    const flux = sampled(
      {
        parts: [
          { id: 'left', body: { kind: 'shell', radius: r, semi: edge }, frame: { dz: -r }, finish: 'white' },
          {
            id: 'zone',
            body: { kind: 'shell', radius: -r, semi: edge, hole: port },
            frame: { dz: r },
            finish: 'white',
          },
          { id: 'port', body: { kind: 'shell', radius: -r, semi: port }, frame: { dz: r } },
        ],
        sources: [{ frame: { ty: 160 } }],
        detectors: [on('port')],
        finishes: [{ id: 'white', name: 'white', optics: { kind: 'paint', reflectance: rho } }],
        sampling: { splitting: 'one', threshold: 1e-6, events: 100_000 },
      },
      1,
      4096,
    );
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
    return { lateral, longitudinal: deg > 0 ? lateral / sine : paraxialPlateShift(10, 1.5) };
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
export const SCENE_CASES: Readonly<Record<string, (one: PhysicsCase) => Found>> = {
  slab: ({ values }) => rowsOf(values).map(({ deg }) => ({ ...slab(deg, 's'), ...slab(deg, 'p') })),
  slab_shift: plateShift,
  prism,
  pile_of_plates: pile,
  cpc2d: trough,
  integrating_sphere: integratingSphere,
  ...RADIOMETRY,
};
