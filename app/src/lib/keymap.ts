/** Every shortcut of the interface, in one place. None is one that browsers keep for themselves. */
export interface Shortcut {
  readonly id: string;
  /** `Mod` is Ctrl, or ⌘ on a Mac. */
  readonly keys: string;
  readonly what: string;
}

export const KEYMAP = {
  undo: { id: 'undo', keys: 'Mod+Z', what: 'Take the last change back' },
  redo: { id: 'redo', keys: 'Mod+Shift+Z', what: 'Do it again' },
  save: { id: 'save', keys: 'Mod+S', what: 'Write the project to a file' },
  open: { id: 'open', keys: 'Mod+O', what: 'Open a project file' },
  history: { id: 'history', keys: 'F9', what: 'Open or close the history' },
  refocus: { id: 'refocus', keys: 'F8', what: 'Refocus: last distance for the smallest RMS spot' },
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
  nudgeUp: { id: 'nudgeUp', keys: 'Alt+ArrowUp', what: 'In a number: turn it up by one in its third digit' },
  nudgeDown: { id: 'nudgeDown', keys: 'Alt+ArrowDown', what: 'In a number: turn it down' },
} as const satisfies Record<string, Shortcut>;

type KeyPress = Pick<KeyboardEvent, 'key' | 'ctrlKey' | 'metaKey' | 'shiftKey' | 'altKey'>;

/** Whether a key press is a shortcut. */
export function pressed(event: KeyPress, { keys }: Shortcut): boolean {
  const parts = keys.split('+');
  const key = parts.pop()!;
  const mod = event.ctrlKey || event.metaKey;
  return (
    event.key.toLowerCase() === key.toLowerCase() &&
    mod === parts.includes('Mod') &&
    event.shiftKey === parts.includes('Shift') &&
    event.altKey === parts.includes('Alt')
  );
}

/** A shortcut as it is written on screen. */
export function keysText({ keys }: Shortcut): string {
  return keys.replace('Mod', 'Ctrl').replace('Arrow', '').replaceAll('+', ' ');
}
