import { glassTint, waveColour } from '../colours.ts';
import { theme, token } from '../theme.svelte.ts';
import type { ShelfStyle } from './shelf-charts.ts';

/** Colours of the charts of the shelf in the theme of now. */
export function shelfStyle(): ShelfStyle {
  void theme.current;
  const tints = ['--glass-1', '--glass-3'].map(token);
  return {
    ink: token('--ink'),
    muted: token('--muted'),
    grid: token('--grid'),
    accent: token('--accent'),
    edge: token('--glass-edge'),
    tint: (vd) => glassTint(vd).replace('var(--glass-1)', tints[0]).replace('var(--glass-3)', tints[1]),
    wave: (nm) => waveColour(nm).replace('var(--wave-light)', token('--wave-light')),
  };
}
