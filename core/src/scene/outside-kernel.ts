import type { SceneModel } from './scene-model.ts';

/** What of a scene the compiled tracer does not know and asks TypeScript for, ray by ray: faces of free shapes, and finishes, by name. */
export function outsideKernel({ faces }: Pick<SceneModel, 'faces'>): string[] {
  const names = new Set<string>();
  for (const { form, part, name, finish, optics } of faces) {
    if (!form.compiled) names.add(`${part} ${name} (free shape)`.trim());
    for (const { plain, reflected, transmitted } of optics) {
      const scattered = [reflected, transmitted].some((law) => law && !law.plain);
      if (!plain || scattered) names.add(`${finish.name} (finish)`);
    }
  }
  return [...names];
}
