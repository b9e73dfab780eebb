<script lang="ts">
  import { standOnFace, thingTitle, type Scene, type SceneRays, type SceneView } from '@ulvex/core';
  import { onMount, untrack } from 'svelte';
  import { Color } from 'three';
  import Button from '$lib/components/Button.svelte';
  import { fieldColours, waveColour } from '$lib/colours.ts';
  import { useDesk } from '$lib/desk/context.ts';
  import { ui } from '$lib/desk/ui.svelte.ts';
  import { niceStep, plain, significant } from '$lib/format.ts';
  import { theme, token } from '$lib/theme.svelte.ts';
  import { cssColour } from '$lib/css-colour.ts';
  import { FACE_LOOKS } from './face-looks.ts';
  import { finishSwatch } from './swatch.ts';
  import { View3D, type MapPicture, type Standpoint } from './view3d.ts';

  interface Props {
    scene: Scene;
    view: SceneView;
    rays: SceneRays | null;
    hidden: ReadonlySet<string>;
    /** Pictures of detectors, to be laid where they are. */
    maps: readonly MapPicture[];
    /** Rays that are drawn of each source. */
    count: number;
  }
  let { scene, view, rays, hidden, maps, count = $bindable() }: Props = $props();
  const RAY_COUNTS = [10, 30, 100, 300];
  const desk = useDesk();

  let canvas: HTMLCanvasElement;
  let frame = $state<HTMLDivElement>();
  let drawing = $state.raw<View3D | null>(null);
  let trouble = $state('');
  let drawn = $state(0); // frames: what lies over the drawing moves with it
  let colourBy = $state<'medium' | 'finish'>('medium');
  let rayColour = $state<'source' | 'wavelength' | 'flux'>('source');
  let onlyTo = $state('');
  let cut = $state(false);
  let solid = $state(false);
  let alone = $state(false);
  let measuring = $state(false);
  let ends = $state.raw<readonly (readonly [number, number, number])[]>([]);
  let cursor = $state.raw<{ readonly text: string } | null>(null);
  let pressed: { x: number; y: number } | null = null;

  const STANDPOINTS = [
    ['oblique', 'oblique'],
    ['side', 'side, y–z'],
    ['top', 'top, x–z'],
    ['front', 'front, x–y'],
  ] as const;

  onMount(() => {
    try {
      drawing = new View3D(canvas, () => drawn++);
    } catch (error) {
      trouble = `This browser cannot draw in 3D (WebGL): ${(error as Error).message}`;
      return;
    }
    const observer = new ResizeObserver(() => drawing?.resize(frame?.clientWidth ?? 0, frame?.clientHeight ?? 0));
    if (frame) observer.observe(frame);
    drawing.resize(frame?.clientWidth ?? 0, frame?.clientHeight ?? 0);
    return () => {
      observer.disconnect();
      ui.placing = null;
      drawing?.dispose();
    };
  });

  $effect(() => {
    void theme.current;
    const chosen = desk.thing?.kind === 'parts' ? desk.thing : null;
    const parts = chosenParts;
    drawing?.setBodies(view, {
      edge: token('--glass-edge'),
      of(face) {
        if (hidden.has(face.part) || (alone && chosen && !parts.has(face.part))) return null;
        const look = FACE_LOOKS[face.look];
        const on = parts.has(face.part) && (!chosen?.faces?.length || chosen.faces.includes(face.name));
        const colour = on
          ? token('--accent')
          : colourBy === 'finish'
            ? cssColour(finishSwatch(face.finish))
            : token(look.colour);
        return {
          colour,
          opacity: solid ? 1 : on ? 0.5 : colourBy === 'finish' ? Math.max(0.45, look.opacity) : look.opacity,
        };
      },
    });
  });

  /** Ids of the parts that are chosen. */
  const chosenParts = $derived(
    new Set(desk.thing?.kind === 'parts' ? [desk.thing.id, ...(desk.thing.also ?? [])] : []),
  );
  const ramp = $derived(fieldColours(scene.sources.length));
  const colourOfSource = (id: string) => {
    const index = scene.sources.findIndex((source) => source.id === id);
    return cssColour(scene.sources.length === 1 ? 'var(--accent)' : (ramp[index] ?? 'var(--accent)'));
  };

  $effect(() => {
    void theme.current;
    drawing?.setMarks(view, colourOfSource, token('--accent'));
  });

  $effect(() => {
    void theme.current;
    if (!rays || !drawing) return;
    const kept = onlyTo === '' ? null : launchesTo(rays, onlyTo);
    const bySource = rays.sources.map((id) => new Color(colourOfSource(id)));
    const byWave = rays.waves.map((nm) => new Color(cssColour(waveColour(nm))));
    const strong = new Color(token('--accent'));
    drawing.setRays(rays, (piece) => {
      if (kept && !kept.has(rays.launch[piece])) return null;
      const colour =
        rayColour === 'source'
          ? bySource[rays.source[piece]]
          : rayColour === 'wavelength'
            ? byWave[rays.wave[piece]]
            : strong;
      // Four decades of flux from nothing to full.
      const share = rays.share[piece];
      const opacity =
        rayColour === 'flux' ? Math.max(0.04, 1 + Math.log10(share) / 4) : Math.max(0.06, 0.75 * Math.sqrt(share));
      return { colour, opacity };
    });
  });

  /** Launches of which something comes to a detector. */
  function launchesTo(all: SceneRays, detector: string): ReadonlySet<number> {
    const faces = new Set(
      Object.entries(all.detectors)
        .filter(([, ids]) => ids.includes(detector))
        .map(([face]) => Number(face)),
    );
    const far = scene.detectors.find(({ id }) => id === detector)?.on.kind === 'far';
    const comes = (piece: number) => faces.has(all.face[piece]) || (far && all.face[piece] === -1);
    const kept = new Set(Array.from(all.launch).filter((_, piece) => comes(piece)));
    return kept;
  }

  $effect(() => drawing?.setMaps(view, maps));
  const matter = desk.live.query(() => (cut ? { kind: 'scene_section', scene: scene.id } : null));
  $effect(() => {
    void [theme.current, view];
    const parts = chosenParts;
    const fills = (matter.answer?.ok ? matter.answer.value : [])
      .filter(({ part }) => !hidden.has(part) && (!alone || parts.size === 0 || parts.has(part)))
      .map(({ part, clear, positions }) => ({
        positions,
        colour: token(parts.has(part) ? '--accent' : clear ? '--glass-1' : '--muted'),
      }));
    drawing?.cutOpen(cut, token('--ink'), fills);
  });

  function boxOfChosen() {
    const faces = view.faces.filter(({ part }) => chosenParts.has(part));
    if (faces.length === 0) return null;
    const [min, max] = [
      [Infinity, Infinity, Infinity],
      [-Infinity, -Infinity, -Infinity],
    ];
    for (const { triangles } of faces)
      for (let i = 0; i < triangles.positions.length; i++) {
        min[i % 3] = Math.min(min[i % 3], triangles.positions[i]);
        max[i % 3] = Math.max(max[i % 3], triangles.positions[i]);
      }
    return { min, max };
  }

  function placeOf(event: MouseEvent): [number, number] {
    const box = canvas.getBoundingClientRect();
    return [(event.clientX - box.left) / box.width, (event.clientY - box.top) / box.height];
  }

  function onpointerup(event: PointerEvent) {
    const still = pressed && Math.hypot(event.clientX - pressed.x, event.clientY - pressed.y) < 4;
    pressed = null;
    if (!still || !drawing) return;
    const hit = drawing.pick(...placeOf(event));
    if (placed) {
      if (hit) place(hit);
      return;
    }
    if (measuring) {
      if (hit) ends = ends.length >= 3 ? [hit.point] : [...ends, hit.point];
      return;
    }
    if (!hit) {
      desk.thing = null;
      return;
    }
    const face = view.faces[hit.face];
    const same = desk.thing?.kind === 'parts' && desk.thing.id === face.part ? (desk.thing.faces ?? []) : [];
    if ((event.ctrlKey || event.metaKey) && desk.thing?.kind === 'parts') {
      const others = [...chosenParts].filter((id) => id !== face.part);
      const [id, ...also] = chosenParts.has(face.part) ? others : [...others, face.part];
      desk.thing = id === undefined ? null : { kind: 'parts', id, also };
    } else if (event.shiftKey && same.length > 0)
      desk.thing = {
        kind: 'parts',
        id: face.part,
        faces: same.includes(face.name) ? same.filter((name) => name !== face.name) : [...same, face.name],
      };
    else desk.thing = { kind: 'parts', id: face.part, faces: [face.name] };
  }

  /** What is put on the face that is clicked next. */
  const placed = $derived(ui.placing && scene[ui.placing.kind].find(({ id }) => id === ui.placing?.id));

  function place({ point, normal }: NonNullable<ReturnType<View3D['pick']>>) {
    if (!ui.placing || !placed) return;
    const gesture = standOnFace(scene, ui.placing.kind, placed, point, normal);
    ui.placing = null;
    desk.arrange(gesture);
  }

  let moving = false;
  function onpointermove(event: PointerEvent) {
    if (moving || pressed || !drawing) return;
    moving = true;
    const at = placeOf(event);
    requestAnimationFrame(() => {
      moving = false;
      const hit = drawing?.pick(...at);
      if (!hit) {
        cursor = null;
        return;
      }
      const face = view.faces[hit.face];
      const place = hit.point.map((value) => plain(value, 5)).join(', ');
      cursor = { text: `${face.part} ${face.name} · ${face.finishName} · x, y, z ${place} mm` };
    });
  }

  function onkeydown(event: KeyboardEvent) {
    const turns: Readonly<Record<string, readonly [number, number]>> = {
      ArrowLeft: [-10, 0],
      ArrowRight: [10, 0],
      ArrowUp: [0, 10],
      ArrowDown: [0, -10],
    };
    const turn = turns[event.key];
    if (event.key === 'Escape' && ui.placing) ui.placing = null;
    else if (turn) drawing?.turn(...turn);
    else if (event.key === '+') drawing?.zoom(1.25);
    else if (event.key === '-') drawing?.zoom(0.8);
    else if (event.key === '0') drawing?.fit();
    else return;
    event.preventDefault();
  }

  const size = $derived.by(() => {
    void drawn;
    return { width: frame?.clientWidth ?? 0, height: frame?.clientHeight ?? 0 };
  });
  const axes = $derived.by(() => {
    void drawn;
    return untrack(() => drawing?.axesOnScreen() ?? []);
  });
  const bar = $derived.by(() => {
    void drawn;
    const mm = untrack(() => drawing?.millimetresAPixel ?? 0);
    if (!(mm > 0) || !Number.isFinite(mm)) return null;
    const length = niceStep(mm * 110, 1);
    return { px: length / mm, text: `${plain(length, 3)} mm` };
  });
  const tape = $derived.by(() => {
    void drawn;
    return ends.map((point) => drawing?.project(point) ?? [0, 0]);
  });
  const lengths = $derived.by(() => {
    if (placed) return `Click a face: ${thingTitle(placed)} is put there, its z axis along the normal. Esc cancels.`;
    if (ends.length < 2) return measuring ? 'Click two points for a distance, a third for an angle at the second.' : '';
    const span = (a: readonly number[], b: readonly number[]) => b.map((value, axis) => value - a[axis]);
    const [a, b, c] = ends;
    const first = span(a, b);
    const text = `${significant(Math.hypot(...first), 6)} mm (Δx ${plain(first[0], 5)}, Δy ${plain(first[1], 5)}, Δz ${plain(first[2], 5)})`;
    if (!c) return text;
    const [u, v] = [span(b, a), span(b, c)];
    const cosine = u.reduce((sum, value, axis) => sum + value * v[axis], 0) / Math.hypot(...u) / Math.hypot(...v);
    return `${text}, angle ${plain((Math.acos(Math.min(1, Math.max(-1, cosine))) * 180) / Math.PI, 5)}°`;
  });
  const lost = $derived(rays ? rays.sources.filter((_, i) => rays.launched[i] > 0 && rays.met[i] === 0) : []);
</script>

<div class="bar">
  <span class="group" role="group" aria-label="View">
    <select
      aria-label="Look from"
      title="Look from"
      data-testid="standpoint"
      onchange={(event) => drawing?.lookFrom(event.currentTarget.value as Standpoint)}
    >
      {#each STANDPOINTS as [id, title] (id)}<option value={id}>{title}</option>{/each}
    </select>
    <Button
      small
      onclick={() => drawing?.fit(desk.thing?.kind === 'parts' && alone ? boxOfChosen() : undefined)}
      title="Everything in the frame (0)">Fit</Button
    >
    <Button
      small
      aria-pressed={alone}
      disabled={desk.thing?.kind !== 'parts'}
      onclick={() => {
        alone = !alone;
        drawing?.fit(alone ? boxOfChosen() : undefined);
      }}
      title="Draw only the chosen part, filling the frame">Isolate</Button
    >
  </span>
  <span class="group" role="group" aria-label="Bodies">
    <Button
      small
      aria-pressed={cut}
      onclick={() => (cut = !cut)}
      data-testid="cut-open"
      title="Cut the bodies open at x = 0">Cut open</Button
    >
    <Button small aria-pressed={solid} onclick={() => (solid = !solid)} title="Bodies that hide what is behind them"
      >Solid</Button
    >
    <Button
      small
      aria-pressed={measuring}
      onclick={() => {
        measuring = !measuring;
        ends = [];
      }}
      title="Distances and angles between points">Measure</Button
    >
    <select aria-label="Faces coloured by" title="Faces coloured by" data-testid="colour-by" bind:value={colourBy}>
      <option value="medium">medium</option><option value="finish">finish</option>
    </select>
  </span>
  <span class="group" role="group" aria-label="Rays">
    <select
      aria-label="Rays drawn of each source"
      title="Rays drawn of each source"
      data-testid="rays-drawn"
      bind:value={count}
    >
      {#each RAY_COUNTS as number (number)}<option value={number}>{number} rays</option>{/each}
    </select>
    <select aria-label="Rays coloured by" title="Rays coloured by" bind:value={rayColour}>
      <option value="source">by source</option><option value="wavelength">by wavelength</option><option value="flux"
        >by flux (log)</option
      >
    </select>
    <select aria-label="Which rays" title="Which rays" data-testid="rays-to" bind:value={onlyTo}>
      <option value="">all</option>
      {#each scene.detectors as detector (detector.id)}<option value={detector.id}
          >only to {thingTitle(detector)}</option
        >{/each}
    </select>
  </span>
</div>
<div class="frame" bind:this={frame}>
  <canvas
    bind:this={canvas}
    tabindex="0"
    aria-label="The scene in space. Arrows turn it, + and − zoom, 0 fits it."
    data-testid="scene-canvas"
    class:placing={placed}
    {onkeydown}
    {onpointermove}
    {onpointerup}
    onpointerdown={(event) => (pressed = { x: event.clientX, y: event.clientY })}
    onpointerleave={() => (cursor = null)}
  ></canvas>
  <svg class="over" aria-hidden="true">
    <g transform="translate(34 {size.height - 34})">
      {#each axes as [dx, dy], axis (axis)}
        <line x2={22 * dx} y2={-22 * dy} />
        <text x={30 * dx} y={-30 * dy + 4}>{'xyz'[axis]}</text>
      {/each}
    </g>
    {#if bar}
      <g class="scale" transform="translate({size.width - bar.px - 14} {size.height - 14})">
        {#each [0, 1, 2, 3] as block (block)}
          <rect x={(block * bar.px) / 4} y="-5" width={bar.px / 4} height="5" class:filled={block % 2 === 0} />
        {/each}
        <text x={bar.px / 2} y="-9">{bar.text}</text>
      </g>
    {/if}
    {#if tape.length > 0}
      <polyline points={tape.map(([x, y]) => `${x * size.width},${y * size.height}`).join(' ')} />
      {#each tape as [x, y], i (i)}<circle cx={x * size.width} cy={y * size.height} r="3.5" />{/each}
    {/if}
  </svg>
  {#if trouble}<p class="trouble">✕ {trouble}</p>{/if}
  <p class="words" data-testid="scene-words">
    {lengths || cursor?.text || ''}
  </p>
  {#if lost.length > 0}
    <p class="lost" data-testid="lost-source">
      ! {lost.map((id) => thingTitle(scene.sources.find((source) => source.id === id) ?? { id })).join(', ')}: its light
      hits nothing. Turn it, or move its target into the beam.
    </p>
  {/if}
</div>

<style>
  .bar {
    display: flex;
    flex-wrap: wrap;
    gap: 3px 10px;
    align-items: center;
    color: var(--muted);
    font-size: var(--size-small);
  }

  .group {
    display: flex;
    gap: 3px;
    align-items: center;
  }

  .bar select {
    max-width: 112px;
    field-sizing: content;
    padding: 1px 4px;
    border: 1px solid var(--line);
    border-radius: var(--radius);
    background: none;
    color: inherit;
    font-size: inherit;
  }

  .bar select:hover {
    border-color: var(--accent);
    color: var(--ink);
  }

  .frame {
    position: relative;
    flex: 1 1 0;
    min-height: 120px;
    overflow: hidden;
    border: 1px solid var(--ink);
    background: var(--card);
    outline: 3px solid var(--card);
    outline-offset: 0;
    box-shadow: 0 0 0 4px var(--line);
    margin: 4px;
  }

  canvas.placing {
    cursor: crosshair;
  }

  canvas {
    position: absolute;
    inset: 0;
    width: 100%;
    height: 100%;
    touch-action: none;
  }

  .over {
    position: absolute;
    inset: 0;
    width: 100%;
    height: 100%;
    pointer-events: none;
  }

  line {
    stroke: var(--muted);
  }

  text {
    fill: var(--muted);
    font-size: 11px;
    text-anchor: middle;
  }

  .scale rect {
    fill: var(--card);
    stroke: var(--ink);
  }

  .scale rect.filled {
    fill: var(--ink);
  }

  polyline {
    fill: none;
    stroke: var(--accent);
    stroke-dasharray: 5 3;
  }

  circle {
    fill: var(--card);
    stroke: var(--accent);
  }

  .words,
  .lost,
  .trouble {
    position: absolute;
    top: 5px;
    left: 8px;
    max-width: calc(100% - 16px);
    overflow: hidden;
    color: var(--muted);
    font-size: var(--size-small);
    text-overflow: ellipsis;
    white-space: nowrap;
    pointer-events: none;
  }

  .lost {
    top: 22px;
    color: var(--warn);
  }

  .trouble {
    top: 40%;
    color: var(--bad);
  }
</style>
