<script lang="ts">
  import {
    aimTargets,
    compileRegion,
    LAW_KINDS,
    middleOf,
    sourceFromTo,
    type NamedPlace,
    LAWS,
    ORDER_SPECS,
    REGION_KINDS,
    REGIONS,
    setOf,
    thingTitle,
    type Region,
    type Scene,
    type SceneView,
    type Source,
    type StartOrder,
  } from '@ulvex/core';
  import Button from '$lib/components/Button.svelte';
  import ParameterCell from '$lib/components/ParameterCell.svelte';
  import { useDesk } from '$lib/desk/context.ts';
  import Numbers from '$lib/surface/Numbers.svelte';
  import TableCell from '$lib/surface/TableCell.svelte';
  import Row from './Row.svelte';
  import Sections from './Sections.svelte';
  import SpectrumLines from './SpectrumLines.svelte';
  import ThingHead from './ThingHead.svelte';
  import ThingPlace from './ThingPlace.svelte';

  interface Props {
    scene: Scene;
    source: Source;
    view: SceneView | null;
  }
  let { scene, source, view }: Props = $props();
  const desk = useDesk();
  const at = $derived(`scenes.${scene.id}.sources.${source.id}`);
  const title = $derived(thingTitle(source));

  const ORDERS: readonly StartOrder[] = [
    { kind: 'grid', columns: 11, rows: 11 },
    { kind: 'rings', rings: 6, arms: 12 },
  ];
  const targets = $derived(aimTargets(scene));

  function set(key: string, value: unknown, label: string) {
    desk.arrange(setOf(scene, 'sources', source.id, key, value, label));
  }

  const faces = $derived(view?.faces ?? []);

  /** Things that it can stand at or look at: the middles of parts, and detectors. */
  const places = $derived.by((): readonly NamedPlace[] => {
    const parts = scene.parts.flatMap((part) => {
      const at = middleOf(faces.filter((face) => face.part === part.id).map(({ triangles }) => triangles.positions));
      return at ? [{ id: part.id, title: thingTitle(part), at }] : [];
    });
    const free = scene.detectors.flatMap((detector) => {
      const drawn = detector.on.kind === 'face' ? null : view?.detectors.find(({ id }) => id === detector.id);
      if (!drawn) return [];
      const [x, y, z] = drawn.pose.shift;
      return [{ id: detector.id, title: thingTitle(detector), at: [x, y, z] as const }];
    });
    return [...parts, ...free];
  });
  /** Id of the thing that it is to stand at; empty for where it stands. */
  let from = $state('');
  const here = $derived(view?.sources.find(({ id }) => id === source.id)?.origin ?? null);

  function lookAt(id: string) {
    const to = places.find((one) => one.id === id);
    const at = places.find((one) => one.id === from)?.at ?? here;
    const gesture = to && at ? sourceFromTo(scene, source, [at[0], at[1], at[2]], to) : null;
    if (gesture) desk.arrange(gesture);
    else
      desk.notice = {
        tone: 'refused',
        title: 'A source cannot look at the place where it stands: choose another one.',
      };
  }

  const regionWord = $derived(
    source.region.kind === 'face' ? `face:${source.region.part}.${source.region.face}` : source.region.kind,
  );
  const region = $derived(REGION_KINDS.find(source.region.kind));
  /** Whether starts can have a regular order on it. */
  const ordered = $derived(source.region.kind !== 'face' && compileRegion(source.region).flat !== undefined);
  const law = $derived(LAW_KINDS.of(source.law.kind));
</script>

{#snippet place()}
  {#if source.region.kind === 'face'}<p>It shines from a face, and moves with it.</p>
  {:else}<ThingPlace {scene} {view} kind="sources" thing={source} />{/if}
  {#if source.region.kind !== 'face'}
    {#if places.length > 0 && here}
      <Row>
        <label
          >From <select bind:value={from} data-testid="source-from">
            <option value="">where it stands</option>
            {#each places as { id, title: name } (id)}<option value={id}>{name}</option>{/each}
          </select></label
        >
        <label
          >to <select
            value=""
            data-testid="source-to"
            title="Its axis looks at the middle of this; it is no longer placed in the frame of a part"
            onchange={(event) => {
              lookAt(event.currentTarget.value);
              event.currentTarget.value = '';
            }}
          >
            <option value="" hidden>choose …</option>
            {#each places as { id, title: name } (id)}<option value={id}>{name}</option>{/each}
          </select></label
        >
      </Row>
    {/if}
    <Row>
      <Button
        small
        aria-pressed={source.towards !== undefined}
        data-testid="source-towards"
        title="Point its axis at a place instead of turning it by angles"
        onclick={() => set('towards', source.towards ? undefined : { x: 0, y: 0, z: 10 }, `Where ${title} looks`)}
        >Point at a place</Button
      >
      {#if source.towards}
        {#each ['x', 'y', 'z'] as axis (axis)}
          <label
            >{axis}
            <span class="cell"
              ><ParameterCell
                address="{at}.towards.{axis}"
                label="Where {title} looks, {axis}"
                testid="towards-{axis}"
              /></span
            ></label
          >
        {/each}
        <span>mm from its position</span>
      {/if}
    </Row>
  {/if}
{/snippet}
{#snippet light()}
  <Row>
    <label
      >Flux <span class="cell"><ParameterCell address="{at}.flux" label="Flux of {title}" testid="source-flux" /></span
      ></label
    >
    <select
      aria-label="Unit of the flux"
      value={source.unit}
      data-testid="source-unit"
      onchange={(event) => set('unit', event.currentTarget.value, `Unit of ${title}`)}
    >
      <option value="W">W</option><option value="lm">lm</option>
    </select>
  </Row>
  <SpectrumLines light={source.light} of={title} onchange={(next, label) => set('light', next, label)} />
{/snippet}
{#snippet emission()}
  <Row>
    <label
      >Emitting area <select
        value={regionWord}
        data-testid="source-region"
        onchange={(event) => {
          const word = event.currentTarget.value;
          const face = faces.find(({ part, name }) => `face:${part}.${name}` === word);
          const region: Region | undefined = face
            ? { kind: 'face', part: face.part, face: face.name }
            : REGION_KINDS.find(word)?.first;
          if (region) set('region', region, `Region of ${title}`);
        }}
      >
        {#each REGIONS as { kind, title } (kind)}<option value={kind}>{title}</option>{/each}
        <optgroup label="Face of a part"
          >{#each faces as face (face.id)}<option value="face:{face.part}.{face.name}">{face.part} {face.name}</option
            >{/each}</optgroup
        >
      </select></label
    >
  </Row>
  <Numbers
    specs={region?.parameters ?? []}
    address={(id) => `${at}.region.${id}`}
    of={title}
    across={1}
    testid="region"
  />
  <Row>
    <label
      >Directions <select
        value={source.law.kind}
        data-testid="source-law"
        onchange={(event) => {
          set('law', LAW_KINDS.of(event.currentTarget.value).first, `Law of ${title}`);
        }}
      >
        {#each LAWS as { kind, title } (kind)}<option value={kind}>{title}</option>{/each}
      </select></label
    >
    <Button
      small
      title="Parallel light with the half-angle of the sun"
      onclick={() => set('law', { kind: 'parallel', half: 0.2666 }, 'Sunlight')}>sun</Button
    >
  </Row>
  {#if law.table}
    <TableCell
      spec={law.table}
      record={source.law}
      testid="source-table"
      label="Intensity of {title} by angle"
      oncommit={(next) => set('law', next, `Law of ${title}`)}
    />
  {/if}
  <Numbers specs={law.parameters} address={(id) => `${at}.law.${id}`} of={title} across={1} testid="law" />
  <Row>
    <label
      >Aim at <select
        value={source.aim ?? ''}
        data-testid="source-aim"
        title="Launches only rays towards the bounding sphere of a part or free detector"
        onchange={(event) => set('aim', event.currentTarget.value || undefined, `Aim of ${title}`)}
      >
        <option value="">everything</option>
        {#each targets as thing (thing.id)}<option value={thing.id}>{thingTitle(thing)}</option>{/each}
      </select></label
    >
    {#if ordered}
      <label
        >Start points <select
          value={source.order?.kind ?? ''}
          data-testid="source-order"
          onchange={(event) =>
            set(
              'order',
              ORDERS.find(({ kind }) => kind === event.currentTarget.value),
              `Starts of ${title}`,
            )}
        >
          <option value="">spread evenly</option><option value="grid">on a grid</option><option value="rings"
            >on rings</option
          >
        </select></label
      >
    {/if}
  </Row>
  {#if source.order}
    <Numbers
      specs={ORDER_SPECS[source.order.kind]}
      address={(id) => `${at}.order.${id}`}
      of={title}
      across={1}
      testid="order"
    />
  {/if}
{/snippet}

<ThingHead {scene} kind="sources" thing={source} about="source" />
<Sections
  sections={[
    { title: 'Place', body: place },
    { title: 'Flux and spectrum', body: light },
    { title: 'Emission', body: emission },
  ]}
/>

<style>
  p {
    margin: 0;
    color: var(--muted);
    font-size: var(--size-small);
  }
</style>
