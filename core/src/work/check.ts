import { lensFindings } from '../imaging/evaluation/findings.ts';
import { Evaluation } from '../imaging/evaluation/evaluation.ts';
import { evaluateMeasure, findMeasure } from '../measures/registry.ts';
import { requirementStates, standing, worstAnswer, type Verdict } from '../measures/requirement.ts';
import type { Project, Requirement } from '../project/model.ts';
import type { Finding } from '../sequence/lens-model.ts';

/** What a look at a whole project finds. */
export interface ProjectCheck {
  readonly name: string;
  /** Whether nothing is in error and no requirement is missed. */
  readonly good: boolean;
  readonly findings: readonly (Finding & { readonly lens?: string; readonly scene?: string })[];
  readonly requirements: readonly RequirementCheck[];
}

/** How a requirement stands, in the state where it stands worst; one whose measure has no value is missed. */
export interface RequirementCheck {
  readonly id: string;
  readonly title: string;
  /** Id of that state; left out where the requirement is of the state at hand. */
  readonly state?: string | undefined;
  readonly verdict: Verdict;
  readonly value?: number;
  /** Distance to the nearest limit, in the measure's unit; negative where it is missed. */
  readonly margin?: number;
  /** Why there is no value. */
  readonly failure?: string;
}

/**
 * Looks at all lenses, scenes and requirements, one a step.
 *
 * @param caution - what is doubtful about the whole project, if anything is
 */
export function* checkProject(project: Project, caution: string | null = null): Generator<void, ProjectCheck, void> {
  const evaluation = new Evaluation(project);
  const findings: ProjectCheck['findings'][number][] = caution === null ? [] : [{ severity: 'warning', text: caution }];
  for (const { id } of project.lenses) {
    const lens = evaluation.lens(id);
    if (lens.ok) findings.push(...lensFindings(lens.value).map((finding) => ({ lens: id, ...finding })));
    else findings.push({ lens: id, severity: 'error', text: lens.reason });
    yield;
  }
  for (const { id } of project.scenes ?? []) {
    const scene = evaluation.scene(id);
    if (scene.ok) findings.push(...scene.value.model.findings.map((finding) => ({ scene: id, ...finding })));
    yield;
  }
  const requirements: RequirementCheck[] = [];
  for (const requirement of project.requirements) {
    requirements.push(checkRequirement(evaluation, requirement));
    yield;
  }
  const good =
    findings.every(({ severity }) => severity !== 'error') && requirements.every(({ verdict }) => verdict !== 'missed');
  return { name: project.name, good, findings, requirements };
}

function checkRequirement(evaluation: Evaluation, requirement: Requirement): RequirementCheck {
  const { id, measure, label } = requirement;
  const states = requirementStates(evaluation.project, requirement);
  const answers = states.map((state) => evaluateMeasure(evaluation, { ...requirement, state }));
  const worst = worstAnswer(requirement, answers) ?? 0;
  const outcome = answers[worst];
  const about = {
    id,
    title: label ?? findMeasure(measure)?.title ?? measure,
    ...(requirement.state !== undefined && { state: states[worst] }),
  };
  if (!outcome.ok) return { ...about, verdict: 'missed', failure: outcome.reason };
  const { value } = outcome.value;
  const { verdict, margin } = standing(value, requirement);
  return { ...about, verdict, value, margin };
}
