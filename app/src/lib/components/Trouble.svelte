<script lang="ts">
  import Button from './Button.svelte';
  interface Props {
    /** What failed: a room or a tile. */
    what: string;
    error: unknown;
    reset: () => void;
  }
  let { what, error, reset }: Props = $props();
</script>

<div class="trouble" role="alert">
  <p>✕ This {what} had an internal error: {(error as Error)?.message ?? String(error)}</p>
  <p>Nothing was lost. The other rooms and tiles go on working.</p>
  <Button onclick={reset}>Try again</Button>
</div>

<style>
  .trouble {
    display: grid;
    gap: 6px;
    justify-items: start;
    padding: 12px;
    color: var(--bad);
  }
</style>
