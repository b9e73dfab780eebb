import {
  AIR,
  compileScene,
  SAMPLING,
  type Project,
  type Sampling,
  type Scene,
  type SceneModel,
  type Source,
} from '@ulvex/core';

interface Choices extends Pick<Scene, 'parts'>, Partial<Pick<Scene, 'detectors'>>, Pick<Project, 'meshes'> {
  /** Where its one lamp of 1 W and 550 nm stands, and how it shines. */
  readonly lamp: Pick<Source, 'region' | 'law' | 'frame'>;
  readonly sampling: Partial<Sampling>;
}

/** A scene in air with one lamp, as the yardsticks trace it. */
export function yardstickModel({ parts, detectors = [], meshes, lamp, sampling }: Choices): SceneModel {
  const scene: Scene = {
    id: 'scene',
    name: 'Scene',
    medium: 'air',
    parts,
    sources: [{ id: 'lamp', flux: 1, unit: 'W', light: [{ nm: 550, weight: 1 }], ...lamp }],
    detectors,
    sampling: { ...SAMPLING, ...sampling },
  };
  const project: Project = {
    format: 'ulvex-project',
    version: 3,
    name: 'Yardstick',
    notes: '',
    lenses: [],
    materials: [AIR],
    requirements: [],
    ...(meshes && { meshes }),
    scenes: [scene],
  };
  return compileScene(project, scene, () => 'no lens');
}
