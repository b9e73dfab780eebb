<script lang="ts">
  import {
    DETECTOR_PLACES,
    PLACE_KINDS,
    setOf,
    thingTitle,
    type Detector,
    type DetectorPlace,
    type Scene,
    type SceneView,
  } from '@ulvex/core';
  import ParameterCell from '$lib/components/ParameterCell.svelte';
  import { useDesk } from '$lib/desk/context.ts';
  import Numbers from '$lib/surface/Numbers.svelte';
  import Row from './Row.svelte';
  import Sections from './Sections.svelte';
  import ThingHead from './ThingHead.svelte';
  import ThingPlace from './ThingPlace.svelte';

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
  const faces = $derived([...new Map((view?.faces ?? []).map((face) => [`${face.part}.${face.name}`, face])).values()]);

  function set(key: string, value: unknown, label: string) {
    desk.arrange(setOf(scene, 'detectors', detector.id, key, value, label));
  }

  function choosePlace(next: string) {
    const face = faces.find(({ part, name }) => `face:${part}.${name}` === next);
    const on: DetectorPlace | undefined = face
      ? { kind: 'face', part: face.part, face: face.name }
      : PLACE_KINDS.find(next)?.first;
    if (on) set('on', on, `Place of ${title}`);
  }
</script>

{#snippet place()}
  {#if detector.on.kind === 'face'}<p>It lies on a face, and moves with it.</p>
  {:else}<ThingPlace {scene} {view} kind="detectors" thing={detector} />{/if}
{/snippet}
{#snippet shape()}
  <Row>
    <label
      >Placed on <select
        value={word}
        data-testid="detector-on"
        onchange={(event) => choosePlace(event.currentTarget.value)}
      >
        {#each DETECTOR_PLACES as { kind, title: text } (kind)}<option value={kind}>{text}</option>{/each}
        <optgroup label="On a face"
          >{#each faces as face (face.id)}<option value="face:{face.part}.{face.name}">{face.part} {face.name}</option
            >{/each}</optgroup
        >
      </select></label
    >
  </Row>
  <Numbers
    specs={PLACE_KINDS.find(detector.on.kind)?.parameters ?? []}
    address={(id) => `${at}.on.${id}`}
    of={title}
    across={1}
    testid="detector"
  />
{/snippet}
{#snippet counting()}
  <Row>
    <label
      >Cells <span class="cell"
        ><ParameterCell address="{at}.columns" label="Columns of {title}" testid="detector-columns" /></span
      >
      ×
      <span class="cell"><ParameterCell address="{at}.rows" label="Rows of {title}" /></span></label
    >
  </Row>
  <Row>
    {#if detector.on.kind === 'block'}
      <span>Counts what is absorbed</span>
    {:else}
      <label
        >Counts <select
          value={detector.counts}
          onchange={(event) => set('counts', event.currentTarget.value, `What ${title} counts`)}
        >
          <option value="incident">incident light</option><option value="absorbed">absorbed light</option><option
            value="leaving">leaving light</option
          >
        </select></label
      >
    {/if}
  </Row>
  <Row>
    <label
      >Shown in <select
        value={detector.light}
        data-testid="detector-light"
        onchange={(event) => set('light', event.currentTarget.value, `Unit of ${title}`)}
      >
        <option value="radiometric">watts</option><option value="photometric">lumens</option>
      </select></label
    >
  </Row>
  <Row>
    <label
      >Noise level <span class="cell"><ParameterCell address="{at}.floor" label="Noise level of {title}" /></span
      ></label
    >
  </Row>
{/snippet}

<ThingHead {scene} kind="detectors" thing={detector} about="detector" />
<Sections
  sections={[
    { title: 'Place', body: place },
    { title: 'Shape', body: shape },
    { title: 'Counting', body: counting },
  ]}
/>

<style>
  p {
    margin: 0;
    color: var(--muted);
    font-size: var(--size-small);
  }
</style>
