/** Every shortcut of the interface, in one place. None is one that browsers keep for themselves. */
export interface Shortcut {
  readonly id: string;
  /** `Mod` is Ctrl, or ⌘ on a Mac. */
  readonly keys: string;
  readonly what: string;
}

export const KEYMAP = {
  undo: { id: 'undo', keys: 'Mod+Z', what: 'Undo the last change' },
  redo: { id: 'redo', keys: 'Mod+Shift+Z', what: 'Redo' },
  save: { id: 'save', keys: 'Mod+S', what: 'Write the project to a file' },
  open: { id: 'open', keys: 'Mod+O', what: 'Open a project file' },
  ask: { id: 'ask', keys: 'F4', what: 'Ask: a measure, a calculation, a command, a place' },
  explain: { id: 'explain', keys: 'Shift+F1', what: 'Explain what the focus or the mouse is on, in place' },
  keys: { id: 'keys', keys: '?', what: 'This sheet (outside of cells)' },
  history: { id: 'history', keys: 'F9', what: 'Open or close the history' },
  states: {
    id: 'states',
    keys: 'Shift+F12',
    what: 'States: what differs when it is focused near, zoomed in, hot',
  },
  refocus: { id: 'refocus', keys: 'F8', what: 'Refocus: last distance for the smallest RMS spot' },
  dial: {
    id: 'dial',
    keys: 'Shift+F9',
    what: 'On a number: open or close a dial (also by a right click)',
  },
  operations: {
    id: 'operations',
    keys: 'Shift+F8',
    what: 'Operations on the lens: turn around, flip, scale, split …',
  },
  surfacePanel: {
    id: 'surfacePanel',
    keys: 'Shift+F2',
    what: 'Shape, aperture and place of the chosen surface',
  },
  freeNumber: {
    id: 'freeNumber',
    keys: 'Shift+F7',
    what: 'On one or more chosen numbers: make them free for Improve, or fix them again',
  },
  numberState: {
    id: 'numberState',
    keys: 'Shift+F4',
    what: 'In a number: fixed, free in bounds, linked by a formula, derived from a condition',
  },
  insertSurface: {
    id: 'insertSurface',
    keys: 'Mod+Enter',
    what: 'In the prescription: insert a surface below',
  },
  insertElement: {
    id: 'insertElement',
    keys: 'Mod+Shift+Enter',
    what: 'In the prescription: insert an element below',
  },
  markUp: {
    id: 'markUp',
    keys: 'Shift+ArrowUp',
    what: 'In the prescription: choose several cells or lines, upwards',
  },
  markDown: {
    id: 'markDown',
    keys: 'Shift+ArrowDown',
    what: 'In the prescription: the same downwards; a typed text then sets all',
  },
  fillDown: { id: 'fillDown', keys: 'Alt+Enter', what: 'In chosen cells: fill them with the first one' },
  duplicate: {
    id: 'duplicate',
    keys: 'Alt+Shift+ArrowDown',
    what: 'On the name of a line: duplicate the surface or element',
  },
  nudgeUp: {
    id: 'nudgeUp',
    keys: 'Alt+ArrowUp',
    what: 'In a number: turn it up by one in its third digit; on the name of a line: move it toward the object',
  },
  nudgeDown: {
    id: 'nudgeDown',
    keys: 'Alt+ArrowDown',
    what: 'In a number: turn it down; on a name: move the line toward the image',
  },
} as const satisfies Record<string, Shortcut>;

/** Keys that mean something only where they are pressed; handled there, listed here for the sheet. */
export const LOCAL_KEYS: readonly {
  readonly where: string;
  readonly keys: readonly (readonly [key: string, what: string])[];
}[] = [
  {
    where: 'In a cell',
    keys: [
      ['Enter', 'Accepts the value and moves down; with Shift up'],
      ['↑ ↓ ← →', 'Walk through the cells; typing replaces'],
      ['F2', 'Edit the present value, every digit shown'],
      ['Esc', 'Restores the previous value'],
    ],
  },
  {
    where: 'On the name of a line of the prescription',
    keys: [
      ['F2', 'Renames it'],
      ['Delete', 'Removes the surface or the element'],
      ['Space', 'Excludes an element without deleting it, or includes it again'],
    ],
  },
  {
    where: 'In the drawing',
    keys: [
      ['+ − 0', 'Zoom in, zoom out, fit'],
      ['↑ ↓ ← →', 'Pan'],
      ['M', 'Measures a distance between two clicks'],
      ['Shift', 'Held while dragging: a tenth as far as the mouse'],
      ['Esc', 'Cancels the drag'],
    ],
  },
];

type KeyPress = Pick<KeyboardEvent, 'key' | 'ctrlKey' | 'metaKey' | 'shiftKey' | 'altKey'>;

/** Whether a key press is a shortcut. */
export function pressed(event: KeyPress, { keys }: Shortcut): boolean {
  const parts = keys.split('+');
  const key = parts.pop()!;
  const mod = event.ctrlKey || event.metaKey;
  return (
    event.key.toLowerCase() === key.toLowerCase() &&
    mod === parts.includes('Mod') &&
    (key === '?' || event.shiftKey === parts.includes('Shift')) && // where ? is typed with Shift and where it is not
    event.altKey === parts.includes('Alt')
  );
}

/** A shortcut as it is written on screen. */
export function keysText({ keys }: Shortcut): string {
  return keys.replace('Mod', 'Ctrl').replace('Arrow', '').replaceAll('+', ' ');
}
