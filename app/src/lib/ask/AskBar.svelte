<script lang="ts">
  import { MEASURES, type AskAnswer, type Outcome } from '@ulvex/core';
  import { tick } from 'svelte';
  import { useDesk } from '$lib/desk/context.ts';
  import { exactText, significant } from '$lib/format.ts';
  import { KEYMAP, keysText } from '$lib/keymap.ts';
  import { ui } from '$lib/desk/ui.svelte.ts';
  import type { TileKind } from '../tiles/registry.ts';
  import { askedBefore, rememberAsked } from './asked.ts';
  import { allCommands, matching, type Command } from './commands.ts';

  const desk = useDesk();
  const PAUSE = 60;
  const id = $props.id();
  let input: HTMLInputElement;
  let text = $state('');
  let answer = $state.raw<Outcome<AskAnswer> | null>(null);
  let chosen = $state(0);
  let earlier = $state.raw<readonly string[]>([]);

  /** One line of the list: what it is called, what it is, and what choosing it does. */
  interface Entry {
    readonly key: string;
    readonly title: string;
    readonly kind: 'measure' | 'asked before' | Command['kind'];
    readonly keys?: string;
    readonly explain?: string;
    choose(): void;
  }

  /** Loaded with the first question: their components are not needed before. */
  let tiles = $state.raw<readonly TileKind[]>([]);
  $effect(() => {
    if (ui.asking) void import('../tiles/registry.ts').then(({ TILES }) => (tiles = TILES));
  });
  const commands = $derived(ui.asking ? allCommands(desk, tiles) : []);
  const entries = $derived.by((): Entry[] => {
    if (text.trim() === '')
      return earlier.slice(0, 8).map((question) => ({
        key: `asked ${question}`,
        title: question,
        kind: 'asked before',
        choose: () => write(question),
      }));
    const measures: Entry[] = matching(MEASURES, lastWords(), 4).map((measure) => ({
      key: `measure ${measure.id}`,
      title: measure.title,
      kind: 'measure',
      explain: `measure:${measure.id}`,
      choose: () => complete(measure),
    }));
    const does: Entry[] = matching(commands, text, 6).map((command) => ({
      key: `${command.kind} ${command.title}`,
      title: command.title,
      kind: command.kind,
      ...(command.shortcut && { keys: keysText(command.shortcut) }),
      choose: () => {
        close();
        command.run();
      },
    }));
    return [...measures.filter(({ title }) => title.toLowerCase() !== lastWords().toLowerCase()), ...does];
  });
  const found = $derived(answer?.ok ? answer.value : null);
  /** The answer is the first line; the entries follow. */
  const count = $derived(entries.length + (found ? 1 : 0));
  const shown = $derived(found ? `${significant(found.value, 7)}${unitText(found.unit)}` : '');

  function unitText(unit: string): string {
    return unit === '°' || unit === '' ? unit : ` ${unit}`;
  }

  /** What is being typed behind the last sign: the name of a measure that is not finished. */
  function lastWords(): string {
    return text
      .split(/[-+*/^(),[\]]/)
      .at(-1)!
      .trim();
  }

  function complete(measure: (typeof MEASURES)[number]) {
    const last = lastWords();
    const needsField = Object.values(measure.settings).some((spec) => spec.kind === 'field' && spec.fallback === null);
    write(`${text.slice(0, text.lastIndexOf(last))}${measure.title}${needsField ? '[' : ''}`);
  }

  function write(next: string) {
    text = next;
    chosen = 0;
    input.focus();
  }

  // The question is asked anew when it or the lens changes, a moment after the last key.
  $effect(() => {
    const [question, lens, project] = [text.trim(), desk.lens?.id, desk.shown];
    if (!ui.asking || question === '' || lens === undefined) {
      answer = null;
      return;
    }
    let job: { cancel(): void } | null = null;
    const timer = setTimeout(() => {
      const running = desk.pool.run('ask', { project, lens, text: question });
      job = running;
      running.result.then(
        (next) => (answer = next),
        () => {}, // cancelled: another question has taken its place
      );
    }, PAUSE);
    return () => {
      clearTimeout(timer);
      job?.cancel();
    };
  });

  $effect(() => {
    if (ui.asking && document.activeElement !== input) input.focus();
  });

  function open() {
    ui.asking = true;
    earlier = askedBefore();
    chosen = 0;
    void tick().then(() => input.select());
  }

  function close() {
    ui.asking = false;
    text = '';
    answer = null;
    input.blur();
  }

  async function copy() {
    if (!found) return;
    const exact = `${exactText(found.value)}${unitText(found.unit)}`;
    rememberAsked(text.trim());
    try {
      await navigator.clipboard.writeText(exact);
      desk.notice = { tone: 'done', title: `${exact} is on the clipboard.` };
    } catch (error) {
      desk.notice = {
        tone: 'refused',
        title: `The browser does not give the clipboard: ${(error as Error).message}`,
      };
    }
  }

  function choose(index: number) {
    if (found && index === 0) void copy();
    else entries[index - (found ? 1 : 0)]?.choose();
  }

  function onkeydown(event: KeyboardEvent) {
    const move = { ArrowDown: 1, ArrowUp: -1 }[event.key];
    if (event.key === 'Escape') close();
    else if (event.key === 'Enter') choose(chosen);
    else if (move !== undefined && count > 0) chosen = (chosen + move + count) % count;
    else return;
    event.preventDefault();
    event.stopPropagation();
  }
</script>

<div class="ask" class:open={ui.asking}>
  <input
    bind:this={input}
    bind:value={text}
    role="combobox"
    aria-label="Ask"
    aria-expanded={ui.asking}
    aria-controls="{id}-list"
    aria-activedescendant={ui.asking && count > 0 ? `${id}-${chosen}` : undefined}
    autocomplete="off"
    spellcheck="false"
    placeholder="Ask: a measure, a calculation, a command  ({keysText(KEYMAP.ask)})"
    data-testid="ask"
    onfocus={open}
    onblur={() => (ui.asking = false)}
    oninput={() => (chosen = 0)}
    {onkeydown}
  />
  {#if ui.asking}
    <!-- svelte-ignore a11y_no_static_element_interactions -->
    <div class="panel" onmousedown={(event) => event.preventDefault()}>
      <ul id="{id}-list" role="listbox" aria-label="Answers">
        {#if found}
          <!-- svelte-ignore a11y_click_events_have_key_events -->
          <li
            id="{id}-0"
            role="option"
            aria-selected={chosen === 0}
            class="answer"
            data-testid="answer"
            data-value={found.value}
            onclick={() => choose(0)}
          >
            <strong>= {shown}</strong>
            <span class="kind">Enter copies every digit</span>
            {#each found.parts as { title, value, unit, how }, i (i)}
              <span class="part">{title} {significant(value, 6)}{unitText(unit)}{how ? ` · ${how}` : ''}</span>
            {/each}
          </li>
        {/if}
        {#each entries as entry, i (entry.key)}
          {@const index = i + (found ? 1 : 0)}
          <!-- svelte-ignore a11y_click_events_have_key_events -->
          <li
            id="{id}-{index}"
            role="option"
            aria-selected={chosen === index}
            data-explain={entry.explain}
            onclick={() => choose(index)}
          >
            <span>{entry.title}</span><span class="kind">{entry.keys ?? entry.kind}</span>
          </li>
        {/each}
      </ul>
      {#if answer && !answer.ok && entries.length === 0}<p class="trouble" role="status">{answer.reason}</p>
      {:else if answer && !answer.ok && !/ is no measure, /.test(answer.reason)}<p class="trouble quiet">
          {answer.reason}
        </p>
      {:else if text.trim() === '' && entries.length === 0}
        <p class="trouble quiet">
          Try <em>effective focal length / entrance pupil diameter</em>, <em>RMS spot radius[worst] * 2</em>,
          <em>25.4 mm / 2</em>, or <em>refocus</em>.
        </p>
      {/if}
    </div>
  {/if}
</div>

<style>
  .ask {
    position: relative;
    flex: 1 1 300px;
    max-width: 440px;
  }

  input {
    width: 100%;
    padding: 3px 10px;
    border: 1px solid var(--line);
    border-radius: var(--radius);
    background: var(--paper);
  }

  input::placeholder {
    color: var(--muted);
  }

  input:focus {
    border-color: var(--accent);
    outline: 1px solid var(--accent);
  }

  .panel {
    position: absolute;
    z-index: 20;
    top: calc(100% + 4px);
    left: 0;
    width: max(100%, 440px);
    max-height: 60vh;
    overflow-y: auto;
    border: 1px solid var(--line);
    border-radius: var(--radius);
    background: var(--card);
    box-shadow: var(--shadow);
  }

  ul {
    margin: 0;
    padding: 0;
    list-style: none;
  }

  li {
    display: flex;
    gap: 12px;
    justify-content: space-between;
    padding: 4px 10px;
    cursor: pointer;
  }

  li[aria-selected='true'] {
    background: var(--accent-ground);
    box-shadow: inset 3px 0 var(--accent);
  }

  li:hover {
    color: var(--accent);
  }

  .answer {
    flex-wrap: wrap;
    padding: 8px 10px;
    border-bottom: 1px solid var(--line);
  }

  .answer strong {
    font-size: 15px;
  }

  .part {
    flex: 0 0 100%;
    color: var(--muted);
    font-size: var(--size-small);
  }

  .kind {
    color: var(--muted);
    font-size: var(--size-small);
    white-space: nowrap;
  }

  .trouble {
    padding: 8px 10px;
    color: var(--bad);
  }

  .quiet {
    color: var(--muted);
    font-size: var(--size-small);
  }
</style>
