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
  const longestFirst = [...names.keys()].sort((a, b) => b.length - a.length);
  const found: FoundName<T>[] = [];
  let rest = text.trim();
  let expression = '';
  let before: 'value' | 'number' | 'close' | 'function' | null = null; // what a value may not follow
  const endsValue = () => before === 'value' || before === 'number' || before === 'close';
  const missingSign = (what: string) => failure(`A sign such as * is missing before “${what}”.`);
  while (rest !== '') {
    const blank = /^\s+/.exec(rest);
    if (blank) {
      rest = rest.slice(blank[0].length);
      continue;
    }
    const name = longestFirst.find((one) => startsWithName(rest, one));
    if (name !== undefined) {
      if (endsValue()) return missingSign(rest.slice(0, name.length));
      rest = rest.slice(name.length);
      const choice = /^\s*\[([^\]]*)\]/.exec(rest);
      if (choice) rest = rest.slice(choice[0].length);
      else if (/^\s*\[/.test(rest)) return failure(`A “]” is missing behind ${name}.`);
      expression += ` s${found.length}`;
      found.push({ target: names.get(name)!, choice: choice ? choice[1].trim() : null });
      before = 'value';
      continue;
    }
    const number = NUMBER.exec(rest);
    if (number) {
      if (endsValue()) return missingSign(number[0]);
      rest = rest.slice(number[0].length);
      if (/^,\d/.test(rest)) return failure('Write decimals with a point.');
      expression += ` ${number[0]}`;
      before = 'number';
      continue;
    }
    const word = rest.startsWith('°') ? '°' : WORD.exec(rest)?.[0];
    if (word !== undefined) {
      rest = rest.slice(word.length);
      const unit = UNITS[word] ?? UNITS[word.toLowerCase()];
      if (unit !== undefined && endsValue()) {
        if (before === 'value') return failure(`“${word}” cannot follow here: this number has a unit already.`);
        // The unit belongs to the number before it, whatever signs stand around them.
        expression =
          before === 'number' ? expression.replace(/ (\S+)$/, ` ($1 ${unit})`) : `${expression} * (1 ${unit})`;
        before = 'value';
      } else if (endsValue()) return missingSign(word);
      else if (FUNCTIONS.includes(word.toLowerCase()) && /^\s*\(/.test(rest)) {
        expression += ` ${word.toLowerCase()}`;
        before = 'function';
      } else if (CONSTANTS.includes(word.toLowerCase())) {
        expression += ` ${word.toLowerCase()}`;
        before = 'value';
      } else return unknownWord(word, [...names.keys()]);
      continue;
    }
    const sign = rest[0];
    rest = rest.slice(1);
    if (sign === '(') {
      if (endsValue()) return missingSign('(');
      expression += '(';
      before = null;
    } else if (sign === ')') {
      expression += ')';
      before = 'close';
    } else if (sign === '%' && before === 'number') {
      expression = expression.replace(/ (\S+)$/, ' ($1 * 0.01)');
      before = 'value';
    } else if ('+-*/^,'.includes(sign)) {
      expression += ` ${sign}`;
      before = null;
    } else if (OPERATORS[sign] !== undefined) {
      expression += ` ${OPERATORS[sign]}`;
      before = OPERATORS[sign].startsWith('^') ? 'value' : null;
    } else return failure(`“${sign}” has no meaning here.`);
  }
  return success({ expression: expression.trim(), names: found });
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
  return failure('The result is no real number.');
}
