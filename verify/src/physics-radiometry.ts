import { Evaluation, evaluateMeasure, type Part, type Source } from '@ulvex/core';
import type { Found, PhysicsCase } from './judge-physics.ts';
import { disc, fromPoint, LAMBERT, on, radians, rowsOf, sampled, sheet, times, type Sampled } from './physics-bench.ts';
import { LENS_ID, toProject, type ReferenceLens } from './reference-lens.ts';

const ALL_ROUND: Partial<Source> = { law: { kind: 'isotropic', half: 180 } };

/** Irradiance at a place, W/mm² for each watt of a source: on a speck that its light is aimed at. */
function irradiance(source: Partial<Source>, frame: Part['frame'], factor: number): Sampled {
  const side = 2e-6;
  return sampled(
    { parts: [sheet(side, side, frame)], sources: [{ ...source, aim: 'target' }], detectors: [on('target')] },
    factor / side ** 2,
  );
}

/** Share of even light from the whole half-space, in air, that goes into a cone within a medium: by refraction its étendue grows with n². */
function sharedCone(deg: number, index: number): Sampled {
  const depth = 50;
  const block: Part = {
    id: 'block',
    body: { kind: 'box', width: 1e5, height: 1e5, thickness: 100 },
    material: 'medium',
    finish: 'open',
    frame: { dz: 1e-5 },
  };
  return sampled({
    parts: [block, disc(depth * Math.tan(radians(deg)), { dz: depth })],
    sources: [LAMBERT],
    detectors: [on('target')],
    materials: [
      { id: 'medium', label: 'medium', family: 'test', dispersion: { kind: 'constant', index }, range: [100, 20000] },
    ],
    // All light goes in: what a real surface reflects is not part of the étendue.
    finishes: [{ id: 'open', name: 'open', optics: { kind: 'split', reflectance: 0, transmittance: 1 } }],
  });
}

function firstOrder(
  lens: Pick<ReferenceLens, 'surfaces' | 'object' | 'aperture' | 'glasses'>,
  measure: string,
): number {
  const project = toProject({
    name: 'case',
    wavelengths: [{ um: 0.55, weight: 1 }],
    primary: 0,
    field: { type: 'objectHeight', values: [0] },
    stop: 1,
    ...lens,
  });
  const answer = evaluateMeasure(new Evaluation(project), { measure, lens: LENS_ID, settings: {} });
  return answer.ok ? answer.value.value : NaN;
}

/** How far a plane-parallel plate moves the paraxial image, mm. */
export function paraxialPlateShift(thickness: number, index: number): number {
  const object = 100;
  const image = firstOrder(
    {
      object: { distance: object },
      aperture: { type: 'EPD', value: 1 },
      surfaces: [
        { radius: 'infinity', thickness, material: index },
        { radius: 'infinity', thickness: 0, material: 'air' },
      ],
    },
    'paraxial_image_distance',
  );
  return object + thickness + image;
}

function cameraIrradiance({ inputs }: PhysicsCase): Found {
  const { L, tau, N, m } = inputs as { L: number; tau: number; N: number; m: number };
  // A thin lens of 28 mm: its working F-number at this magnification gives sin u′.
  const focal = 28;
  const working = firstOrder(
    {
      object: { distance: focal * (1 + 1 / m) },
      aperture: { type: 'EPD', value: focal / N },
      surfaces: [
        { radius: focal, thickness: 0, material: 1.5 },
        { radius: -focal, thickness: focal * (1 + m), material: 'air' },
      ],
    },
    'working_f_number',
  );
  const sine = 1 / (2 * N);
  return {
    E_paraxial: (Math.PI * L * tau) / (4 * working * working),
    // By reciprocity: what a speck on the sensor would send into the exit pupil.
    E_sine_N2p8_infinity: fromPoint(disc(sine / Math.sqrt(1 - sine * sine), { dz: 1 }), Math.PI * L * tau),
  };
}

export const RADIOMETRY: Readonly<Record<string, (one: PhysicsCase) => Found>> = {
  lambert_disk_plane: ({ values }) =>
    rowsOf(values).map(({ R, d, x }) => {
      const factor = fromPoint(disc(R, { dx: x, dz: d }));
      return { configurationFactor: factor, E_for_unit_radiance: times(factor, Math.PI) };
    }),
  cos4: ({ inputs, values }) => {
    const { d } = inputs as { d: number };
    return rowsOf(values).map(({ deg }) => ({
      E: irradiance(LAMBERT, { dx: d * Math.tan(radians(deg)), dz: d }, Math.PI),
    }));
  },
  camera_irradiance: cameraIrradiance,
  lambert_rect_plane: () => ({
    E_centre: fromPoint(sheet(2, 1, { dz: 1 }), Math.PI),
    E_corner: fromPoint(sheet(2, 1, { dx: 1, dy: 0.5, dz: 1 }), Math.PI),
  }),
  lambert_sphere({ inputs }) {
    const { r, D } = inputs as { r: number; D: number };
    const E = times(
      sampled({
        parts: [{ id: 'target', body: { kind: 'sphere', radius: r }, frame: { dz: D } }],
        sources: [LAMBERT],
        detectors: [{ ...on('target'), on: { kind: 'face', part: 'target', face: 'surface' } }],
      }),
      Math.PI,
    );
    // The other way: how much flux of the shining ball makes that irradiance.
    const perWatt = irradiance({ ...LAMBERT, region: { kind: 'sphere', radius: r } }, { dz: D }, 1);
    const value = E.value / perWatt.value;
    const error = value * Math.hypot(E.error / E.value, perWatt.error / perWatt.value);
    return { E, flux: { value, error, honest: E.honest && perWatt.honest } };
  },
  etendue: ({ inputs }) => {
    const { r, thDeg } = inputs as { r: number; thDeg: number };
    const target = disc(Math.tan(radians(thDeg)), { dz: 1 });
    const share = (law: Source['law'], factor: number) =>
      sampled({ parts: [target], sources: [{ law }], detectors: [on('target')] }, factor);
    const area = Math.PI * r * r;
    return {
      G_n1: times(sharedCone(thDeg, 1), Math.PI * area),
      G_n1p5: times(sharedCone(thDeg, 1.5), Math.PI * area),
      fullHemisphere: times(fromPoint(disc(1e6, { dz: 1e-3 })), Math.PI * area),
      solidAngleCone30: share({ kind: 'isotropic', half: 180 }, 4 * Math.PI),
      projectedSolidAngleCone30: share({ kind: 'lambertian', half: 90 }, Math.PI),
    };
  },
  cone_flux: ({ values }) =>
    rowsOf(values).map(({ deg }) => {
      const target = disc(Math.tan(radians(deg)), { dz: 1 });
      const share = (law: Source['law']) => sampled({ parts: [target], sources: [{ law }], detectors: [on('target')] });
      return {
        lambert: share({ kind: 'lambertian', half: 90 }),
        isotropic: share({ kind: 'isotropic', half: 180 }),
        cos10: share({ kind: 'cosine_power', power: 10 }),
      };
    }),
  isotropic_point: ({ inputs }) => ({
    E0: irradiance(ALL_ROUND, { dz: 1 }, (inputs as { Phi: number }).Phi),
    E_30deg: irradiance(ALL_ROUND, { dx: Math.tan(radians(30)), dz: 1 }, (inputs as { Phi: number }).Phi),
    fractionSquareSide2: sampled({
      parts: [sheet(2, 2, { dz: 1 })],
      sources: [ALL_ROUND],
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
};
