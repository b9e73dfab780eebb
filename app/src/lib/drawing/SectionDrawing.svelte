<script lang="ts">
  import { RAY_STATUS, statusReason, surfaceTitle, type Section } from '@ulvex/core';
  import { fieldColours, glassTint } from '$lib/colours.ts';
  import { useDesk } from '$lib/desk/context.ts';
  import { blocks, fitFrame, graduations } from './chart-frame.ts';

  interface Props {
    section: Section;
  }
  let { section }: Props = $props();
  const desk = useDesk();
  let width = $state(0);
  let height = $state(0);

  const frame = $derived(fitFrame(section.bounds, width, height));
  const lens = $derived(desk.lens);
  const colours = $derived.by(() => {
    const points = lens?.fields.points ?? [];
    const ramp = fieldColours(points.length);
    return new Map(points.map((point, i) => [point.id, ramp[i]]));
  });
  const across = $derived(blocks(frame.z0, frame.width, frame));
  const up = $derived(blocks(frame.y0, frame.height, frame));
  const marksZ = $derived(graduations(frame.z0, frame.width, frame));
  const marksY = $derived(graduations(frame.y0, frame.height, frame));
  const axis = $derived(frame.y(0));
  const EDGE = 6;

  /** z, y, z, y … in mm as an SVG path. */
  function path(points: Float64Array, from = 0): string {
    let d = '';
    for (let i = from; i < points.length; i += 2) {
      d += `${i === from ? 'M' : 'L'}${frame.x(points[i]).toFixed(2)} ${frame.y(points[i + 1]).toFixed(2)}`;
    }
    return d;
  }

  const titles = $derived(
    new Map(lens?.surfaces.map((surface, index) => [surface.id, surfaceTitle(lens, index)])),
  );

  /** Names stand over bodies; cemented ones share one. */
  const names = $derived.by(() => {
    const groups: { text: string; x: number; y: number }[] = [];
    let previousBack: string | undefined;
    for (const { front, name, outline } of section.elements) {
      let [from, to, top] = [Infinity, -Infinity, -Infinity];
      for (let i = 0; i < outline.length; i += 2) {
        from = Math.min(from, outline[i]);
        to = Math.max(to, outline[i]);
        top = Math.max(top, outline[i + 1]);
      }
      const at = { text: name, x: frame.x((from + to) / 2), y: frame.y(top) - 7 };
      const index = section.surfaces.findIndex((surface) => surface.id === front);
      const last = groups.at(-1);
      if (previousBack === front && last) {
        last.text += `·${name}`;
        last.x = (last.x + at.x) / 2;
        last.y = Math.min(last.y, at.y);
      } else groups.push(at);
      previousBack = section.surfaces[index + 1]?.id;
    }
    return groups;
  });

  /** The two halves of a stop: from its edge outwards. */
  function stopBlade(line: Float64Array, semi: number, sign: 1 | -1): string {
    const at = sign > 0 ? line.length - 2 : 0;
    const [z, y] = [line[at], line[at + 1]];
    const out = y + sign * Math.max(0.35 * semi, 6 / frame.scale);
    return `M${frame.x(z)} ${frame.y(y)}L${frame.x(z)} ${frame.y(out)}`;
  }

  function ends(points: Float64Array): { x: number; y: number } {
    return { x: frame.x(points[points.length - 2]), y: frame.y(points[points.length - 1]) };
  }

  const shownId = $derived(desk.hovered ?? desk.selected);
</script>

<div class="drawing" bind:clientWidth={width} bind:clientHeight={height}>
  {#if width > 0 && height > 0}
    <svg
      {width}
      {height}
      role="img"
      aria-label="Section of the lens through the y–z plane with rays"
      data-testid="section"
    >
      <defs>
        <clipPath id="inside"
          ><rect x={frame.left} y={frame.top} width={frame.width} height={frame.height} /></clipPath
        >
      </defs>
      <g class="grid">
        {#each marksZ as mark (mark)}
          <line x1={frame.x(mark)} x2={frame.x(mark)} y1={frame.top} y2={frame.top + frame.height} />
        {/each}
        {#each marksY as mark (mark)}
          <line x1={frame.left} x2={frame.left + frame.width} y1={frame.y(mark)} y2={frame.y(mark)} />
        {/each}
      </g>
      <g clip-path="url(#inside)">
        <line class="axis" x1={frame.left} x2={frame.left + frame.width} y1={axis} y2={axis} />
        {#each section.elements as element (element.front)}
          <path class="glass" d="{path(element.outline)}Z" style:fill={glassTint(element.abbe)} />
        {/each}
        {#each section.rays as ray, i (i)}
          {#if ray.points.length >= 4}
            <path
              class="ray"
              class:ended={ray.status !== RAY_STATUS.alive}
              d={path(ray.points)}
              style:stroke={colours.get(ray.field)}
              data-field={ray.field}
              data-status={ray.status}
            >
              {#if ray.endsAt}<title>This ray {statusReason(ray.status)} at {titles.get(ray.endsAt)}.</title
                >{/if}
            </path>
            {#if ray.status !== RAY_STATUS.alive}
              <text class="end" x={ends(ray.points).x} y={ends(ray.points).y}
                >×<title>This ray {statusReason(ray.status)} at {titles.get(ray.endsAt ?? '')}.</title></text
              >
            {/if}
          {/if}
        {/each}
        {#each section.surfaces as surface (surface.id)}
          <!-- svelte-ignore a11y_click_events_have_key_events, a11y_no_static_element_interactions -->
          <g
            class="surface"
            class:shown={shownId === surface.id}
            onmouseenter={() => (desk.hovered = surface.id)}
            onmouseleave={() => (desk.hovered = null)}
            onclick={() => (desk.selected = surface.id)}
          >
            <path class="touch" d={path(surface.line)} />
            {#if surface.stop}
              <path class="blade" d={stopBlade(surface.line, surface.semi, 1)} />
              <path class="blade" d={stopBlade(surface.line, surface.semi, -1)} />
            {/if}
            <path
              class="face"
              class:image={surface.image}
              class:mirror={surface.reflects}
              class:open={surface.stop && !surface.reflects}
              d={path(surface.line)}
            />
            {#if shownId === surface.id}
              <circle cx={frame.x(surface.vertex[0])} cy={frame.y(surface.vertex[1])} r="4" />
            {/if}
            {#if surface.image || surface.stop}
              <text
                class="name"
                x={Math.min(frame.x(surface.vertex[0]), frame.left + frame.width - 22)}
                y={surface.image
                  ? frame.y(surface.semi) - 9
                  : frame.y(-surface.semi - Math.max(0.35 * surface.semi, 6 / frame.scale)) + 15}
                >{(titles.get(surface.id) ?? '').toLowerCase()}</text
              >
            {/if}
          </g>
        {/each}
        {#each names as { text, x, y }, i (i)}<text class="name" {x} {y}>{text}</text>{/each}
      </g>
      <g class="edge">
        {#each across as { from, to, filled } (from)}
          <rect class:filled x={frame.left + from} y={frame.top - EDGE} width={to - from} height={EDGE} />
          <rect
            class:filled
            x={frame.left + from}
            y={frame.top + frame.height}
            width={to - from}
            height={EDGE}
          />
        {/each}
        {#each up as { from, to, filled } (from)}
          <rect
            class:filled
            x={frame.left - EDGE}
            y={frame.top + frame.height - to}
            width={EDGE}
            height={to - from}
          />
          <rect
            class:filled
            x={frame.left + frame.width}
            y={frame.top + frame.height - to}
            width={EDGE}
            height={to - from}
          />
        {/each}
        <rect
          x={frame.left - EDGE}
          y={frame.top - EDGE}
          width={frame.width + 2 * EDGE}
          height={frame.height + 2 * EDGE}
        />
        <rect x={frame.left} y={frame.top} width={frame.width} height={frame.height} />
      </g>
      {#each marksZ as mark (mark)}
        {#if frame.x(mark) > frame.left + 8 && frame.x(mark) < frame.left + frame.width - 12}
          <text class="mark" x={frame.x(mark)} y={height - 4}
            >{String(Number(mark.toPrecision(6))).replace('-', '−')}</text
          >
        {/if}
      {/each}
      {#if section.objectBeyond}
        <text class="mark" style:text-anchor="start" x={frame.left + 8} y={frame.top + 16}
          >object beyond the frame</text
        >
      {/if}
    </svg>
  {/if}
</div>

<style>
  .drawing {
    position: relative;
    width: 100%;
    height: 100%;
    overflow: hidden;
    background: var(--card);
  }

  svg {
    position: absolute;
    inset: 0;
    display: block;
  }

  .grid line {
    stroke: var(--grid);
  }

  .axis {
    stroke: var(--muted);
    stroke-dasharray: 14 4 3 4;
    stroke-width: 0.8px;
  }

  .glass {
    stroke: var(--glass-edge);
    stroke-width: 0.8px;
    stroke-linejoin: round;
  }

  .ray {
    fill: none;
    stroke-width: 0.9px;
    stroke-linejoin: round;
  }

  .ended {
    stroke-dasharray: 4 3;
    opacity: 0.75;
  }

  .end {
    fill: var(--bad);
    font-size: 13px;
    font-weight: 700;
    text-anchor: middle;
    dominant-baseline: central;
  }

  .touch {
    fill: none;
    stroke: transparent;
    stroke-width: 9px;
  }

  .face {
    fill: none;
    stroke: var(--glass-edge);
    stroke-width: 1.1px;
  }

  .image,
  .mirror {
    stroke: var(--ink);
    stroke-width: 1.8px;
  }

  .open {
    stroke: transparent;
  }

  .blade {
    stroke: var(--ink);
    stroke-width: 2.4px;
  }

  .shown .face,
  .shown .blade {
    stroke: var(--accent);
    stroke-width: 2.2px;
  }

  circle {
    fill: var(--card);
    stroke: var(--accent);
    stroke-width: 2px;
  }

  .name,
  .mark {
    fill: var(--muted);
    font-size: var(--size-small);
    text-anchor: middle;
  }

  .edge rect {
    fill: none;
    stroke: var(--ink);
    stroke-width: 0.8px;
  }

  .edge .filled {
    fill: var(--ink);
  }
</style>
