<script lang="ts">
  import { bodyDefinition, setOf, thingTitle, VOLUME_SPECS, type Part, type Scene, type SceneView } from '@ulvex/core';
  import Tabs from '$lib/components/Tabs.svelte';
  import { useDesk } from '$lib/desk/context.ts';
  import Numbers from '$lib/surface/Numbers.svelte';
  import NameAndPlace from './NameAndPlace.svelte';
  import PartFaces from './PartFaces.svelte';
  import PartShape from './PartShape.svelte';
  import Row from './Row.svelte';

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
  let tab = $state<'shape' | 'faces' | 'inside'>('shape');
</script>

<NameAndPlace {scene} kind="parts" thing={part} />
<Tabs
  label="Parts of {title}"
  tabs={[
    { id: 'shape', title: 'shape' },
    { id: 'faces', title: `faces (${names.length})` },
    { id: 'inside', title: 'inside' },
  ]}
  chosen={tab}
  testid="part-tab"
  onchoose={(id) => (tab = id)}
/>
{#if tab === 'shape'}
  <PartShape {scene} {part} />
{:else if tab === 'faces'}
  <PartFaces {scene} {part} {names} />
{:else if solid}
  <Row>
    <label
      >material <select
        value={part.material ?? ''}
        disabled={part.body.kind === 'lens'}
        data-testid="part-material"
        onchange={(event) =>
          desk.arrange(
            setOf(scene, 'parts', part.id, 'material', event.currentTarget.value || undefined, `Material of ${title}`),
          )}
      >
        <option value="">{part.body.kind === 'lens' ? 'as the prescription says' : 'none (opaque)'}</option>
        {#each desk.shown.materials as { id, label, family } (id)}<option value={id}>{label} {family}</option>{/each}
      </select></label
    >
    <a href="/shelf">Shelf</a>
  </Row>
  {#if part.material !== undefined}
    <Numbers specs={VOLUME_SPECS} address={(id) => `${at}.volume.${id}`} of="the inside of {title}" across={2} />
  {/if}
{:else}
  <p>A sheet has no inside.</p>
{/if}

<style>
  p {
    color: var(--muted);
    font-size: var(--size-small);
  }

  a {
    color: var(--accent);
  }
</style>
