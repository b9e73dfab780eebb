import { detectorUnits } from './charts.ts';
import { countedOf } from './channels.ts';
import { cellMap } from './far-field.ts';
import type { SceneModel } from './scene-model.ts';
import { detectorNumbers, type DetectorNumbers } from './statistics.ts';
import { energyOf, type Ledger, type Mishap, type Tally } from './tally.ts';

/** What a run of a scene has found, in plain numbers: for a terminal or another program. */
export interface SceneReport {
  readonly scene: string;
  readonly rays: number;
  readonly seed: number;
  /** W by where light ended; `launched` is their sum. */
  readonly energy: Ledger;
  readonly detectors: readonly DetectorReport[];
  /** By source: W launched, and the share of its rays that met anything. */
  readonly sources: readonly { readonly id: string; readonly watts: number; readonly meeting: number }[];
  readonly findings: readonly { readonly severity: string; readonly where?: string; readonly text: string }[];
  readonly mishaps: readonly Mishap[];
}

/** A detector: its numbers with their standard errors, and its map where that was asked for. */
export interface DetectorReport extends Omit<DetectorNumbers, 'uniformity'> {
  readonly id: string;
  readonly name: string;
  /** Units of flux, of densities and of places. */
  readonly units: { readonly flux: string; readonly density: string; readonly place: string };
  /** Least cell over mean; null where no cell is lit. */
  readonly uniformity: number | null;
  readonly map?: MapReport;
}

/** Densities of the first layer of cells, row by row, x and y rising; null for cells that the detector does not have. */
export interface MapReport {
  readonly columns: number;
  readonly rows: number;
  readonly x: readonly [number, number];
  readonly y: readonly [number, number];
  readonly values: readonly (number | null)[];
  readonly errors: readonly (number | null)[];
}

const orNull = (value: number) => (Number.isFinite(value) ? value : null);

/**
 * Sums a run up.
 *
 * @param maps - ids of the detectors whose maps are wanted
 */
export function sceneReport(model: SceneModel, tally: Tally, maps: readonly string[] = []): SceneReport {
  const { chunks } = tally;
  return {
    scene: model.scene.id,
    rays: tally.rays,
    seed: model.scene.sampling.seed,
    energy: energyOf(tally),
    detectors: model.detectors.map((meter, d): DetectorReport => {
      const units = detectorUnits(meter.detector, meter.chart);
      const { uniformity, ...numbers } = detectorNumbers(meter, tally.detectors[d], chunks);
      const wanted = maps.includes(meter.id);
      const map = wanted ? cellMap(meter, countedOf(meter, tally.detectors[d]), chunks, units.scale) : null;
      return {
        id: meter.id,
        name: meter.detector.name ?? meter.id,
        units: { flux: units.flux, density: units.density, place: units.place },
        ...numbers,
        uniformity: orNull(uniformity),
        ...(map && { map: { ...map, values: Array.from(map.values, orNull), errors: Array.from(map.errors, orNull) } }),
      };
    }),
    sources: model.sources.map(({ id, watts }, s) => ({
      id,
      watts,
      meeting: tally.launched[s] > 0 ? tally.met[s] / tally.launched[s] : 0,
    })),
    findings: model.findings.map(({ severity, where, text }) => ({ severity, ...(where && { where }), text })),
    mishaps: tally.mishaps,
  };
}
