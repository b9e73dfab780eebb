import type { SceneEvaluation } from '../imaging/evaluation/scene-evaluation.ts';
import { failure, success, type Outcome } from '../math/outcome.ts';
import { countedOf, launchedFlux } from '../scene/channels.ts';
import { detectorUnits, type DetectorUnits } from '../scene/charts.ts';
import { cellMap, fallAngle, halfAngle, planeCurve, ringCurve } from '../scene/far-field.ts';
import type { DetectorNumbers, Estimate } from '../scene/statistics.ts';
import { defineSceneMeasure, type Measured } from './measure.ts';

const DETECTOR = { kind: 'id', title: 'Detector', fallback: '' } as const;
const RAYS = { kind: 'integer', title: 'Rays', min: 64, max: 10_000_000, fallback: 16_384 } as const;

function detectorMeasure(
  about: { readonly id: string; readonly title: string; readonly unit: string; readonly meaning: string },
  read: (numbers: DetectorNumbers) => Estimate | number,
  unit: (units: DetectorUnits) => string,
) {
  return defineSceneMeasure({
    ...about,
    settings: { detector: DETECTOR, rays: RAYS },
    evaluate(scene, { detector, rays }) {
      const numbers = scene.numbers(detector, rays);
      if (!numbers.ok) return numbers;
      const { detectors } = scene.model;
      const known = detectors.find(({ id }) => id === detector) ?? detectors[0];
      return measured(read(numbers.value), scene, rays, unit(detectorUnits(known.detector, known.chart)));
    },
  });
}

function measured(read: Estimate | number, scene: SceneEvaluation, rays: number, unit: string): Outcome<Measured> {
  const { seed } = scene.model.scene.sampling;
  const how = `${rays} rays, seed ${seed}`;
  if (typeof read === 'number') return success({ value: read, unit, how });
  const { value, standardError } = read;
  return success({ value, unit, how, ...(Number.isFinite(standardError) && { standardError }) });
}

const fluxUnit = ({ flux }: DetectorUnits) => flux;
const densityUnit = ({ density }: DetectorUnits) => density;
const placeUnit = ({ place }: DetectorUnits) => place;

export const detectorFlux = detectorMeasure(
  {
    id: 'detector_flux',
    title: 'Flux on a detector',
    unit: 'W, lm',
    meaning: 'All flux that the detector counts, in W, or in lm for a photometric one: Σ Φ of the rays.',
  },
  ({ flux }) => flux,
  fluxUnit,
);

export const detectorMean = detectorMeasure(
  {
    id: 'detector_mean',
    title: 'Mean irradiance',
    unit: 'W/mm², lx',
    meaning:
      'Flux over the area of the detector’s map (W/mm², or lx), or over its solid angle for the far field (W/sr, or cd).',
  },
  ({ mean }) => mean,
  densityUnit,
);

export const detectorPeak = detectorMeasure(
  {
    id: 'detector_peak',
    title: 'Peak irradiance',
    unit: 'W/mm², lx',
    meaning:
      'The brightest cell of the detector’s map: flux over its area (W/mm², or lx) or solid angle (W/sr, or ' +
      'cd). With few rays a cell it reads too high.',
  },
  ({ peak }) => peak,
  densityUnit,
);

export const detectorUniformity = detectorMeasure(
  {
    id: 'detector_uniformity',
    title: 'Uniformity',
    unit: '',
    meaning: 'Darkest cell of the detector’s map over the mean of all cells: 1 for even light.',
  },
  ({ uniformity }) => uniformity,
  () => '',
);

export const detectorCentroidX = detectorMeasure(
  {
    id: 'detector_centroid_x',
    title: 'Centroid x of the light',
    unit: 'mm, °',
    meaning: 'Σ Φx/Σ Φ in the detector’s own coordinates; degrees for the far field and balls.',
  },
  ({ centroidX }) => centroidX,
  placeUnit,
);

export const detectorCentroidY = detectorMeasure(
  {
    id: 'detector_centroid_y',
    title: 'Centroid y of the light',
    unit: 'mm, °',
    meaning: 'Σ Φy/Σ Φ in the detector’s own coordinates; degrees for the far field and balls.',
  },
  ({ centroidY }) => centroidY,
  placeUnit,
);

export const detectorRadius = detectorMeasure(
  {
    id: 'detector_rms_radius',
    title: 'RMS radius of the light',
    unit: 'mm, °',
    meaning:
      '√(Σ Φ|r − r₀|²/Σ Φ) about the centroid, in the detector’s own coordinates; degrees for the far field and balls.',
  },
  ({ rmsRadius }) => rmsRadius,
  placeUnit,
);

export const detectorEncircled = defineSceneMeasure({
  id: 'detector_encircled',
  title: 'Radius of encircled flux',
  unit: 'mm, °',
  meaning:
    'Radius about the centroid that holds the asked percentage of the detector’s flux, each cell’s light spread evenly over the cell.',
  settings: {
    detector: DETECTOR,
    percent: { kind: 'integer', title: 'Percent', min: 1, max: 99, fallback: 80 },
    rays: RAYS,
  },
  evaluate(scene, { detector, percent, rays }) {
    const radius = scene.encircled(detector, rays, percent / 100);
    if (!radius.ok) return radius;
    const known = scene.model.detectors.find(({ id }) => id === detector) ?? scene.model.detectors[0];
    return measured(radius.value, scene, rays, detectorUnits(known.detector, known.chart).place);
  },
});

export const detectorEfficiency = defineSceneMeasure({
  id: 'detector_efficiency',
  title: 'Efficiency',
  unit: '%',
  meaning:
    'Flux that the detector counts over the flux of all sources, both in W, or both in lm for a photometric one.',
  settings: { detector: DETECTOR, rays: RAYS },
  evaluate(scene, { detector, rays }) {
    const numbers = scene.numbers(detector, rays);
    if (!numbers.ok) return numbers;
    const { detectors } = scene.model;
    const known = detectors.find(({ id }) => id === detector) ?? detectors[0];
    const launched = launchedFlux(scene.model, known.detector.light);
    if (!(launched > 0)) return failure('No source shines. Add one in Layout, or include one again.');
    const { value, standardError } = numbers.value.flux;
    return measured(
      { value: (100 * value) / launched, standardError: (100 * standardError) / launched },
      scene,
      rays,
      '%',
    );
  },
});

export const detectorHalfAngle = defineSceneMeasure({
  id: 'detector_half_angle',
  title: 'Half-angle of the beam',
  unit: '°',
  meaning:
    'The angle to the axis of a far-field detector at which the intensity falls to a share of its peak, 50 % by default: of the mean over ' +
    'all planes through the axis; or in one plane, turned by an angle from x toward y, half of the angle between both directions.',
  settings: {
    detector: DETECTOR,
    percent: { kind: 'integer', title: 'Percent', min: 1, max: 99, fallback: 50 },
    over: { kind: 'choice', title: 'Of', options: ['all planes', 'one plane'], fallback: 'all planes' },
    plane: {
      kind: 'number',
      title: 'Plane',
      unit: '°',
      min: 0,
      max: 180,
      fallback: 0,
      when: { setting: 'over', is: ['one plane'] },
    },
    rays: RAYS,
  },
  evaluate(scene, { detector, percent, over, plane, rays }) {
    const { detectors } = scene.model;
    const far = detectors.find(({ id, chart }) => chart.kind === 'directions' && (detector === '' || id === detector));
    if (!far) return failure('There is no far-field detector of that name. Add one in Layout.');
    const numbers = scene.numbers(far.id, rays);
    if (!numbers.ok) return numbers;
    const tally = scene.run(rays);
    const counted = countedOf(far, tally.detectors[detectors.indexOf(far)]);
    const map = cellMap(far, counted, tally.chunks, 1);
    const angle =
      over === 'one plane'
        ? halfAngle(planeCurve(map, plane), percent / 100)
        : fallAngle(ringCurve(map), percent / 100);
    if (Number.isNaN(angle.value))
      return failure(`The intensity does not fall to ${percent} % of its peak within the map: make it wider.`);
    return measured(angle, scene, rays, '°');
  },
});

export const partAbsorbed = defineSceneMeasure({
  id: 'part_absorbed',
  title: 'Flux absorbed by a part',
  unit: 'W',
  meaning: 'Flux that ends in a part: at its faces and on its way through it.',
  settings: { part: { kind: 'id', title: 'Part', fallback: '' }, rays: RAYS },
  evaluate(scene, { part, rays }) {
    const { model } = scene;
    const id = part || model.scene.parts[0]?.id;
    if (!model.scene.parts.some((one) => one.id === id)) return failure(`There is no part “${id ?? ''}”.`);
    const tally = scene.run(rays);
    let sum = 0;
    model.faces.forEach((face, i) => (sum += face.part === id ? tally.faces[i] : 0));
    model.solids.forEach((solid, i) => (sum += solid.part === id ? tally.solids[i] : 0));
    return measured(sum / tally.chunks, scene, rays, 'W');
  },
});

export const SCENE_MEASURES = [
  detectorFlux,
  detectorMean,
  detectorPeak,
  detectorUniformity,
  detectorCentroidX,
  detectorCentroidY,
  detectorRadius,
  detectorEncircled,
  detectorEfficiency,
  detectorHalfAngle,
  partAbsorbed,
] as const;
