/** A number rounded to a fixed number of decimals, with a true minus sign. */
export function fixed(value: number, decimals: number): string {
  if (!Number.isFinite(value)) return value === Infinity ? '∞' : value === -Infinity ? '−∞' : '–';
  const text = value.toFixed(decimals);
  return (Number(text) === 0 ? text.replace('-', '') : text).replace('-', '−');
}

/** A number to a number of significant digits without an exponent where it is readable without one. */
export function significant(value: number, digits: number): string {
  if (!Number.isFinite(value) || value === 0) return fixed(value, 0);
  const size = Math.floor(Math.log10(Math.abs(value)));
  if (size < -5 || size > 7) return value.toExponential(digits - 1).replaceAll('-', '−');
  return fixed(value, Math.max(0, digits - 1 - size));
}

/** A share as a percentage with one decimal. */
export function percent(share: number): string {
  return `${fixed(100 * share, 1)} %`;
}

/** What a cell shows of a length in mm: as the picture needs it, while the model keeps every digit. */
export function lengthText(value: number): string {
  if (!Number.isFinite(value)) return '∞';
  const size = Math.abs(value);
  if (size >= 1e6 || (size > 0 && size < 5e-5)) return significant(value, 5);
  return fixed(value, size >= 1000 ? 2 : size >= 100 ? 3 : 4);
}

/** A number as it was given: rounded to so many digits, without the zeros behind. */
export function plain(value: number, digits = 10): string {
  if (!Number.isFinite(value)) return fixed(value, 0);
  return String(Number(value.toPrecision(digits))).replaceAll('-', '−');
}

/** Every digit of a number, for a cell that is being edited. */
export function exactText(value: number): string {
  return Number.isFinite(value) ? String(value) : '∞';
}

/** A spot radius in µm with its unit: mm when it is huge, a bound when it is next to nothing; or as the angle it is. */
export function radiusText(micrometres: number, unit: 'µm' | 'mrad' = 'µm'): string {
  if (unit === 'mrad') return `${significant(micrometres, 3)} mrad`;
  if (micrometres >= 1000) return `${significant(micrometres / 1000, 3)} mm`;
  return micrometres < 0.001 ? '<0.001 µm' : `${significant(micrometres, 3)} µm`;
}

/** Hours and minutes of a time, in the reader's own zone. */
export function clock(time: number): string {
  const date = new Date(time);
  return `${String(date.getHours()).padStart(2, '0')}:${String(date.getMinutes()).padStart(2, '0')}`;
}

/** A step from 1, 2, 5 × 10ⁿ that divides a length into about `count` parts. */
export function niceStep(length: number, count: number): number {
  const rough = length / count;
  const power = 10 ** Math.floor(Math.log10(rough));
  const ratio = rough / power;
  return (ratio < 1.5 ? 1 : ratio < 3.5 ? 2 : ratio < 7.5 ? 5 : 10) * power;
}
