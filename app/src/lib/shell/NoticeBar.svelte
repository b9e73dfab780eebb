<script lang="ts">
  import { beforeNavigate } from '$app/navigation';
  import Button from '$lib/components/Button.svelte';
  import { useDesk } from '$lib/desk/context.ts';
  import { exportProject } from '$lib/desk/files.ts';

  const desk = useDesk();

  // What was done in one room is no news in the next; what was refused stays until it is read.
  beforeNavigate(({ from, to }) => {
    if (from?.url.pathname !== to?.url.pathname && desk.notice?.tone === 'done' && !desk.notice.action)
      desk.notice = null;
  });
</script>

{#if desk.keeping.state === 'failed'}
  <div class="bar refused" role="alert" data-testid="keeping-trouble">
    <strong>✕ Your work is not being kept: {desk.keeping.reason}.</strong>
    <span>It lives in this window only. Write it to a file before you close it.</span>
    <Button onclick={() => exportProject(desk)}>Write to a file</Button>
  </div>
{/if}
{#if desk.keeping.state === 'elsewhere'}
  <div class="bar refused" role="alert" data-testid="elsewhere">
    <strong>✕ “{desk.project.name}” is open in another tab.</strong>
    <span
      >{desk.keeping.copied
        ? 'What you changed here is kept as a copy, “… (second tab)”.'
        : 'What you change here is kept as a copy; the project itself stays as it is there.'}</span
    >
    <Button data-testid="take-over" onclick={() => desk.takeOver()}>Take over</Button>
  </div>
{/if}
{#if desk.relations.busy}
  <div class="bar soon" role="status" data-testid="settling">
    <strong>Linked and derived numbers are being brought up to date…</strong>
    <span>Typed input waits for them. If you cancel, dependent numbers keep their values.</span>
    <Button data-testid="settling-give-up" onclick={() => desk.finishPending()}>Cancel</Button>
  </div>
{/if}
{#if desk.relations.off}
  <div class="bar refused" role="status" data-testid="relations-off">
    <strong>Links and conditions are off: numbers that follow from others stay as they are.</strong>
    <Button onclick={() => desk.letRelationsHold()}>Turn on</Button>
  </div>
{/if}
{#if desk.notice}
  <div class="bar {desk.notice.tone}" role={desk.notice.tone === 'refused' ? 'alert' : 'status'} data-testid="notice">
    <div>
      <strong>{desk.notice.tone === 'refused' ? '✕' : '✓'} {desk.notice.title}</strong>
      {#if desk.notice.lines}
        <ul>
          {#each desk.notice.lines as line, i (i)}<li>{line}</li>{/each}
        </ul>
      {/if}
    </div>
    {#if desk.notice.action}
      <Button
        data-testid="notice-action"
        onclick={() => {
          const action = desk.notice?.action;
          desk.notice = null;
          action?.run();
        }}>{desk.notice.action.label}</Button
      >
    {/if}
    <Button aria-label="Close this message" onclick={() => (desk.notice = null)}>Close</Button>
  </div>
{/if}

<style>
  /* Told only when it takes a while. */
  .soon {
    animation: appear 0s 0.4s both;
  }

  @keyframes appear {
    from {
      visibility: hidden;
    }
  }

  .bar {
    display: flex;
    align-items: center;
    gap: 12px;
    justify-content: space-between;
    max-height: 30vh;
    padding: 6px 14px;
    overflow: auto;
    border-top: 1px solid var(--line);
    background: var(--card);
  }

  .refused {
    background: var(--bad-ground);
    color: var(--bad);
  }

  .done strong {
    color: var(--ok);
    font-weight: 500;
  }

  ul {
    margin: 2px 0 0;
    padding-left: 22px;
  }
</style>
