<script lang="ts">
  import type { DotPanel, Figure } from '@ulvex/core';
  import { significant } from '$lib/format.ts';
  import { theme, token } from '$lib/theme.svelte.ts';
  import { dotsSvg } from './dots-svg.ts';
  import { colourOf, columnsFor, earlierOf, shownName, type PanelStyle } from './panel-option.ts';

  interface Props {
    /** Pictures to one scale, which is said elsewhere. */
    panels: readonly DotPanel[];
    /** The reference, drawn in grey underneath. */
    before: readonly DotPanel[];
    labels: ReadonlyMap<string, string>;
    style: PanelStyle;
    /** How many side by side; as fits best by default. */
    columns: number | undefined;
    /** What names of figures begin with, for tests. */
    testid: string;
  }
  let { panels, before, labels, style, columns: wanted, testid }: Props = $props();
  let width = $state(0);
  let height = $state(0);
  const withUnit = ({ value, unit }: Figure) => `${significant(value, 3)} ${unit}`;
  /** Width of a letter at most, px. */
  const LETTER = 7;
  /** Letters of the longest name together with its figure. */
  const longest = $derived(
    Math.max(
      0,
      ...panels.map(
        ({ title, figures }) => shownName(title, labels).length + (figures?.[0] ? withUnit(figures[0]).length : 0),
      ),
    ),
  );
  const columns = $derived(wanted ?? columnsFor(panels.length, { width, height }, 1));
  /** Room for the lines below a picture, px: one for its name and first figure, one for others, one for a reference. */
  const caption = $derived(
    24 +
      (panels.some(({ figures }) => (figures?.length ?? 0) > 1) ? 16 : 0) +
      (before.length > 0 ? 16 : 0) +
      (width / columns < longest * LETTER + 12 ? 16 : 0), // a name and its figure do not fit beside each other
  );
  const rows = $derived(Math.max(1, Math.ceil(panels.length / columns)));
  const side = $derived(Math.max(24, Math.min(width / columns - 8, height / rows - caption, 260)));
  const pictures = $derived(
    panels.map((panel) => {
      const earlier = earlierOf(before, panel);
      return {
        panel,
        earlier: earlier?.kind === 'dots' ? earlier : null,
        name: shownName(panel.title, labels),
        figures: (panel.figures ?? []).map((figure, k) => ({
          ...figure,
          was: k === 0 ? earlier?.figures?.[0] : undefined,
        })),
      };
    }),
  );
  /** Draws a picture whenever it changes: at once, since thousands of dots take no longer than a line of a chart. */
  function drawn(canvas: HTMLCanvasElement, of: () => (typeof pictures)[number]) {
    $effect(() => {
      void theme.current;
      const ratio = window.devicePixelRatio || 1;
      const pixels = Math.floor(side * ratio);
      // A new size empties the canvas and lays it out anew: only if it is one.
      if (canvas.width !== pixels || canvas.height !== pixels) canvas.width = canvas.height = pixels;
      const context = canvas.getContext('2d');
      if (!context) return;
      context.setTransform(ratio, 0, 0, ratio, 0, 0);
      context.clearRect(0, 0, side, side);
      draw(context, of());
    });
  }

  function draw(context: CanvasRenderingContext2D, { panel, earlier }: (typeof pictures)[number]) {
    const scale = side / 2 / (panel.x.range?.[1] ?? 1);
    context.strokeStyle = style.grid;
    context.beginPath();
    for (const at of [0.25, 0.5, 0.75]) {
      context.moveTo(side * at, 0);
      context.lineTo(side * at, side);
      context.moveTo(0, side * at);
      context.lineTo(side, side * at);
    }
    context.stroke();
    const dot = side > 150 ? 2 : side > 70 ? 1.6 : 1.2;
    const dots = ({ x, y }: DotPanel['groups'][number]) => {
      for (let i = 0; i < x.length; i++)
        context.fillRect(side / 2 + x[i] * scale - dot / 2, side / 2 - y[i] * scale - dot / 2, dot, dot);
    };
    context.fillStyle = token('--line');
    for (const group of earlier?.groups ?? []) dots(group);
    for (const group of panel.groups) {
      context.fillStyle = colourOf(group.tint, style);
      dots(group);
    }
    context.strokeStyle = style.ink;
    for (const { x, y } of panel.outlines) {
      context.beginPath();
      x.forEach((value, k) => context.lineTo(side / 2 + value * scale, side / 2 - y[k] * scale));
      context.stroke();
    }
  }

  export function svg(): string | null {
    const named = pictures.map(({ panel, name, figures }) => ({
      panel,
      name,
      figures: figures.map((figure) => `${figure.name} ${withUnit(figure)}`).join(' · '),
    }));
    return dotsSvg(named, columns, { ...style, ground: token('--card') });
  }
</script>

<ul style:grid-template-columns="repeat({columns}, 1fr)" bind:clientWidth={width} bind:clientHeight={height}>
  {#each pictures as picture, i (i)}
    <li>
      <canvas
        style:width="{side}px"
        style:height="{side}px"
        aria-label="{picture.name}, in a box of ±{picture.panel.x.range?.[1]} {picture.panel.x.unit}"
        {@attach (element) => drawn(element as HTMLCanvasElement, () => picture)}
      ></canvas>
      <p style:min-width="{side}px">
        <span class="name">{picture.name}</span>
        {#each picture.figures as figure, k (figure.name)}
          {@const was = figure.was}
          <span
            class:first={k === 0}
            data-testid="{testid}-{i}-{figure.name.replaceAll(' ', '-')}"
            data-value={figure.value}
            data-was={was?.value}
            title={figure.name}
            >{withUnit(figure)}{k > 0 ? ` ${figure.name}` : ''}{#if was && was.value !== figure.value}<em
                >was {withUnit(was)}</em
              >{/if}</span
          >
        {/each}
      </p>
    </li>
  {/each}
</ul>

<style>
  ul {
    display: grid;
    gap: 4px 8px;
    align-content: start;
    justify-items: center;
    height: 100%;
    margin: 0;
    padding: 0;
    font-size: var(--size-small);
    list-style: none;
  }

  li {
    display: grid;
    justify-items: center;
    min-width: 0;
    max-width: 100%;
  }

  canvas {
    display: block;
    outline: 1px solid var(--line);
    outline-offset: -1px;
  }

  p {
    display: flex;
    flex-wrap: wrap;
    justify-content: space-between;
    gap: 0 8px;
    line-height: 1.3;
    white-space: nowrap;
  }

  .name,
  em {
    color: var(--muted);
    font-style: normal;
  }

  .first {
    font-weight: 600;
  }

  em {
    display: block;
    font-weight: 400;
    text-align: right;
  }
</style>
