import type { SceneKind } from '@ulvex/core';
import type { Draft } from '../keeping/journal.ts';

/** What lies open over or beside the room: nothing of it belongs to the project. */
class Ui {
  historyOpen = $state(false);
  keysOpen = $state(false);
  /** Whether shape, aperture and place of the chosen surface are shown under the prescription. */
  surfacePanel = $state(false);
  /** Whether the table of states is open under the strip. */
  statesOpen = $state(false);
  /** What stands beside the spots in the Layout, and the ray that is inspected there: they stay through a change of room. */
  secondTile = $state<'fans' | 'first-order' | 'ray'>('fans');
  inspected = $state.raw<unknown>(null);
  asking = $state(false);
  /** Id of the board that the Study shows; the first where there is none of that id. */
  board = $state<string | undefined>();
  /** What is being explained, as in `data-explain`, and the element it stands beside. */
  explained = $state.raw<{ readonly key: string; readonly at: DOMRect } | null>(null);
  /** Numbers whose state is being chosen, the element the choice stands beside, and what has the focus afterwards. */
  stating = $state.raw<{
    readonly addresses: readonly string[];
    readonly at: DOMRect;
    readonly back: HTMLElement | null;
  } | null>(null);
  /** Addresses of the numbers that have a dial. */
  dials = $state.raw<readonly string[]>([]);
  /** What of the scene is put on the face that is clicked next; null for nothing. */
  placing = $state.raw<{ readonly kind: SceneKind; readonly id: string } | null>(null);
  /** Id of the operation on the lens that is being tried; null for none. */
  operating = $state<string | null>(null);
  /** Text of a cell that was open when the window was left, to be put into it again. */
  draft = $state.raw<Draft | null>(null);
  /** Id of a project that did not come up at the last start. */
  stuck = $state.raw<string | null>(null);
  /** Opens the browser's file dialog; set by the window. */
  pickFile: () => void = () => {};
}

export const ui = new Ui();
