<script lang="ts">
  import { RAY_STATUS, statusReason, surfaceTitle, type Section } from '@ulvex/core';
  import { fieldColours, glassTint } from '$lib/colours.ts';
  import { useDesk } from '$lib/desk/context.ts';
  import { standaloneSvg } from '$lib/export.ts';
  import { blocks, fitFrame, graduations, panned, shownSpan, zoomed, type Span } from './chart-frame.ts';
  import { dragGesture, type DragStart, type Handle } from './drag.ts';

  interface Props {
    section: Section;
    /** Laid in grey underneath. */
    reference?: Section | null;
    /** Whether surfaces can be taken hold of. */
    editable?: boolean;
  }
  let { section, reference = null, editable = false }: Props = $props();
  const desk = useDesk();
  let width = $state(0);
  let height = $state(0);

  /** What is shown after zooming or panning, or while something is dragged; null fits everything. */
  let view = $state.raw<Span | null>(null);
  const frame = $derived(view ? fitFrame(view, width, height, 0) : fitFrame(section.bounds, width, height));
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

  let drawing: SVGSVGElement | undefined = $state();
  /** What the mouse has taken hold of. */
  let held = $state.raw<{ readonly start: DragStart; readonly fitted: boolean } | null>(null);
  let panning: { readonly from: Span; readonly x: number; readonly y: number } | null = null;

  function pointAt(event: MouseEvent): [z: number, y: number] {
    const box = drawing!.getBoundingClientRect();
    const [px, py] = [event.clientX - box.left, event.clientY - box.top];
    return [
      frame.z0 + (px - frame.left) / frame.scale,
      frame.y0 + (frame.top + frame.height - py) / frame.scale,
    ];
  }

  function onwheel(event: WheelEvent) {
    event.preventDefault();
    zoom(event.deltaY < 0 ? 1.2 : 1 / 1.2, ...pointAt(event));
  }

  function zoom(factor: number, z: number, y: number) {
    const next = zoomed(shownSpan(frame), factor, z, y);
    const span = next.z[1] - next.z[0];
    if (span > 1e-6 && span < 1e9) view = next;
  }

  function take(event: PointerEvent, handle: Handle, surface: Section['surfaces'][number]) {
    if (event.button !== 0) return;
    event.stopPropagation();
    event.preventDefault();
    const [z, y] = pointAt(event);
    // The picture stands still while something in it is moved.
    held = {
      start: { handle, surface: surface.id, vertexZ: surface.vertex[0], semi: surface.semi, z, y },
      fitted: view === null,
    };
    view ??= shownSpan(frame);
    drawing!.setPointerCapture(event.pointerId);
  }

  function ondown(event: PointerEvent) {
    if (event.button !== 0) return;
    panning = { from: shownSpan(frame), x: event.clientX, y: event.clientY };
  }

  function onmove(event: PointerEvent) {
    if (held) {
      const gesture = dragGesture(desk.project.lenses[0], held.start, ...pointAt(event));
      if (gesture.ok) desk.preview(gesture.value.edits);
    } else if (panning && event.buttons === 1) {
      const [dx, dy] = [event.clientX - panning.x, event.clientY - panning.y];
      if (Math.hypot(dx, dy) > 3) view = panned(panning.from, -dx / frame.scale, dy / frame.scale);
    }
  }

  function onup(event: PointerEvent) {
    panning = null;
    if (!held) return;
    const { start, fitted } = held;
    const [z, y] = pointAt(event);
    held = null;
    if (fitted) view = null;
    if (z === start.z && y === start.y) return;
    const gesture = dragGesture(desk.project.lenses[0], start, z, y);
    if (gesture.ok) desk.commit(gesture.value.edits, gesture.value.label);
    else {
      desk.endPreview();
      desk.notice = { tone: 'refused', title: gesture.reason };
    }
  }

  function letGo() {
    if (held?.fitted) view = null;
    held = null;
    panning = null;
    desk.endPreview();
  }

  /** Plus and minus zoom, arrows pan, 0 fits, Esc lets go of what is dragged. */
  function onkeydown(event: KeyboardEvent) {
    if (event.ctrlKey || event.metaKey || event.altKey) return;
    const span = shownSpan(frame);
    const middle = [(span.z[0] + span.z[1]) / 2, (span.y[0] + span.y[1]) / 2] as const;
    const step = 0.1 * (span.z[1] - span.z[0]);
    const does: Readonly<Record<string, () => void>> = {
      '+': () => zoom(1.25, ...middle),
      '=': () => zoom(1.25, ...middle),
      '-': () => zoom(0.8, ...middle),
      '0': () => (view = null),
      ArrowLeft: () => (view = panned(span, -step, 0)),
      ArrowRight: () => (view = panned(span, step, 0)),
      ArrowUp: () => (view = panned(span, 0, step)),
      ArrowDown: () => (view = panned(span, 0, -step)),
      Escape: letGo,
    };
    if (!does[event.key]) return;
    event.preventDefault();
    does[event.key]();
  }

  const handles = $derived(
    editable ? section.surfaces.find((surface) => surface.id === desk.selected) : undefined,
  );

  const rimHandles = $derived<readonly Handle[]>(handles && !handles.image ? ['rim', 'bend'] : []);

  function handlePoint(surface: Section['surfaces'][number], handle: Handle): { x: number; y: number } {
    const { line } = surface;
    const at = handle === 'rim' ? line.length - 2 : 0;
    return { x: frame.x(line[at] ?? surface.vertex[0]), y: frame.y(line[at + 1] ?? 0) };
  }

  /** The drawing as an SVG document. */
  export function svg(): string | null {
    return drawing ? standaloneSvg(drawing) : null;
  }
</script>

<div class="drawing" bind:clientWidth={width} bind:clientHeight={height}>
  {#if width > 0 && height > 0}
    <!-- svelte-ignore a11y_no_noninteractive_tabindex, a11y_no_noninteractive_element_interactions -->
    <svg
      bind:this={drawing}
      {width}
      {height}
      role="application"
      aria-label="Section of the lens through the y–z plane with rays. Plus and minus zoom, arrows pan, 0 fits."
      tabindex="0"
      data-testid="section"
      {onwheel}
      {onkeydown}
      ondblclick={() => (view = null)}
      onpointerdown={ondown}
      onpointermove={onmove}
      onpointerup={onup}
      onpointercancel={letGo}
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
        {#if reference}
          {#each reference.elements as element (element.front)}<path
              class="before"
              d="{path(element.outline)}Z"
            />{/each}
          {#each reference.surfaces as surface (surface.id)}<path
              class="before"
              d={path(surface.line)}
            />{/each}
        {/if}
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
            {#if shownId === surface.id && handles?.id !== surface.id}
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
        {#if handles}
          <!-- svelte-ignore a11y_no_static_element_interactions -->
          <circle
            class="handle along"
            data-testid="handle-vertex"
            cx={frame.x(handles.vertex[0])}
            cy={frame.y(handles.vertex[1])}
            r="5"
            onpointerdown={(event) => take(event, 'vertex', handles)}
            ><title>Drag: move this vertex along the axis</title></circle
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
              onpointerdown={(event) => take(event, handle, handles)}
              ><title
                >{handle === 'rim'
                  ? 'Drag up or down: set the aperture'
                  : 'Drag along the axis: bend the surface'}</title
              ></rect
            >
          {/each}
        {/if}
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
  {#if view && !held}<button class="fit" data-testid="fit" onclick={() => (view = null)}>fit</button>{/if}
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

  .fit {
    position: absolute;
    top: 18px;
    right: 18px;
    padding: 0 8px;
    border: 1px solid var(--line);
    border-radius: var(--radius);
    background: var(--card);
    font-size: var(--size-small);
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

  .edge rect {
    fill: none;
    stroke: var(--ink);
    stroke-width: 0.8px;
  }

  .edge .filled {
    fill: var(--ink);
  }
</style>
