<script lang="ts">
  import { wavelengthLabel, type Lens, type SettingSpec } from '@ulvex/core';
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
  }
  let { spec, value, lens, ids, testid, onchange }: Props = $props();
  let wrong = $state<string | null>(null);

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

  function typed(text: string) {
    if (spec.kind !== 'integer' && spec.kind !== 'number') return onchange(text);
    const number = Number(text.trim().replace(',', '.').replace('−', '-'));
    if (text.trim() === '' || !Number.isFinite(number)) wrong = `${spec.title} must be a number`;
    else if (number < spec.min || number > spec.max) wrong = `${spec.title}: from ${spec.min} to ${spec.max}`;
    else if (spec.kind === 'integer' && !Number.isInteger(number))
      wrong = `${spec.title} must be a whole number`;
    else {
      wrong = null;
      onchange(number);
    }
  }

  async function chosen(input: HTMLInputElement) {
    const file = input.files?.[0];
    input.value = '';
    if (!file) return;
    try {
      onchange(await pictureFromFile(file));
      wrong = null;
    } catch (error) {
      wrong = (error as Error).message;
    }
  }
</script>

<label>
  {spec.title.toLowerCase()}
  {#if options}
    <select
      value={String(value)}
      data-testid={testid}
      onchange={(event) => onchange(event.currentTarget.value)}
    >
      {#if !options.some(([option]) => option === String(value))}<option value={String(value)}>{value}</option
        >{/if}
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
      value={typeof value === 'number' ? exactText(value) : value}
      data-testid={testid}
      aria-invalid={wrong !== null}
      onchange={(event) => typed(event.currentTarget.value)}
    />{'unit' in spec ? spec.unit : ''}
  {/if}
</label>
{#if wrong}<em role="alert"
    >✕ {wrong}{spec.kind === 'text' ? '; what was there stays.' : `; it stays ${value}.`}</em
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
