<script lang="ts">
  import {
    failure,
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

  interface Props {
    scene: Scene;
    kind: SceneKind;
    thing: Placed & { readonly id: string; readonly name?: string };
    /** What it is, in a few words. */
    about?: string;
  }
  let { scene, kind, thing, about = '' }: Props = $props();
  const desk = useDesk();
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
  <span class="about" title={about}>{about}</span>
  <Button
    small
    aria-pressed={thing.excluded ?? false}
    title="Exclude from every computation without deleting it (Space)"
    onclick={() => desk.arrange(setExcluded(scene, kind, thing.id, !thing.excluded))}>Exclude</Button
  >
  <Button small onclick={() => desk.arrange(removeThing(scene, kind, thing.id))} data-testid="thing-remove"
    >Delete</Button
  >
</div>

<style>
  .row {
    display: flex;
    gap: 8px;
    align-items: center;
    color: var(--muted);
    font-size: var(--size-small);
  }

  .name {
    flex: 0 1 150px;
    border-bottom: 1px solid var(--line);
    color: var(--ink);
    font-weight: 600;
  }

  .about {
    flex: 1;
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
</style>
