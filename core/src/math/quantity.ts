import { failure, success, type Outcome } from './outcome.ts';

/** What a typed number measures; it decides which unit words are understood and what a bare number means. */
export type QuantityKind = 'length' | 'angle' | 'wavelength' | 'temperature' | 'pressure' | 'number';

/** Factors to the base unit of the kind: mm, degree, nm, °C, Pa. */
const UNITS: Record<QuantityKind, Readonly<Record<string, number>>> = {
  length: { nm: 1e-6, um: 1e-3, µm: 1e-3, μm: 1e-3, mm: 1, cm: 10, m: 1000, in: 25.4, inch: 25.4, ft: 304.8 },
  angle: { deg: 1, '°': 1, rad: 180 / Math.PI, mrad: 0.18 / Math.PI, arcmin: 1 / 60, arcsec: 1 / 3600 },
  wavelength: { nm: 1, um: 1000, µm: 1000, μm: 1000, mm: 1e6 },
  temperature: { '°C': 1, degC: 1 },
  pressure: { Pa: 1, hPa: 100, mbar: 100, kPa: 1000, bar: 1e5, atm: 101325, MPa: 1e6 },
  number: { '%': 0.01 },
};

const INFINITE = /^[+]?(inf|infinity|infinite|∞|flat)$/i;

export interface QuantityOptions {
  readonly kind: QuantityKind;
  /** The value that `*1.02`, `/2`, `+= 0.1` and `-= 0.1` start from. */
  readonly current?: number;
  /** Whether `infinity`, `inf`, `flat` or `∞` is a legal answer. */
  readonly allowInfinity?: boolean;
}

/**
 * Reads what a person types into a number cell: a number, a number with a unit (`1in`), arithmetic (`25.4/2`,
 * `(3+4)*2`, `1in - 2mm`), or a change of the present value (`*1.02`, `/2`, `+= 0.1`, `-= 0.1`).
 *
 * The result is in the base unit of the kind (mm, degrees, nm, °C, Pa). Decimal commas are refused with a hint, never guessed.
 * Fails with a sentence that says what is wrong.
 */
export function parseQuantity(text: string, options: QuantityOptions): Outcome<number> {
  const trimmed = text.trim().replace(/[−–]/g, '-');
  if (trimmed === '') return failure('Type a number.');
  if (INFINITE.test(trimmed)) {
    return options.allowInfinity ? success(Infinity) : failure('This value must be finite.');
  }
  const relative = /^(\*|\/|\+=|-=)\s*(.+)$/.exec(trimmed);
  if (relative && (options.current === undefined || !Number.isFinite(options.current))) {
    return failure(`“${relative[1]}” changes the present value, and there is no finite one.`);
  }
  const parser = new Parser(relative ? relative[2] : trimmed, options.kind);
  const read = parser.read();
  if (!read.ok) return read;
  const operand = read.value;
  const value = relative ? applyRelative(relative[1], options.current!, operand) : operand;
  return Number.isFinite(value) ? success(value) : failure('The result is not a finite number.');
}

function applyRelative(operator: string, current: number, operand: number): number {
  switch (operator) {
    case '*':
      return current * operand;
    case '/':
      return current / operand;
    case '+=':
      return current + operand;
    default:
      return current - operand;
  }
}

const TOKEN = /\s*(?:((?:\d+\.?\d*|\.\d+)(?:[eE][+-]?\d+)?)|([a-zA-Zµμ°%]+)|([-+*/^()]))/y;

/** Recursive descent over sum → product → power → factor; unit words bind to the factor before them. */
class Parser {
  #tokens: { number?: number; word?: string; symbol?: string }[] = [];
  #next = 0;
  #depth = 0;
  readonly #text: string;
  readonly #kind: QuantityKind;

  constructor(text: string, kind: QuantityKind) {
    this.#text = text;
    this.#kind = kind;
  }

  read(): Outcome<number> {
    try {
      this.#tokenize();
      const value = this.#sum();
      if (this.#next < this.#tokens.length) throw new ParseError(`“${this.#rest()}” is not expected here.`);
      return success(value);
    } catch (error) {
      if (error instanceof ParseError) return failure(error.message);
      throw error;
    }
  }

  #tokenize(): void {
    TOKEN.lastIndex = 0;
    let at = 0;
    while (this.#text.slice(at).trim() !== '') {
      TOKEN.lastIndex = at;
      const match = TOKEN.exec(this.#text);
      if (!match) {
        const rest = this.#text.slice(at).trim();
        throw new ParseError(
          rest.startsWith(',') ? 'Use a point for decimals, not a comma.' : `“${rest}” is not a number.`,
        );
      }
      at = TOKEN.lastIndex;
      if (match[1] !== undefined) this.#tokens.push({ number: Number(match[1]) });
      else if (match[2] !== undefined) this.#tokens.push({ word: match[2] });
      else this.#tokens.push({ symbol: match[3] });
    }
  }

  #rest(): string {
    const token = this.#tokens[this.#next];
    return String(token.number ?? token.word ?? token.symbol);
  }

  #take(...symbols: string[]): string | null {
    const symbol = this.#tokens[this.#next]?.symbol;
    if (symbol === undefined || !symbols.includes(symbol)) return null;
    this.#next++;
    return symbol;
  }

  #sum(): number {
    let value = this.#product();
    for (let sign = this.#take('+', '-'); sign; sign = this.#take('+', '-')) {
      const right = this.#product();
      value = sign === '+' ? value + right : value - right;
    }
    return value;
  }

  #product(): number {
    let value = this.#signed();
    for (let sign = this.#take('*', '/'); sign; sign = this.#take('*', '/')) {
      const right = this.#signed();
      if (sign === '/' && right === 0) throw new ParseError('This divides by zero.');
      value = sign === '*' ? value * right : value / right;
    }
    return value;
  }

  #signed(): number {
    let sign = 1;
    for (let taken = this.#take('+', '-'); taken; taken = this.#take('+', '-')) if (taken === '-') sign = -sign;
    const base = this.#factor();
    return sign * (this.#take('^') ? Math.pow(base, this.#signed()) : base);
  }

  #factor(): number {
    const token = this.#tokens[this.#next];
    if (token === undefined) throw new ParseError('Something is missing at the end.');
    let value: number;
    if (token.number !== undefined) {
      this.#next++;
      value = token.number;
    } else if (this.#take('(')) {
      if (++this.#depth > 50) throw new ParseError('Too many brackets.');
      value = this.#sum();
      if (!this.#take(')')) throw new ParseError('A closing bracket is missing.');
      this.#depth--;
    } else {
      throw new ParseError(`“${this.#rest()}” is not a number.`);
    }
    const word = this.#tokens[this.#next]?.word;
    if (word === undefined) return value;
    const factor = Object.hasOwn(UNITS[this.#kind], word) ? UNITS[this.#kind][word] : undefined;
    if (factor === undefined) {
      throw new ParseError(`“${word}” is no unit here; use ${Object.keys(UNITS[this.#kind]).join(', ')}.`);
    }
    this.#next++;
    return value * factor;
  }
}

class ParseError extends Error {}
