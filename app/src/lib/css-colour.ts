import { theme } from '$lib/theme.svelte.ts';

const known: Record<'day' | 'night', Map<string, string>> = { day: new Map(), night: new Map() };
let probe: CanvasRenderingContext2D | null = null;

/** Any CSS colour, variables and mixtures too, as `#rrggbb` in the theme that is shown. */
export function cssColour(colour: string): string {
  const values = known[theme.current]; // whoever asks depends on the theme
  let value = values.get(colour);
  if (value === undefined) {
    const element = document.createElement('i');
    element.style.color = colour;
    document.body.append(element);
    const computed = getComputedStyle(element).color;
    element.remove();
    // A pixel turns every notation of a colour into bytes.
    probe ??= new OffscreenCanvas(1, 1).getContext('2d', {
      willReadFrequently: true,
    }) as unknown as CanvasRenderingContext2D;
    probe.fillStyle = computed;
    probe.fillRect(0, 0, 1, 1);
    const [r, g, b] = probe.getImageData(0, 0, 1, 1).data;
    value = `#${[r, g, b].map((byte) => byte.toString(16).padStart(2, '0')).join('')}`;
    values.set(colour, value);
  }
  return value;
}
