import type { MeshRecord } from '../bodies/mesh-record.ts';
import type { Finish } from '../finishes/finish.ts';
import { AIR, type Material } from '../materials/material.ts';
import type { Project } from './model.ts';
import { SAMPLING, type Detector, type Part, type Scene, type Source } from './scene.ts';

/** A clear medium of one index, absorbing as asked. */
export function glassOf(index: number, absorption = 0): Material {
  return {
    id: 'glass',
    label: 'glass',
    family: 'test glass',
    dispersion: { kind: 'constant', index },
    range: [100, 20000],
    ...(absorption > 0 && {
      transmittance: {
        thickness: 1,
        nm: [100, 20000],
        share: [Math.exp(-absorption), Math.exp(-absorption)],
      },
    }),
  };
}

/** A project with nothing but a scene. */
export function sceneProject(
  given: Partial<Omit<Scene, 'sampling'>> & {
    readonly sampling?: Partial<Scene['sampling']>;
    readonly finishes?: readonly Finish[];
    readonly materials?: readonly Material[];
    readonly meshes?: readonly MeshRecord[];
  },
): Project {
  const { finishes = [], materials = [glassOf(1.5)], meshes = [], sampling, ...rest } = given;
  return {
    format: 'ulvex-project',
    version: 3,
    name: 'Test',
    notes: '',
    lenses: [],
    materials: [AIR, ...materials],
    requirements: [],
    finishes,
    meshes,
    scenes: [
      {
        id: 'scene',
        name: 'Scene',
        medium: 'air',
        parts: [],
        sources: [],
        detectors: [],
        ...rest,
        sampling: { ...SAMPLING, ...sampling },
      },
    ],
  };
}

export function source(more: Partial<Source> = {}): Source {
  return {
    id: 'lamp',
    flux: 1,
    unit: 'W',
    light: [{ nm: 555, weight: 1 }],
    region: { kind: 'point' },
    law: { kind: 'parallel', half: 0 },
    ...more,
  };
}

export function detector(on: Detector['on'], more: Partial<Detector> = {}): Detector {
  return { id: 'meter', on, columns: 10, rows: 10, counts: 'incident', light: 'radiometric', ...more };
}

export function part(id: string, body: Part['body'], more: Partial<Part> = {}): Part {
  return { id, body, ...more };
}
