<script lang="ts">
  import { addDetector, setFinish, type Finish, type Part, type Scene, type ViewFace } from '@ulvex/core';
  import Button from '$lib/components/Button.svelte';
  import { useDesk } from '$lib/desk/context.ts';
  import { significant } from '$lib/format.ts';
  import FinishChoice from '$lib/surface/FinishChoice.svelte';
  import Row from './Row.svelte';
  import { flatNormal } from '$lib/drawing/flat-faces.ts';
  import { finishSwatch } from '$lib/drawing/swatch.ts';

  interface Props {
    scene: Scene;
    part: Part;
    /** Its faces, each name once. */
    names: readonly ViewFace[];
  }
  let { scene, part, names }: Props = $props();
  const desk = useDesk();
  const chosen = $derived(desk.thing?.faces ?? []);

  function choose(name: string, add: boolean) {
    const next = add ? (chosen.includes(name) ? chosen.filter((one) => one !== name) : [...chosen, name]) : [name];
    desk.thing = { kind: 'parts', id: part.id, faces: next };
  }

  function give(finish: Finish | null) {
    desk.arrange(setFinish(desk.project, scene, [{ part: part.id, faces: chosen.length > 0 ? chosen : null }], finish));
  }

  /** Faces of a part by rule: those that look one way, or all flat ones. */
  function pick(rule: string) {
    const looking = (face: (typeof names)[number], axis: number, sign: number) => {
      const { normals } = face.triangles;
      let mean = 0;
      for (let i = axis; i < normals.length; i += 3) mean += normals[i];
      return (sign * mean * 3) / normals.length > 0.9;
    };
    const flat = (face: (typeof names)[number]) => flatNormal(face) !== null;
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
</script>

<Row>
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
      <option value="all">all</option><option value="flat">flat ones</option><option value="curved">curved ones</option>
      <option value="front">facing the light (−z)</option><option value="back">facing +z</option><option value="up"
        >facing up</option
      ><option value="down">facing down</option>
    </select></label
  >
  <label
    >finish of {chosen.length === 0 ? 'all' : chosen.length === 1 ? chosen[0] : `${chosen.length} faces`}
    <FinishChoice label="Finish of the chosen faces" testid="finish-choice" none="its own" onchoose={give} /></label
  >
  <a href="/shelf/finishes" title="Films, reflectances and scatter of finishes, on the shelf">edit…</a>
  {#if chosen.length === 1}
    <Button
      small
      onclick={() => desk.arrange(addDetector(scene, { part: part.id, face: chosen[0] }))}
      data-testid="face-detector">add a detector here</Button
    >
  {/if}
</Row>
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
        <i style:background={finishSwatch(face.finish)}></i><b title={face.name}>{face.name}</b><span
          title={face.finishName}>{face.finishName}</span
        ><span class="num">{significant(face.area, 4)} mm²</span>
      </button>
    </li>
  {/each}
</ul>

<style>
  ul {
    margin: 0;
    padding: 0;
    list-style: none;
  }

  .face {
    display: grid;
    grid-template-columns: 12px minmax(0, max-content) minmax(0, 1fr) max-content;
    gap: 5px;
    align-items: center;
    width: 100%;
    padding: 1px 2px;
    border: 0;
    border-bottom: 1px solid var(--line);
    white-space: nowrap;
    background: none;
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

  .face b,
  .face span {
    overflow: hidden;
    color: var(--muted);
    text-overflow: ellipsis;
  }

  .face b {
    color: var(--ink);
    font-weight: inherit;
  }
</style>
