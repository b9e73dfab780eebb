<script lang="ts">
  import {
    groupParts,
    removeParts,
    setParts,
    setPartsFinish,
    takesMaterial,
    thingTitle,
    type Part,
    type Scene,
  } from '@ulvex/core';
  import Button from '$lib/components/Button.svelte';
  import { useDesk } from '$lib/desk/context.ts';
  import FinishChoice from '$lib/surface/FinishChoice.svelte';
  import MaterialChoice from './MaterialChoice.svelte';
  import Row from './Row.svelte';

  interface Props {
    scene: Scene;
    /** At least two. */
    parts: readonly Part[];
  }
  let { scene, parts }: Props = $props();
  const desk = useDesk();
  const ids = $derived(parts.map(({ id }) => id));
  const solid = $derived(parts.filter(takesMaterial));
  const out = $derived(parts.every(({ excluded }) => excluded));
  /** What all have, or undefined where they differ. */
  const material = $derived(
    solid.every((part) => part.material === solid[0]?.material) ? solid[0]?.material : undefined,
  );
  const finish = $derived(
    parts.every((part) => part.finish === parts[0].finish && !part.faces) ? (parts[0].finish ?? '') : undefined,
  );

  function group() {
    const gesture = groupParts(scene, ids);
    if (gesture) desk.arrange(gesture);
    else
      desk.notice = {
        tone: 'refused',
        title: 'These parts stand in different frames. Choose parts of one frame to group them.',
      };
  }
</script>

<div class="head">
  <strong>{parts.length} parts</strong>
  <span title={parts.map(thingTitle).join(', ')}>{parts.map(thingTitle).join(', ')}</span>
  <Button small data-testid="many-group" title="A frame that all of them stand in" onclick={group}>Group</Button>
  <Button
    small
    aria-pressed={out}
    data-testid="many-exclude"
    title="Exclude from every computation without deleting them (Space)"
    onclick={() => desk.arrange(setParts(scene, ids, 'excluded', out ? undefined : true))}>Exclude</Button
  >
  <Button small data-testid="many-remove" onclick={() => desk.arrange(removeParts(desk.project, scene, ids))}
    >Delete</Button
  >
</div>
{#if solid.length > 0}
  <Row>
    <span>Material inside</span>
    <MaterialChoice
      value={material}
      label="Material of {solid.length} parts"
      testid="many-material"
      none={solid.every((part) => part.material === undefined) ? 'none (opaque)' : 'different ones'}
      onchoose={(chosen, edits) => {
        const gesture = setParts(scene, ids, 'material', chosen);
        desk.arrange({ ...gesture, edits: [...edits, ...gesture.edits] });
      }}
    />
  </Row>
{/if}
<Row>
  <label
    >Finish of all faces
    <FinishChoice
      label="Finish of {parts.length} parts"
      testid="many-finish"
      value={finish}
      none="their own"
      onchoose={(one) => desk.arrange(setPartsFinish(desk.project, scene, ids, one))}
    /></label
  >
</Row>

<style>
  .head {
    display: flex;
    gap: 8px;
    align-items: center;
  }

  .head span {
    flex: 1;
    overflow: hidden;
    color: var(--muted);
    font-size: var(--size-small);
    text-overflow: ellipsis;
    white-space: nowrap;
  }
</style>
