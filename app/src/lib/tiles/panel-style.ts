import { fieldColours, waveColour } from '$lib/colours.ts';
import { cssColour } from '$lib/css-colour.ts';
import { token } from '$lib/theme.svelte.ts';
import type { PanelStyle } from './panel-option.ts';

/** Colours of panels in the theme of now, for a lens of so many fields. */
export function panelStyle(fields: number): PanelStyle {
  return {
    ink: token('--ink'),
    muted: token('--muted'),
    grid: token('--grid'),
    fields: fieldColours(Math.max(fields, 3)).map((colour) => cssColour(colour)),
    wave: (nm) => waveColour(nm).replace('var(--wave-light)', token('--wave-light')),
  };
}
