import { parseQuantity, success, type Outcome, type QuantityOptions } from '@ulvex/core';

/** A reader for cells of numbers: the quantity, then what else the model demands of it. */
export function numberReader(
  options: QuantityOptions,
  objection: (value: number) => string | null = () => null,
): (text: string) => Outcome<number> {
  return (text) => {
    const read = parseQuantity(text, options);
    if (!read.ok) return read;
    const wrong = objection(read.value);
    return wrong ? { ok: false, reason: wrong } : success(read.value);
  };
}

/** The number in a text turned by steps of one in its third significant digit; null when the text is no finite number. */
export function nudged(text: string, steps: number): string | null {
  const value = Number(text.replace('−', '-'));
  if (!Number.isFinite(value) || text.trim() === '') return null;
  const size = value === 0 ? 0 : Math.floor(Math.log10(Math.abs(value)));
  const step = 10 ** (size - 2);
  const decimals = Math.max(0, 2 - size, (String(value).split('.')[1] ?? '').length);
  return String(Number((value + steps * step).toFixed(Math.min(15, decimals))));
}
