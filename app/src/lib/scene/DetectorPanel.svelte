<script lang="ts">
  import {
    setOf,
    thingTitle,
    type Detector,
    type DetectorPlace,
    type Scene,
    type SceneView,
  } from '@ulvex/core';
  import ParameterCell from '$lib/components/ParameterCell.svelte';
  import { useDesk } from '$lib/desk/context.ts';
  import NameAndPlace from './NameAndPlace.svelte';

  interface Props {
    scene: Scene;
    detector: Detector;
    view: SceneView | null;
  }
  let { scene, detector, view }: Props = $props();
  const desk = useDesk();
  const at = $derived(`scenes.${scene.id}.detectors.${detector.id}`);
  const title = $derived(thingTitle(detector));
  const word = $derived(
    detector.on.kind === 'face' ? `face:${detector.on.part}.${detector.on.face}` : detector.on.kind,
  );
  const faces = $derived([
    ...new Map((view?.faces ?? []).map((face) => [`${face.part}.${face.name}`, face])).values(),
  ]);

  function set(key: string, value: unknown, label: string) {
    desk.arrange(setOf(scene, 'detectors', detector.id, key, value, label));
  }

  function place(next: string) {
    const face = faces.find(({ part, name }) => `face:${part}.${name}` === next);
    const on: DetectorPlace = face
      ? { kind: 'face', part: face.part, face: face.name }
      : next === 'far'
        ? { kind: 'far', halfX: 30, halfY: 30 }
        : { kind: 'rectangle', width: 20, height: 20 };
    set('on', on, `Place of ${title}`);
  }
  const numbers = $derived(
    detector.on.kind === 'rectangle'
      ? (['width', 'height'] as const)
      : detector.on.kind === 'far'
        ? (['halfX', 'halfY'] as const)
        : [],
  );
  const WORDS = { width: 'width', height: 'height', halfX: '± azimuth', halfY: '± elevation' } as const;
</script>

<NameAndPlace {scene} kind="detectors" thing={detector} placed={detector.on.kind !== 'face'} />
<div class="row">
  <label
    >lies <select
      value={word}
      data-testid="detector-on"
      onchange={(event) => place(event.currentTarget.value)}
    >
      <option value="rectangle">free in space</option><option value="far">far away (by direction)</option>
      <optgroup label="On a face"
        >{#each faces as face (face.id)}<option value="face:{face.part}.{face.name}"
            >{face.part} {face.name}</option
          >{/each}</optgroup
      >
    </select></label
  >
  {#each numbers as key (key)}
    <label
      >{WORDS[key]}
      <span class="cell"
        ><ParameterCell
          address="{at}.on.{key}"
          label="{WORDS[key]} of {title}"
          testid="detector-{key}"
        /></span
      ></label
    >
  {/each}
</div>
<div class="row">
  <label
    >cells <span class="cell"
      ><ParameterCell address="{at}.columns" label="Columns of {title}" testid="detector-columns" /></span
    >
    ×
    <span class="cell"><ParameterCell address="{at}.rows" label="Rows of {title}" /></span></label
  >
  <label
    >counts <select
      value={detector.counts}
      onchange={(event) => set('counts', event.currentTarget.value, `What ${title} counts`)}
    >
      <option value="incident">incident</option><option value="absorbed">absorbed</option><option
        value="leaving">leaving</option
      >
    </select></label
  >
  <label
    >in <select
      value={detector.light}
      data-testid="detector-light"
      onchange={(event) => set('light', event.currentTarget.value, `Unit of ${title}`)}
    >
      <option value="radiometric">watts</option><option value="photometric">lumens</option>
    </select></label
  >
  <label
    >noise level <span class="cell"
      ><ParameterCell address="{at}.floor" label="Noise level of {title}" /></span
    ></label
  >
</div>

<style>
  .row {
    display: flex;
    flex-wrap: wrap;
    gap: 4px 8px;
    align-items: center;
    color: var(--muted);
    font-size: var(--size-small);
  }

  label {
    display: flex;
    gap: 4px;
    align-items: center;
  }

  .cell {
    width: 52px;
    border-bottom: 1px solid var(--line);
  }

  select {
    max-width: 170px;
    padding: 1px 6px;
    border: 1px solid var(--line);
    border-radius: var(--radius);
    background: none;
    color: inherit;
    font-size: inherit;
  }
</style>
