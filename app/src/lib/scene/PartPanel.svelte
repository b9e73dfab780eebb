<script lang="ts">
  import { bodyDefinition, setOf, thingTitle, VOLUME_SPECS, type Part, type Scene, type SceneView } from '@ulvex/core';
  import { useDesk } from '$lib/desk/context.ts';
  import Numbers from '$lib/surface/Numbers.svelte';
  import MaterialChoice from './MaterialChoice.svelte';
  import PartFaces from './PartFaces.svelte';
  import PartShape from './PartShape.svelte';
  import Sections from './Sections.svelte';
  import ThingHead from './ThingHead.svelte';
  import ThingPlace from './ThingPlace.svelte';

  interface Props {
    scene: Scene;
    part: Part;
    view: SceneView | null;
  }
  let { scene, part, view }: Props = $props();
  const desk = useDesk();
  const at = $derived(`scenes.${scene.id}.parts.${part.id}`);
  const definition = $derived(bodyDefinition(part.body.kind));
  const title = $derived(thingTitle(part));
  const names = $derived([
    ...new Map((view?.faces ?? []).filter((face) => face.part === part.id).map((face) => [face.name, face])).values(),
  ]);
  const solid = $derived(definition ? definition.solid : part.body.kind !== 'group');
  const KINDS: Readonly<Record<string, string>> = {
    lens: 'lens of the prescription',
    mesh: 'mesh',
    copy: 'copy',
    combined: 'combination',
    group: 'group',
  };
</script>

{#snippet place()}<ThingPlace {scene} {view} kind="parts" thing={part} />{/snippet}
{#snippet shape()}<PartShape {scene} {part} />{/snippet}
{#snippet inside()}
  {#if solid}
    <div class="line">
      <span>Inside</span>
      <MaterialChoice
        value={part.material}
        label="Material of {title}"
        testid="part-material"
        none={part.body.kind === 'lens' ? 'as the prescription says' : 'none (opaque)'}
        disabled={part.body.kind === 'lens'}
        onchoose={(material, edits) => {
          const gesture = setOf(scene, 'parts', part.id, 'material', material, `Material of ${title}`);
          desk.arrange({ ...gesture, edits: [...edits, ...gesture.edits] });
        }}
      />
    </div>
    {#if part.material !== undefined}
      <details>
        <summary>Scattering and absorption inside</summary>
        <Numbers specs={VOLUME_SPECS} address={(id) => `${at}.volume.${id}`} of="the inside of {title}" across={1} />
      </details>
    {/if}
  {/if}
  {#if part.body.kind !== 'group'}<PartFaces {scene} {part} {names} />{/if}
{/snippet}

<ThingHead
  {scene}
  kind="parts"
  thing={part}
  about={definition ? `${definition.title.toLowerCase()}. ${definition.meaning}` : (KINDS[part.body.kind] ?? '')}
/>
<Sections
  sections={[
    { title: `Place, in ${part.within ?? 'the scene'}`, body: place },
    { title: 'Shape', body: shape },
    { title: solid ? `Material and faces (${names.length})` : `Faces (${names.length})`, body: inside },
  ]}
/>

<style>
  .line {
    display: flex;
    gap: 6px;
    align-items: center;
  }

  .line span,
  summary {
    color: var(--muted);
    font-size: var(--size-small);
  }
</style>
