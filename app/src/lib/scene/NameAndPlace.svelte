<script lang="ts">
  import {
    failure,
    FRAME_SPECS,
    removeThing,
    setExcluded,
    setOf,
    success,
    thingTitle,
    type Placed,
    type Scene,
    type SceneKind,
  } from '@ulvex/core';
  import Button from '$lib/components/Button.svelte';
  import Cell from '$lib/components/Cell.svelte';
  import { useDesk } from '$lib/desk/context.ts';
  import Numbers from '$lib/surface/Numbers.svelte';

  interface Props {
    scene: Scene;
    kind: SceneKind;
    thing: Placed & { readonly id: string; readonly name?: string };
    /** Whether it has a place of its own; what lies on a face has none. */
    placed?: boolean;
  }
  let { scene, kind, thing, placed = true }: Props = $props();
  const desk = useDesk();
  const hosts = $derived(scene.parts.filter(({ id }) => id !== thing.id));
</script>

<div class="row">
  <span class="name">
    <Cell
      label="Name"
      text={thingTitle(thing)}
      align="left"
      testid="thing-name"
      read={(text) => (text.length > 80 ? failure('At most 80 characters.') : success(text.trim()))}
      oncommit={(name) =>
        desk.arrange(setOf(scene, kind, thing.id, 'name', name || undefined, `Name ${name || thing.id}`))}
    />
  </span>
  <Button
    aria-pressed={thing.excluded ?? false}
    title="Exclude from every computation without deleting it (Space)"
    onclick={() => desk.arrange(setExcluded(scene, kind, thing.id, !thing.excluded))}>Exclude</Button
  >
  <Button onclick={() => desk.arrange(removeThing(scene, kind, thing.id))} data-testid="thing-remove">Delete</Button>
</div>
{#if placed}
  <div class="row">
    <label
      >Placed in <select
        value={thing.within ?? ''}
        data-testid="thing-within"
        onchange={(event) =>
          desk.arrange(
            setOf(
              scene,
              kind,
              thing.id,
              'within',
              event.currentTarget.value || undefined,
              `Frame of ${thingTitle(thing)}`,
            ),
          )}
      >
        <option value="">the scene</option>
        {#each hosts as host (host.id)}<option value={host.id}>{thingTitle(host)}</option>{/each}
      </select></label
    >
  </div>
  <Numbers
    specs={FRAME_SPECS}
    address={(id) => `scenes.${scene.id}.${kind}.${thing.id}.frame.${id}`}
    of={thingTitle(thing)}
    testid="place"
  />
{/if}

<style>
  .row {
    display: flex;
    gap: 8px;
    align-items: center;
    color: var(--muted);
    font-size: var(--size-small);
  }

  .name {
    flex: 1;
    border-bottom: 1px solid var(--line);
  }
</style>
