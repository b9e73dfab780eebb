<script lang="ts">
  import { compensatorTitle, toleranceTitle, type ToleranceFinding } from '@ulvex/core/tolerance';
  import { useDesk } from '$lib/desk/context.ts';

  interface Props {
    /** Id of the tolerance that is looked at. */
    chosen: string | null;
  }
  let { chosen = $bindable() }: Props = $props();
  const desk = useDesk();
  let findings = $state.raw<readonly ToleranceFinding[]>([]);

  $effect(() => {
    const project = desk.base;
    if (!project.tolerancing) {
      findings = [];
      return;
    }
    const job = desk.pool.run('toleranceFindings', { project });
    job.result.then(
      (found) => (findings = found),
      () => {}, // another version is looked at by then
    );
    return () => job.cancel();
  });

  /** What a finding is about: a tolerance, or what is set after making. */
  function titleOf(id: string): string {
    const { tolerances = [], compensators = [] } = desk.base.tolerancing ?? {};
    const tolerance = tolerances.find((one) => one.id === id);
    const set = compensators.find((one) => one.id === id);
    return tolerance ? toleranceTitle(desk.base, tolerance) : set ? compensatorTitle(desk.base, set) : id;
  }
</script>

{#each findings as { of, severity, text } (`${of} ${text}`)}
  <p class={severity} role={severity === 'error' ? 'alert' : undefined}>
    {severity === 'error' ? '✕' : '!'}
    <button onclick={() => (chosen = of)}>{titleOf(of)}</button>: {text}
  </p>
{/each}

<style>
  p {
    margin: 0;
    font-size: var(--size-small);
  }

  .error {
    color: var(--bad);
  }

  .warning {
    color: var(--warn);
  }

  p button {
    color: inherit;
    text-decoration: underline;
  }

  button {
    padding: 0;
    border: 0;
    background: none;
    text-align: left;
  }
</style>
