<script lang="ts">
  import {
    EMPTY_HISTORY,
    LIGHT_FORMS,
    lightFormProject,
    type Measured,
    type Outcome,
    type Project,
    type SceneRays,
    type SceneView,
  } from '@ulvex/core';
  import { goto } from '$app/navigation';
  import Button from '$lib/components/Button.svelte';
  import { useDesk } from '$lib/desk/context.ts';
  import { plain } from '$lib/format.ts';
  import { withError } from '$lib/plots/light-map.ts';

  interface Props {
    /** Id of the form that is looked at. */
    chosen: string;
  }
  let { chosen }: Props = $props();
  const desk = useDesk();
  const form = $derived(LIGHT_FORMS.find(({ id }) => id === chosen)!);
  /** Size that is asked for; empty for that of the form. */
  let wanted = $state('');
  let trouble = $state<string | null>(null);
  let seen = $state.raw<{
    readonly id: string;
    readonly project: Project;
    readonly view: SceneView;
    readonly rays: SceneRays;
    readonly figures: readonly { readonly title: string; readonly text: string }[];
  } | null>(null);
  const size = $derived(wanted.trim() === '' ? form.size.fallback : Number(wanted.replace('−', '-').replace(',', '.')));
  const wrong = $derived(size > 0 && size < 1e6 ? null : 'A size is a number above 0, in mm.');

  const MEASURES = [
    ['detector_efficiency', 'efficiency'],
    ['detector_half_angle', 'half-angle of the beam'],
    ['detector_rms_radius', 'RMS radius of the light'],
  ] as const;

  $effect(() => {
    if (wrong !== null) return;
    const project = lightFormProject(form, size);
    let current = true;
    void look(form.id, project)
      .then((made) => {
        if (current) [seen, trouble] = [made, null];
      })
      .catch((error: Error) => {
        if (current) trouble = error.message;
      });
    return () => (current = false);
  });

  async function look(id: string, project: Project) {
    // eslint-disable-next-line svelte/prefer-svelte-reactivity -- gathered for one look, never rendered
    const answers = new Map<string, unknown>();
    await desk.pool.run(
      'evaluate',
      {
        project,
        queries: [
          { key: 'view', query: { kind: 'scene_view', scene: 'scene' } },
          { key: 'rays', query: { kind: 'scene_rays', scene: 'scene', rays: 60 } },
          ...MEASURES.map(([measure]) => ({
            key: measure,
            query: { kind: 'measure', measure, lens: 'scene', settings: { rays: 16_384 } } as const,
          })),
        ],
      },
      (part) => {
        for (const { key, answer } of part) answers.set(key, answer);
      },
    ).result;
    const [view, rays] = [answers.get('view') as Outcome<SceneView>, answers.get('rays') as Outcome<SceneRays>];
    if (!view.ok) throw new Error(view.reason);
    if (!rays.ok) throw new Error(rays.reason);
    const figures = MEASURES.flatMap(([measure, title]) => {
      const answer = answers.get(measure) as Outcome<Measured>;
      if (!answer.ok) return []; // a form without a far field has no half-angle
      const { value, unit = '', standardError = NaN } = answer.value;
      return [{ title, text: withError({ value, standardError }, unit) }];
    });
    return { id, project, view: view.value, rays: rays.value, figures };
  }

  function begin() {
    if (!seen) return;
    desk.open({ project: seen.project, history: EMPTY_HISTORY });
    desk.notice = { tone: 'done', title: `${seen.project.name} is your new project.` };
    void goto('/layout/scene');
  }
</script>

<section aria-label="The form" data-testid="form" data-shown={seen?.id ?? ''}>
  {#if trouble}<p class="bad" role="alert">✕ {trouble}</p>{/if}
  {#if seen}
    <h2>{form.title}</h2>
    <p>{form.notes}</p>
    <div class="sketch">
      {#await import('$lib/drawing/ScenePreview.svelte') then { default: ScenePreview }}
        <ScenePreview view={seen.view} rays={seen.rays} label="{form.title} in space" />
      {/await}
    </div>
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
        >{form.size.title}
        <input
          bind:value={wanted}
          placeholder={plain(form.size.fallback, 4)}
          aria-label="{form.size.title}, mm"
          aria-invalid={wrong !== null}
          data-testid="form-size"
        /> mm</label
      >
      <Button strong onclick={begin} disabled={wrong !== null} data-testid="form-begin">Begin with it</Button>
    </div>
    {#if wrong}<p class="bad" role="alert">✕ {wrong}</p>{/if}
    <p>All lengths grow with the size; angles and shares stay.</p>
  {/if}
</section>

<style>
  section {
    display: flex;
    flex-direction: column;
    gap: 8px;
    min-width: 0;
    min-height: 0;
    padding: 12px 14px;
  }

  p,
  dt {
    max-width: 80ch;
    margin: 0;
    color: var(--muted);
    font-size: var(--size-small);
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
  }

  .actions {
    display: flex;
    gap: 12px;
    align-items: center;
  }

  input {
    width: 6em;
    padding: 2px 5px;
    border: 1px solid var(--line);
    border-radius: var(--radius);
    background: var(--card);
    color: var(--ink);
    font-family: var(--font-mono);
  }

  .bad {
    color: var(--bad);
  }
</style>
