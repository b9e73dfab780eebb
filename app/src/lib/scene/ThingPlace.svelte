<script lang="ts">
  import {
    middleOf,
    setOf,
    standOnFace,
    thingTitle,
    type Placed,
    type Scene,
    type SceneKind,
    type SceneView,
  } from '@ulvex/core';
  import Button from '$lib/components/Button.svelte';
  import { ui } from '$lib/desk/ui.svelte.ts';
  import { flatNormal } from '$lib/drawing/flat-faces.ts';
  import { useDesk } from '$lib/desk/context.ts';
  import ParameterCell from '$lib/components/ParameterCell.svelte';
  import Row from './Row.svelte';

  interface Props {
    scene: Scene;
    kind: SceneKind;
    thing: Placed & { readonly id: string; readonly name?: string };
    view: SceneView | null;
  }
  let { scene, kind, thing, view }: Props = $props();
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
  const placing = $derived(ui.placing?.id === thing.id);
  /** Flat faces that it can stand on, with their middles and normals. */
  const flats = $derived.by(() =>
    (view?.faces ?? []).flatMap((face) => {
      const normal = face.part === thing.id ? null : flatNormal(face);
      const at = normal && middleOf([face.triangles.positions]);
      return at ? [{ id: face.id, title: `${face.part} ${face.name}`, at, normal }] : [];
    }),
  );

  function standOn(id: string) {
    const face = flats.find((one) => one.id === id);
    if (face) desk.arrange(standOnFace(scene, kind, thing, face.at, face.normal));
  }
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
<Row>
  <label
    >Stand on <select
      value=""
      data-testid="stand-on"
      title="Its origin in the middle of a flat face, its z axis along the normal"
      onchange={(event) => {
        standOn(event.currentTarget.value);
        event.currentTarget.value = '';
      }}
    >
      <option value="" hidden>a face …</option>
      {#each flats as { id, title } (id)}<option value={id}>{title}</option>{/each}
    </select></label
  >
  <Button
    small
    aria-pressed={placing}
    data-testid="place-by-click"
    title="Then click a face in the drawing: its origin goes there, its z axis along the normal"
    onclick={() => (ui.placing = placing ? null : { kind, id: thing.id })}>by click</Button
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
