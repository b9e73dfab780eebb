import Papa from 'papaparse';
import { failure, success, type Outcome } from '../math/outcome.ts';
import { MOST_PLATES, type TestPlate } from '../project/improve.ts';
import { MAX_TABLE_TEXT } from './limits.ts';

const INCH = 25.4;
const DECIMAL_COMMA = /^\d+,\d+$/;

/**
 * Reads the list of a workshop's test plates from a CSV text: a column of radii, in mm, or in inches where its heading says so, and, if wanted, one
 * of names. Without headings the first column of numbers is taken. Lines that start with # are skipped, signs are
 * left out, and a radius that is there twice counts once. Plates come in rising order. Fails with what is wrong and
 * in which line.
 */
export function readPlateList(text: string): Outcome<readonly TestPlate[]> {
  if (text.length > MAX_TABLE_TEXT)
    return failure(`The file has more than ${MAX_TABLE_TEXT / 1e6} MB: this is no list of test plates.`);
  const { data } = Papa.parse<string[]>(text.replace(/^\uFEFF/, ''), {
    skipEmptyLines: false,
    delimiter: text.includes(';') ? ';' : text.includes('\t') ? '\t' : ',',
  });
  const byRadius = new Map<number, TestPlate>();
  let columns: { radius: number; name: number; factor: number } | null = null;
  for (const [i, cells] of data.entries()) {
    const words = cells.map((cell) => cell.trim());
    if (words.every((word) => word === '') || words[0].startsWith('#')) continue;
    if (!columns) {
      const headed = !words.some(isNumber);
      columns = headed
        ? columnsOf(words)
        : { radius: words.findIndex(isNumber), name: words.findIndex((word) => !isNumber(word)), factor: 1 };
      if (!columns) return failure(`Line ${i + 1}: no column is called radius.`);
      if (headed) continue;
    }
    const word = words[columns.radius] ?? '';
    if (!isNumber(word))
      return failure(
        `Line ${i + 1}: “${word}” is not a number.${DECIMAL_COMMA.test(word) ? ' Use a point for decimals.' : ''}`,
      );
    const radius = Number(Math.abs(Number(word) * columns.factor).toPrecision(12));
    if (!(radius >= 0.05 && radius <= 1e6))
      return failure(`Line ${i + 1}: a radius of ${word} is none of a test plate.`);
    const name = words[columns.name]?.slice(0, 60);
    if (!byRadius.has(radius)) byRadius.set(radius, { radius, ...(name && { name }) });
    if (byRadius.size > MOST_PLATES) return failure(`The list has more than ${MOST_PLATES} plates.`);
  }
  if (byRadius.size === 0) return failure('The file holds no radius.');
  return success([...byRadius.values()].sort((a, b) => a.radius - b.radius));
}

const isNumber = (word: string) => /^[+-]?(\d+\.?\d*|\.\d+)(e[+-]?\d+)?$/i.test(word);

function columnsOf(words: readonly string[]): { radius: number; name: number; factor: number } | null {
  const plain = words.map((word) => word.toLowerCase());
  const radius = plain.findIndex((word) => /^(r\b|roc\b|radius|radii)/.test(word));
  if (radius < 0) return null;
  const name = plain.findIndex((word) => /^(name|no\b|nr\b|number|plate|id\b)/.test(word));
  return { radius, name, factor: /\b(in|inch|inches)\b/.test(plain[radius]) ? INCH : 1 };
}
