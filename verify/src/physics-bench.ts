import {
  AIR,
  compileScene,
  detectorNumbers,
  SAMPLING,
  traceAll,
  type Detector,
  type Finish,
  type Material,
  type Part,
  type Project,
  type Sampling,
  type SceneModel,
  type Source,
  type TracerOptions,
} from '@ulvex/core';

/** A number found by tracing rays drawn by lot, over several runs with seeds of their own. */
export interface Sampled {
  readonly value: number;
  /** Standard error of the mean over the runs, as the runs claim it. */
  readonly error: number;
  /** Whether the runs spread as they claim: χ² of their values over their own errors lies where all but a thousandth of such sums do. */
  readonly honest: boolean;
}

export interface Given {
  readonly parts: readonly Part[];
  readonly sources: readonly Partial<Source>[];
  readonly detectors?: readonly Detector[];
  readonly finishes?: readonly Finish[];
  readonly materials?: readonly Material[];
  readonly sampling?: Partial<Sampling>;
}

export const GLASS: Material = {
  id: 'glass',
  label: 'glass',
  family: 'test glass',
  dispersion: { kind: 'constant', index: 1.5 },
  range: [100, 20000],
};

export function modelOf({
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
    version: 3,
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
export const RAYS = 16_384;
/** Bounds of χ² with nine degrees of freedom that leave out a thousandth together. */
const LEAST = 0.97;
const MOST = 29.7;

/** Flux share on the first detector, over several seeds, times a factor. */
export function sampled(given: Given, factor = 1, rays = RAYS, options: TracerOptions = {}): Sampled {
  const runs = Array.from({ length: RUNS }, (_, seed) => {
    const model = modelOf({ ...given, sampling: { ...given.sampling, seed: seed + 1 } });
    const tally = traceAll(model, rays, options);
    return detectorNumbers(model.detectors[0], tally.detectors[0], tally.chunks).flux;
  });
  const mean = runs.reduce((sum, { value }) => sum + value, 0) / RUNS;
  const error = Math.sqrt(runs.reduce((sum, { standardError }) => sum + standardError ** 2, 0)) / RUNS;
  const chi = runs.reduce((sum, { value, standardError }) => sum + ((value - mean) / standardError) ** 2, 0);
  const exact = runs.every(({ value, standardError }) => standardError < 1e-12 && Math.abs(value - mean) < 1e-12);
  return { value: mean * factor, error: error * factor, honest: exact || (chi > LEAST && chi < MOST) };
}

export const on = (part: string): Detector => ({
  id: 'meter',
  on: { kind: 'face', part, face: 'face' },
  columns: 1,
  rows: 1,
  counts: 'incident',
  light: 'radiometric',
});
export const LAMBERT: Partial<Source> = { law: { kind: 'lambertian', half: 90 } };
export const disc = (radius: number, frame: Part['frame'], inner = 0): Part => ({
  id: 'target',
  body: { kind: 'disc', radius, inner },
  frame: frame!,
});
export const sheet = (width: number, height: number, frame: Part['frame']): Part => ({
  id: 'target',
  body: { kind: 'sheet', width, height },
  frame: frame!,
});
export const rowsOf = (values: unknown) => values as readonly Readonly<Record<string, number>>[];
export const radians = (degrees: number) => (degrees * Math.PI) / 180;

/** Light from a place to a target: what comes the other way from an even Lambertian target, by reciprocity. */
export const fromPoint = (target: Part, factor = 1) =>
  sampled({ parts: [target], sources: [LAMBERT], detectors: [on('target')] }, factor);

/** A sampled number times a factor. */
export function times(one: Sampled, factor: number): Sampled {
  return { ...one, value: one.value * factor, error: one.error * factor };
}
