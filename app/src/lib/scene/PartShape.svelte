<script lang="ts">
  import {
    addCopy,
    bodyDefinition,
    combine,
    MESH_SPECS,
    PATTERN_SPECS,
    setOf,
    thingTitle,
    type Combination,
    type Part,
    type Pattern,
    type Scene,
  } from '@ulvex/core';
  import Button from '$lib/components/Button.svelte';
  import { useDesk } from '$lib/desk/context.ts';
  import Numbers from '$lib/surface/Numbers.svelte';
  import Points from './Points.svelte';
  import Row from './Row.svelte';

  interface Props {
    scene: Scene;
    part: Part;
  }
  let { scene, part }: Props = $props();
  const desk = useDesk();
  const at = $derived(`scenes.${scene.id}.parts.${part.id}`);
  const definition = $derived(bodyDefinition(part.body.kind));
  const title = $derived(thingTitle(part));

  const PATTERNS: readonly Pattern[] = [
    { kind: 'ring', count: 6, radius: 20 },
    { kind: 'grid', columns: 3, rows: 3, dx: 10, dy: 10 },
    { kind: 'facets', columns: 7, rows: 7, dx: 5, dy: 5, radius: -100 },
  ];
  const OPERATIONS: readonly (readonly [Combination, string])[] = [
    ['difference', 'cut out'],
    ['union', 'join'],
    ['intersection', 'keep what is common'],
  ];
  let operation = $state<Combination>('difference');
  /** Solids whose faces are exact: what can be combined. */
  const exact = ({ body }: Part) => body.kind === 'combined' || (bodyDefinition(body.kind)?.solid ?? false);
  const solid = $derived(exact(part));
  const others = $derived(scene.parts.filter((one) => one.id !== part.id && exact(one)));

  function setBody(field: string, value: string) {
    desk.arrange(setOf(scene, 'parts', part.id, `body.${field}`, value, `Combination ${title}`));
  }

  /** What a mesh is; twelve bytes a triangle are sixteen letters. */
  function meshMeaning(id: string): string {
    const mesh = desk.shown.meshes?.find((one) => one.id === id);
    if (!mesh) return 'The project does not contain this mesh.';
    return `A mesh of ${Math.floor(mesh.triangles.length / 16)} triangles from “${mesh.name}”, flat between its corners. Face: skin.`;
  }
</script>

{#if !definition}
  <p>
    {part.body.kind === 'lens'
      ? 'A lens of the prescription: it follows every change there.'
      : part.body.kind === 'copy'
        ? `The same as ${part.body.of}; what is changed there changes here.`
        : part.body.kind === 'mesh'
          ? meshMeaning(part.body.mesh)
          : part.body.kind === 'combined'
            ? 'One body made of two others, in their places. Faces: of the first and of the second, each with the name of its part.'
            : 'A coordinate system for other parts.'}
  </p>
{/if}
{#if definition && definition.parameters.length > 0}
  <Numbers specs={definition.parameters} address={(id) => `${at}.body.${id}`} of={title} across={1} testid="body" />
{/if}
{#if part.body.kind === 'mesh'}
  <Numbers specs={MESH_SPECS} address={(id) => `${at}.body.${id}`} of={title} across={1} testid="body" />
{/if}
{#each Object.entries(definition?.points ?? {}) as [field, axes] (field)}
  <Points {scene} {part} {field} {axes} />
{/each}
{#if part.body.kind === 'combined'}
  {@const { operation, first, second } = part.body}
  <Row>
    <label
      ><select
        aria-label="How the two are combined"
        value={operation}
        data-testid="combined-operation"
        onchange={(event) => setBody('operation', event.currentTarget.value)}
      >
        {#each OPERATIONS as [id, text] (id)}<option value={id}>{text}</option>{/each}
      </select></label
    >
    {#each [['first', first], ['second', second]] as const as [side, id] (side)}
      <label
        >{side}
        <select value={id} onchange={(event) => setBody(side, event.currentTarget.value)}>
          {#each scene.parts.filter(({ id: one }) => one !== part.id) as one (one.id)}<option value={one.id}
              >{thingTitle(one)}</option
            >{/each}
        </select></label
      >
    {/each}
  </Row>
{/if}
<Row>
  <label
    >many <select
      value={part.pattern?.kind ?? ''}
      data-testid="part-pattern"
      onchange={(event) => {
        const kind = event.currentTarget.value;
        const pattern = PATTERNS.find((one) => one.kind === kind);
        desk.arrange(setOf(scene, 'parts', part.id, 'pattern', pattern, `Pattern of ${title}`));
      }}
    >
      <option value="">one</option><option value="ring">in a ring</option><option value="grid">in a grid</option><option
        value="facets">facets on a surface</option
      >
    </select></label
  >
  {#if part.body.kind !== 'group'}
    <Button
      small
      onclick={() => desk.arrange(addCopy(scene, part))}
      title="A copy that stays the same as this part"
      data-testid="part-copy">copy</Button
    >
    {#each ['x', 'y', 'z'] as const as axis (axis)}
      <Button small onclick={() => desk.arrange(addCopy(scene, part, axis))} title="A linked copy, mirrored in {axis}"
        >mirrored {axis}</Button
      >
    {/each}
  {/if}
</Row>
{#if solid && others.length > 0}
  <Row>
    <label
      >combine <select
        aria-label="How to combine it with another part"
        data-testid="combine-operation"
        bind:value={operation}
      >
        {#each OPERATIONS as [id, text] (id)}<option value={id}>{text}</option>{/each}
      </select></label
    >
    <label
      ><select
        aria-label="The part to combine it with"
        data-testid="combine-with"
        value=""
        onchange={(event) => {
          const other = others.find(({ id }) => id === event.currentTarget.value);
          event.currentTarget.value = '';
          if (other) desk.arrange(combine(scene, operation, part, other));
        }}
      >
        <option value="" hidden>with …</option>
        {#each others as other (other.id)}<option value={other.id}>{thingTitle(other)}</option>{/each}
      </select></label
    >
  </Row>
{/if}
{#if part.pattern}
  <Numbers specs={PATTERN_SPECS[part.pattern.kind]} address={(id) => `${at}.pattern.${id}`} of={title} across={1} />
{/if}

<style>
  p {
    color: var(--muted);
    font-size: var(--size-small);
  }
</style>
