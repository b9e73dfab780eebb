import { EMPTY_HISTORY, readProject, type Project } from '@ulvex/core';
import { lastOpen, listProjects, recallProject } from '../keeping/store.ts';
import type { Desk } from './desk.svelte.ts';

/** The samples that come with Ulvex, by the name in the project list; read when first wanted. */
export const SAMPLES = [
  {
    id: 'tide-camera',
    title: 'Tide camera',
    about: 'Four elements, f 36 mm, F/3.5, ±16°: the lens that watches the tide staff.',
    load: () => import('@ulvex/samples/tide-camera.ulvex.json'),
  },
  {
    id: 'ice-glass',
    title: 'Ice glass',
    about: 'Two mirrors, f 1600 mm, F/8, a third of the pupil dark: the telescope for the far buoy.',
    load: () => import('@ulvex/samples/ice-glass.ulvex.json'),
  },
  {
    id: 'sector-lantern',
    title: 'Sector lantern',
    about: 'Three LEDs behind one collimator and a hood: a fan of red, white and green over the water.',
    load: () => import('@ulvex/samples/sector-lantern.ulvex.json'),
  },
  {
    id: 'sun-in-the-lens',
    title: 'Sun in the lens',
    about: 'The tide camera in its housing with window and hood, and the low sun 24° off its axis.',
    load: () => import('@ulvex/samples/sun-in-the-lens.ulvex.json'),
  },
  {
    id: 'signal-lamp',
    title: 'Signal lamp',
    about: 'An LED in an elliptical mirror that stands crooked: two tilts and a distance to be improved.',
    load: () => import('@ulvex/samples/signal-lamp.ulvex.json'),
  },
  {
    id: 'four-element-way',
    title: 'Four elements, the way there',
    about: 'From a rough guess to a lens better than the tide camera’s, each step in the history (F9).',
    load: () => import('@ulvex/samples/four-element-way.json'),
  },
] as const;

/** A project with nothing but a stop, a gap and an image surface. */
export function blankProject(name: string): Project {
  const plane = { kind: 'plane' } as const;
  const automatic = { kind: 'automatic' } as const;
  const air = {
    id: 'air',
    label: 'air',
    family: 'gas',
    dispersion: { kind: 'constant', index: 1 },
    range: [100, 20000],
  } as const;
  return {
    format: 'ulvex-project',
    version: 2,
    name,
    notes: '',
    lenses: [
      {
        id: 'lens',
        name,
        object: { distance: 'infinity' },
        aperture: { kind: 'entrance_pupil_diameter', value: 10 },
        pupil: { aim: 'paraxial', obscuration: 0 },
        fields: { kind: 'angle', points: [{ id: 'axis', x: 0, y: 0, weight: 1 }] },
        wavelengths: [
          { id: 'f_line', nm: 486.1327, weight: 1 },
          { id: 'd_line', nm: 587.5618, weight: 1 },
          { id: 'c_line', nm: 656.2725, weight: 1 },
        ],
        primary: 'd_line',
        stop: 'stop',
        surfaces: [
          { id: 'stop', shape: plane, aperture: automatic, after: { thickness: 50, material: 'air' } },
          { id: 'image', shape: plane, aperture: automatic, after: null },
        ],
      },
    ],
    materials: [air],
    requirements: [],
  };
}

/** Opens a sample as a new project of the user's own, with its history where it comes with one. */
export async function openSample(desk: Desk, id: string): Promise<void> {
  const sample = SAMPLES.find((entry) => entry.id === id);
  if (!sample) throw new Error(`There is no sample ${id}`);
  const json: unknown = (await sample.load()).default;
  const read = readProject(json);
  if (read.ok) {
    desk.open({ project: read.project, history: EMPTY_HISTORY });
    return;
  }
  const kept = await desk.pool.run('backup', JSON.stringify(json)).result;
  const [first] = kept.ok ? kept.value.projects : [];
  if (!first) throw new Error(`The sample ${id} is broken: ${JSON.stringify(read.problems)}`);
  desk.open(first.tracked);
}

/** Opens a project of the list. Says so when it cannot be read. */
export async function openKept(desk: Desk, id: string): Promise<boolean> {
  const recalled = await recallProject(id);
  if (!recalled) {
    desk.notice = { tone: 'refused', title: 'This project cannot be read from the browser’s store.' };
    return false;
  }
  desk.open(recalled.tracked, recalled.keep, recalled.savedAt);
  return true;
}

/** What is on the desk when the window opens: the project of last time, else the newest one, else the tide camera. */
export async function openFirst(desk: Desk): Promise<void> {
  try {
    const last = await lastOpen();
    if (last && (await openKept(desk, last))) return;
    for (const { id } of await listProjects()) if (await openKept(desk, id)) return;
  } catch (error) {
    desk.keeper.failed(error);
  }
  await openSample(desk, SAMPLES[0].id);
}
