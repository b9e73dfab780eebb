import type { SceneEvaluation } from '../../imaging/evaluation/scene-evaluation.ts';
import type { Detail } from '../../imaging/wavefront/diffraction-pupil.ts';
import { failure, success, type Outcome } from '../../math/outcome.ts';
import { detectorUnits, type DetectorUnits } from '../../scene/charts.ts';
import { countedOf, launchedFlux, type Counted, type Look } from '../../scene/channels.ts';
import type { CompiledDetector } from '../../scene/detectors.ts';
import { cellMap, type CellMap } from '../../scene/far-field.ts';
import { detectorNumbers, type DetectorNumbers } from '../../scene/statistics.ts';
import type { Tally } from '../../scene/tally.ts';
import type { Figure } from '../panels.ts';

export const DETECTOR = { kind: 'id', title: 'Detector', fallback: '' } as const;
export const SOURCE = { kind: 'id', title: 'Source', fallback: '' } as const;
export const LIGHT = {
  kind: 'choice',
  title: 'In',
  options: ['as the detector', 'W', 'lm'],
  fallback: 'as the detector',
} as const;
export const RAYS = {
  kind: 'choice',
  title: 'Rays',
  options: ['as the scene', '4 times', '16 times'],
  fallback: 'as the scene',
} as const;
const TIMES: Readonly<Record<string, number>> = { '4 times': 4, '16 times': 16 };
/** Most rays of a quick answer. */
const QUICK = 4096;

/** What of a scene has been traced, and how, in words. */
export interface Traced {
  readonly tally: Tally;
  readonly about: readonly string[];
}

/** Traces a scene for an analysis. Fails, naming what is missing, where there is nothing to trace. */
export function* tracedScene(
  scene: SceneEvaluation,
  rays: string,
  detail: Detail,
): Generator<void, Outcome<Traced>, void> {
  const { model } = scene;
  const wrong = model.findings.find(({ severity }) => severity === 'error');
  if (wrong) return failure(wrong.text, wrong.where);
  if (model.sources.length === 0) return failure('No source shines. Add one in Layout, or include one again.');
  const wanted = model.scene.sampling.rays * (TIMES[rays] ?? 1);
  const count = detail === 'full' ? wanted : Math.min(QUICK, wanted);
  const tally = yield* scene.traced(count);
  return success({ tally, about: [`${tally.rays.toLocaleString('en')} rays, seed ${model.scene.sampling.seed}`] });
}

/** A detector with what it counted, as it is looked at. */
export interface Counts extends Traced {
  readonly meter: CompiledDetector;
  readonly counted: Counted;
  readonly look: Look;
  readonly units: DetectorUnits;
  readonly numbers: DetectorNumbers;
  /** Flux over what the sources that are looked at launch, %. */
  readonly efficiency: Figure;
  /** Name of the detector. */
  readonly name: string;
}

/** The choices that say which light is looked at. */
export interface LightChoice {
  readonly detector: string;
  readonly light: string;
  readonly source: string;
  readonly rays: string;
}

/**
 * What a detector counted. Fails, naming the known ones, where there is no such detector.
 *
 * @param fits - which detectors an analysis can look at; the first of them is its own choice
 * @param wanted - what it looks for, for the message where there is none
 */
export function* countsOf(
  scene: SceneEvaluation,
  { detector, light, source, rays }: LightChoice,
  detail: Detail,
  fits: (meter: CompiledDetector) => boolean = () => true,
  wanted = 'detector',
): Generator<void, Outcome<Counts>, void> {
  const { detectors, sources } = scene.model;
  const meter = detectors.find((one) => fits(one) && (detector === '' || one.id === detector));
  if (!meter) {
    const known = detectors.filter(fits).map(({ id }) => id);
    if (known.length === 0) return failure(`The scene has no ${wanted}. Add one in Layout: it counts the light there.`);
    return failure(`There is no ${wanted} “${detector}”; there are ${known.join(', ')}.`);
  }
  if (source !== '' && !sources.some(({ id }) => id === source))
    return failure(`There is no source “${source}” that shines; there are ${sources.map(({ id }) => id).join(', ')}.`);
  const traced = yield* tracedScene(scene, rays, detail);
  if (!traced.ok) return traced;
  const { tally, about } = traced.value;
  const look: Look = {
    light: light === 'lm' ? 'photometric' : light === 'W' ? 'radiometric' : meter.detector.light,
    source: source || undefined,
  };
  const counts = tally.detectors[detectors.indexOf(meter)];
  const counted = countedOf(meter, counts, look);
  if (counted.hits === 0) return failure('No light of this kind has reached the detector.');
  const numbers = detectorNumbers(meter, counts, tally.chunks, look);
  const own = source ? [`light of ${source} alone`] : [];
  return success({
    tally,
    meter,
    counted,
    look,
    units: detectorUnits({ light: look.light ?? 'radiometric' }, meter.chart),
    numbers,
    efficiency: efficiencyFigure(numbers, launchedFlux(scene.model, look.light ?? 'radiometric', look.source)),
    name: meter.detector.name || meter.id,
    about: [
      meter.detector.counts === 'incident' ? 'incident light' : `${meter.detector.counts} light`,
      ...own,
      ...about,
    ],
  });
}

function efficiencyFigure({ flux }: DetectorNumbers, launched: number): Figure {
  return {
    name: 'efficiency',
    value: (100 * flux.value) / launched,
    error: (100 * flux.standardError) / launched,
    unit: '%',
  };
}

/** The map of a detector in its unit of density: see `cellMap`. */
export function mapOf({ meter, counted, tally, units }: Counts, layer = 0, by = 1): CellMap {
  return cellMap(meter, counted, tally.chunks, units.scale, layer, by);
}

/** Middles of cells along one axis. */
export function middles([from, to]: readonly [number, number], count: number): number[] {
  return Array.from({ length: count }, (_, k) => from + ((to - from) * (k + 0.5)) / count);
}
