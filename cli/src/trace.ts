import {
  atOnce,
  energyLines,
  traceReport,
  traceTask,
  type DetectorReport,
  type Estimate,
  type MapReport,
  type Project,
  type SceneReport,
} from '@ulvex/core';
import { writeFileSync } from 'node:fs';
import { PNG } from 'pngjs';
import type { Streams } from './main.ts';

/** What is asked of a trace. */
export interface TraceAsked {
  /** Rays; those that the scene says where left out. */
  readonly rays: number | undefined;
  readonly seed: number | undefined;
  /** Id of the detector whose map is wanted; of JSON all of them, else the first. */
  readonly detector: string | undefined;
  readonly form: 'text' | 'json' | 'csv';
  /** Where the map is written as a picture. */
  readonly png: string | undefined;
}

/** Traces the first scene of a project. Returns false, having said why, where there is nothing to trace. */
export function trace(project: Project, { rays, seed, detector, form, png }: TraceAsked, streams: Streams): boolean {
  const task = traceTask(project, { rays, seed, ...(detector !== undefined && { maps: [detector] }) });
  if (!task.ok) {
    streams.err(task.reason);
    return false;
  }
  const known = task.value.model.detectors.map(({ id }) => id);
  const maps = detector !== undefined ? [detector] : form === 'json' ? known : known.slice(0, 1);
  const report = atOnce(traceReport({ ...task.value, maps }));
  const mapped = report.detectors.find(({ map }) => map);
  if (png !== undefined && mapped?.map) writeFileSync(png, picture(mapped.map));
  if (form === 'json') streams.out(JSON.stringify(report));
  else if (form === 'csv') csv(mapped, streams);
  else lines(report, streams);
  return !report.findings.some(({ severity }) => severity === 'error');
}

/** A map in greys, bright where the light is; +y upward. */
function picture({ columns, rows, values }: MapReport): Buffer {
  const top = values.reduce<number>((most, value) => Math.max(most, value ?? 0), 0) || 1;
  const png = new PNG({ width: columns, height: rows });
  for (let row = 0; row < rows; row++)
    for (let column = 0; column < columns; column++) {
      const shade = Math.round((255 * (values[row * columns + column] ?? 0)) / top);
      png.data.set([shade, shade, shade, 255], 4 * ((rows - 1 - row) * columns + column));
    }
  return PNG.sync.write(png, { colorType: 0 });
}

function csv(detector: DetectorReport | undefined, streams: Streams): void {
  if (!detector?.map) return;
  const { map, units } = detector;
  streams.out(`x ${units.place},y ${units.place},${units.density},standard error`);
  const at = ([from, to]: readonly [number, number], k: number, count: number) =>
    from + ((to - from) * (k + 0.5)) / count;
  map.values.forEach((value, i) => {
    const [column, row] = [i % map.columns, Math.floor(i / map.columns)];
    const place = `${at(map.x, column, map.columns)},${at(map.y, row, map.rows)}`;
    streams.out(`${place},${value ?? ''},${map.errors[i] ?? ''}`);
  });
}

const told = ({ value, standardError }: Estimate, unit: string) =>
  `${Number(value.toPrecision(6))} ± ${Number(standardError.toPrecision(2))} ${unit}`.trim();

function lines({ rays, seed, energy, detectors, findings, mishaps }: SceneReport, streams: Streams): void {
  streams.out(`${rays} rays, seed ${seed}, ${Number(energy.launched.toPrecision(6))} W launched`);
  for (const { title, share } of energyLines(energy)) streams.out(`    ${title}: ${(100 * share).toPrecision(4)} %`);
  for (const one of detectors) {
    streams.out(`${one.name}: ${told(one.flux, one.units.flux)}`);
    streams.out(`    mean ${told(one.mean, one.units.density)}, peak ${told(one.peak, one.units.density)}`);
    streams.out(`    RMS radius ${told(one.rmsRadius, one.units.place)}, ${one.hits} rays counted`);
  }
  for (const { severity, where, text } of findings) streams.err(`${severity}: ${where ? `${where}: ` : ''}${text}`);
  for (const { kind, between, count } of mishaps)
    streams.err(`warning: ${kind}: ${between.join(' and ')}, ${count} rays`);
}
