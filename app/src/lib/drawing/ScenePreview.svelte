<script lang="ts">
  import type { SceneRays, SceneView } from '@ulvex/core';
  import { onMount } from 'svelte';
  import { Color } from 'three';
  import { theme, token } from '$lib/theme.svelte.ts';
  import { FACE_LOOKS } from './face-looks.ts';
  import { View3D } from './view3d.ts';

  interface Props {
    view: SceneView;
    rays: SceneRays;
    label: string;
  }
  let { view, rays, label }: Props = $props();
  let frame: HTMLDivElement;
  let canvas: HTMLCanvasElement;
  let drawing = $state.raw<View3D | null>(null);
  let trouble = $state('');

  onMount(() => {
    try {
      drawing = new View3D(canvas, () => {});
    } catch (error) {
      trouble = `This browser cannot draw in 3D (WebGL): ${(error as Error).message}`;
      return;
    }
    const observer = new ResizeObserver(() => drawing?.resize(frame.clientWidth, frame.clientHeight));
    observer.observe(frame);
    return () => {
      observer.disconnect();
      drawing?.dispose();
    };
  });

  $effect(() => {
    void theme.current;
    if (!drawing) return;
    drawing.resize(frame.clientWidth, frame.clientHeight);
    drawing.setBodies(view, {
      edge: token('--glass-edge'),
      of: ({ look }) => ({ colour: token(FACE_LOOKS[look].colour), opacity: FACE_LOOKS[look].opacity }),
    });
    drawing.setMarks(view, () => token('--accent'), token('--accent'));
    const colour = new Color(token('--accent'));
    drawing.setRays(rays, (piece) => ({ colour, opacity: Math.max(0.06, 0.75 * Math.sqrt(rays.share[piece])) }));
    drawing.fit();
  });
</script>

<div bind:this={frame}>
  <canvas bind:this={canvas} aria-label={label}></canvas>
  {#if trouble}<p>✕ {trouble}</p>{/if}
</div>

<style>
  div {
    position: relative;
    height: 100%;
    overflow: hidden;
    border: 1px solid var(--ink);
    background: var(--card);
  }

  canvas {
    position: absolute;
    inset: 0;
    width: 100%;
    height: 100%;
  }

  p {
    margin: 8px;
    color: var(--bad);
  }
</style>
