import { theme } from '../theme.svelte.ts';
import { PAGE_MARGIN, pageSize } from './print-pages.ts';

/** Frames that charts may take to be drawn in the colours of the day. */
const FRAMES = 12;

const frame = () => new Promise<void>((done) => requestAnimationFrame(() => done()));

/** Sizes and colours for print, and what takes them back. Pages are as wide as the board; a tile that would be cut begins the next one. */
export async function readyForPrint(board: HTMLElement): Promise<() => void> {
  const before = theme.current;
  if (before === 'night') {
    theme.current = 'day';
    theme.apply();
    for (let k = 0; k < FRAMES; k++) await frame();
  }
  const tallest = Math.max(0, ...[...board.children].map((tile) => tile.getBoundingClientRect().height));
  const { width, height } = pageSize(board.clientWidth, tallest);
  const style = document.createElement('style');
  const rows = getComputedStyle(board).gridTemplateRows.split(' ')[0] || '160px';
  style.textContent = `@page { size: ${width}px ${height}px; margin: ${PAGE_MARGIN}px; }
:root { --print-width: ${board.clientWidth}px; --print-row: ${rows}; }`;
  document.head.append(style);
  return () => {
    style.remove();
    if (theme.current === before) return;
    theme.current = before;
    theme.apply();
  };
}

/** Prints a board on pages by the browser's own dialog. */
export async function printBoard(board: HTMLElement): Promise<void> {
  const undo = await readyForPrint(board);
  window.addEventListener('afterprint', undo, { once: true });
  window.print();
}
