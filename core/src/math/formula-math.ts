// The parts of mathjs that formulas use; a module of its own, so that it is loaded when the first formula is read.
import {
  absDependencies,
  acosDependencies,
  addDependencies,
  asinDependencies,
  atanDependencies,
  cosDependencies,
  create,
  divideDependencies,
  eDependencies,
  expDependencies,
  log10Dependencies,
  logDependencies,
  maxDependencies,
  minDependencies,
  multiplyDependencies,
  parseDependencies,
  piDependencies,
  powDependencies,
  sinDependencies,
  sqrtDependencies,
  subtractDependencies,
  tanDependencies,
  unaryMinusDependencies,
  unaryPlusDependencies,
  unitDependencies,
} from 'mathjs';

export function mathOf() {
  return create(
    {
      absDependencies, acosDependencies, addDependencies, asinDependencies, atanDependencies, cosDependencies,
      divideDependencies, eDependencies, expDependencies, log10Dependencies, logDependencies, maxDependencies,
      minDependencies, multiplyDependencies, parseDependencies, piDependencies, powDependencies, sinDependencies,
      sqrtDependencies, subtractDependencies, tanDependencies, unaryMinusDependencies, unaryPlusDependencies,
      unitDependencies,
    },
    { predictable: false },
  ); // prettier-ignore
}
