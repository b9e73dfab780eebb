<script lang="ts">
  import { RAY_STATUS, statusReason, surfaceTitle, titleWithin, type Section, type SectionRay } from '@ulvex/core';
  import Button from '$lib/components/Button.svelte';
  import { fieldColours, glassTint } from '$lib/colours.ts';
  import { useDesk } from '$lib/desk/context.ts';
  import { standaloneSvg } from '$lib/export.ts';
  import { cssColour } from '$lib/css-colour.ts';
  import { lengthText } from '$lib/format.ts';
  import { graduations } from './chart-frame.ts';
  import ChartEdge from './ChartEdge.svelte';
  import { lowerEnd, upperEnd, type Handle } from './drag.ts';
  import { nearestRay } from './ray-story.ts';
  import RayStoryCard from './RayStoryCard.svelte';
  import { SectionHand } from './section-hand.svelte.ts';
  import { bladeLength, bodyNames, breakMark, planePath, rayBundles, reachUp, stopBlade } from './section-paths.ts';

  interface Props {
    section: Section;
    /** Laid in grey underneath. */
    reference?: Section | null;
    /** The same lens in other states, laid underneath in outline. */
    others?: readonly Section[];
    /** Whether surfaces can be taken hold of. */
    editable?: boolean;
    /** Shows all numbers of a ray that was clicked. */
    oninspect?: (ray: SectionRay) => void;
  }
  let { section, reference = null, others = [], editable = false, oninspect }: Props = $props();
  const desk = useDesk();
  let width = $state(0);
  let height = $state(0);

  let element: SVGSVGElement | undefined = $state();
  const clipId = $props.id(); // several drawings may stand on one page
  const hand = new SectionHand(desk, () => ({ bounds: section.bounds, width, height, element }));
  // Where the browser has it, the move that does not wait for the next frame: the answer is there one frame earlier.
  const moves = {
    ['onpointerrawupdate' in globalThis ? 'onpointerrawupdate' : 'onpointermove']: (event: PointerEvent) =>
      hand.move(event),
  };
  const frame = $derived(hand.frame);
  const lens = $derived(desk.lens);
  const colours = $derived.by(() => {
    const points = lens?.fields.points ?? [];
    const ramp = fieldColours(points.length);
    return new Map(points.map((point, i) => [point.id, ramp[i]]));
  });
  const marksZ = $derived(graduations(frame.z0, frame.width, frame));
  const marksY = $derived(graduations(frame.y0, frame.height, frame));
  const axis = $derived(frame.y(0));
  const path = (points: Float64Array) => planePath(points, frame);

  const titles = $derived(new Map(lens?.surfaces.map((surface, index) => [surface.id, surfaceTitle(lens, index)])));

  const names = $derived(bodyNames(section, frame));

  function ends(points: Float64Array): { x: number; y: number } {
    return { x: frame.x(points[points.length - 2]), y: frame.y(points[points.length - 1]) };
  }

  /** The rays of a field that arrive, as one path: a drawing of few parts follows the hand faster. */
  const bundles = $derived(rayBundles(section.rays, frame));
  const ended = $derived(section.rays.filter((ray) => ray.status !== RAY_STATUS.alive && ray.points.length >= 4));

  const shownId = $derived(desk.hovered ?? desk.selected);

  const handles = $derived(editable ? section.surfaces.find((surface) => surface.id === desk.selected) : undefined);

  const rimHandles = $derived<readonly Handle[]>(handles && !handles.image ? ['rim', 'bend'] : []);

  function handlePoint(surface: Section['surfaces'][number], handle: Handle): { x: number; y: number } {
    const [z, y] = handle === 'rim' ? upperEnd(surface) : lowerEnd(surface);
    return { x: frame.x(z), y: frame.y(y) };
  }

  /** The ray whose story is told, by its number; told anew as the lens changes. */
  let told = $state<number | null>(null);
  const storied = $derived(told === null ? null : (section.rays[told] ?? null));

  /** A click on a ray tells where it goes; on the paper it ends the telling. */
  function onclick(event: MouseEvent) {
    if (!element || hand.measuring || hand.held) return;
    const box = element.getBoundingClientRect();
    told = nearestRay(section.rays, frame, event.clientX - box.left, event.clientY - box.top);
  }

  const rule = $derived.by(() => {
    const [from, to] = hand.ruled ?? [];
    if (!from || !to) return null;
    const [dz, dy] = [to[0] - from[0], to[1] - from[1]];
    return {
      from,
      to,
      text: `${lengthText(Math.hypot(dz, dy))} mm  (z ${lengthText(dz)}, y ${lengthText(dy)})`,
    };
  });

  /** The drawing as an SVG document. */
  export function svg(): string | null {
    return element ? standaloneSvg(element, cssColour) : null;
  }
</script>

<div class="drawing" bind:clientWidth={width} bind:clientHeight={height}>
  {#if width > 0 && height > 0}
    <!-- svelte-ignore a11y_no_noninteractive_tabindex -->
    <svg
      bind:this={element}
      {width}
      {height}
      role="application"
      aria-label="Section of the lens through the y–z plane with rays. Plus and minus zoom, arrows pan, 0 fits."
      tabindex="0"
      data-testid="section"
      onwheel={(event) => hand.wheel(event)}
      onkeydown={(event) => hand.key(event)}
      ondblclick={() => hand.fit()}
      {onclick}
      class:measuring={hand.measuring}
      onpointerdown={(event) => hand.down(event)}
      {...moves}
      onpointerup={(event) => hand.up(event)}
      onpointercancel={() => hand.letGo()}
    >
      <defs>
        <clipPath id={clipId}><rect x={frame.left} y={frame.top} width={frame.width} height={frame.height} /></clipPath>
      </defs>
      <g class="grid">
        {#each marksZ as mark (mark)}
          <line x1={frame.x(mark)} x2={frame.x(mark)} y1={frame.top} y2={frame.top + frame.height} />
        {/each}
        {#each marksY as mark (mark)}
          <line x1={frame.left} x2={frame.left + frame.width} y1={frame.y(mark)} y2={frame.y(mark)} />
        {/each}
      </g>
      <g clip-path="url(#{clipId})">
        {#if section.axis}<path class="axis" d={path(section.axis)} />
        {:else}<line class="axis" x1={frame.left} x2={frame.left + frame.width} y1={axis} y2={axis} />{/if}
        {#if reference}
          {#each reference.elements as element (element.front)}<path
              class="before"
              d="{path(element.outline)}Z"
            />{/each}
          {#each reference.surfaces as surface (surface.id)}<path class="before" d={path(surface.line)} />{/each}
        {/if}
        {#each others as other, k (k)}
          <g class="other" data-testid="other-state">
            {#each other.elements as element (element.front)}<path d="{path(element.outline)}Z" />{/each}
            {#each other.surfaces as surface (surface.id)}<path d={path(surface.line)} />{/each}
          </g>
        {/each}
        {#each section.elements as element (element.front)}
          <path class="glass" d="{path(element.outline)}Z" style:fill={glassTint(element.abbe)} />
        {/each}
        {#each bundles as { field, d } (field)}
          <path class="ray" {d} style:stroke={colours.get(field)} data-field={field} />
        {/each}
        {#each ended as ray, i (i)}
          <path class="ray ended" d={path(ray.points)} style:stroke={colours.get(ray.field)} data-status={ray.status}>
            {#if ray.endsAt}<title>This ray {statusReason(ray.status)} at {titles.get(ray.endsAt)}.</title>{/if}
          </path>
          <text class="end" x={ends(ray.points).x} y={ends(ray.points).y}
            >×<title>This ray {statusReason(ray.status)} at {titles.get(ray.endsAt ?? '')}.</title></text
          >
        {/each}
        {#each section.kept as ray (ray.id)}
          <path class="kept" d={path(ray.points)} data-kept={ray.id}><title>{ray.name}</title></path>
        {/each}
        {#if storied && storied.points.length >= 4}<path class="told" d={path(storied.points)} />{/if}
        {#each section.surfaces as surface (surface.id)}
          {@const line = surface.pieces.map(path).join('')}
          <!-- svelte-ignore a11y_click_events_have_key_events, a11y_no_static_element_interactions -->
          <g
            class="surface"
            class:shown={shownId === surface.id}
            onmouseenter={() => (desk.hovered = surface.id)}
            onmouseleave={() => (desk.hovered = null)}
            onclick={() => (desk.selected = surface.id)}
          >
            {#if !hand.held}<path class="touch" d={line} />{/if}
            {#if surface.stop}
              <path class="blade" d={stopBlade(surface.line, surface.semi, 1, frame)} />
              <path class="blade" d={stopBlade(surface.line, surface.semi, -1, frame)} />
            {/if}
            <path
              class="face"
              class:image={surface.image}
              class:mirror={surface.reflects}
              class:open={surface.stop && !surface.reflects}
              d={line}
            />
            {#if shownId === surface.id && handles?.id !== surface.id}
              <circle cx={frame.x(surface.vertex[0])} cy={frame.y(surface.vertex[1])} r="4" />
            {/if}
            {#if surface.image || surface.stop}
              <text
                class="name"
                x={Math.min(frame.x(surface.vertex[0]), frame.left + frame.width - 22)}
                y={surface.image
                  ? frame.y(surface.vertex[1] + reachUp(surface)) - 9
                  : frame.y(surface.vertex[1] - reachUp(surface) - bladeLength(surface.semi, frame)) + 15}
                >{titleWithin(titles.get(surface.id) ?? '')}</text
              >
            {/if}
          </g>
        {/each}
        {#if handles}
          <!-- svelte-ignore a11y_no_static_element_interactions -->
          <circle
            class="handle along"
            data-testid="handle-vertex"
            cx={frame.x(handles.vertex[0])}
            cy={frame.y(handles.vertex[1])}
            r="5"
            onpointerdown={(event) => hand.take(event, 'vertex', handles)}
            ><title>Drag: move this vertex along the axis; with Shift a tenth as far</title></circle
          >
          {#each rimHandles as handle (handle)}
            {@const at = handlePoint(handles, handle)}
            <!-- svelte-ignore a11y_no_static_element_interactions -->
            <rect
              class="handle {handle === 'rim' ? 'across' : 'along'}"
              data-testid="handle-{handle}"
              x={at.x - 4}
              y={at.y - 4}
              width="8"
              height="8"
              rx={handle === 'rim' ? 0 : 4}
              onpointerdown={(event) => hand.take(event, handle, handles)}
              ><title
                >{handle === 'rim'
                  ? 'Drag up or down: set the aperture; with Shift a tenth as far'
                  : 'Drag along the axis: bend the surface; with Shift a tenth as far'}</title
              ></rect
            >
          {/each}
        {/if}
        {#each names as { text, x, y }, i (i)}<text class="name" {x} {y}>{text}</text>{/each}
      </g>
      <ChartEdge {frame} figuresAt={height - 4} />
      {#if section.objectBeyond !== null}
        <path class="break" d={breakMark(frame.left + 12, axis)} />
        <text class="mark" style:text-anchor="start" x={frame.left + 8} y={axis - 14}
          >object at {lengthText(section.objectBeyond)} mm</text
        >
      {/if}
      {#if section.imageBeyond && !hand.view}
        {@const image = section.surfaces[section.surfaces.length - 1]}
        <path class="break" d={breakMark(frame.left + frame.width - 12, axis)} />
        <text class="mark" style:text-anchor="end" x={frame.left + frame.width - 8} y={axis - 14}
          >{titleWithin(titles.get(image.id) ?? 'image')} at {lengthText(image.vertex[0])} mm</text
        >
      {/if}
      {#if rule}
        <g class="rule" data-testid="rule">
          <line
            x1={frame.x(rule.from[0])}
            y1={frame.y(rule.from[1])}
            x2={frame.x(rule.to[0])}
            y2={frame.y(rule.to[1])}
          />
          <text x={frame.left + frame.width / 2} y={frame.top + 18}>{rule.text}</text>
        </g>
      {:else if hand.measuring}
        <text class="mark" x={frame.left + frame.width / 2} y={frame.top + 18}
          >click two points to measure; Esc ends</text
        >
      {/if}
    </svg>
  {/if}
  <div class="buttons">
    {#if hand.view && !hand.held}<Button small data-testid="fit" onclick={() => hand.fit()}>fit</Button>{/if}
    {#if editable}<Button
        small
        aria-pressed={hand.measuring}
        title="Measure a distance between two clicks (M in the drawing)"
        data-testid="measure-tool"
        onclick={() => hand.measure()}>measure</Button
      >{/if}
  </div>
  {#if storied}<RayStoryCard
      ray={storied}
      colour={colours.get(storied.field) ?? 'var(--ink)'}
      onclose={() => (told = null)}
      oninspect={oninspect && (() => oninspect(storied))}
    />{/if}
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

  svg:focus:not(:focus-visible) {
    outline: none;
  }

  .grid line {
    stroke: var(--grid);
  }

  .axis {
    fill: none;
    stroke: var(--muted);
    stroke-dasharray: 14 4 3 4;
    stroke-width: 0.8px;
  }

  .glass {
    stroke: var(--glass-edge);
    stroke-width: 0.8px;
    stroke-linejoin: round;
  }

  .other path {
    fill: none;
    stroke: var(--muted);
    stroke-dasharray: 5 3;
  }

  .before {
    fill: none;
    stroke: var(--muted);
    stroke-dasharray: 3 2;
    stroke-width: 1px;
    opacity: 0.8;
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
    stroke-width: 9px;
    visibility: hidden; /* takes the mouse, but is not painted */
    pointer-events: stroke;
  }

  .kept {
    fill: none;
    stroke: var(--ink);
    stroke-dasharray: 7 3;
    stroke-width: 1.4px;
  }

  .told {
    fill: none;
    stroke: var(--accent);
    stroke-width: 2.4px;
    pointer-events: none;
  }

  .break {
    fill: none;
    stroke: var(--ink);
    stroke-width: 1.3px;
  }

  .rule line {
    stroke: var(--accent);
    stroke-width: 1.4px;
  }

  .rule text {
    fill: var(--ink);
    font-weight: 600;
    text-anchor: middle;
  }

  .measuring {
    cursor: crosshair;
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

  .handle {
    fill: var(--card);
    stroke: var(--accent);
    stroke-width: 2px;
  }

  .handle:hover {
    fill: var(--accent);
  }

  .along {
    cursor: ew-resize;
  }

  .across {
    cursor: ns-resize;
  }

  .buttons {
    position: absolute;
    top: 18px;
    left: 18px;
    display: flex;
    gap: 6px;
  }

  text {
    pointer-events: none;
  }

  .name,
  .mark {
    fill: var(--muted);
    font-size: var(--size-small);
    text-anchor: middle;
  }
</style>
