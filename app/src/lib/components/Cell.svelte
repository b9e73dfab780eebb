<script lang="ts" generics="T">
  import { tick } from 'svelte';
  import { failure, type Outcome } from '@ulvex/core';
  import { useDesk } from '$lib/desk/context.ts';
  import { KEYMAP, pressed } from '$lib/keymap.ts';
  import { heldWords, MARKS, readable, stateWords } from '$lib/desk/number-state.ts';
  import { barsHere } from './bars.ts';
  import { floating } from './floating.ts';
  import { walk, type Way } from './grid-walk.ts';

  interface Props {
    /** What the cell is, for those who do not see it. */
    label: string;
    /** Shown while nothing is being typed. */
    text: string;
    /** Shown when the present value is to be mended (F2): every digit. */
    exact?: string | undefined;
    /** Makes a value of a text, or says what is wrong with it. */
    read: (text: string) => Outcome<T>;
    /** Once per edit: one call is one entry of the history. */
    oncommit: (value: T) => void;
    /** While typing, for every text that is legal. */
    onpreview?: (value: T) => void;
    /** The typing ended without a commit. */
    onend?: () => void;
    /** The text one step up or down, for Alt and the arrows. */
    nudge?: (text: string, steps: number) => string | null;
    onfocus?: () => void;
    row?: number;
    col?: number;
    align?: 'left' | 'right';
    /** A computed value rather than a set one. */
    muted?: boolean;
    strong?: boolean;
    /** Id of a datalist with suggestions. */
    list?: string;
    testid?: string;
    /** What one key explains about it, see lib/explain.ts. */
    explain?: string;
    /** Shown while it is empty. */
    placeholder?: string;
    /** Chosen together with other cells. */
    marked?: boolean;
    /** As wide as its text. */
    fit?: boolean;
    /** Address of the parameter that it shows: its state is marked, and what follows from others cannot be typed over. */
    address?: string | undefined;
    /** Address by which it may have a thin bar; that of its parameter by default. */
    barAt?: string | undefined;
  }
  let {
    label,
    text,
    exact,
    read,
    oncommit,
    onpreview,
    onend,
    nudge,
    onfocus,
    row,
    col,
    align = 'right',
    muted = false,
    strong = false,
    list,
    testid,
    explain,
    placeholder,
    marked = false,
    fit = false,
    address,
    barAt = address,
  }: Props = $props();
  const desk = useDesk();
  const bars = barsHere();
  const bar = $derived(barAt === undefined ? undefined : bars(barAt));
  const standing = $derived(address === undefined ? undefined : desk.project.parameters?.[address]);
  const broken = $derived(address !== undefined && desk.broken.find((one) => one.address === address));

  /** Whether it is another number in the state that is looked at than in the design. */
  const differs = $derived(address === undefined ? null : desk.differs(address));

  let draft = $state<string | null>(null); // text being typed; null = show the model
  const parsed = $derived(draft === null ? null : readHeld(draft));
  const problem = $derived(parsed && !parsed.ok ? parsed.reason : null);
  const problemId = $props.id();

  /** What a text says, but for numbers that follow from others. */
  function readHeld(next: string): Outcome<T> {
    const held = heldWords(desk.project, address);
    return held === null ? read(next) : failure(held);
  }

  function type(next: string) {
    draft = next;
    const outcome = readHeld(next);
    if (outcome.ok) onpreview?.(outcome.value);
    else onend?.();
  }

  /** True when nothing is left to be mended. */
  function commit(): boolean {
    if (draft === null) return true;
    const outcome = readHeld(draft);
    if (!outcome.ok) {
      onend?.();
      return false; // the wrong text stays, marked, to be mended in place
    }
    draft = null;
    oncommit(outcome.value);
    return true;
  }

  function restore() {
    draft = null;
    onend?.();
  }

  /**
   * As soon as the new text is in place, before the next key: a frame later would select what has been typed since. Not where the focus
   * has gone elsewhere, for selecting would bring it back.
   */
  function selectSoon(input: HTMLInputElement) {
    void tick().then(() => document.activeElement === input && input.select());
  }

  const WAYS: Readonly<Record<string, Way>> = {
    ArrowUp: 'up',
    ArrowDown: 'down',
    ArrowLeft: 'left',
    ArrowRight: 'right',
  };

  function onkeydown(event: KeyboardEvent & { currentTarget: HTMLInputElement }) {
    const input = event.currentTarget;
    if (event.key === 'Escape') {
      if (draft === null) return;
      restore();
      selectSoon(input);
      event.stopPropagation();
    } else if (event.key === 'F2') {
      event.preventDefault();
      type(draft ?? exact ?? text);
      requestAnimationFrame(() => input.setSelectionRange(input.value.length, input.value.length));
    } else if (pressed(event, KEYMAP.nudgeUp) || pressed(event, KEYMAP.nudgeDown)) {
      const next = nudge?.(draft ?? exact ?? text, event.key === 'ArrowUp' ? 1 : -1);
      event.preventDefault();
      if (next != null) type(next);
    } else if (event.key === 'Enter' && !event.ctrlKey && !event.metaKey && !event.altKey) {
      event.preventDefault();
      if (commit()) {
        if (!walk(input, event.shiftKey ? 'up' : 'down')) selectSoon(input);
      }
    } else if (event.key in WAYS && !event.altKey && !event.ctrlKey && !event.metaKey && !event.shiftKey) {
      const way = WAYS[event.key];
      const whole = input.selectionStart === 0 && input.selectionEnd === input.value.length;
      if ((way === 'left' || way === 'right') && !(draft === null && whole)) return; // the caret moves in the text
      if (list && draft !== null) return; // the arrows choose among the suggestions
      event.preventDefault();
      if (commit()) walk(input, way);
    }
  }
</script>

<span
  class="cell {align}"
  class:wrong={problem !== null}
  class:marked
  class:kept={standing !== undefined}
  class:differs={differs !== null}
  title={differs ? `As designed: ${differs.designed ?? '–'}` : undefined}
  data-explain={explain}
  data-address={address}
>
  {#if standing}<span
      class="state {standing.kind}"
      class:broken={Boolean(broken)}
      title={broken ? `✕ ${readable(desk.project, broken.reason)}` : stateWords(desk.project, standing)}
      data-testid={testid && `state-of-${testid}`}>{broken ? '✕' : MARKS[standing.kind]}</span
    >{/if}
  <input
    value={draft ?? text}
    data-drafting={draft === null ? undefined : ''}
    aria-label={label}
    aria-invalid={problem !== null}
    aria-describedby={problem ? problemId : undefined}
    autocomplete="off"
    spellcheck="false"
    class:muted
    class:fit
    class:strong
    data-row={row}
    data-col={col}
    {placeholder}
    data-testid={testid}
    data-draft={draft === null ? undefined : ''}
    list={draft === null ? undefined : list}
    oninput={(event) => type(event.currentTarget.value)}
    onfocus={(event) => {
      event.currentTarget.select();
      onfocus?.();
    }}
    onblur={commit}
    {onkeydown}
  />
  {#if bar}<span
      class="bar"
      style:width="{100 * bar.share}%"
      title={bar.words}
      data-testid={testid && `bar-of-${testid}`}
      data-share={bar.share}
    ></span>{/if}
  {#if problem}
    <span class="problem" id={problemId} role="alert" {@attach floating(align)}>{problem} Esc restores.</span>
  {/if}
</span>

<style>
  .cell {
    position: relative;
    display: block;
    min-width: 0;
  }

  input {
    width: 100%;
    padding: 1px 5px;
    border: 1px solid transparent;
    border-radius: var(--radius);
    background: none;
    text-overflow: ellipsis;
  }

  .state {
    position: absolute;
    top: 1px;
    left: 3px;
    color: var(--accent);
    font-size: var(--size-small);
    cursor: help;
  }

  .state.broken {
    color: var(--bad);
  }

  .bar {
    position: absolute;
    right: 5px;
    bottom: -1px;
    max-width: calc(100% - 10px);
    height: 3px;
    background: var(--accent);
    opacity: 0.75;
  }

  .left .bar {
    right: auto;
    left: 5px;
  }

  .kept input {
    padding-left: 15px;
  }

  .differs input {
    border-bottom-color: var(--accent);
    border-bottom-style: dashed;
  }

  .right input {
    text-align: right;
  }

  .marked input {
    border-color: var(--accent);
    background: var(--accent-ground);
  }

  input:hover {
    border-color: var(--line);
  }

  input:focus {
    border-color: var(--accent);
    background: var(--card);
    outline: 1px solid var(--accent);
    outline-offset: 0;
  }

  .muted {
    color: var(--muted);
  }

  .fit {
    width: auto;
    max-width: 320px;
    field-sizing: content;
  }

  .strong {
    font-weight: 600;
  }

  .wrong input {
    border-color: var(--bad);
    background: var(--bad-ground);
    outline-color: var(--bad);
  }

  .problem {
    inset: auto;
    width: max-content;
    max-width: 240px;
    margin: 0;
    padding: 4px 8px;
    border: 1px solid var(--bad);
    border-radius: var(--radius);
    background: var(--bad-ground);
    color: var(--bad);
    font-weight: 400;
    text-align: left;
    box-shadow: var(--shadow);
  }
</style>
