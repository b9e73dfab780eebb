<script lang="ts">
  import type { SystemAperture } from '@ulvex/core';
  import ParameterCell from '$lib/components/ParameterCell.svelte';
  import { useDesk } from '$lib/desk/context.ts';
  import { primaryOrder } from '$lib/desk/primary-order.svelte.ts';

  const desk = useDesk();
  const lens = $derived(desk.lens!);
  const at = $derived(`lenses.${lens.id}`);
  const order = primaryOrder(desk);
  const primary = $derived(order.current);

  const KINDS: readonly { readonly kind: SystemAperture['kind']; readonly title: string }[] = [
    { kind: 'entrance_pupil_diameter', title: 'mm, entrance pupil diameter' },
    { kind: 'stop_semi_aperture', title: 'mm, semi-aperture of the stop' },
    { kind: 'image_f_number', title: 'F-number f/D in image space' },
    { kind: 'working_f_number', title: 'working F-number, paraxial: 1/(2 n′u′)' },
    { kind: 'real_working_f_number', title: 'working F-number of real rays: 1/(2 n′ sin U′)' },
    { kind: 'object_na', title: 'object NA, n sin U' },
  ];

  /** What is put for an aperture that cannot be counted yet: it waits for power, or for a near object. */
  const WAITING: Readonly<Partial<Record<SystemAperture['kind'], number>>> = {
    image_f_number: 4,
    working_f_number: 4,
    real_working_f_number: 4,
    object_na: 0.1,
  };

  /** Another kind of aperture for the same beam. */
  async function setAperture(kind: SystemAperture['kind']) {
    const before = desk.project;
    const converted = await desk.pool.run('apertureAs', { project: before, lens: lens.id, kind }).result;
    if (desk.project !== before) return;
    // A lens without power takes any kind: what cannot be counted yet waits for power, or for a near object.
    const waits = !Number.isFinite(primary?.focalLength ?? NaN);
    if (!converted.ok && !(kind in WAITING && waits)) {
      desk.notice = { tone: 'refused', title: converted.reason };
      return;
    }
    const value = converted.ok ? converted.value : { kind, value: WAITING[kind] ?? lens.aperture.value };
    desk.commit([{ kind: 'set', path: `${at}.aperture`, value }], 'Kind of aperture');
  }
</script>

<section aria-label="Given">
  <h2>Given</h2>
  <div class="form">
    <span class="what">Object distance</span>
    <ParameterCell address="{at}.object.distance" label="Object distance in mm" testid="object-distance" />
    <span class="note">mm to the first vertex; ∞ for a far object</span>

    <span class="what">System aperture</span>
    <ParameterCell address="{at}.aperture.value" label="System aperture" testid="aperture-value" />
    <select
      aria-label="Kind of system aperture"
      data-explain="word:aperture"
      data-testid="aperture-kind"
      value={lens.aperture.kind}
      onchange={(event) => {
        void setAperture(event.currentTarget.value as SystemAperture['kind']);
        event.currentTarget.value = desk.lensIn(desk.project)!.aperture.kind;
      }}
    >
      {#each KINDS as { kind, title } (kind)}<option value={kind}>{title}</option>{/each}
    </select>

    <span class="what">Image space</span>
    <span></span>
    <select
      aria-label="Image space"
      data-explain="word:image_space"
      data-testid="image-space"
      value={lens.imageSpace ?? 'focal'}
      onchange={(event) =>
        desk.commit(
          [
            {
              kind: 'set',
              path: `${at}.imageSpace`,
              value: event.currentTarget.value === 'afocal' ? 'afocal' : undefined,
            },
          ],
          'Image space',
        )}
    >
      <option value="focal">an image surface, results in µm</option>
      <option value="afocal">afocal: the image at infinity, results in mrad</option>
    </select>

    <span class="what">Obscuration ratio</span>
    <ParameterCell address="{at}.pupil.obscuration" label="Obscuration ratio" testid="obscuration" />
    <span class="note">inner over outer radius of an annular pupil; 0 for a full one</span>

    <span class="what">Temperature</span>
    <ParameterCell address="surroundings.temperature" label="Temperature in °C" testid="temperature" />
    <span class="note">°C of lens and air; changes indices, not lengths</span>

    <span class="what">Air pressure</span>
    <ParameterCell address="surroundings.pressure" label="Air pressure in Pa" testid="pressure" />
    <span class="note">Pa; 0 for vacuum around the lens</span>

    <span class="what">Rays aim</span>
    <span></span>
    <select
      aria-label="What rays aim at"
      data-explain="word:aim"
      value={lens.pupil.aim}
      onchange={(event) =>
        desk.commit([{ kind: 'set', path: `${at}.pupil.aim`, value: event.currentTarget.value }], 'Aim of rays')}
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
    max-width: 284px; /* the column beside begins there */
  }
</style>
