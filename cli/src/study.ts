import type { Project } from '@ulvex/core';
import { toleranceFindings, watchedRequirements, type WatchedRequirement } from '@ulvex/core/tolerance';
import type { Streams } from './main.ts';

/** How results are written. */
export type Form = 'text' | 'json' | 'csv';

/** What a study of tolerances works with. */
export interface Study {
  readonly project: Project;
  readonly tolerancing: NonNullable<Project['tolerancing']>;
  readonly watched: readonly WatchedRequirement[];
}

/** The tolerances and requirements of a project; null, said on the error stream, where there is nothing to study. */
export function studyOf(project: Project, streams: Streams): Study | null {
  const tolerancing = project.tolerancing ?? { tolerances: [] };
  const watched = watchedRequirements(project);
  const lacking = [
    ...(tolerancing.tolerances.some(({ off }) => !off) ? [] : ['tolerances']),
    ...(watched.length > 0 ? [] : ['requirements']),
  ];
  if (lacking.length > 0) {
    streams.err(`The project has no ${lacking.join(' and no ')}: there is nothing to study.`);
    return null;
  }
  const findings = toleranceFindings(project, tolerancing);
  for (const { of, severity, text } of findings) streams.err(`${severity}: ${of}: ${text}`);
  return findings.some(({ severity }) => severity === 'error') ? null : { project, tolerancing, watched };
}

/** A number for readers, in four digits. */
export const shown = (value: number | null) =>
  value === null ? 'no value' : String(Number(value.toPrecision(4))).replace('-', '−');

/** A row of a CSV file. */
export const csvRow = (cells: readonly (string | number | null)[]) =>
  cells.map((value) => (typeof value === 'string' ? `"${value.replaceAll('"', '""')}"` : (value ?? ''))).join(',');
