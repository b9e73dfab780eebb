import { sceneProject } from '../project/scene-fixtures.ts';
import { compileScene, type SceneModel } from './scene-model.ts';

export { detector, glassOf, part, source } from '../project/scene-fixtures.ts';

/** A compiled scene without lenses. */
export function sceneOf(given: Parameters<typeof sceneProject>[0]): SceneModel {
  const project = sceneProject(given);
  return compileScene(project, project.scenes![0], (lens) => `There is no lens “${lens}”.`);
}
