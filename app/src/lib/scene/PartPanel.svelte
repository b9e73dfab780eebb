<script lang="ts">
  import {
    addCopy, addDetector, BASIC_FINISHES, bodyDefinition, MESH_SPECS, PATTERN_SPECS, setFinish, setOf, SHELF_FINISHES, thingTitle, VOLUME_SPECS,
    type Finish, type Part, type Scene, type SceneView,
  } from '@ulvex/core'; // prettier-ignore
  import { useDesk } from '$lib/desk/context.ts';
  import Numbers from '$lib/surface/Numbers.svelte';
  import { significant } from '$lib/format.ts';
  import Corners from './Corners.svelte';
  import NameAndPlace from './NameAndPlace.svelte';
  import { finishSwatch } from './swatch.ts';

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
    ...new Map(
      (view?.faces ?? []).filter((face) => face.part === part.id).map((face) => [face.name, face]),
    ).values(),
  ]);
  const chosen = $derived(desk.thing?.faces ?? []);
  const own = $derived(desk.shown.finishes ?? []);
  const shelf = $derived(SHELF_FINISHES.filter(({ id }) => !own.some((finish) => finish.id === id)));
  const solid = $derived(definition ? definition.solid : part.body.kind !== 'group');
  let tab = $state<'shape' | 'faces' | 'inside'>('shape');

  function choose(name: string, add: boolean) {
    const next = add
      ? chosen.includes(name)
        ? chosen.filter((one) => one !== name)
        : [...chosen, name]
      : [name];
    desk.thing = { kind: 'parts', id: part.id, faces: next };
  }

  function give(id: string) {
    const finish: Finish | null =
      id === ''
        ? null
        : ([...BASIC_FINISHES, ...own, ...SHELF_FINISHES].find((one) => one.id === id) ?? null);
    desk.arrange(
      setFinish(desk.project, scene, [{ part: part.id, faces: chosen.length > 0 ? chosen : null }], finish),
    );
  }

  /** Faces of a part by rule: those that look one way, or all flat ones. */
  function pick(rule: string) {
    const looking = (face: (typeof names)[number], axis: number, sign: number) => {
      const { normals } = face.triangles;
      let mean = 0;
      for (let i = axis; i < normals.length; i += 3) mean += normals[i];
      return (sign * mean * 3) / normals.length > 0.9;
    };
    const flat = (face: (typeof names)[number]) => {
      const { normals } = face.triangles;
      for (let i = 3; i < normals.length; i++) if (Math.abs(normals[i] - normals[i % 3]) > 1e-5) return false;
      return true;
    };
    const rules: Readonly<Record<string, (face: (typeof names)[number]) => boolean>> = {
      all: () => true,
      flat,
      curved: (face) => !flat(face),
      front: (face) => looking(face, 2, -1),
      back: (face) => looking(face, 2, 1),
      up: (face) => looking(face, 1, 1),
      down: (face) => looking(face, 1, -1),
    };
    desk.thing = { kind: 'parts', id: part.id, faces: names.filter(rules[rule]).map(({ name }) => name) };
  }

  /** What a mesh is; twelve bytes a triangle are sixteen letters. */
  function meshMeaning(id: string): string {
    const mesh = desk.shown.meshes?.find((one) => one.id === id);
    if (!mesh) return 'A mesh that the project does not have.';
    return `A mesh of ${Math.floor(mesh.triangles.length / 16)} triangles from “${mesh.name}”, flat between its corners. Face: skin.`;
  }
</script>

<NameAndPlace {scene} kind="parts" thing={part} />
<div class="tabs" role="tablist">
  {#each [['shape', 'shape'], ['faces', `faces (${names.length})`], ['inside', 'inside']] as const as [id, text] (id)}
    <button
      role="tab"
      aria-selected={tab === id}
      class:on={tab === id}
      data-testid="part-tab-{id}"
      onclick={() => (tab = id)}>{text}</button
    >
  {/each}
</div>
{#if tab === 'shape'}
  <p>
    {definition?.meaning ??
      (part.body.kind === 'lens'
        ? 'A lens of the prescription: it follows every change there.'
        : part.body.kind === 'copy'
          ? `The same as ${part.body.of}; what is changed there changes here.`
          : part.body.kind === 'mesh'
            ? meshMeaning(part.body.mesh)
            : 'A frame for other parts to stand in.')}
  </p>
  {#if definition && definition.parameters.length > 0}
    <Numbers
      specs={definition.parameters}
      address={(id) => `${at}.body.${id}`}
      of={title}
      across={2}
      testid="body"
    />
  {/if}
  {#if part.body.kind === 'mesh'}
    <Numbers specs={MESH_SPECS} address={(id) => `${at}.body.${id}`} of={title} across={2} testid="body" />
  {/if}
  {#if part.body.kind === 'revolved' || part.body.kind === 'extruded'}
    <Corners
      {scene}
      {part}
      points={part.body.points}
      axes={part.body.kind === 'revolved' ? ['r', 'z'] : ['x', 'y']}
    />
  {/if}
  <div class="row">
    <label
      >many <select
        value={part.pattern?.kind ?? ''}
        data-testid="part-pattern"
        onchange={(event) => {
          const kind = event.currentTarget.value;
          const pattern =
            kind === 'ring'
              ? { kind, count: 6, radius: 20 }
              : kind === 'grid'
                ? { kind, columns: 3, rows: 3, dx: 10, dy: 10 }
                : undefined;
          desk.arrange(setOf(scene, 'parts', part.id, 'pattern', pattern, `Pattern of ${title}`));
        }}
      >
        <option value="">one</option><option value="ring">in a ring</option><option value="grid"
          >in a grid</option
        >
      </select></label
    >
    {#if part.body.kind !== 'group'}
      <button
        onclick={() => desk.arrange(addCopy(scene, part))}
        title="A copy that stays the same as this part"
        data-testid="part-copy">copy</button
      >
      {#each ['x', 'y', 'z'] as const as axis (axis)}
        <button
          onclick={() => desk.arrange(addCopy(scene, part, axis))}
          title="A linked copy, mirrored in {axis}">mirrored {axis}</button
        >
      {/each}
    {/if}
  </div>
  {#if part.pattern}
    <Numbers
      specs={PATTERN_SPECS[part.pattern.kind]}
      address={(id) => `${at}.pattern.${id}`}
      of={title}
      across={2}
    />
  {/if}
{:else if tab === 'faces'}
  <div class="row">
    <label
      >choose <select
        value=""
        aria-label="Choose faces by rule"
        data-testid="faces-rule"
        onchange={(event) => {
          pick(event.currentTarget.value);
          event.currentTarget.value = '';
        }}
      >
        <option value="" hidden>by rule …</option>
        <option value="all">all</option><option value="flat">flat ones</option><option value="curved"
          >curved ones</option
        >
        <option value="front">facing the light (−z)</option><option value="back">facing +z</option><option
          value="up">facing up</option
        ><option value="down">facing down</option>
      </select></label
    >
    <label
      >finish of {chosen.length === 0 ? 'all' : chosen.length === 1 ? chosen[0] : `${chosen.length} faces`}
      <select
        value="—"
        aria-label="Finish of the chosen faces"
        data-testid="finish-choice"
        onchange={(event) => {
          give(event.currentTarget.value);
          event.currentTarget.value = '—';
        }}
      >
        <option value="—" hidden>choose …</option>
        <option value="">its own</option>
        {#each BASIC_FINISHES as { id, name } (id)}<option value={id}>{name}</option>{/each}
        {#if own.length > 0}<optgroup label="Of the project"
            >{#each own as { id, name } (id)}<option value={id}>{name}</option>{/each}</optgroup
          >{/if}
        <optgroup label="Shelf"
          >{#each shelf as { id, name } (id)}<option value={id}>{name}</option>{/each}</optgroup
        >
      </select></label
    >
    {#if chosen.length === 1}
      <button
        onclick={() => desk.arrange(addDetector(scene, { part: part.id, face: chosen[0] }))}
        data-testid="face-detector">count light here</button
      >
    {/if}
  </div>
  <ul>
    {#each names as face (face.name)}
      <li>
        <button
          class="face"
          class:on={chosen.includes(face.name)}
          aria-pressed={chosen.includes(face.name)}
          data-testid="face-{face.name}"
          onclick={(event) => choose(face.name, event.shiftKey || event.ctrlKey)}
        >
          <i style:background={finishSwatch(face.finish)}></i>{face.name}<span>{face.finishName}</span><span
            class="num">{significant(face.area, 4)} mm²</span
          >
        </button>
      </li>
    {/each}
  </ul>
{:else if solid}
  <div class="row">
    <label
      >material <select
        value={part.material ?? ''}
        disabled={part.body.kind === 'lens'}
        data-testid="part-material"
        onchange={(event) =>
          desk.arrange(
            setOf(
              scene,
              'parts',
              part.id,
              'material',
              event.currentTarget.value || undefined,
              `Material of ${title}`,
            ),
          )}
      >
        <option value=""
          >{part.body.kind === 'lens' ? 'as the prescription says' : 'none: lets no light in'}</option
        >
        {#each desk.shown.materials as { id, label, family } (id)}<option value={id}>{label} {family}</option
          >{/each}
      </select></label
    >
    <a href="/shelf">Shelf</a>
  </div>
  {#if part.material !== undefined}
    <Numbers
      specs={VOLUME_SPECS}
      address={(id) => `${at}.volume.${id}`}
      of="the inside of {title}"
      across={2}
    />
  {/if}
{:else}
  <p>A sheet has no inside.</p>
{/if}

<style>
  .tabs,
  .row {
    display: flex;
    flex-wrap: wrap;
    gap: 4px 8px;
    align-items: center;
    color: var(--muted);
    font-size: var(--size-small);
  }

  p {
    color: var(--muted);
    font-size: var(--size-small);
  }

  button,
  select {
    max-width: 190px;
    padding: 1px 6px;
    border: 1px solid var(--line);
    border-radius: var(--radius);
    background: none;
    color: inherit;
    font-size: inherit;
  }

  button:hover {
    border-color: var(--accent);
  }

  .tabs button {
    border-color: transparent;
  }

  .tabs .on {
    border-bottom-color: var(--accent);
    border-radius: 0;
    color: var(--ink);
  }

  ul {
    margin: 0;
    padding: 0;
    list-style: none;
  }

  .face {
    display: grid;
    grid-template-columns: 12px minmax(70px, auto) 1fr auto;
    gap: 8px;
    align-items: center;
    width: 100%;
    max-width: none;
    border: 0;
    border-bottom: 1px solid var(--line);
    border-radius: 0;
    color: var(--ink);
    font-size: var(--size-small);
    text-align: left;
  }

  .face.on {
    background: var(--accent-ground);
  }

  .face i {
    width: 9px;
    height: 9px;
    border: 1px solid var(--line);
  }

  .face span {
    color: var(--muted);
  }

  a {
    color: var(--accent);
  }
</style>
