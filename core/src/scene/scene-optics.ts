import { basicFinish } from '../finishes/basic.ts';
import { compileFinish, type CompiledFinish, type Finish } from '../finishes/finish.ts';
import { finishProblems } from '../finishes/finish-problems.ts';
import type { FilmMedia } from '../finishes/optics/optics.ts';
import { beyondTable, spectralAt } from '../light/spectral.ts';
import { STANDARD, type Surroundings } from '../materials/air.ts';
import { indexIn, inRange, internalTransmittance, type Material } from '../materials/material.ts';
import { filmMedia } from '../project/film-media.ts';
import type { Project } from '../project/model.ts';
import type { Part, Volume } from '../project/scene.ts';
import type { Finding } from '../sequence/lens-model.ts';

/** Materials and finishes of a project at the wavelengths of a scene. What is missing is reported as a finding. */
export class SceneOptics {
  readonly #materials: ReadonlyMap<string, Material>;
  readonly #finishes: ReadonlyMap<string, Finish>;
  readonly #compiled = new Map<Finish, readonly CompiledFinish[]>();
  readonly #at: Surroundings;
  readonly #waves: readonly number[];
  readonly #films: FilmMedia;
  readonly #findings: Finding[];

  constructor(project: Project, waves: readonly number[], findings: Finding[]) {
    this.#materials = new Map(project.materials.map((material) => [material.id, material]));
    this.#finishes = new Map((project.finishes ?? []).map((finish) => [finish.id, finish]));
    this.#at = { ...STANDARD, ...project.surroundings };
    this.#films = filmMedia(project);
    this.#waves = waves;
    this.#findings = findings;
  }

  material(id: string): Material | undefined {
    return this.#materials.get(id);
  }

  /** Index and absorption (1/mm) by wavelength; the index is NaN where it is not known. */
  media(
    material: Material | undefined,
    volume: Volume | undefined,
    where: string,
  ): { readonly indices: Float64Array; readonly absorption: Float64Array } {
    const indices = Float64Array.from(this.#waves, (nm) => (material ? indexIn(material, nm, this.#at) : NaN));
    const absorption = Float64Array.from(this.#waves, (nm) => {
      const clear = material ? internalTransmittance(material, nm, 1) : null;
      return (clear === null ? 0 : -Math.log(clear)) + spectralAt(volume?.absorption ?? 0, nm);
    });
    const beyond = beyondTable(volume?.absorption ?? 0, this.#waves);
    if (beyond !== null) this.#findings.push({ severity: 'warning', where, text: `Its absorption ${beyond}` });
    if (!material) return { indices, absorption };
    for (const [i, nm] of this.#waves.entries()) {
      if (!Number.isNaN(indices[i]) && inRange(material, nm)) continue;
      indices[i] = NaN;
      this.#findings.push({
        severity: 'error',
        where,
        text: `${material.label} has no refractive index at ${nm} nm.`,
      });
    }
    return { indices, absorption };
  }

  /** A finish at each wavelength. */
  of(finish: Finish): readonly CompiledFinish[] {
    const known = this.#compiled.get(finish);
    if (known) return known;
    const made = this.#waves.map((nm) => compileFinish(finish, nm, this.#films));
    this.#compiled.set(finish, made);
    this.#findings.push(...finishProblems(finish, this.#waves, this.#films));
    return made;
  }

  /** The finish of a face: its own, that of its part, or a basic one. A finish that the project does not have absorbs all light. */
  finishOf(part: Part, face: string, fallback: string): Finish {
    const asked = part.faces?.[face]?.finish ?? part.finish ?? fallback;
    const found = this.#finishes.get(asked) ?? basicFinish(asked);
    if (!found)
      this.#findings.push({
        severity: 'error',
        where: part.id,
        text: `The project has no finish “${asked}”: ${face} absorbs all light.`,
      });
    return found ?? basicFinish('absorber')!;
  }
}
