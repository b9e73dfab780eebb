import { wavelengthHue } from '@ulvex/core';

/** Colour of the field at position t (0 first, 1 last) on the one ramp of all drawings and tiles. */
export function fieldColour(t: number): string {
  const [from, to, share] = t <= 0.5 ? ['0', 'half', t * 2] : ['half', '1', t * 2 - 1];
  return `color-mix(in oklab, var(--field-${to}) ${Math.round(share * 100)}%, var(--field-${from}))`;
}

/** Colours of `count` fields in order. */
export function fieldColours(count: number): string[] {
  return Array.from({ length: count }, (_, i) => fieldColour(count < 2 ? 0 : i / (count - 1)));
}

/** Colour that tells a wavelength from others, as CSS. */
export function waveColour(nm: number): string {
  return `hsl(${Math.round(wavelengthHue(nm))} 72% var(--wave-light))`;
}

/** Tint of a glass by its Abbe number: darker for higher dispersion; the same in drawing and prescription. */
export function glassTint(abbe: number): string {
  const share = Math.min(1, Math.max(0, (70 - abbe) / 42));
  return `color-mix(in oklab, var(--glass-3) ${Math.round(share * 100)}%, var(--glass-1))`;
}

/** Which of many are named beside a picture: all of a few, else so many from the first to the last. */
export function namedOf(count: number, most = 10): number[] {
  if (count <= most) return Array.from({ length: count }, (_, i) => i);
  return Array.from({ length: most }, (_, k) => Math.round((k * (count - 1)) / (most - 1)));
}
