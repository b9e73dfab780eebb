<script lang="ts">
  import ParameterCell from '$lib/components/ParameterCell.svelte';
  import { useDesk } from '$lib/desk/context.ts';

  const desk = useDesk();
  const lens = $derived(desk.shown.lenses[0]);
  const at = $derived(`lenses.${lens.id}`);

  function set(path: string, value: unknown, label: string) {
    desk.commit([{ kind: 'set', path: `${at}.${path}`, value }], label);
  }
</script>

<section aria-label="Given">
  <h2>Given</h2>
  <div class="form">
    <span class="what">Object distance</span>
    <ParameterCell address="{at}.object.distance" label="Object distance in mm" testid="object-distance" />
    <span class="note">mm to the first vertex; ∞ for a far object</span>

    <span class="what">System aperture</span>
    <ParameterCell address="{at}.aperture.value" label="System aperture in mm" testid="aperture-value" />
    <select
      aria-label="Kind of system aperture"
      value={lens.aperture.kind}
      onchange={(event) => set('aperture.kind', event.currentTarget.value, 'Kind of aperture')}
    >
      <option value="entrance_pupil_diameter">mm, entrance pupil diameter</option>
      <option value="stop_semi_aperture">mm, semi-aperture of the stop</option>
    </select>

    <span class="what">Obscuration ratio</span>
    <ParameterCell address="{at}.pupil.obscuration" label="Obscuration ratio" testid="obscuration" />
    <span class="note">inner over outer radius of an annular pupil; 0 for a full one</span>

    <span class="what">Rays aim</span>
    <span></span>
    <select
      aria-label="What rays aim at"
      value={lens.pupil.aim}
      onchange={(event) => set('pupil.aim', event.currentTarget.value, 'Aim of rays')}
    >
      <option value="paraxial">at the paraxial entrance pupil</option>
      <option value="stop">at the stop surface, ray by ray</option>
    </select>
  </div>
</section>

<style>
  .form {
    display: grid;
    grid-template-columns: 120px 110px 1fr;
    gap: 4px 10px;
    align-items: center;
  }

  .what,
  .note {
    color: var(--muted);
  }

  .note {
    font-size: var(--size-small);
  }

  select {
    justify-self: start;
    padding: 1px 4px;
    border: 1px solid var(--line);
    border-radius: var(--radius);
    background: var(--card);
  }
</style>
