<script lang="ts">
  import { significant } from '$lib/format.ts';
  import { theme } from '$lib/theme.svelte.ts';
  import { paletteBytes, valueAtPlace, type Palette, type Scale } from './light-map.ts';

  interface Props {
    scale: Scale;
    palette: Palette;
    density: string;
    /** Whether it lies below a map rather than stands beside it. */
    lying?: boolean;
  }
  let { scale, palette, density, lying = false }: Props = $props();
  const STEPS = 8;
  const gradient = $derived.by(() => {
    const bytes = paletteBytes(theme.current, palette);
    const stops = Array.from({ length: STEPS + 1 }, (_, i) => {
      const k = 3 * Math.round((255 * i) / STEPS);
      return `rgb(${bytes[k]} ${bytes[k + 1]} ${bytes[k + 2]})`;
    });
    return `linear-gradient(to ${lying ? 'right' : 'top'}, ${stops.join(',')})`;
  });
</script>

<div class="scale" class:lying aria-label="Scale">
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

  .lying {
    display: flex;
    gap: 6px;
    align-items: center;
    height: auto;
    min-height: 0;
    margin: 2px 0 0 40px;
  }

  .lying i {
    order: 1;
    width: 120px;
    height: 8px;
  }

  .lying span:nth-of-type(1) {
    order: 2;
  }

  .lying span:nth-of-type(2) {
    display: none;
  }
</style>
