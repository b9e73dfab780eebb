import { EMPTY_HISTORY, readProject, type Project } from '@ulvex/core';
import { putIn, withLeft } from '../keeping/journal.ts';
import { asCopy } from '../keeping/project-keeper.ts';
import { newKeep, projectStore, type Unreadable } from '../keeping/store.ts';
import { halfLeft, LEFT_STORE, roomLeft, type LayoutHalf, type Room } from './left.ts';
import { ui } from './ui.svelte.ts';
import type { Desk } from './desk.svelte.ts';
import { download } from '../download.ts';
import { claimFor, journal } from './keeper.svelte.ts';

/** Where an opened project is first looked at: the half of the Layout in which it has something. */
function homeOf(desk: Desk): LayoutHalf {
  return !desk.lens && desk.base.scenes?.length ? '/layout/scene' : '/layout';
}

/** The half of the Layout that a project is looked at in: that of last time, if it has something there. */
export function halfOf(desk: Desk): LayoutHalf {
  const half = halfLeft(LEFT_STORE, desk.projectId);
  return half === '/layout/scene' && desk.base.scenes?.length ? half : homeOf(desk);
}

/** Where a project goes on: the room that it was left in. */
export function placeOf(desk: Desk): Room {
  const room = roomLeft(LEFT_STORE, desk.projectId);
  return room === null || room.startsWith('/layout') ? halfOf(desk) : room;
}

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
    about: 'An LED in a tilted elliptical mirror: two tilts and a distance to improve.',
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
    version: 3,
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

/**
 * Opens a project of the list, with what a window had done that was closed before the store had it. Says so when a
 * newer version or all of it cannot be read, and offers what there is as a file.
 *
 * @param asked - whether the user asked for it: then it is said when it cannot be opened
 * @param withoutRelations - see `Desk.open`
 */
export async function openKept(desk: Desk, id: string, asked = true, withoutRelations = false): Promise<boolean> {
  const again = id === desk.projectId;
  if (again) await desk.keeper.leave(); // lets go of the claim
  // First the claim: what a window left counts when no window has the project any more.
  const claim = await claimFor(id);
  const recalled = await projectStore.recall(id).catch((error: unknown) => {
    claim?.release();
    if (again) desk.keeper.stay();
    throw error;
  });
  const pages = claim ? journal.pages(id) : [];
  const { tracked, put, copies, misfits } = putIn(recalled, pages);
  for (const [key, whole] of copies) {
    // A store that refuses leaves the page where it is, for the next start.
    const copied = await projectStore.keep(newKeep(), asCopy(whole)).catch(() => null);
    if (copied !== null) journal.drop(key);
  }
  if (!tracked) {
    claim?.release();
    if (again) desk.keeper.stay();
    if (asked)
      sayUnreadable(desk, 'This project cannot be read from the browser’s store.', await projectStore.unreadable(id));
    return false;
  }
  noteOpening(id);
  desk.open(
    tracked,
    {
      keep: recalled?.keep ?? { id, sequence: 0 },
      savedAt: recalled?.savedAt ?? 0,
      entries: recalled?.tracked.history.entries.length ?? 0,
      claim,
      pages: put,
    },
    withoutRelations,
  );
  if (ui.stuck === id) ui.stuck = null;
  if (recalled && recalled.unreadable.length > 0)
    sayUnreadable(
      desk,
      `The version of “${tracked.project.name}” that was kept last cannot be read. The one before it is open.`,
      recalled.unreadable,
    );
  else if (misfits.length > 0)
    sayUnreadable(
      desk,
      'The last changes before a window was closed do not fit the stored project.',
      misfits.map(([, left]) => ({
        text: JSON.stringify(left),
        savedAt: left.at,
        reason: 'another window continued from the same state',
      })),
      () => journal.drop(...misfits.map(([key]) => key)),
    );
  ui.draft = pages.findLast(([, { draft }]) => draft)?.[1].draft ?? null;
  return true;
}

/** Says that something in the store does not read, why, and offers its text as a file: somebody may be able to mend it. */
function sayUnreadable(desk: Desk, title: string, found: readonly Unreadable[], written = () => {}): void {
  const [first] = found;
  desk.notice = {
    tone: 'refused',
    title,
    ...(first && {
      lines: [first.reason],
      action: {
        label: 'Write its text to a file',
        run: () => {
          download('unreadable-project.txt', first.text, 'text/plain');
          written();
        },
      },
    }),
  };
}

/** Projects that were begun and left before the store had any of them come into it now. */
async function adoptLeft(): Promise<void> {
  for (const [, left] of journal.pages()) {
    if (!left.whole || (await projectStore.recall(left.id))) continue;
    const claim = await claimFor(left.id);
    const tracked = claim && withLeft(null, left);
    if (tracked) await projectStore.keep({ id: left.id, sequence: 0 }, tracked);
    claim?.release();
  }
}

/** Where it stands that a project is being opened: one that never comes up must not be opened by itself again. */
const STARTING = 'ulvex/starting';
/** From when on a start that has not settled counts as one that does not, ms. */
const HOPELESS = 10_000;

/** When the project that is on the desk was begun to be opened; null once it has come up. */
let opening: number | null = null;

/** Notes that a project is being opened until it has come up. */
function noteOpening(id: string): void {
  opening = performance.now();
  try {
    localStorage.setItem(STARTING, id);
  } catch {
    // without it the next start tries again
  }
}

/** The project on the desk has come up. */
export function cameUp(): void {
  if (opening === null) return;
  opening = null;
  try {
    localStorage.removeItem(STARTING);
  } catch {
    // nothing was noted either
  }
}

/** The window is left: that a project was not up yet then says nothing about it, unless it had its time. */
export function leftWhileOpening(): void {
  if (opening !== null && performance.now() - opening < HOPELESS) cameUp();
}

/** The project that the last start did not get up; null when it did. */
function hopeless(): string | null {
  try {
    return localStorage.getItem(STARTING);
  } catch {
    return null;
  }
}

/**
 * What is on the desk when the window opens: the project of last time, else the newest one, else the tide camera. One
 * that the last start did not get up is not opened by itself: then nothing is, and false says that the list is to be
 * shown.
 */
export async function openFirst(desk: Desk): Promise<boolean> {
  const stuck = hopeless();
  try {
    await adoptLeft();
    const last = await projectStore.lastOpen();
    if (stuck !== null && (stuck === last || last === null)) {
      desk.notice = {
        tone: 'refused',
        title:
          'The project of your last visit did not open. It is still in the list: open it without its relations, or open another one.',
      };
      ui.stuck = stuck;
      return false;
    }
    for (const id of [...(last === null ? [] : [last]), ...(await projectStore.list()).map((card) => card.id)]) {
      if (await openKept(desk, id, id === last)) return true;
    }
  } catch (error) {
    desk.keeper.failed(error);
  }
  await openSample(desk, SAMPLES[0].id);
  return true;
}
