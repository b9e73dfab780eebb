<script lang="ts">
  import { failure, parseQuantity, success, type Outcome, type Source } from '@ulvex/core';
  import Button from '$lib/components/Button.svelte';
  import Cell from '$lib/components/Cell.svelte';
  import { waveColour } from '$lib/colours.ts';
  import { plain } from '$lib/format.ts';

  type Lines = Source['light'];
  interface Props {
    light: Lines;
    /** What the lines belong to, for those who do not see them. */
    of: string;
    onchange: (light: Lines, label: string) => void;
  }
  let { light, of, onchange }: Props = $props();

  /** Spectra by name: a few lines with their shares of the radiant flux, by eye. */
  const NAMED: readonly (readonly [string, Lines])[] = [
    ['green, 555 nm', [{ nm: 555, weight: 1 }]],
    ['red, 633 nm', [{ nm: 633, weight: 1 }]],
    ['near infrared, 850 nm', [{ nm: 850, weight: 1 }]],
    ['F, d and C lines', [486.1327, 587.5618, 656.2725].map((nm) => ({ nm, weight: 1 }))],
    [
      'white LED, four lines',
      [
        { nm: 450, weight: 0.25 },
        { nm: 530, weight: 0.3 },
        { nm: 570, weight: 0.25 },
        { nm: 620, weight: 0.2 },
      ],
    ],
    ['daylight, even', [430, 480, 530, 580, 630, 680].map((nm) => ({ nm, weight: 1 }))],
  ];
  const whole = $derived(light.reduce((sum, { weight }) => sum + weight, 0));

  function number(text: string, from: number, to: number, what: string): Outcome<number> {
    const read = parseQuantity(text, { kind: 'number', current: NaN });
    if (!read.ok) return read;
    return read.value >= from && read.value <= to ? read : failure(`${what} must be from ${from} to ${to}.`);
  }
  const readNm = (text: string, k: number): Outcome<number> => {
    const read = number(text.replace(/\s*nm$/, ''), 100, 20_000, 'A wavelength in nm');
    if (read.ok && light.some(({ nm }, i) => i !== k && nm === read.value))
      return failure('This wavelength is there already.');
    return read.ok ? success(read.value) : read;
  };
  const set = (k: number, change: Partial<Lines[number]>) =>
    onchange(
      light.map((line, i) => (i === k ? { ...line, ...change } : line)),
      `Spectrum of ${of}`,
    );

  function add() {
    const nm = Math.round(Math.max(...light.map((line) => line.nm)) + 20);
    onchange([...light, { nm, weight: light.at(-1)?.weight ?? 1 }], `Add a line to ${of}`);
  }
</script>

<div class="lines" role="group" aria-label="Spectrum of {of}">
  {#each light as { nm, weight }, k (k)}
    <div>
      <i style:background={waveColour(nm)} style:height="{Math.max(2, (14 * weight) / (whole || 1))}px"></i>
      <span class="cell"
        ><Cell
          label="Wavelength {k + 1} of {of}, nm"
          text={plain(nm, 7)}
          testid="line-nm-{k}"
          read={(text) => readNm(text, k)}
          oncommit={(value) => set(k, { nm: value })}
        /></span
      >
      nm
      <span class="cell"
        ><Cell
          label="Share of wavelength {k + 1} of {of}"
          text={plain(weight, 5)}
          testid="line-share-{k}"
          read={(text) => number(text, 0, 1e9, 'A share')}
          oncommit={(value) => set(k, { weight: value })}
        /></span
      >
      {#if light.length > 1}
        <button
          aria-label="Delete the line at {nm} nm"
          onclick={() =>
            onchange(
              light.filter((_, i) => i !== k),
              `Delete a line of ${of}`,
            )}>✕</button
        >
      {/if}
    </div>
  {/each}
  <div>
    <Button small data-testid="line-add" onclick={add}>+ line</Button>
    <select
      aria-label="A spectrum by name"
      data-testid="spectrum-named"
      value=""
      onchange={(event) => {
        const found = NAMED.find(([name]) => name === event.currentTarget.value);
        event.currentTarget.value = '';
        if (found) onchange(found[1], `Spectrum of ${of}: ${found[0]}`);
      }}
    >
      <option value="" hidden>by name…</option>
      {#each NAMED as [name] (name)}<option value={name}>{name}</option>{/each}
    </select>
  </div>
</div>

<style>
  .lines > div {
    display: flex;
    gap: 4px;
    align-items: center;
    color: var(--muted);
    font-size: var(--size-small);
  }

  i {
    align-self: end;
    width: 8px;
  }

  .cell {
    width: 56px;
    border-bottom: 1px solid var(--line);
  }

  button {
    padding: 0 3px;
    border: 0;
    background: none;
    color: var(--muted);
  }

  button:hover {
    color: var(--accent);
  }

  select {
    min-width: 0;
    max-width: 130px;
    padding: 1px 4px;
    border: 1px solid var(--line);
    border-radius: var(--radius);
    background: none;
    color: inherit;
    font-size: inherit;
  }
</style>
