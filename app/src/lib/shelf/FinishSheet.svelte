<script lang="ts">
  import {
    compileOptics,
    FACE_OPTICS,
    failure,
    filmMedia,
    finishProblems,
    OPTICS_KINDS,
    removeFinish,
    SCATTER_KINDS,
    SCATTER_LAWS,
    setOfFinish,
    success,
    usesOfFinish,
    type Change,
    type Finish,
  } from '@ulvex/core';
  import Button from '$lib/components/Button.svelte';
  import Cell from '$lib/components/Cell.svelte';
  import { useDesk } from '$lib/desk/context.ts';
  import Numbers from '$lib/surface/Numbers.svelte';
  import TableCell from '$lib/surface/TableCell.svelte';
  import FilmStack from './FilmStack.svelte';

  interface Props {
    finish: Finish;
    /** Whether it is one of the project; others are looked at only. */
    editable: boolean;
    /** Makes one of the project like it. */
    oncopy: () => void;
  }
  let { finish, editable, oncopy }: Props = $props();
  const desk = useDesk();
  const at = $derived(`finishes.${finish.id}`);
  const optics = $derived(OPTICS_KINDS.of(finish.optics.kind));
  const uses = $derived(usesOfFinish(desk.shown, finish.id));
  /** What its kind does at all; films count as glass here, whatever they are made of. */
  const kind = $derived(compileOptics(finish.optics, 555, () => ({ n: 1.5, k: 0 })));
  const scatters = $derived({ reflected: !kind.even && finish.optics.kind !== 'absorber', transmitted: !kind.opaque });
  /** All wavelengths that the project looks at. */
  const waves = $derived([
    ...new Set([
      ...desk.shown.lenses.flatMap(({ wavelengths }) => wavelengths.map(({ nm }) => nm)),
      ...(desk.shown.scenes ?? []).flatMap(({ sources }) => sources.flatMap(({ light }) => light.map(({ nm }) => nm))),
    ]),
  ]);
  const problems = $derived(editable ? finishProblems(finish, waves, filmMedia(desk.shown)) : []);
  const perform = ({ edits, label }: Change) => desk.commit(edits, label);
  const SIDES = [
    ['reflected', 'Scatter of reflected light'],
    ['transmitted', 'Scatter of transmitted light'],
  ] as const;

  function remove() {
    perform(removeFinish(finish));
    desk.notice = {
      tone: 'done',
      title: `${finish.name} is deleted.`,
      action: { label: 'Undo', run: () => desk.undo() },
    };
  }
</script>

<article aria-label="Finish {finish.name}" data-testid="finish-sheet">
  <header>
    {#if editable}
      <span class="name"
        ><Cell
          label="Name of the finish"
          text={finish.name}
          align="left"
          testid="finish-name"
          read={(text) =>
            text.trim() === ''
              ? failure('A finish has a name.')
              : text.length > 80
                ? failure('At most 80 characters.')
                : success(text.trim())}
          oncommit={(name) => perform(setOfFinish(finish, 'name', name, 'Name'))}
        /></span
      >
    {:else}<h3>{finish.name}</h3>{/if}
    <Button small data-testid="finish-copy" onclick={oncopy}>{editable ? 'Duplicate' : 'Take into the project'}</Button>
    {#if editable}
      <Button
        small
        data-testid="finish-delete"
        disabled={uses.length > 0}
        title={uses.length > 0 ? `In use: ${uses.join(', ')}` : 'Delete it from the project'}
        onclick={remove}>Delete</Button
      >
    {/if}
  </header>
  {#if finish.note}<p>{finish.note}</p>{/if}
  {#if editable}
    <p data-testid="finish-uses">
      {uses.length === 0
        ? 'On no surface or face yet: choose it in the panel of a surface, or in Layout for faces of a part.'
        : `On ${uses.slice(0, 6).join(', ')}${uses.length > 6 ? ` and ${uses.length - 6} more` : ''}.`}
    </p>
  {/if}
  {#each problems as { severity, text } (text)}
    <p class={severity} role="status">{severity === 'error' ? '✕' : '!'} {text}</p>
  {/each}
  <h4>What it does</h4>
  {#if editable}
    <select
      aria-label="Kind of finish"
      data-testid="finish-kind"
      value={finish.optics.kind}
      onchange={(event) =>
        perform(setOfFinish(finish, 'optics', OPTICS_KINDS.of(event.currentTarget.value).first, 'Kind'))}
    >
      {#each FACE_OPTICS as { kind, title } (kind)}<option value={kind}>{title}</option>{/each}
    </select>
  {:else}<p>{optics.title}</p>{/if}
  <p>{optics.meaning}</p>
  {#if editable}
    <Numbers
      specs={optics.parameters}
      address={(id) => `${at}.optics.${id}`}
      of={finish.name}
      across={1}
      testid="finish"
    />
  {:else}
    {#each optics.parameters as { id, title } (id)}<p>
        {title}
        {(finish.optics as unknown as Record<string, number>)[id]}
      </p>{/each}
  {/if}
  {#if finish.optics.kind === 'coating'}<FilmStack {finish} layers={finish.optics.layers} {editable} />{/if}
  {#if finish.optics.kind === 'coating_table'}
    <p>{finish.optics.nm.length} wavelengths × {finish.optics.degrees.length} angles, as they came with the project.</p>
  {/if}
  {#each SIDES as [side, title] (side)}
    {@const law = finish[side]}
    {@const known = law ? SCATTER_KINDS.of(law.kind) : null}
    {#if scatters[side] && (editable || law)}
      <h4>{title}</h4>
      {#if editable}
        <select
          aria-label={title}
          data-testid="finish-{side}"
          value={law?.kind ?? ''}
          onchange={(event) => {
            const kind = event.currentTarget.value;
            perform(setOfFinish(finish, side, kind === '' ? undefined : SCATTER_KINDS.of(kind).first, title));
          }}
        >
          <option value="">none: smooth</option>
          {#each SCATTER_LAWS as { kind, title: name } (kind)}<option value={kind}>{name}</option>{/each}
        </select>
      {/if}
      {#if law && known}
        <p>{known.meaning}</p>
        {#if editable}
          <Numbers
            specs={known.parameters}
            address={(id) => `${at}.${side}.${id}`}
            of="{title.toLowerCase()}, {finish.name}"
            across={1}
            testid={side}
          />
          {#if known.table}
            <TableCell
              spec={known.table}
              record={law}
              testid="{side}-table"
              label="{known.title} of {finish.name}"
              oncommit={(next) => perform(setOfFinish(finish, side, next, title))}
            />
          {/if}
        {:else}
          <p>
            {known.parameters
              .map(({ id, title: name, unit }) => `${name} ${(law as unknown as Record<string, number>)[id]}${unit}`)
              .join(', ')}
          </p>
        {/if}
      {/if}
    {/if}
  {/each}
</article>

<style>
  article {
    display: flex;
    flex-direction: column;
    gap: 5px;
    min-width: 0;
    min-height: 0;
    padding: 12px 14px;
    overflow: hidden auto;
    scrollbar-width: thin;
  }

  header {
    display: flex;
    gap: 6px;
    align-items: center;
  }

  .name,
  h3 {
    flex: 1;
    min-width: 0;
    margin: 0;
    font-size: 16px;
    font-weight: 600;
  }

  .name {
    border-bottom: 1px solid var(--line);
  }

  h4 {
    margin: 8px 0 0;
    padding-bottom: 2px;
    border-bottom: 1px solid var(--line);
    font-size: var(--size-small);
  }

  p {
    margin: 0;
    color: var(--muted);
    font-size: var(--size-small);
  }

  .error {
    color: var(--bad);
  }

  .warning {
    color: var(--warn);
  }

  select {
    align-self: start;
    max-width: 100%;
    padding: 2px 6px;
    border: 1px solid var(--line);
    border-radius: var(--radius);
    background: var(--card);
    color: var(--ink);
  }
</style>
