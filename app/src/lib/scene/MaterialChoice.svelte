<script lang="ts">
  import { abbeNumber, CATALOGUE, searchMaterials, takeInMaterial, type Material } from '@ulvex/core';
  import { glassTint } from '$lib/colours.ts';
  import { useDesk } from '$lib/desk/context.ts';

  interface Props {
    /** Id of the material; undefined for none. */
    value: string | undefined;
    label: string;
    testid: string;
    /** What it is called where there is none. */
    none: string;
    disabled?: boolean;
    onchoose: (material: string | undefined, edits: ReturnType<typeof takeInMaterial>['edits']) => void;
  }
  let { value, label, testid, none, disabled = false, onchoose }: Props = $props();
  const desk = useDesk();
  const own = $derived(desk.shown.materials);
  const shown = $derived(own.find(({ id }) => id === value));
  let trouble = $state<string | null>(null);
  const listId = $props.id();
  /** Of the project first, then everything on the shelf. */
  const offered = $derived([...own, ...CATALOGUE.filter(({ id }) => !own.some((one) => one.id === id))]);
  const nameOf = ({ label: short, family }: Material) => `${short} · ${family}`;

  function choose(text: string) {
    const words = text.trim();
    trouble = null;
    if (words === '' || words === none) {
      onchoose(undefined, []);
      return;
    }
    const exact = offered.find((one) => [one.id, one.label, nameOf(one)].some((name) => name === words));
    const [first] = exact ? [exact] : searchMaterials(words, offered);
    if (!first) {
      trouble = `There is no material “${words}” in the project or on the shelf. The previous one stays.`;
      return;
    }
    if (own.some(({ id }) => id === first.id)) onchoose(first.id, []);
    else {
      const { edits, material } = takeInMaterial(desk.project, first);
      onchoose(material.id, edits);
    }
  }
</script>

<span class="choice">
  <i style:background={shown ? glassTint(abbeNumber(shown.dispersion)) : 'none'} aria-hidden="true"></i>
  <input
    list={listId}
    value={shown ? nameOf(shown) : none}
    aria-label={label}
    aria-invalid={trouble !== null}
    data-testid={testid}
    {disabled}
    onfocus={(event) => event.currentTarget.select()}
    onchange={(event) => choose(event.currentTarget.value)}
  />
  <datalist id={listId}
    ><option value={none}></option>{#each offered as one (one.id)}<option value={nameOf(one)}></option>{/each}</datalist
  >
</span>
{#if trouble}<em role="alert">✕ {trouble}</em>{/if}

<style>
  .choice {
    display: flex;
    flex: 1;
    gap: 5px;
    align-items: center;
    min-width: 0;
    border-bottom: 1px solid var(--line);
  }

  i {
    flex-shrink: 0;
    width: 11px;
    height: 11px;
    border: 1px solid var(--line);
    border-radius: 2px;
  }

  input {
    flex: 1;
    min-width: 0;
    padding: 0;
    border: 0;
    background: none;
    color: var(--ink);
    font-size: var(--size-small);
    text-overflow: ellipsis;
  }

  em {
    color: var(--bad);
    font-size: var(--size-small);
    font-style: normal;
  }
</style>
