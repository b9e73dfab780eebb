import { readProject, type Project } from '@ulvex/core';

/** Lenses to begin from, by the names of their files; each is read when it is first looked at. */
const FILES = {
  landscape_singlet: () => import('@ulvex/samples/forms/landscape-singlet.ulvex.json'),
  achromat: () => import('@ulvex/samples/forms/achromat.ulvex.json'),
  symmetrical_pair: () => import('@ulvex/samples/forms/symmetrical-pair.ulvex.json'),
  triplet: () => import('@ulvex/samples/forms/triplet.ulvex.json'),
  four_element: () => import('@ulvex/samples/forms/four-element.ulvex.json'),
  retrofocus: () => import('@ulvex/samples/forms/retrofocus.ulvex.json'),
  telephoto: () => import('@ulvex/samples/forms/telephoto.ulvex.json'),
  relay: () => import('@ulvex/samples/forms/relay.ulvex.json'),
  eyepiece: () => import('@ulvex/samples/forms/eyepiece.ulvex.json'),
  two_mirror: () => import('@ulvex/samples/forms/two-mirror.ulvex.json'),
  off_axis_paraboloid: () => import('@ulvex/samples/forms/off-axis-paraboloid.ulvex.json'),
  scan_lens: () => import('@ulvex/samples/forms/scan-lens.ulvex.json'),
} as const;

/** What the forms are for, in the order of the shelf. */
export const FORMS = [
  { id: 'landscape_singlet', title: 'Landscape singlet', about: 'f 50, F/14, ±20°' },
  { id: 'achromat', title: 'Achromat', about: 'f 100, F/5, ±1.5°' },
  { id: 'symmetrical_pair', title: 'Symmetrical pair', about: 'f 50, F/8, ±20°' },
  { id: 'triplet', title: 'Triplet', about: 'f 50, F/4.5, ±20°' },
  { id: 'four_element', title: 'Four elements', about: 'f 50, F/3.5, ±16°' },
  { id: 'retrofocus', title: 'Retrofocus', about: 'f 20, F/4, ±30°, 25 mm after it' },
  { id: 'telephoto', title: 'Telephoto', about: 'f 200, F/5.6, ±3°, 155 mm long' },
  { id: 'relay', title: 'Relay', about: '1 : 1, NA 0.07, object ±4 mm' },
  { id: 'eyepiece', title: 'Eyepiece', about: 'f 25, pupil 4 mm, ±18°' },
  { id: 'two_mirror', title: 'Two mirrors', about: 'f 1000, F/8, ±0.3°' },
  { id: 'off_axis_paraboloid', title: 'Off-axis paraboloid', about: 'f 200, F/5, nothing in its way' },
  { id: 'scan_lens', title: 'Scan lens', about: 'f·θ, f 100, F/20, ±20°, 633 nm' },
] as const satisfies readonly { readonly id: keyof typeof FILES; readonly title: string; readonly about: string }[];

export type FormId = keyof typeof FILES;

/** A start form, read and checked. */
export async function formProject(id: FormId): Promise<Project> {
  const read = readProject((await FILES[id]()).default);
  if (!read.ok) throw new Error(`The form ${id} is broken: ${JSON.stringify(read.problems)}`);
  return read.project;
}
