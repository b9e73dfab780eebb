<script lang="ts">
  import {
    EMPTY_HISTORY,
    LIGHT_FORMS,
    applyEdits,
    type Outcome,
    type Project,
    type Section,
    type Measured,
  } from '@ulvex/core';
  import { scaledWishes } from '@ulvex/core/operations';
  import { goto } from '$app/navigation';
  import { page } from '$app/state';
  import Button from '$lib/components/Button.svelte';
  import { useDesk } from '$lib/desk/context.ts';
  import { insertLens, insertPlace } from '$lib/desk/insert-lens.ts';
  import { plain, significant } from '$lib/format.ts';
  import FormSketch from '$lib/drawing/FormSketch.svelte';
  import { formProject, FORMS, type FormId } from '$lib/shelf/forms.ts';
  import LightForms from '$lib/shelf/LightForms.svelte';
  import ShelfTabs from '$lib/shelf/ShelfTabs.svelte';
  import { lensOf } from '$lib/desk/lens-choice.ts';

  const desk = useDesk();
  /** Lenses and lamps: forms of one list. */
  let picked = $state<string>(page.url.searchParams.get('form') ?? 'triplet');
  const light = $derived(LIGHT_FORMS.some(({ id }) => id === picked));
  const chosen = $derived<FormId>(FORMS.some(({ id }) => id === picked) ? (picked as FormId) : 'triplet');
  /** Focal length that is asked for; empty for that of the form. */
  let wanted = $state('');
  let seen = $state.raw<{
    readonly project: Project;
    readonly section: Section;
    readonly figures: readonly { readonly title: string; readonly text: string }[];
  } | null>(null);
  let trouble = $state<string | null>(null);
  const focal = $derived(wanted.trim() === '' ? null : Number(wanted.replace('−', '-').replace(',', '.')));
  const wrong = $derived(
    focal !== null && !(focal > 0 && focal < 1e6) ? 'A focal length is a number above 0, in mm.' : null,
  );

  const FIGURES = [
    ['effective_focal_length', 'focal length', {}],
    ['working_f_number', 'working F-number', {}],
    ['total_length', 'length', {}],
    ['rms_spot_radius', 'RMS spot, worst field', { field: 'worst' }],
  ] as const;

  /** The form in the size that is asked for. */
  async function sized(id: FormId, focalLength: number | null): Promise<Project> {
    const project = await formProject(id);
    if (focalLength === null) return project;
    const { surfaces } = lensOf(project)!;
    const span = [surfaces[0].id, surfaces.at(-2)!.id] as const;
    const scaled = await desk.pool.run('operate', {
      project,
      operation: 'scale_to_focal_length',
      lens: 'lens',
      span,
      settings: { focal_length: focalLength },
      state: null,
    }).result;
    if (!scaled.ok) throw new Error(scaled.reason);
    const sizes = [project, applyEdits(project, scaled.value.edits).project].map((one) =>
      lensOf(one)!.surfaces.reduce((sum, { after }) => sum + Math.abs(after?.thickness ?? 0), 0),
    );
    // Where a focal length is wanted of the form, it is the one that was typed, to the last digit.
    const meant = project.goals?.find((goal) => goal.kind === 'measure' && goal.measure === 'effective_focal_length');
    const wished = meant?.kind === 'measure' ? meant.target : undefined;
    const wishes = scaledWishes(project, 'lens', wished ? focalLength / wished : sizes[1] / sizes[0]);
    return applyEdits(project, [...scaled.value.edits, ...wishes]).project;
  }

  $effect(() => {
    const [id, focalLength] = [chosen, wrong === null ? focal : null];
    let current = true;
    void look(id, focalLength)
      .then((made) => {
        if (current) [seen, trouble] = [made, null];
      })
      .catch((error: Error) => {
        if (current) trouble = error.message;
      });
    return () => (current = false);
  });

  async function look(id: FormId, focalLength: number | null) {
    const project = await sized(id, focalLength);
    // eslint-disable-next-line svelte/prefer-svelte-reactivity -- gathered for one look, never rendered
    const answers = new Map<string, unknown>();
    const ask = [
      { key: 'section', query: { kind: 'section', lens: 'lens', raysPerField: 5 } as const },
      ...FIGURES.map(([measure, , settings]) => ({
        key: measure,
        query: { kind: 'measure', measure, lens: 'lens', settings } as const,
      })),
    ];
    await desk.pool.run('evaluate', { project, queries: ask }, (part) => {
      for (const { key, answer } of part) answers.set(key, answer);
    }).result;
    const section = answers.get('section') as Outcome<Section>;
    if (!section.ok) throw new Error(section.reason);
    const figures = FIGURES.map(([measure, title]) => {
      const answer = answers.get(measure) as Outcome<Measured>;
      const unit = measure === 'rms_spot_radius' ? ' µm' : measure === 'working_f_number' ? '' : ' mm';
      return { title, text: answer.ok ? `${significant(answer.value.value, 4)}${unit}` : '–' };
    });
    return { project, section: section.value, figures };
  }

  function begin() {
    if (!seen) return;
    desk.open({ project: seen.project, history: EMPTY_HISTORY });
    desk.notice = { tone: 'done', title: `${seen.project.name} is your new project.` };
    void goto('/layout');
  }

  function takeIn() {
    if (seen && insertLens(desk, seen.project)) void goto('/layout');
  }

  const ALL: readonly { readonly id: string }[] = [...FORMS, ...LIGHT_FORMS];

  function walk(event: KeyboardEvent) {
    const step = event.key === 'ArrowDown' ? 1 : event.key === 'ArrowUp' ? -1 : 0;
    const next = ALL[ALL.findIndex(({ id }) => id === picked) + step];
    if (step === 0 || !next) return;
    event.preventDefault();
    picked = next.id;
    document.querySelector<HTMLElement>(`[data-form="${next.id}"]`)?.focus();
  }
</script>

<div class="room">
  <section class="list" aria-label="Start forms">
    <ShelfTabs />
    <!-- svelte-ignore a11y_no_noninteractive_element_interactions -->
    <ul onkeydown={walk} data-testid="form-list">
      {#each [['Lenses', FORMS], ['Light', LIGHT_FORMS]] as const as [heading, forms] (heading)}
        <li class="heading">{heading}</li>
        {#each forms as { id, title, about } (id)}
          <li>
            <button aria-current={id === picked} data-form={id} onclick={() => (picked = id)}>
              <strong>{title}</strong><span>{about}</span>
            </button>
          </li>
        {/each}
      {/each}
    </ul>
  </section>
  {#if light}<LightForms chosen={picked} />{:else}<section
      class="form"
      aria-label="The form"
      data-testid="form"
      data-shown={seen?.project.name ?? ''}
    >
      {#if trouble}<p class="bad" role="alert">✕ {trouble}</p>{/if}
      {#if seen}
        <h2>{seen.project.name}</h2>
        <p>{seen.project.notes}</p>
        <div class="sketch"><FormSketch section={seen.section} label="Section of {seen.project.name}" /></div>
        <dl>
          {#each seen.figures as { title, text } (title)}
            <div>
              <dt>{title}</dt>
              <dd>{text}</dd>
            </div>
          {/each}
        </dl>
        <div class="actions">
          <label
            >scaled to a focal length of
            <input
              bind:value={wanted}
              placeholder={plain(Math.abs(Number(seen.figures[0].text.split(' ')[0])), 4)}
              aria-label="Focal length to scale the form to, mm"
              aria-invalid={wrong !== null}
              data-testid="form-focal"
            /> mm</label
          >
          <Button strong onclick={begin} disabled={wrong !== null} data-testid="form-begin">Begin with it</Button>
          <Button onclick={takeIn} disabled={wrong !== null || insertPlace(desk) === null} data-testid="form-insert"
            >Insert it into “{desk.base.name}”</Button
          >
        </div>
        {#if wrong}<p class="bad" role="alert">✕ {wrong}</p>{/if}
        <p>
          Scaling keeps F-number and angles; spots scale with it. Radii and distances are free and goals are set, ready
          for Improve.
        </p>
      {/if}
    </section>{/if}
</div>

<style>
  .room {
    display: grid;
    grid-template-columns: 270px minmax(0, 1fr);
    height: 100%;
  }

  section {
    display: flex;
    flex-direction: column;
    gap: 8px;
    min-width: 0;
    min-height: 0;
    padding: 12px 14px;
  }

  .list {
    border-right: 1px solid var(--line);
  }

  ul {
    margin: 0;
    padding: 0;
    overflow: auto;
    list-style: none;
  }

  .heading {
    padding: 8px 8px 2px;
    color: var(--muted);
    font-size: var(--size-small);
  }

  li button {
    display: flex;
    flex-direction: column;
    width: 100%;
    padding: 5px 8px;
    border: 0;
    border-bottom: 1px solid var(--line);
    background: none;
    text-align: left;
  }

  li span,
  p,
  dt {
    color: var(--muted);
    font-size: var(--size-small);
  }

  li button:hover {
    background: var(--card);
  }

  li button[aria-current='true'] {
    background: var(--accent-ground);
    box-shadow: inset 3px 0 var(--accent);
  }

  p {
    max-width: 80ch;
    margin: 0;
  }

  .sketch {
    flex: 1 1 0;
    min-height: 160px;
    max-height: 460px;
  }

  dl {
    display: flex;
    gap: 28px;
    margin: 0;
  }

  dd {
    margin: 0;
    font-variant-numeric: tabular-nums;
    font-weight: 650;
  }

  .actions {
    display: flex;
    gap: 10px;
    align-items: center;
  }

  input {
    padding: 2px 10px;
    border: 1px solid var(--line);
    border-radius: var(--radius);
    background: var(--card);
  }

  input {
    width: 76px;
    text-align: right;
  }

  .bad {
    color: var(--bad);
  }
</style>
