import Papa from 'papaparse';
import { parse as parseYaml, YAMLParseError } from 'yaml';
import type { Dispersion } from '../materials/dispersion.ts';
import { refractiveIndex } from '../materials/dispersion.ts';
import type { InternalTransmittance, Material } from '../materials/material.ts';
import { materialProblem } from '../project/read.ts';
import { MAX_TABLE_TEXT } from './limits.ts';
import { failure, success, type Outcome } from '../math/outcome.ts';

const MAX_ROWS = 20_000;

/**
 * Reads a material from a text: a CSV table (wavelength, n and, if wanted, k; nm or µm) or an open YAML record with one formula or
 * table under `DATA` (formulas 1, 2, 3, 5 and 7, tables of n, of n and k, and a further table of k).
 *
 * Fails with what is wrong and in which line. The id is made from the name; whoever takes it in makes it one of its own.
 *
 * @param name - of the file: it names the material, and its ending tells the two forms apart
 */
export function readMaterialTable(name: string, text: string): Outcome<Material> {
  if (text.length > MAX_TABLE_TEXT)
    return failure(`The file has more than ${MAX_TABLE_TEXT / 1e6} MB: this is no index table.`);
  const title = name.replace(/\.[^.]*$/, '').trim() || 'material';
  const optics = /\.ya?ml$/i.test(name) ? fromYaml(text) : fromCsv(text);
  if (!optics.ok) return optics;
  const { dispersion, range, transmittance, ...rest } = optics.value;
  for (const nm of [range[0], (range[0] + range[1]) / 2, range[1]]) {
    const index = refractiveIndex(dispersion, nm);
    if (!(index > 0 && index < 20))
      return failure(`At ${nm} nm the index would be ${index}: are the wavelengths in µm, and the constants complete?`);
  }
  const id = title
    .normalize('NFKD')
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, '_')
    .replace(/^_+|_+$/g, '');
  const material: Material = {
    id: (/^[a-z]/.test(id) ? id : `m_${id}`.replace(/_$/, '')).slice(0, 100),
    label: title.slice(0, 200),
    family: 'imported',
    dispersion,
    range,
    ...(transmittance && { transmittance }),
    ...rest,
  };
  // A project takes it along: what its file would not take is refused here.
  const wrong = materialProblem(material);
  return wrong ? failure(`${wrong.place}: ${wrong.reason}.`) : success(material);
}

type Optics = Pick<Material, 'dispersion' | 'range' | 'transmittance' | 'against' | 'temperature' | 'note'>;

/** A row of a table, with the line it came from. */
interface Row {
  readonly line: number;
  readonly values: readonly number[];
}

function fromCsv(text: string): Outcome<Optics> {
  const { data } = Papa.parse<string[]>(text.replace(/^\uFEFF/, ''), { skipEmptyLines: false });
  const rows: Row[] = [];
  let unit: 'nm' | 'um' | null = null;
  let columns: { nm: number; n: number; k: number } | null = null;
  for (const [i, cells] of data.entries()) {
    const words = cells.map((cell) => cell.trim());
    if (words.every((word) => word === '') || words[0].startsWith('#')) continue;
    if (!columns && !isNumber(words[0])) {
      columns = columnsOf(words);
      if (!columns) return failure(`Line ${i + 1}: no column is called n. Wanted: wavelength, n and, if known, k.`);
      unit = unitOf(words[columns.nm]);
      continue;
    }
    columns ??= { nm: 0, n: 1, k: words.length > 2 ? 2 : -1 };
    const wanted = [columns.nm, columns.n, ...(columns.k >= 0 ? [columns.k] : [])];
    const wrong = wanted.find((at) => !isNumber(words[at] ?? ''));
    if (wrong !== undefined)
      return failure(
        `Line ${i + 1}: “${words[wrong] ?? ''}” is not a number.${/^\d+,\d+$/.test(words[wrong] ?? '') ? ' Use a point for decimals.' : ''}`,
      );
    rows.push({ line: i + 1, values: wanted.map((at) => Number(words[at])) });
  }
  if (rows.length === 0) return failure('The file holds no rows of wavelength and n.');
  // Wavelengths of light lie below 100 in µm and above it in nm.
  const factor = unit === 'nm' ? 1 : unit === 'um' || rows[0].values[0] < 100 ? 1000 : 1;
  return ofRows(rows.map(({ line, values: [at, ...rest] }) => ({ line, values: [round(at * factor), ...rest] })));
}

const isNumber = (word: string) => /^[+-]?(\d+\.?\d*|\.\d+)(e[+-]?\d+)?$/i.test(word);

/** nm from µm without the dust of the factor. */
const round = (nm: number) => Number(nm.toPrecision(12));

function columnsOf(words: readonly string[]): { nm: number; n: number; k: number } | null {
  const plain = words.map((word) => word.toLowerCase().replace(/[^a-zµμ]/g, ''));
  const n = plain.findIndex((word) => /^(n|index|refractiveindex)$/.test(word));
  const nm = plain.findIndex((word) => /^(wl|wave|lambda|wavelength|nm|um|µm|μm)/.test(word));
  const k = plain.findIndex((word) => /^(k|extinction|extinctioncoefficient)$/.test(word));
  return n < 0 ? null : { nm: nm < 0 ? 0 : nm, n, k };
}

function unitOf(word: string): 'nm' | 'um' | null {
  if (/nm/i.test(word)) return 'nm';
  return /[uµμ]m|micro/i.test(word) ? 'um' : null;
}

function ofRows(unsorted: readonly Row[]): Outcome<Optics> {
  if (unsorted.length > MAX_ROWS) return failure(`The table has more than ${MAX_ROWS} rows.`);
  const rows = [...unsorted].sort((a, b) => a.values[0] - b.values[0]);
  for (const [i, { line, values }] of rows.entries()) {
    const [nm, n, k = 0] = values;
    if (!(nm > 0)) return failure(`Line ${line}: a wavelength is above 0.`);
    if (!(n > 0 && n < 20)) return failure(`Line ${line}: an index of ${n} cannot be.`);
    if (!(k >= 0)) return failure(`Line ${line}: an extinction coefficient is not negative.`);
    if (i > 0 && nm === rows[i - 1].values[0]) return failure(`Line ${line}: ${nm} nm is there twice.`);
  }
  const nm = rows.map(({ values }) => values[0]);
  const transmittance =
    rows[0].values.length > 2
      ? ofExtinction(
          nm,
          rows.map(({ values }) => values[2]),
        )
      : undefined;
  return success({
    dispersion: { kind: 'table', nm, n: rows.map(({ values }) => values[1]) },
    range: [nm[0], nm.length > 1 ? nm[nm.length - 1] : nm[0] + 1e-6],
    ...(transmittance && { transmittance }),
  });
}

/** Internal transmittance by extinction coefficients, exp(−4πkt/λ), for a thickness t that keeps its digits. */
function ofExtinction(nm: readonly number[], k: readonly number[]): InternalTransmittance {
  const absorption = nm.map((at, i) => (4 * Math.PI * k[i]) / (at * 1e-6)); // 1/mm
  const thickness = Math.min(10, 10 / Math.max(1, ...absorption));
  return { thickness, nm, share: absorption.map((alpha) => Math.exp(-alpha * thickness)) };
}

/* eslint-disable @typescript-eslint/no-explicit-any -- a parsed YAML document, looked at piece by piece */
function fromYaml(text: string): Outcome<Optics> {
  let document: any;
  try {
    // A record is small: aliases that blow up are refused by the reader itself.
    document = parseYaml(text, { maxAliasCount: 20, logLevel: 'error' });
  } catch (error) {
    if (error instanceof YAMLParseError) return failure(`This is not YAML: ${error.message.split('\n')[0]}`);
    return failure(`This is not YAML: ${(error as Error).message}`);
  }
  const data: unknown = document?.DATA;
  if (!Array.isArray(data) || data.length === 0) return failure('The record has no list DATA.');
  let optics: Outcome<Optics> | null = null;
  let transmittance: InternalTransmittance | undefined;
  for (const [i, entry] of data.entries()) {
    const kind = String(entry?.type ?? '').trim();
    const place = `DATA, entry ${i + 1}`;
    if (kind === 'tabulated k') {
      const rows = yamlRows(entry.data, place);
      if (!rows.ok) return rows;
      const sorted = [...rows.value].sort((a, b) => a.values[0] - b.values[0]);
      if (sorted.some(({ values }) => !(values[1] >= 0)))
        return failure(`${place}: an extinction coefficient is not negative.`);
      transmittance = ofExtinction(
        sorted.map(({ values }) => values[0]),
        sorted.map(({ values }) => values[1]),
      );
    } else if (kind === 'tabulated n' || kind === 'tabulated nk') {
      const rows = yamlRows(entry.data, place);
      optics = rows.ok ? ofRows(rows.value) : rows;
    } else if (kind.startsWith('formula')) optics = yamlFormula(kind, entry, place);
    else return failure(`${place}: “${kind}” is not a kind of data that can be read here.`);
    if (optics && !optics.ok) return optics;
  }
  if (!optics) return failure('The record has no refractive index.');
  const conditions = document.CONDITIONS ?? document.SPECS ?? {};
  const celsius = /^\s*(-?\d+(?:\.\d+)?)\s*°?\s*C?\s*$/.exec(String(conditions.temperature ?? ''));
  const note = [document.REFERENCES, document.COMMENTS]
    .filter((part) => typeof part === 'string')
    .map((part: string) => part.replace(/<[^>]*>/g, '').trim())
    .join(' ')
    .slice(0, 2000);
  return success({
    ...optics.value,
    ...(transmittance && { transmittance }),
    ...(conditions.n_is_absolute === true && { against: 'vacuum' as const }),
    ...(celsius && { temperature: Number(celsius[1]) }),
    ...(note && { note }),
  });
}

/** Lines of numbers, wavelengths in µm; they come back in nm. */
function yamlRows(data: unknown, place: string): Outcome<Row[]> {
  if (typeof data !== 'string') return failure(`${place}: no table under “data”.`);
  const rows: Row[] = [];
  for (const [i, text] of data.split('\n').entries()) {
    if (text.trim() === '') continue;
    const words = text.trim().split(/[\s,;]+/);
    if (words.length < 2 || !words.every(isNumber))
      return failure(`${place}, line ${i + 1}: “${text.trim()}” is not a row of numbers.`);
    const [um, ...rest] = words.map(Number);
    rows.push({ line: i + 1, values: [round(um * 1000), ...rest] });
  }
  return rows.length > 0 ? success(rows) : failure(`${place}: the table is empty.`);
}

function yamlFormula(kind: string, entry: any, place: string): Outcome<Optics> {
  const list = (value: unknown) =>
    (Array.isArray(value)
      ? value.map(String)
      : String(value ?? '')
          .trim()
          .split(/\s+/)
    ).filter(Boolean);
  const words = list(entry.coefficients);
  const span = list(entry.wavelength_range ?? entry.range);
  if (words.length === 0 || words.length > 41 || !words.every(isNumber))
    return failure(`${place}: coefficients are not a list of numbers.`);
  if (span.length !== 2 || !span.every(isNumber) || !(Number(span[0]) < Number(span[1])))
    return failure(`${place}: wavelength_range needs two wavelengths in µm.`);
  const c = words.map(Number);
  const pairs = Array.from({ length: Math.floor((c.length - 1) / 2) }, (_, i) => [c[2 * i + 1], c[2 * i + 2]]);
  const dispersion = formulaOf(kind.replace('formula', '').trim(), c, pairs);
  if (!dispersion) return failure(`${place}: “${kind}” is not read here; a table of n is.`);
  return success({ dispersion, range: [round(Number(span[0]) * 1000), round(Number(span[1]) * 1000)] });
}

function formulaOf(number: string, c: readonly number[], pairs: readonly number[][]): Dispersion | null {
  switch (number) {
    case '1': // n² − 1 = c₁ + Σ cᵢ λ²/(λ² − cᵢ₊₁²)
      return { kind: 'sellmeier', a: 1 + c[0], b: pairs.map(([b]) => b), c: pairs.map(([, um]) => um * um) };
    case '2': // n² − 1 = c₁ + Σ cᵢ λ²/(λ² − cᵢ₊₁)
      return {
        kind: 'sellmeier',
        a: 1 + c[0],
        b: pairs.map(([b]) => b),
        c: pairs.map(([, square]) => square),
      };
    case '3': // n² = c₁ + Σ cᵢ λ^cᵢ₊₁
      return {
        kind: 'power_series',
        coefficients: [c[0], ...pairs.map(([a]) => a)],
        powers: [0, ...pairs.map(([, p]) => p)],
      };
    case '5': // n = c₁ + Σ cᵢ λ^cᵢ₊₁
      return {
        kind: 'cauchy',
        coefficients: [c[0], ...pairs.map(([a]) => a)],
        powers: [0, ...pairs.map(([, p]) => p)],
      };
    case '7':
      return c.length <= 6 ? { kind: 'herzberger', coefficients: c } : null;
    default:
      return null;
  }
}
