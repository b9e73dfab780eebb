<script lang="ts">
  import {
    addBody,
    addDetector,
    addGroup,
    addLens,
    addMesh,
    addSource,
    bodyDefinition,
    MAX_MESH_BYTES,
    removeParts,
    removeThing,
    setExcluded,
    setParts,
    thingTitle,
    type OwnBody,
    type Scene,
    type SceneKind,
    type SceneView,
  } from '@ulvex/core';
  import Eye from '@lucide/svelte/icons/eye';
  import EyeOff from '@lucide/svelte/icons/eye-off';
  import { SvelteSet } from 'svelte/reactivity';
  import { useDesk } from '$lib/desk/context.ts';
  import FilePicker from '$lib/components/FilePicker.svelte';
  import { takeFile } from '$lib/files/take-file.ts';
  import { fieldColours } from '$lib/colours.ts';
  import Silhouette from './Silhouette.svelte';
  import { finishSwatch } from '$lib/drawing/swatch.ts';

  interface Props {
    scene: Scene;
    view: SceneView | null;
    /** Ids of parts that are not drawn. */
    hidden: ReadonlySet<string>;
    onhide: (part: string) => void;
  }
  let { scene, view, hidden, onhide }: Props = $props();
  const desk = useDesk();

  interface Line {
    readonly kind: SceneKind;
    readonly id: string;
    readonly title: string;
    readonly about: string;
    readonly excluded: boolean;
    readonly body: string;
    readonly finishes: readonly string[];
    readonly wrong: boolean;
    /** Ids of the parts that it stands in, the nearest first. */
    readonly inside: readonly string[];
    /** Whether other parts stand in it. */
    readonly holds: boolean;
  }

  /** The parts that a part stands in, the nearest first. */
  function around(id: string): readonly string[] {
    const found: string[] = [];
    for (let at: string | undefined = id; at !== undefined && found.length < 20;) {
      at = scene.parts.find((part) => part.id === at)?.within;
      if (at !== undefined) found.push(at);
    }
    return found;
  }

  /** Parts whose inside is not listed. */
  const folded = new SvelteSet<string>();

  function fold(id: string, on: boolean) {
    if (on) folded.add(id);
    else folded.delete(id);
  }

  const troubled = $derived(
    new Set((view?.findings ?? []).filter(({ severity }) => severity === 'error').map(({ where }) => where)),
  );
  const ramp = $derived(fieldColours(scene.sources.length));
  const lines = $derived<readonly Line[]>([
    ...ordered(scene).map((part): Line => {
      const of = part.body.kind;
      const material = desk.shown.materials.find(({ id }) => id === part.material)?.label;
      const kind = bodyDefinition(of)?.title.toLowerCase() ?? of;
      return {
        kind: 'parts',
        id: part.id,
        title: thingTitle(part),
        about: [kind, material].filter(Boolean).join(', '),
        inside: around(part.id),
        holds: scene.parts.some(({ within }) => within === part.id),
        excluded: part.excluded ?? false,
        body:
          of === 'copy'
            ? (scene.parts.find(({ id }) => part.body.kind === 'copy' && id === part.body.of)?.body.kind ?? of)
            : of,
        finishes: [...new Set((view?.faces ?? []).filter((face) => face.part === part.id).map(({ finish }) => finish))],
        wrong: troubled.has(part.id),
      };
    }),
    ...scene.sources.map((source): Line => ({
      kind: 'sources',
      id: source.id,
      title: thingTitle(source),
      about: `${source.flux} ${source.unit}`,
      inside: [],
      holds: false,
      excluded: source.excluded ?? false,
      body: 'source',
      finishes: [],
      wrong: troubled.has(source.id),
    })),
    ...scene.detectors.map((detector): Line => ({
      kind: 'detectors',
      id: detector.id,
      title: thingTitle(detector),
      about: detector.on.kind === 'far' ? 'far field' : detector.on.kind === 'face' ? `on ${detector.on.part}` : 'free',
      inside: [],
      holds: false,
      excluded: detector.excluded ?? false,
      body: 'detector',
      finishes: [],
      wrong: troubled.has(detector.id),
    })),
  ]);

  /** Parts with those that stand in them behind them. */
  function ordered({ parts }: Scene): Scene['parts'] {
    const under = (within: string | undefined): Scene['parts'][number][] =>
      parts
        .filter((part) => (parts.some(({ id }) => id === part.within) ? part.within : undefined) === within)
        .flatMap((part) => [part, ...under(part.id)]);
    const found = under(undefined);
    return found.length === parts.length ? found : parts; // frames in a circle: as they come
  }

  let wanted = $state('');
  const found = $derived.by(() => {
    const words = wanted.trim().toLowerCase();
    const named = (finish: string) => view?.faces.find((face) => face.finish === finish)?.finishName ?? finish;
    if (words === '') return lines.filter(({ inside }) => !inside.some((part) => folded.has(part)));
    return lines.filter(({ title, about, finishes }) =>
      [title, about, ...finishes.map(named)].join(' ').toLowerCase().includes(words),
    );
  });
  let picker = $state<FilePicker>(null!);

  /** Reads a mesh in a worker and puts it in the scene. */
  const takeMesh = (file: File) =>
    takeFile(desk, file, {
      most: MAX_MESH_BYTES,
      what: `a mesh, with more than ${MAX_MESH_BYTES / 1e6} MB`,
      read: async () => {
        const bytes = new Uint8Array(await file.arrayBuffer());
        return desk.pool.run('mesh', { name: file.name, bytes }).result;
      },
      use(mesh) {
        const after = desk.thing?.kind === 'parts' ? desk.thing.id : null;
        desk.arrange(addMesh(desk.project, scene, mesh, after));
      },
    });

  /** Adds what a word of the palette says, such as `body:box`. */
  export function add(word: string): void {
    wanted = ''; // what is added is to be seen
    const after = desk.thing?.kind === 'parts' ? desk.thing.id : null;
    const [kind, id = ''] = word.split(':');
    if (kind === 'body') desk.arrange(addBody(desk.project, scene, id as OwnBody['kind'], after));
    else if (kind === 'lens') {
      const lens = desk.project.lenses.find((one) => one.id === id);
      if (lens) desk.arrange(addLens(scene, lens, after));
    } else if (kind === 'group') desk.arrange(addGroup(scene, after));
    else if (kind === 'mesh') picker.open();
    else if (kind === 'source') desk.arrange(addSource(scene, desk.lens?.wavelengths[0]?.nm ?? 555));
    else {
      const chosen = desk.thing?.kind === 'parts' ? desk.thing : null;
      const face = view?.faces.find(({ part, name }) => part === chosen?.id && (chosen.faces?.includes(name) ?? false));
      desk.arrange(addDetector(scene, face ? { part: face.part, face: face.name } : null));
    }
  }

  /** Ids of the parts that are chosen, the one that is looked at first. */
  const chosenParts = $derived(desk.thing?.kind === 'parts' ? [desk.thing.id, ...(desk.thing.also ?? [])] : []);
  const isChosen = ({ kind, id }: Line) =>
    kind === 'parts' ? chosenParts.includes(id) : desk.thing?.kind === kind && desk.thing.id === id;

  /** Chooses a line; with Ctrl one part more or less, with Shift all parts up to it. */
  function choose({ kind, id }: Line, event: MouseEvent | KeyboardEvent) {
    const shown = found.filter((line) => line.kind === 'parts').map((line) => line.id);
    const from = shown.indexOf(chosenParts[0] ?? '');
    const to = shown.indexOf(id);
    if (kind === 'parts' && event.shiftKey && from >= 0) {
      const span = shown.slice(Math.min(from, to), Math.max(from, to) + 1);
      desk.thing = { kind, id: shown[from], also: span.filter((one) => one !== shown[from]) };
    } else if (kind === 'parts' && (event.ctrlKey || event.metaKey) && chosenParts.length > 0) {
      const next = chosenParts.includes(id) ? chosenParts.filter((one) => one !== id) : [...chosenParts, id];
      desk.thing = next.length > 0 ? { kind, id: next[0], also: next.slice(1) } : null;
    } else desk.thing = { kind, id };
  }

  const several = (line: Line) => chosenParts.length > 1 && isChosen(line);

  function onkeydown(event: KeyboardEvent, line: Line, index: number) {
    const step = event.key === 'ArrowDown' ? 1 : event.key === 'ArrowUp' ? -1 : 0;
    if (step) {
      const next = found[index + step];
      if (!next) return;
      event.preventDefault();
      if (event.shiftKey && next.kind === 'parts') choose(next, event);
      else desk.thing = { kind: next.kind, id: next.id };
      document.querySelector<HTMLElement>(`[data-thing="${next.kind}-${next.id}"]`)?.focus();
    } else if (line.holds && (event.key === 'ArrowLeft' || event.key === 'ArrowRight')) {
      event.preventDefault();
      fold(line.id, event.key === 'ArrowLeft');
    } else if (event.key === 'Delete') {
      event.preventDefault();
      if (several(line)) desk.arrange(removeParts(desk.project, scene, chosenParts));
      else desk.arrange(removeThing(scene, line.kind, line.id));
    } else if (event.key === ' ') {
      event.preventDefault();
      if (several(line)) desk.arrange(setParts(scene, chosenParts, 'excluded', line.excluded ? undefined : true));
      else desk.arrange(setExcluded(scene, line.kind, line.id, !line.excluded));
    }
  }
</script>

<FilePicker
  bind:this={picker}
  label="Mesh of a body: STL in mm, or glTF"
  accept=".stl,.glb,.gltf"
  testid="mesh-file"
  onfile={(file) => void takeMesh(file)}
/>
<input
  type="search"
  bind:value={wanted}
  placeholder="find: name, material, finish"
  aria-label="Find a thing of the scene"
  data-testid="find-thing"
/>
<ul role="listbox" aria-multiselectable="true" aria-label="Things of the scene" data-testid="parts-list">
  {#each found as line, i (`${line.kind}-${line.id}`)}
    {#if i === 0 || found[i - 1].kind !== line.kind}
      <li class="kind" role="presentation">
        {line.kind}<span>{found.filter(({ kind }) => kind === line.kind).length}</span>
      </li>
    {/if}
    {@const chosen = isChosen(line)}
    <li role="presentation" class:chosen class:out={line.excluded} style:--depth={line.inside.length}>
      <button
        role="option"
        aria-selected={chosen}
        class="line"
        tabindex={(desk.thing?.kind === line.kind && desk.thing.id === line.id) || (!desk.thing && i === 0) ? 0 : -1}
        data-thing="{line.kind}-{line.id}"
        data-testid="thing-{line.id}"
        title="{line.title}: {line.about}. Space: exclude · Del: delete · Ctrl or Shift: several parts"
        onclick={(event) => choose(line, event)}
        onkeydown={(event) => onkeydown(event, line, i)}
      >
        <Silhouette
          kind={line.body}
          colour={line.kind === 'sources' ? ramp[scene.sources.findIndex(({ id }) => id === line.id)] : null}
        />
        <span class="title">{line.wrong ? '✕ ' : ''}{line.title}</span>
        <span class="about">{line.excluded ? 'excluded' : line.about}</span>
        <span class="swatches">
          {#each line.finishes as finish (finish)}<i style:background={finishSwatch(finish)} title={finish}></i>{/each}
        </span>
      </button>
      {#if line.holds}
        <button
          class="eye"
          tabindex="-1"
          aria-expanded={!folded.has(line.id)}
          aria-label="What stands in {line.title}"
          title="Show or hide what stands in it (← →)"
          data-testid="fold-{line.id}"
          onclick={() => fold(line.id, !folded.has(line.id))}>{folded.has(line.id) ? '▸' : '▾'}</button
        >
      {/if}
      {#if line.kind === 'parts'}
        <button
          class="eye"
          tabindex="-1"
          aria-label={hidden.has(line.id) ? `Draw ${line.title}` : `Do not draw ${line.title}`}
          title={hidden.has(line.id) ? 'Draw it' : 'Do not draw it; light meets it all the same'}
          onclick={() => onhide(line.id)}
        >
          {#if hidden.has(line.id)}<EyeOff size={13} />{:else}<Eye size={13} />{/if}
        </button>
      {/if}
    </li>
  {:else}
    <li class="kind" role="presentation">
      {lines.length === 0 ? 'Nothing yet: add a source, a body and a detector.' : 'Nothing of that name.'}
    </li>
  {/each}
</ul>

<style>
  input {
    flex-shrink: 0;
    width: 100%;
    padding: 2px 6px;
    border: 1px solid var(--line);
    border-radius: var(--radius);
    background: var(--card);
    color: var(--ink);
    font-size: var(--size-small);
  }

  ul {
    margin: 0;
    padding: 0;
    overflow: auto;
    list-style: none;
  }

  li {
    display: flex;
    align-items: center;
    border-bottom: 1px solid var(--line);
  }

  .kind {
    justify-content: space-between;
    padding: 6px 0 2px;
    color: var(--muted);
    font-size: var(--size-small);
  }

  .chosen {
    background: var(--accent-ground);
  }

  .out {
    opacity: 0.6;
  }

  .line {
    display: grid;
    flex: 1;
    grid-template-columns: 22px minmax(50px, auto) minmax(0, 1fr) auto;
    gap: 8px;
    align-items: center;
    min-width: 0;
    padding: 3px 4px 3px calc(2px + 14px * var(--depth));
    border: 0;
    background: none;
    text-align: left;
  }

  .title,
  .about {
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }

  .about {
    color: var(--muted);
    font-size: var(--size-small);
    text-align: right;
  }

  .swatches {
    display: flex;
    gap: 2px;
  }

  .swatches i {
    width: 9px;
    height: 9px;
    border: 1px solid var(--line);
    border-radius: 2px;
  }

  .eye {
    display: grid;
    place-items: center;
    padding: 2px 4px;
    border: 0;
    background: none;
    color: var(--muted);
  }

  .eye:hover {
    color: var(--accent);
  }
</style>
