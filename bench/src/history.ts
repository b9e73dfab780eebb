// What a long history costs: thousands of edits of the tide camera, with and without numbers that follow.
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import {
  applyEdits,
  commit,
  EMPTY_HISTORY,
  findParameter,
  readProjectText,
  setParameter,
  undo,
  type Project,
  type Tracked,
} from '@ulvex/core';
import { formulaEvaluator, settle } from '@ulvex/core/relations';

const EDITS = 5000;
const TURNED = ['l1_front.radius', 'l1_back.thickness', 'l2_front.radius', 'l3_front.radius', 'l4_back.radius'];

/** Times of the edits, ms, the later half of them, and what the history weighs as text. */
interface HistoryCost {
  readonly median: number;
  readonly worst: number;
  readonly undo: number;
  readonly megabytes: number;
}

function turned(project: Project, step: number) {
  const address = `lenses.tide.surfaces.${TURNED[step % TURNED.length]}`;
  const parameter = findParameter(project, address);
  if (!parameter.ok) throw new Error(parameter.reason);
  const edit = setParameter(parameter.value, parameter.value.value * (1 + 1e-4 * Math.sin(step)));
  if (!edit.ok) throw new Error(edit.reason);
  return edit.value;
}

function cost(start: Project, evaluate: Awaited<ReturnType<typeof formulaEvaluator>>): HistoryCost {
  let tracked: Tracked = { project: start, history: EMPTY_HISTORY };
  const times: number[] = [];
  for (let step = 0; step < EDITS; step++) {
    const edit = turned(tracked.project, step);
    const began = performance.now();
    const { edits } = settle(applyEdits(tracked.project, [edit]).project, evaluate);
    tracked = commit(tracked, [edit, ...edits], 'Radius of L1 front', 1.7e12 + step);
    times.push(performance.now() - began);
  }
  const later = times.slice(EDITS / 2).sort((a, b) => a - b);
  const began = performance.now();
  let back = tracked;
  for (let k = 0; k < 100; k++) back = undo(back);
  return {
    median: later[later.length >> 1],
    worst: later[Math.floor(0.999 * later.length)],
    undo: (performance.now() - began) / 100,
    megabytes: JSON.stringify(tracked).length / 2 ** 20,
  };
}

/** Prints what a history of 5,000 edits costs an edit, and what it weighs. */
export async function benchHistory(root: string): Promise<void> {
  const read = readProjectText(readFileSync(join(root, 'samples/tide-camera.ulvex.json'), 'utf8'));
  if (!read.ok) throw new Error('the sample cannot be read');
  const evaluate = await formulaEvaluator();
  const following: Project = {
    ...read.project,
    parameters: {
      'lenses.tide.surfaces.l2_back.radius': {
        kind: 'linked',
        formula: '-0.53 * lenses.tide.surfaces.l2_front.radius',
      },
      'lenses.tide.surfaces.l4_back.thickness': {
        kind: 'derived',
        measure: 'paraxial_ray',
        of: 'tide',
        settings: { surface: 'sensor' },
        equals: '0 mm',
      },
    },
  };
  for (const [title, project] of [
    ['plain edits', read.project],
    ['with a link and a condition', following],
  ] as const) {
    const { median, worst, undo: back, megabytes } = cost(project, evaluate);
    console.log(
      `${EDITS} edits, ${title}: an edit ${median.toFixed(3)} ms (99.9 % within ${worst.toFixed(3)}), undo ` +
        `${back.toFixed(3)} ms, stored ${megabytes.toFixed(2)} MB`,
    );
  }
}
