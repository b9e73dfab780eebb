import {
  addBody,
  addDetector,
  addLens,
  addScene,
  addSource,
  BODIES,
  EMPTY_HISTORY,
  glassAirSurfaces,
  insertElement,
  insertSurface,
  MEASURES,
  OPERATION_TITLES,
  removeSurface,
  sceneOnly,
  setSurfaceFinish,
  SHELF_FINISHES,
  surfaceTitle,
  type Project,
} from '@ulvex/core';
import { goto } from '$app/navigation';
import type { Desk } from '../desk/desk.svelte.ts';
import { exportProject } from '../desk/files.ts';
import { blankProject } from '../desk/opening.ts';
import { addRequirement } from '../desk/requirement-edits.ts';
import { FIRST_OPERATION } from '../operations/first.ts';
import { KEYMAP, type Shortcut } from '../keymap.ts';
import { addTile, boardOf } from '../study/board-edits.ts';
import { theme } from '../theme.svelte.ts';
import type { TileKind } from '../tiles/registry.ts';
import { ui } from '../desk/ui.svelte.ts';

/** Something that can be done or gone to by name. */
export interface Command {
  readonly title: string;
  readonly kind: 'command' | 'place';
  readonly shortcut?: Shortcut;
  run(): void;
}

/** What can be done by a shortcut anywhere, and by name. */
export function shortcutCommands(desk: Desk): readonly (Command & { readonly shortcut: Shortcut })[] {
  const command = (title: string, shortcut: Shortcut, run: () => void) =>
    ({ title, kind: 'command', shortcut, run }) as const;
  return [
    command('Undo', KEYMAP.undo, () => desk.undo()),
    command('Redo', KEYMAP.redo, () => desk.redo()),
    command('Write the project to a file', KEYMAP.save, () => exportProject(desk)),
    command('Open a project file', KEYMAP.open, () => ui.pickFile()),
    command('Refocus about the centroid', KEYMAP.refocus, () => void desk.refocus()),
    command(
      'Shape, aperture and place of the surface',
      KEYMAP.surfacePanel,
      () => (ui.surfacePanel = !ui.surfacePanel),
    ),
    command('Operations on the lens', KEYMAP.operations, () => {
      ui.operating = ui.operating === null ? FIRST_OPERATION : null;
      if (ui.operating !== null) void goto('/layout');
    }),
    command('States: focus, zoom, temperature', KEYMAP.states, () => (ui.statesOpen = !ui.statesOpen)),
    command('History', KEYMAP.history, () => (ui.historyOpen = !ui.historyOpen)),
    command('Ask', KEYMAP.ask, () => (ui.asking = true)),
    command('Keys: all shortcuts', KEYMAP.keys, () => (ui.keysOpen = !ui.keysOpen)),
  ];
}

/** Everything that can be done by name to what lies on the desk now; tiles come with their components, when they are first asked for. */
export function allCommands(desk: Desk, tiles: readonly TileKind[]): readonly Command[] {
  const lens = desk.lensIn(desk.project);
  const command = (title: string, run: () => void): Command => ({ title, kind: 'command', run });
  const place = (title: string, run: () => void): Command => ({ title, kind: 'place', run });
  const target = desk.selected ?? lens?.surfaces.at(-2)?.id;
  const onSurface: Command[] =
    lens && target
      ? [
          command('Insert a surface below the selected one', () => void desk.perform(insertSurface(lens, target))),
          command(
            'Insert an element below the selected surface',
            () => void desk.perform(insertElement(desk.project, lens, target)),
          ),
          command('Remove the selected surface', () => void desk.perform(removeSurface(lens, target))),
        ]
      : [];
  return [
    ...shortcutCommands(desk),
    command('Refocus about the chief ray', () => void desk.refocus('chief')),
    command('Refocus to the paraxial image', () => void desk.refocus('paraxial')),
    ...onSurface,
    ...beginnings(desk),
    command(theme.current === 'day' ? 'Night theme' : 'Day theme', () => theme.toggle()),
    command('Use the lens as it is now as the reference', () => desk.setReference(desk.history.head)),
    ...(desk.reference ? [command('Remove the reference', () => desk.setReference(null))] : []),
    ...tiles.map(({ kind, title, columns, rows }) =>
      command(`Add the tile ${title} to the board`, () => {
        desk.commit(addTile(desk.project, boardOf(desk.project, ui.board), { kind, columns, rows }), `Add ${title}`);
        void goto('/study');
      }),
    ),
    ...MEASURES.map(({ id, title }) =>
      command(`Require ${title}`, () => {
        const added = addRequirement(desk.project, lens, id);
        if (added.ok) desk.commit(added.value.edits, added.value.label);
        else desk.notice = { tone: 'refused', title: added.reason };
      }),
    ),
    ...Object.entries(OPERATION_TITLES).map(([id, title]) =>
      command(title, () => {
        ui.operating = id;
        void goto('/layout');
      }),
    ),
    ...coatings(desk),
    ...onScene(desk),
    ...(['Brief', 'Layout', 'Study', 'Shelf', 'Projects'] as const).map((room) =>
      place(room, () => void goto(`/${room.toLowerCase()}`)),
    ),
    place('Scene', () => void goto('/layout/scene')),
    ...(lens?.surfaces.map((surface, index) =>
      place(`Surface ${surfaceTitle(lens, index)}`, () => {
        desk.selected = surface.id;
        void goto('/layout').then(() =>
          document.querySelector<HTMLElement>(`[data-testid="radius-${surface.id}"]`)?.focus(),
        );
      }),
    ) ?? []),
  ];
}

/** Coatings for all surfaces between glass and air at once. */
function coatings(desk: Desk): readonly Command[] {
  const { project } = desk;
  const lens = desk.lensIn(project);
  const ids = lens ? glassAirSurfaces(project, lens) : [];
  if (!lens || ids.length === 0) return [];
  const own = project.finishes ?? [];
  const shelf = SHELF_FINISHES.filter(({ id }) => !own.some((one) => one.id === id));
  const films = [...own, ...shelf].filter(({ optics: { kind } }) => kind === 'coating' || kind === 'coating_table');
  return [...films, null].map((finish) => ({
    title: finish ? `Coat all glass–air surfaces: ${finish.name}` : 'Take the coatings off all glass–air surfaces',
    kind: 'command',
    run: () => void desk.perform(setSurfaceFinish(project, lens, ids, finish)),
  }));
}

/** What can be done to the scene by name. */
function onScene(desk: Desk): readonly Command[] {
  const { scene } = desk;
  const command = (title: string, edit: () => void): Command => ({
    title,
    kind: 'command',
    run() {
      edit();
      void goto('/layout/scene');
    },
  });
  if (!scene) return [command('Add a scene', () => desk.commit(addScene(desk.project), 'Add a scene'))];
  const after = desk.thing?.kind === 'parts' ? desk.thing.id : null;
  return [
    command('Add source to the scene', () => desk.arrange(addSource(scene, desk.lens?.wavelengths[0]?.nm ?? 555))),
    command('Add free detector to the scene', () => desk.arrange(addDetector(scene, null))),
    ...BODIES.map(({ kind, title }) =>
      command(`Add ${title.toLowerCase()} to the scene`, () => desk.arrange(addBody(desk.project, scene, kind, after))),
    ),
    ...desk.project.lenses.map((lens) =>
      command(`Place lens ${lens.name} in the scene`, () => desk.arrange(addLens(scene, lens, after))),
    ),
  ];
}

/** What fits the words that were typed, best first: every word must be found, at the beginning of a word counts more. */
export function matching<T extends { readonly title: string }>(list: readonly T[], text: string, most: number): T[] {
  const words = text.toLowerCase().split(/\s+/).filter(Boolean);
  if (words.length === 0) return [];
  const scored = list.flatMap((entry, order) => {
    const title = entry.title.toLowerCase();
    let score = 0;
    for (const word of words) {
      const at = title.indexOf(word);
      if (at < 0) return [];
      score += at === 0 ? 3 : title[at - 1] === ' ' ? 2 : 1;
    }
    return [{ entry, score, order }];
  });
  scored.sort((a, b) => b.score - a.score || a.order - b.order);
  return scored.slice(0, most).map(({ entry }) => entry);
}

/** New projects that begin with nothing. */
function beginnings(desk: Desk): Command[] {
  const begin = (title: string, project: Project, path: '/layout' | '/layout/scene'): Command => ({
    title,
    kind: 'command',
    run() {
      desk.open({ project, history: EMPTY_HISTORY });
      void goto(path);
    },
  });
  return [
    begin('New project: an empty lens', blankProject('New lens'), '/layout'),
    begin('New project: an empty scene', sceneOnly('New scene'), '/layout/scene'),
  ];
}
