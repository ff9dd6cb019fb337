import type { Mesh } from '../solids/index';
import { MeshTree } from './mesh-tree';

/**
 * Surfaces of contents that are at hand, by their hash. A hash says what a content is wherever it is asked for, so what is held
 * here changes no answer: it only says whether there is one. Who has a content holds it before a design that names it is worked
 * out; where none is held, the checks say that they were not made.
 */
const held = new Map<string, () => Mesh>();
const trees = new Map<string, MeshTree>();

/** Holds a surface; it is made when it is first needed. */
export function holdContent(hash: string, surface: () => Mesh): void {
  if (!held.has(hash)) held.set(hash, surface);
}
export const holdsContent = (hash: string): boolean => held.has(hash);
/** Lets go of all that is held. */
export function releaseContents(): void {
  held.clear();
  trees.clear();
}

/** The tree of a surface that is held. */
export function treeOf(hash: string): MeshTree | undefined {
  let tree = trees.get(hash);
  const surface = tree ? undefined : held.get(hash);
  if (surface) trees.set(hash, (tree = new MeshTree(surface())));
  return tree;
}
