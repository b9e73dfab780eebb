import { askNames, type NamedNumber } from '../ask/ask.ts';
import { LONGEST_FORMULA, readFormula, tooLong, type FormulaText } from '../math/formula.ts';
import { failure, success, type Outcome } from '../math/outcome.ts';
import { findMeasure } from '../measures/registry.ts';
import type { Project } from '../project/model.ts';
import { findParameter } from '../project/parameters.ts';
import { splitStateAddress } from '../project/states.ts';

/** A word with points in it, as addresses are; or an id of a measure. */
const NAME = /[a-z][a-z0-9_]*(?:\.[a-z0-9_]+)*/g;

/** A formula of a relation, its names found. */
export interface RelationFormula extends FormulaText<NamedNumber> {
  /** Addresses of the parameters that it names. */
  readonly addresses: readonly string[];
}

/**
 * Reads a formula as the document holds it: parameters by their whole address, measures by their id. Fails with a sentence that names
 * what is not there.
 */
export function readRelationFormula(project: Project, text: string): Outcome<RelationFormula> {
  if (text.length > LONGEST_FORMULA) return tooLong(text.length);
  const names = new Map<string, NamedNumber>();
  const addresses: string[] = [];
  for (const [word] of text.toLowerCase().matchAll(NAME)) {
    if (names.has(word)) continue;
    const measure = findMeasure(word);
    if (measure) names.set(word, { kind: 'measure', measure });
    else if (word.includes('.')) {
      if (splitStateAddress(word))
        return failure(
          `${word} is a number of one state. Name it as in the design: in each state it counts as it is there.`,
        );
      const parameter = findParameter(project, word);
      if (!parameter.ok) return parameter;
      names.set(word, { kind: 'parameter', parameter: parameter.value });
      addresses.push(word);
    }
  }
  const read = readFormula(text, names);
  return read.ok ? success({ ...read.value, addresses }) : read;
}

/**
 * A formula as it was typed made fit for the document: names that people use (`l1_front.radius`, `Effective focal length`) become whole
 * addresses and ids. Fails with a sentence for what has no meaning.
 *
 * @param lens - id of the lens within which short names count
 * @param measures - whether measures may be named, or parameters alone
 */
export function storedFormula(project: Project, lens: string, text: string, measures: boolean): Outcome<string> {
  const read = readFormula(text, askNames(project, lens));
  if (!read.ok) return read;
  const { expression, names } = read.value;
  const named = names.find(({ target }) => target.kind === 'measure');
  if (!measures && named?.target.kind === 'measure')
    return failure(
      `${named.target.measure.title} is a measure: a link follows from parameters alone. Derive the number from a condition instead.`,
    );
  if (expression === '') return failure('Type a formula, such as −1 * l1_front.radius.');
  const spelt = expression.replace(/\bs(\d+)\b/g, (_, index: string) => {
    const { target, choice } = names[Number(index)];
    const name = target.kind === 'measure' ? target.measure.id : target.parameter.address;
    return choice === null ? name : `${name}[${choice}]`;
  });
  const stored = spelt.replace(/\s+/g, ' ').trim();
  return stored.length > LONGEST_FORMULA ? tooLong(stored.length) : success(stored);
}
