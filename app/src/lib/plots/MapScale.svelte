<script lang="ts">
  import { significant } from '$lib/format.ts';
  import { theme } from '$lib/theme.svelte.ts';
  import { paletteBytes, valueAtPlace, type Palette, type Scale } from './light-map.ts';

  interface Props {
    scale: Scale;
    palette: Palette;
    density: string;
  }
  let { scale, palette, density }: Props = $props();
  const STEPS = 8;
  const gradient = $derived.by(() => {
    const bytes = paletteBytes(theme.current, palette);
    const stops = Array.from({ length: STEPS + 1 }, (_, i) => {
      const k = 3 * Math.round((255 * i) / STEPS);
      return `rgb(${bytes[k]} ${bytes[k + 1]} ${bytes[k + 2]})`;
    });
    return `linear-gradient(to top, ${stops.join(',')})`;
  });
</script>

<div class="scale" aria-label="Scale">
  <i style:background={gradient}></i>
  <span>{significant(scale.high, 3)}</span>
  <span>{significant(valueAtPlace(scale, 0.5), 3)}</span>
  <span>{significant(scale.low, 3)} {density}</span>
</div>

<style>
  .scale {
    display: grid;
    flex-shrink: 0;
    grid-template-rows: 1fr 1fr auto;
    grid-template-columns: 8px auto;
    column-gap: 4px;
    height: calc(100% - 60px);
    min-height: 70px;
    margin-top: 30px;
    color: var(--muted);
    font-size: 10.5px;
    white-space: nowrap;
  }

  i {
    grid-row: 1 / 4;
    width: 8px;
    border: 1px solid var(--line);
  }

  span {
    grid-column: 2;
  }
</style>
