<script lang="ts">
  import { wavelengthHue, type SpotPicture } from '@ulvex/core';

  import { token } from '$lib/theme.svelte.ts';

  interface Props {
    spot: SpotPicture;
    /** The reference, drawn in grey underneath. */
    before?: SpotPicture | null;
    /** Half the side of the picture, µm or mrad. */
    half: number;
    unit: string;
  }
  let { spot, before = null, half, unit }: Props = $props();
  let width = $state(0);
  let height = $state(0);
  let canvas: HTMLCanvasElement | undefined = $state();
  const side = $derived(Math.max(0, Math.min(width, height) - 1));

  $effect(() => {
    const context = canvas?.getContext('2d');
    if (!canvas || !context || side === 0) return;
    const ratio = window.devicePixelRatio || 1;
    const pixels = Math.floor(side * ratio);
    // A new size empties the canvas and lays it out anew: only where it is one.
    if (canvas.width !== pixels || canvas.height !== pixels) canvas.width = canvas.height = pixels;
    context.setTransform(ratio, 0, 0, ratio, 0, 0);
    context.clearRect(0, 0, side, side);
    draw(context);
  });

  function draw(context: CanvasRenderingContext2D) {
    const scale = side / 2 / half;
    context.strokeStyle = token('--grid');
    context.beginPath();
    for (const at of [0.25, 0.5, 0.75]) {
      context.moveTo(side * at, 0);
      context.lineTo(side * at, side);
      context.moveTo(0, side * at);
      context.lineTo(side, side * at);
    }
    context.stroke();
    const dot = side > 150 ? 2 : 1.6;
    const dots = (x: Float32Array, y: Float32Array) => {
      for (let i = 0; i < x.length; i++)
        context.fillRect(side / 2 + x[i] * scale - dot / 2, side / 2 - y[i] * scale - dot / 2, dot, dot);
    };
    context.fillStyle = token('--line');
    for (const { x, y } of before?.colours ?? []) dots(x, y);
    const light = token('--wave-light');
    for (const { nm, x, y } of spot.colours) {
      context.fillStyle = `hsl(${wavelengthHue(nm)} 72% ${light})`;
      dots(x, y);
    }
    const { airy } = spot;
    if (airy) {
      context.strokeStyle = token('--ink');
      context.lineWidth = 1;
      context.beginPath();
      context.ellipse(side / 2, side / 2, airy[0] * scale, airy[1] * scale, 0, 0, 2 * Math.PI);
      context.stroke();
    }
  }
</script>

<div
  class="plot"
  role="img"
  aria-label="Spot diagram: RMS radius {spot.rms.toPrecision(3)} {unit} in a box of ±{half} {unit}"
  bind:clientWidth={width}
  bind:clientHeight={height}
>
  <canvas bind:this={canvas} style:width="{side}px" style:height="{side}px"></canvas>
</div>

<style>
  .plot {
    flex: 0 1 auto;
    aspect-ratio: 1;
    min-height: 0;
    overflow: hidden;
  }

  canvas {
    display: block;
    outline: 1px solid var(--line);
    outline-offset: -1px;
  }
</style>
