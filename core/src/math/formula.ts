import type { ConstantNode, EvalFunction, MathNode, Unit } from 'mathjs';
import { failure, success, type Outcome } from './outcome.ts';

/** A number with its unit: one of ours (mm, µm, °, %), a product of lengths such as `mm²`, or empty for a pure number. */
export interface FormulaValue {
  readonly value: number;
  readonly unit: string;
}

/** A formula whose names were found: an expression in symbols `s0`, `s1` …, and what each of them stands for. */
export interface FormulaText<T> {
  readonly expression: string;
  readonly names: readonly FoundName<T>[];
}

export interface FoundName<T> {
  readonly target: T;
  /** What stood in square brackets behind the name; null where there was nothing. */
  readonly choice: string | null;
}

/** Unit words, in lower case but for those that differ by case, and what the evaluator calls them. */
const UNITS: Readonly<Record<string, string>> = {
  nm: 'nm',
  um: 'um',
  µm: 'um',
  μm: 'um',
  mm: 'mm',
  cm: 'cm',
  m: 'm',
  in: 'inch',
  inch: 'inch',
  ft: 'ft',
  deg: 'deg',
  '°': 'deg',
  rad: 'rad',
  mrad: 'mrad',
  arcmin: 'arcmin',
  arcsec: 'arcsec',
};
const FUNCTIONS = ['sqrt', 'abs', 'sin', 'cos', 'tan', 'asin', 'acos', 'atan', 'exp', 'log', 'log10', 'min', 'max'];
const CONSTANTS = ['pi', 'e'];
const OPERATORS: Readonly<Record<string, string>> = {
  '−': '-',
  '–': '-',
  '×': '*',
  '·': '*',
  '÷': '/',
  '²': '^2',
  '³': '^3',
};

/** Letters of a formula at most, typed or stored. */
export const LONGEST_FORMULA = 2000;
const WORD = /^[A-Za-zµμ_][\wµμ]*/;
const NUMBER = /^(\d+\.?\d*|\.\d+)([eE][+-]?\d+)?/;

/**
 * Finds names in a formula and puts symbols in their place, before any evaluator sees it: names may hold blanks, hyphens and dots. The
 * longest name wins; upper and lower case are the same. A number may be followed by a unit; any other product without a sign is refused,
 * and so is a word that means nothing, and a text of more than 2,000 letters.
 *
 * @param names - by name in lower case
 */
export function readFormula<T>(text: string, names: ReadonlyMap<string, T>): Outcome<FormulaText<T>> {
  if (text.length > LONGEST_FORMULA) return tooLong(text.length);
  const reader = new FormulaReader(text, names);
  for (;;) {
    const refused = reader.step();
    if (refused) return refused;
    if (reader.over) return success({ expression: reader.expression.trim(), names: reader.found });
  }
}

type Before = 'value' | 'number' | 'close' | 'function' | null;

/** Reads a formula piece by piece; each piece says with a failure what is wrong, and with null that it was taken. */
class FormulaReader<T> {
  readonly #names: ReadonlyMap<string, T>;
  readonly #longestFirst: readonly string[];
  readonly found: FoundName<T>[] = [];
  expression = '';
  #rest: string;
  /** What stands before: a value may not follow another. */
  #before: Before = null;

  constructor(text: string, names: ReadonlyMap<string, T>) {
    this.#names = names;
    this.#longestFirst = [...names.keys()].sort((a, b) => b.length - a.length);
    this.#rest = text.trim();
  }

  get over(): boolean {
    return this.#rest === '';
  }

  step(): Outcome<never> | null {
    this.#rest = this.#rest.trimStart();
    if (this.over) return null;
    const name = this.#longestFirst.find((one) => startsWithName(this.#rest, one));
    if (name !== undefined) return this.#name(name);
    const number = NUMBER.exec(this.#rest);
    if (number) return this.#number(number[0]);
    const word = this.#rest.startsWith('°') ? '°' : WORD.exec(this.#rest)?.[0];
    return word === undefined ? this.#sign(this.#rest[0]) : this.#word(word);
  }

  #skip(length: number): void {
    this.#rest = this.#rest.slice(length);
  }

  #add(text: string, before: Before): null {
    this.expression += text;
    this.#before = before;
    return null;
  }

  get #endsValue(): boolean {
    return this.#before === 'value' || this.#before === 'number' || this.#before === 'close';
  }

  #missingSign(what: string): Outcome<never> {
    return failure(`A sign such as * is missing before “${what}”.`);
  }

  #name(name: string): Outcome<never> | null {
    if (this.#endsValue) return this.#missingSign(this.#rest.slice(0, name.length));
    this.#skip(name.length);
    const choice = /^\s*\[([^\]]*)\]/.exec(this.#rest);
    if (choice) this.#skip(choice[0].length);
    else if (/^\s*\[/.test(this.#rest)) return failure(`A “]” is missing after ${name}.`);
    const symbol = ` s${this.found.length}`;
    this.found.push({ target: this.#names.get(name)!, choice: choice ? choice[1].trim() : null });
    return this.#add(symbol, 'value');
  }

  #number(number: string): Outcome<never> | null {
    if (this.#endsValue) return this.#missingSign(number);
    this.#skip(number.length);
    if (/^,\d/.test(this.#rest)) return failure('Write decimals with a point.');
    return this.#add(` ${number}`, 'number');
  }

  #word(word: string): Outcome<never> | null {
    this.#skip(word.length);
    const plain = word.toLowerCase();
    const unit = UNITS[word] ?? UNITS[plain];
    if (unit !== undefined && this.#endsValue) {
      if (this.#before === 'value') return failure(`“${word}” cannot follow here: this number has a unit already.`);
      // The unit belongs to the number before it, whatever signs stand around them.
      if (this.#before === 'close') return this.#add(` * (1 ${unit})`, 'value');
      this.expression = this.expression.replace(/ (\S+)$/, ` ($1 ${unit})`);
      return this.#add('', 'value');
    }
    if (this.#endsValue) return this.#missingSign(word);
    if (FUNCTIONS.includes(plain) && /^\s*\(/.test(this.#rest)) return this.#add(` ${plain}`, 'function');
    return CONSTANTS.includes(plain) ? this.#add(` ${plain}`, 'value') : unknownWord(word, [...this.#names.keys()]);
  }

  #sign(sign: string): Outcome<never> | null {
    this.#skip(1);
    if (sign === '(') return this.#endsValue ? this.#missingSign('(') : this.#add('(', null);
    if (sign === ')') return this.#add(')', 'close');
    if (sign === '%' && this.#before === 'number') {
      this.expression = this.expression.replace(/ (\S+)$/, ' ($1 * 0.01)');
      return this.#add('', 'value');
    }
    if ('+-*/^,'.includes(sign)) return this.#add(` ${sign}`, null);
    const operator = OPERATORS[sign];
    if (operator === undefined) return failure(`“${sign}” has no meaning here.`);
    return this.#add(` ${operator}`, operator.startsWith('^') ? 'value' : null);
  }
}

/** The refusal of a formula over the limit. */
export function tooLong(letters: number): Outcome<never> {
  return failure(`The formula has ${letters} letters; ${LONGEST_FORMULA} are the most.`);
}

function startsWithName(text: string, name: string): boolean {
  if (text.slice(0, name.length).toLowerCase() !== name) return false;
  return !/[\w.]/.test(text[name.length] ?? '') || !/\w$/.test(name);
}

function unknownWord(word: string, names: readonly string[]): Outcome<never> {
  const near = names.filter((name) => name.includes(word.toLowerCase())).slice(0, 3);
  const hint = near.length > 0 ? ` Did you mean ${near.map((name) => `“${name}”`).join(' or ')}?` : '';
  return failure(`“${word}” is no measure, parameter, unit or function.${hint}`);
}

/** Evaluates expressions of `readFormula`. */
export type FormulaEvaluator = (expression: string, values: readonly FormulaValue[]) => Outcome<FormulaValue>;

let loading: Promise<FormulaEvaluator> | undefined;

/** The evaluator, loaded when it is first needed: it takes about a second. */
export function formulaEvaluator(): Promise<FormulaEvaluator> {
  loading ??= import('./formula-math.ts').then(({ mathOf }) => evaluatorOf(mathOf()));
  return loading;
}

type Math = ReturnType<(typeof import('./formula-math.ts'))['mathOf']>;

type Parsed = { readonly constant: number } | EvalFunction;

/** Expressions that are kept as they were parsed: links are evaluated again with every change. */
const KNOWN = 500;

function evaluatorOf(math: Math): FormulaEvaluator {
  const asUnit = (value: number, unit: string): number | Unit =>
    unit === '' ? value : unit === '%' ? value / 100 : math.unit(value, UNITS[unit] ?? unit);
  const known = new Map<string, Parsed | null>();
  const parsed = (expression: string): Parsed | null => {
    let found = known.get(expression);
    if (found === undefined) {
      try {
        const node: MathNode = math.parse(expression);
        const constant = (node as ConstantNode).type === 'ConstantNode';
        found = constant ? { constant: Number((node as ConstantNode).value) } : node.compile();
      } catch {
        found = null;
      }
      if (known.size >= KNOWN) known.clear();
      known.set(expression, found);
    }
    return found;
  };
  return (expression, values) => {
    if (expression === '') return failure('Type a measure, a parameter or a calculation.');
    if (expression === 's0' && values.length === 1) return success(values[0]); // as it was found, to the last digit
    const formula = parsed(expression);
    if (!formula) return failure('The calculation is not complete, or a parenthesis is missing.');
    try {
      const scope = Object.fromEntries(values.map(({ value, unit }, i) => [`s${i}`, asUnit(value, unit)]));
      return asValue(math, 'constant' in formula ? formula.constant : (formula.evaluate(scope) as unknown));
    } catch (error) {
      const { message } = error as Error;
      if (/units do not match|function (add|subtract|max|min|compare\w*|larger\w*|smaller\w*)/i.test(message))
        return failure('Lengths, angles and pure numbers are added or compared here, which cannot be.');
      if (/unexpected type|unit in function|too (few|many) arguments|does not match|no unit|dimension/i.test(message))
        return failure('A function or power here does not take numbers with this unit.');
      return failure(`This cannot be calculated: ${message}`);
    }
  };
}

/** Units in which results are told, the first that fits. */
const RESULTS: readonly (readonly [base: string, told: string])[] = [
  ['mm', 'mm'],
  ['deg', '°'],
  ['mm^2', 'mm²'],
  ['mm^3', 'mm³'],
  ['mm^-1', '1/mm'],
  ['mm^-2', '1/mm²'],
  ['deg mm^-1', '°/mm'],
  ['mm deg^-1', 'mm/°'],
];

function asValue(math: Math, result: unknown): Outcome<FormulaValue> {
  if (typeof result === 'number')
    return Number.isFinite(result)
      ? success({ value: result, unit: '' })
      : failure('The result is not a finite number.');
  if (typeof result === 'object' && result !== null && (result as { readonly type?: string }).type === 'Unit') {
    const unit = result as Unit;
    for (const [base, told] of RESULTS) {
      if (!unit.equalBase(math.unit(1, base))) continue;
      const value = unit.toNumber(base);
      return Number.isFinite(value) ? success({ value, unit: told }) : failure('The result is not a finite number.');
    }
    return failure(`The result has the unit of ${unit.formatUnits()}, which has no meaning here.`);
  }
  return failure('The result is not a real number.');
}
