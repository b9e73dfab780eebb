<script lang="ts">
  import { parseQuantity, wavelengthLabel, type Lens, type QuantityKind, type SettingSpec } from '@ulvex/core';
  import Button from './Button.svelte';
  import { fieldLabels, surfaceLabels } from '$lib/desk/lens-words.ts';
  import { exactText } from '$lib/format.ts';
  import { pictureFromFile } from './picture-image.ts';

  interface Props {
    spec: SettingSpec;
    value: string | number;
    lens: Lens | null;
    /** What an id can be, where the caller knows. */
    ids?: readonly (readonly [id: string, words: string])[] | undefined;
    testid: string;
    onchange: (value: string | number) => void;
    /** Told whether what was typed last can be used. */
    onwrong?: (wrong: boolean) => void;
  }
  let { spec, value, lens, ids, testid, onchange, onwrong }: Props = $props();
  let wrong = $state<string | null>(null);
  /** The text that is wrong: it stays in the field until it is mended. */
  let rejected = $state<string | null>(null);

  function complain(reason: string | null, text: string) {
    wrong = reason;
    rejected = reason === null ? null : text;
    onwrong?.(reason !== null);
  }

  /** How a unit is typed; numbers in units of their own take arithmetic alone. */
  const KINDS: Readonly<Record<string, QuantityKind>> = { mm: 'length', '°': 'angle', nm: 'wavelength' };

  /** What can be chosen, by value, with its words on screen; null where anything can be typed. */
  const options = $derived.by((): readonly (readonly [string, string])[] | null => {
    switch (spec.kind) {
      case 'choice':
        return spec.options.map((option) => [option, option]);
      case 'field': {
        const labels = fieldLabels(lens);
        return [...spec.also.map((word) => [word, word] as const), ...labels.entries()];
      }
      case 'wavelength':
        return [
          ...spec.also.map((word) => [word, word] as const),
          ...(lens?.wavelengths ?? []).map(({ id, nm }) => [id, wavelengthLabel(nm)] as const),
        ];
      case 'surface':
        return [...spec.also.map((word) => [word, word] as const), ...surfaceLabels(lens).entries()];
      case 'id':
        return ids ?? null;
      default:
        return null;
    }
  });

  /** A number as it is typed: with units and arithmetic, as in every cell; a decimal comma is taken for a point. */
  function typed(text: string) {
    if (spec.kind !== 'integer' && spec.kind !== 'number') return onchange(text);
    const kind = (spec.kind === 'number' && KINDS[spec.unit]) || 'number';
    const current = typeof value === 'number' ? value : Number.NaN;
    const read = parseQuantity(text.trim().replace(/^(-?\d+),(\d+)$/, '$1.$2'), { kind, current });
    const legal = `from ${spec.min} to ${spec.max}${'unit' in spec && spec.unit ? ` ${spec.unit}` : ''}`;
    if (!read.ok) complain(`${spec.title}: ${read.reason}`, text);
    else if (read.value < spec.min || read.value > spec.max) complain(`${spec.title} must be ${legal}`, text);
    else if (spec.kind === 'integer' && !Number.isInteger(read.value))
      complain(`${spec.title} must be a whole number`, text);
    else {
      complain(null, text);
      onchange(read.value);
    }
  }

  /** The fields that are chosen, of a setting of several. */
  const named = $derived(spec.kind === 'fields' && value !== 'all' ? String(value).split(' ') : null);
  function toggle(id: string) {
    const all = [...fieldLabels(lens).keys()];
    const now = named ?? all;
    const next = all.filter((one) => (one === id ? !now.includes(id) : now.includes(one)));
    // None is no choice: all count again.
    onchange(next.length === 0 || next.length === all.length ? 'all' : next.join(' '));
  }

  async function chosen(input: HTMLInputElement) {
    const file = input.files?.[0];
    input.value = '';
    if (!file) return;
    try {
      onchange(await pictureFromFile(file));
      complain(null, '');
    } catch (error) {
      complain((error as Error).message, '');
    }
  }
</script>

{#if spec.kind === 'fields'}
  <span class="several" role="group" aria-label={spec.title}>
    {spec.title.toLowerCase()}
    {#each fieldLabels(lens) as [id, words] (id)}
      <Button
        small
        aria-pressed={named === null || named.includes(id)}
        data-testid="{testid}-{id}"
        onclick={() => toggle(id)}>{words}</Button
      >
    {/each}
  </span>
{:else}<label data-explain={spec.word && `word:${spec.word}`}>
    {spec.title.toLowerCase()}
    {#if options}
      <select value={String(value)} data-testid={testid} onchange={(event) => onchange(event.currentTarget.value)}>
        {#if !options.some(([option]) => option === String(value))}<option value={String(value)}>{value}</option>{/if}
        {#each options as [option, words] (option)}<option value={option}>{words}</option>{/each}
      </select>
    {:else if spec.kind === 'text' && spec.of === 'picture'}
      <input
        type="file"
        accept="image/*"
        data-testid={testid}
        onchange={(event) => void chosen(event.currentTarget)}
      />{value === '' ? '' : `${String(value).split(' ')[0]} dots kept`}
    {:else}
      <input
        maxlength={spec.kind === 'text' ? spec.most : undefined}
        class:words={spec.kind === 'text'}
        value={rejected ?? (typeof value === 'number' ? exactText(value) : value)}
        data-testid={testid}
        aria-invalid={wrong !== null}
        onchange={(event) => typed(event.currentTarget.value)}
      />{'unit' in spec ? spec.unit : ''}
    {/if}
  </label>{/if}
{#if wrong}<em role="alert"
    >✕ {wrong}{spec.kind === 'text'
      ? '. The previous value is kept.'
      : `; ${typeof value === 'number' ? exactText(value) : value} is used meanwhile.`}</em
  >{/if}

<style>
  input {
    width: 6em;
    padding: 0 3px;
    border: 1px solid var(--line);
    border-radius: var(--radius);
    background: var(--card);
    color: var(--ink);
    font-family: var(--font-mono);
  }

  .several {
    display: inline-flex;
    gap: 4px;
    align-items: center;
  }

  .words {
    width: 14em;
  }

  input[type='file'] {
    width: 15em;
    border: 0;
    font-family: inherit;
  }

  em {
    color: var(--bad);
    font-style: normal;
  }
</style>
