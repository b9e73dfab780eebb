import { failure, success, type Outcome } from '../math/outcome.ts';
import { parseQuantity } from '../math/quantity.ts';
import { applyEdits } from './edit.ts';
import type { Project } from './model.ts';
import { findParameter, setParameter } from './parameters.ts';

/**
 * A project with one parameter set from outside: a number in the parameter's unit, or a text as it may be typed into its cell, with a
 * unit or arithmetic (`1in`, `*1.02`, `infinity`). Fails with a sentence that names the address.
 */
export function setByText(project: Project, address: string, given: string | number): Outcome<Project> {
  const parameter = findParameter(project, address);
  if (!parameter.ok) return parameter;
  const { spec, value: current } = parameter.value;
  const value =
    typeof given === 'number'
      ? success(given)
      : parseQuantity(given, { kind: spec.kind, current, allowInfinity: spec.allowInfinity ?? false });
  if (!value.ok) return failure(`${address}: ${value.reason}`);
  const edit = setParameter(parameter.value, value.value);
  if (!edit.ok) return failure(`${address}: ${edit.reason}`);
  return success(applyEdits(project, [edit.value]).project);
}
