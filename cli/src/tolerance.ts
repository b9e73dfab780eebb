import {
  inUnits,
  oneByOne,
  together,
  toleranceTitle,
  toleranceUnit,
  type OneByOne,
  type WatchedRequirement,
} from '@ulvex/core/tolerance';
import type { Streams } from './main.ts';
import { csvRow, shown, type Form, type Study } from './study.ts';

/** Shares below it are counted, not listed. */
const LISTED = 5e-4;

interface Ladder extends OneByOne {
  readonly watched: readonly WatchedRequirement[];
  readonly rows: readonly { readonly id: string; readonly title: string; readonly unit: string }[];
}

/**
 * Takes the tolerances of a project one by one and writes what they do to its requirements, each ladder with the largest share first.
 *
 * @returns whether every trial had its values; reasons for missing values go to the error stream
 */
export function tolerance({ project, tolerancing, watched }: Study, form: Form, streams: Streams): boolean {
  const { tolerances, compensators = [], steps = 5 } = tolerancing;
  const work = oneByOne({ project, tolerances, compensators, watched }, steps);
  let step = work.next();
  while (!step.done) step = work.next();
  if (!step.value.ok) {
    streams.err(step.value.reason);
    return false;
  }
  const rows = step.value.value.tolerances.map((one) => {
    const unit = toleranceUnit(project, one);
    return { id: one.id, title: toleranceTitle(project, one), unit: unit.ok ? unit.value : '' };
  });
  const { units } = step.value.value;
  const ladder: Ladder = { ...step.value.value, watched: inUnits(watched, units), rows };
  const write = { text: writeText, json: writeJson, csv: writeCsv }[form];
  write(project.name, ladder, streams);
  const unknown = ladder.nominal.flatMap((value, k) => (value.ok ? [] : [`${watched[k].title}: ${value.reason}`]));
  const lost = ladder.failures.map(({ tolerance: id, at, reason }) => {
    const row = rows.find((one) => one.id === id)!;
    return `${row.title} at ${shown(at)}${row.unit && ` ${row.unit}`}: ${reason}`;
  });
  for (const line of [...unknown, ...lost]) streams.err(line);
  return unknown.length + lost.length === 0;
}

/** Mean and standard deviation of a requirement with all tolerances together, by their fits. */
function allTogether({ nominal, tolerances, influences }: Ladder, k: number) {
  const value = nominal[k];
  const { shift, deviation } = together(
    tolerances,
    influences.map((row) => row[k]),
  );
  return { mean: value.ok ? value.value + shift : null, deviation };
}

function writeText(name: string, ladder: Ladder, { out }: Streams): void {
  const { watched, rows, influences, nominal, tolerances } = ladder;
  const count = tolerances.length;
  out(`${name}: ${count} ${count === 1 ? 'tolerance' : 'tolerances'}, one by one`);
  watched.forEach(({ title, unit }, k) => {
    const value = nominal[k];
    const { mean, deviation } = allTogether(ladder, k);
    out('');
    out(
      `${title}${unit && `, ${unit}`}: design ${shown(value.ok ? value.value : null)}, made ${shown(mean)} ± ${shown(deviation)}`,
    );
    const order = [...influences.keys()].sort((a, b) => influences[b][k].share - influences[a][k].share);
    const width = Math.max(...rows.map((row) => row.title.length));
    const small = order.filter((i) => influences[i][k].share < LISTED).length;
    for (const i of order.slice(0, order.length - small)) {
      const { share, deviation: own, ends, fit } = influences[i][k];
      const { lower, upper } = tolerances[i];
      const range = `${shown(lower)} to ${shown(upper)} ${rows[i].unit}`.padEnd(22);
      const bent = fit && fit.residual > 0.05 ? `  bends by ${(100 * fit.residual).toFixed(0)} %` : '';
      out(
        `  ${`${(100 * share).toFixed(1)} %`.padStart(7)}  ${rows[i].title.padEnd(width)}  ${range} ± ${shown(own)}  ` +
          `(${shown(ends[0])} … ${shown(ends[1])})${bent}`,
      );
    }
    if (small > 0) out(`  ${small} below ${100 * LISTED} %`);
  });
}

function writeJson(name: string, ladder: Ladder, { out }: Streams): void {
  const { watched, rows, influences, nominal, tolerances, failures } = ladder;
  out(
    JSON.stringify({
      name,
      requirements: watched.map(({ id, title, unit, state, min, max }, k) => {
        const value = nominal[k];
        const known = { id, title, unit, state, min, max, ...allTogether(ladder, k) };
        return value.ok ? { ...known, design: value.value } : { ...known, failure: value.reason };
      }),
      tolerances: rows.map((row, i) => {
        const { lower, upper } = tolerances[i];
        return {
          ...row,
          lower,
          upper,
          influences: influences[i].map((one, k) => ({ requirement: watched[k].id, ...one })),
        };
      }),
      failures,
    }),
  );
}

function writeCsv(_name: string, { watched, rows, influences, tolerances }: Ladder, { out }: Streams): void {
  out('requirement,tolerance,unit,lower,upper,at lower,at upper,shift,standard deviation,share,residual');
  watched.forEach(({ title }, k) =>
    rows.forEach((row, i) => {
      const { lower, upper } = tolerances[i];
      const { ends, shift, deviation, share, fit } = influences[i][k];
      const cells = [title, row.title, row.unit, lower, upper, ...ends, shift, deviation, share, fit?.residual ?? null];
      out(csvRow(cells));
    }),
  );
}
