import type { FirstOrder } from '@ulvex/core';
import type { Desk } from './desk.svelte.ts';

/**
 * First-order data of the lens at its primary wavelength, kept up to date for as long as the calling component lives; null
 * while there are none.
 */
export function primaryOrder(desk: Desk): { readonly current: FirstOrder | null } {
  const query = desk.live.query(() => (desk.lens ? { kind: 'first_order', lens: desk.lens.id } : null));
  return {
    get current() {
      if (!query.answer?.ok) return null;
      const data = query.answer.value.columns.find(({ wavelength }) => wavelength === desk.lens?.primary)?.data;
      return data?.ok ? data.value : null;
    },
  };
}
