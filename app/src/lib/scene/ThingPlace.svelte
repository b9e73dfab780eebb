<script lang="ts">
  import { setOf, thingTitle, type Placed, type Scene, type SceneKind } from '@ulvex/core';
  import { useDesk } from '$lib/desk/context.ts';
  import ParameterCell from '$lib/components/ParameterCell.svelte';
  import Row from './Row.svelte';

  interface Props {
    scene: Scene;
    kind: SceneKind;
    thing: Placed & { readonly id: string; readonly name?: string };
  }
  let { scene, kind, thing }: Props = $props();
  const desk = useDesk();
  const GROUPS = [
    {
      title: 'x y z mm',
      word: 'Shift',
      unit: 'mm',
      ids: [
        ['dx', 'x'],
        ['dy', 'y'],
        ['dz', 'z'],
      ],
    },
    {
      title: 'Tilt x y z °',
      word: 'Tilt',
      unit: '°',
      ids: [
        ['tx', 'x'],
        ['ty', 'y'],
        ['tz', 'z'],
      ],
    },
  ] as const;
  const name = $derived(thingTitle(thing));
  const at = $derived(`scenes.${scene.id}.${kind}.${thing.id}.frame`);
  const hosts = $derived(scene.parts.filter(({ id }) => id !== thing.id));
</script>

{#each GROUPS as { title, word, unit, ids } (title)}
  <div class="triple">
    <span>{title}</span>
    {#each ids as [id, axis] (id)}
      <div>
        <ParameterCell
          address="{at}.{id}"
          label="{word} {axis} of {name} in {unit}"
          change="{word} {axis} of {name}"
          testid="place-{id}"
        />
      </div>
    {/each}
  </div>
{/each}
<Row>
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
</Row>

<style>
  .triple {
    display: grid;
    grid-template-columns: repeat(3, minmax(0, 1fr));
    gap: 0 6px;
  }

  .triple span {
    grid-column: 1 / 4;
    color: var(--muted);
    font-size: var(--size-small);
  }

  .triple > div {
    border-bottom: 1px solid var(--line);
  }
</style>
