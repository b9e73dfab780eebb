/** Where the work on each project was left: its room, and the half of the Layout that was looked at last. Kept in the browser. */
const KEY = 'ulvex/left';
/** Most projects that it is known of. */
const MOST = 100;

/** Rooms that look at a project. */
const ROOMS = ['/brief', '/layout', '/layout/scene', '/study', '/improve', '/tolerance'] as const;
export type Room = (typeof ROOMS)[number];
export type LayoutHalf = '/layout' | '/layout/scene';

/** The browser's store, which is not there for a page that may keep nothing: reading it is what fails then, not this. */
export const LEFT_STORE = {
  getItem: (key: string) => localStorage.getItem(key),
  setItem: (key: string, text: string) => localStorage.setItem(key, text),
};

interface Left {
  readonly id: string;
  readonly room: Room;
  readonly half: LayoutHalf | null;
}

const isRoom = (path: unknown): path is Room => ROOMS.includes(path as Room);
const isHalf = (path: unknown): path is LayoutHalf => path === '/layout' || path === '/layout/scene';

/** What is stored, the project that was left last first; nothing of what is no such record. */
function read(store: Pick<Storage, 'getItem'>): Left[] {
  try {
    const list: unknown = JSON.parse(store.getItem(KEY) ?? '[]');
    if (!Array.isArray(list)) return [];
    return list
      .slice(0, MOST)
      .flatMap((one: Partial<Left> | null) =>
        typeof one?.id === 'string' && isRoom(one.room)
          ? [{ id: one.id, room: one.room, half: isHalf(one.half) ? one.half : null }]
          : [],
      );
  } catch {
    return []; // a store that refuses: projects open where they have something
  }
}

/** Notes that a project is looked at in the room of a path; other paths are none. */
export function noteLeft(store: Pick<Storage, 'getItem' | 'setItem'>, id: string, path: string): void {
  if (!isRoom(path)) return;
  const all = read(store);
  const half = isHalf(path) ? path : (all.find((one) => one.id === id)?.half ?? null);
  const next = [{ id, room: path, half }, ...all.filter((one) => one.id !== id)].slice(0, MOST);
  try {
    store.setItem(KEY, JSON.stringify(next));
  } catch {
    // as in `read`
  }
}

/** The room that a project was left in; null where none is known. */
export function roomLeft(store: Pick<Storage, 'getItem'>, id: string): Room | null {
  return read(store).find((one) => one.id === id)?.room ?? null;
}

/** The half of the Layout that was looked at last; null where none is known. */
export function halfLeft(store: Pick<Storage, 'getItem'>, id: string): LayoutHalf | null {
  return read(store).find((one) => one.id === id)?.half ?? null;
}
