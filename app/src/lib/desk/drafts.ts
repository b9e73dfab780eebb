import type { Draft } from '../keeping/journal.ts';

/** How long a cell may take to appear after a start, ms. */
const PATIENCE = 5000;

/** The text of the cell that is being typed into and was not entered; null where none is. */
export function openDraft(): Draft | null {
  const input = document.activeElement;
  if (!(input instanceof HTMLInputElement) || input.dataset.drafting === undefined) return null;
  const { testid = '' } = input.dataset;
  return { cell: testid, label: input.ariaLabel ?? '', text: input.value, room: location.pathname };
}

/** Puts a text into its cell again as if it were being typed, as soon as the cell is there; false where it does not come. */
export function putDraft({ cell, label, text }: Draft): Promise<boolean> {
  const find = () =>
    [...document.querySelectorAll('input')].find(
      (input) => input.ariaLabel === label && (input.dataset.testid ?? '') === cell,
    );
  return new Promise((resolve) => {
    const from = performance.now();
    const look = () => {
      const input = find();
      if (input) {
        input.focus();
        input.value = text;
        input.dispatchEvent(new InputEvent('input', { bubbles: true }));
        resolve(true);
      } else if (performance.now() - from > PATIENCE) resolve(false);
      else requestAnimationFrame(look);
    };
    look();
  });
}
