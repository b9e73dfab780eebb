<script lang="ts">
  interface Props {
    /** What failed: a room or a tile. */
    what: string;
    error: unknown;
    reset: () => void;
  }
  let { what, error, reset }: Props = $props();
</script>

<div class="trouble" role="alert">
  <p>✕ This {what} met an error inside Ulvex: {(error as Error)?.message ?? String(error)}</p>
  <p>Nothing was lost. The other rooms and tiles go on working.</p>
  <button onclick={reset}>Try again</button>
</div>

<style>
  .trouble {
    display: grid;
    gap: 6px;
    justify-items: start;
    padding: 12px;
    color: var(--bad);
  }

  button {
    padding: 2px 10px;
    border: 1px solid currentcolor;
    border-radius: var(--radius);
    background: none;
  }
</style>
