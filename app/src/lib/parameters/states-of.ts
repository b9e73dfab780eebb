import { findParameter } from '@ulvex/core';
import type { Desk } from '$lib/desk/desk.svelte.ts';
import { ui } from '$lib/desk/ui.svelte.ts';
import { heldWords, numberTitle } from '../desk/number-state.ts';

/** Addresses of the numbers that an element stands for: its own, or all that are chosen together with it. */
function addressesOf(element: Element | null): readonly string[] {
  const cell = element?.closest<HTMLElement>('[data-address]');
  if (!cell) return [];
  const all = cell.matches('.marked') ? [...document.querySelectorAll<HTMLElement>('.marked[data-address]')] : [cell];
  return [...new Set(all.map(({ dataset }) => dataset.address!))];
}

/** Opens the choice between fixed, free, linked and derived beside the number that has the focus. */
export function openStates(element: Element | null): void {
  const addresses = addressesOf(element);
  const cell = element?.closest('[data-address]');
  if (cell && addresses.length > 0)
    ui.stating = { addresses, at: cell.getBoundingClientRect(), back: element as HTMLElement };
}

/** Gives the number that an element stands for a dial, or puts it away; false where it stands for none. */
export function toggleDial(desk: Desk, element: Element | null): boolean {
  const address = element?.closest<HTMLElement>('[data-address]')?.dataset.address;
  const parameter = address === undefined ? null : findParameter(desk.project, address);
  if (address === undefined || !parameter) return false;
  if (ui.dials.includes(address)) ui.dials = ui.dials.filter((one) => one !== address);
  else if (!parameter.ok) desk.notice = { tone: 'refused', title: parameter.reason };
  else if (!Number.isFinite(parameter.value.value))
    desk.notice = {
      tone: 'refused',
      title: `${numberTitle(desk.project, address)} is infinite: type a number first, then turn it.`,
    };
  else ui.dials = [...ui.dials, address];
  return true;
}

/** Makes the numbers that have the focus free, or fixed where they are free already. */
export async function turnFree(desk: Desk, element: Element | null): Promise<void> {
  const addresses = addressesOf(element);
  if (addresses.length === 0) {
    desk.notice = { tone: 'done', title: 'Go to a number to make it free, or choose several.' };
    return;
  }
  const held = addresses.find((address) => heldWords(desk.project, address) !== null);
  if (held !== undefined) {
    desk.notice = { tone: 'refused', title: heldWords(desk.project, held)! };
    return;
  }
  const free = addresses.every((address) => desk.project.parameters?.[address]?.kind === 'free');
  const title = addresses.length > 1 ? `${addresses.length} numbers` : numberTitle(desk.project, addresses[0]);
  const done = await desk.changeState(
    addresses,
    free ? null : { kind: 'free' },
    `Make ${title} ${free ? 'fixed' : 'free'}`,
  );
  if (!done.ok) desk.notice = { tone: 'refused', title: done.reason };
}
