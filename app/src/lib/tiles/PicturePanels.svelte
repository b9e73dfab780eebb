<script lang="ts">
  import type { PicturePanel } from '@ulvex/core';
  import { plain } from '$lib/format.ts';
  import { token } from '$lib/theme.svelte.ts';
  import { columnsFor, shownName } from './panel-option.ts';
  import { pictureBytes, picturesSvg } from '$lib/components/picture-image.ts';

  interface Props {
    panels: readonly PicturePanel[];
    /** The reference, shown beside in greys. */
    before: readonly PicturePanel[];
    labels: ReadonlyMap<string, string>;
  }
  let { panels, before, labels }: Props = $props();
  let width = $state(0);
  let height = $state(0);

  const shown = $derived([
    ...panels.map((panel) => ({ panel, name: shownName(panel.title, labels), grey: false })),
    ...before.map((panel) => ({ panel, name: `${shownName(panel.title, labels)}, reference`, grey: true })),
  ]);
  const columns = $derived(columnsFor(shown.length, { width, height }, 1));
  const rows = $derived(Math.max(1, Math.ceil(shown.length / columns)));
  const side = $derived(Math.max(40, Math.min(width / columns - 12, height / rows - 38)));
  /** Canvases by the names of their pictures. */
  // eslint-disable-next-line svelte/prefer-svelte-reactivity -- read when an export is asked for, never rendered
  const canvases = new Map<string, HTMLCanvasElement>();

  /** Draws a picture into a canvas of as many dots, whenever it changes. */
  function drawn(canvas: HTMLCanvasElement, name: string, panel: PicturePanel, grey: boolean) {
    $effect(() => {
      canvas.width = panel.columns;
      canvas.height = panel.rows;
      canvas.getContext('2d')!.putImageData(pictureBytes(panel, grey), 0, 0);
    });
    canvases.set(name, canvas);
  }

  export function svg(): string | null {
    const style = { ink: token('--ink'), muted: token('--muted'), ground: token('--card') };
    const drawings = shown.flatMap(({ panel, name }) => {
      const canvas = canvases.get(name);
      return canvas ? [{ panel, name, canvas }] : [];
    });
    return picturesSvg(drawings, style);
  }
</script>

<ul style:grid-template-columns="repeat({columns}, auto)" bind:clientWidth={width} bind:clientHeight={height}>
  {#each shown as { panel, name, grey } (name)}
    <li>
      <span class="name">{name}</span>
      {#key panel}<canvas
          style:width="{side}px"
          style:height="{side}px"
          aria-label="Picture of the target, {name}"
          {@attach (element) => drawn(element as HTMLCanvasElement, name, panel, grey)}
        ></canvas>{/key}
      <span class="ends" style:width="{side}px"
        ><i>{plain(panel.x.range[0], 4)}</i><i>{panel.x.unit}</i><i>{plain(panel.x.range[1], 4)}</i></span
      >
    </li>
  {/each}
</ul>

<style>
  ul {
    display: grid;
    gap: 4px 12px;
    place-content: start;
    height: 100%;
    margin: 0;
    padding: 0;
    overflow: hidden;
    list-style: none;
  }

  li {
    display: flex;
    flex-direction: column;
  }

  canvas {
    border: 1px solid var(--line);
  }

  .name,
  .ends {
    color: var(--muted);
    font-size: var(--size-small);
  }

  .ends {
    display: flex;
    justify-content: space-between;
    font-size: 10px;
  }

  i {
    font-style: normal;
  }
</style>
