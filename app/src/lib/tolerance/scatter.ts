import type { Project } from '@ulvex/core';
import {
  compensatorTitle,
  compensatorUnit,
  LotDraws,
  toleranceTitle,
  toleranceUnit,
  type LotTrial,
} from '@ulvex/core/tolerance';
import type { RoomStudy } from './study-of.ts';

/** Something of a trial that another thing of it can be drawn against. */
export interface Against {
  readonly id: string;
  readonly group: 'Requirements' | 'Tolerances' | 'Set after making';
  readonly title: string;
  readonly unit: string;
  /** Its value in each trial of a list; null where it has none. */
  readonly of: (trials: readonly LotTrial[]) => readonly (number | null)[];
}

/** All that trials of a study have: values of requirements, departures, and how far what is set after making moved. */
export function againstChoices(study: RoomStudy, seed: number): Against[] {
  const { project, watched, tolerances, compensators } = study;
  return [
    ...watched.map(({ id, title, unit }, k): Against => ({
      id: `watched ${id}`,
      group: 'Requirements',
      title,
      unit,
      of: (trials) => trials.map(({ values }) => values[k] ?? null),
    })),
    ...compensators.map((one, k): Against => ({
      id: `set ${one.id}`,
      group: 'Set after making',
      title: compensatorTitle(project, one),
      unit: compensatorUnit(project, one),
      of: (trials) => trials.map(({ moved }) => moved[k] ?? null),
    })),
    ...tolerances.map((one, k): Against => ({
      id: `tolerance ${one.id}`,
      group: 'Tolerances',
      title: toleranceTitle(project, one),
      unit: unitOf(project, one),
      of(trials) {
        const draws = LotDraws.of(tolerances, seed);
        return trials.map(({ trial }) => (draws.ok ? draws.value.of(trial)[k].by : null));
      },
    })),
  ];
}

function unitOf(project: Project, one: RoomStudy['tolerances'][number]): string {
  const unit = toleranceUnit(project, one);
  return unit.ok ? unit.value : '';
}

/** A trial as a point. */
export interface TrialPoint {
  readonly trial: number;
  readonly x: number;
  readonly y: number;
  readonly passes: boolean;
}

/** The coefficient of correlation of points, −1 to 1; null for fewer than three or without a spread. */
export function correlation(points: readonly TrialPoint[]): number | null {
  if (points.length < 3) return null;
  const mean = (pick: (point: TrialPoint) => number) =>
    points.reduce((sum, point) => sum + pick(point), 0) / points.length;
  const [mx, my] = [mean(({ x }) => x), mean(({ y }) => y)];
  let [xx, xy, yy] = [0, 0, 0];
  for (const { x, y } of points) {
    xx += (x - mx) ** 2;
    xy += (x - mx) * (y - my);
    yy += (y - my) ** 2;
  }
  return xx > 0 && yy > 0 ? xy / Math.sqrt(xx * yy) : null;
}
