import type { Design, Id } from '../fields/types';
import { ISO_54 } from '../sizing/index';
import { evenRoots } from './even-roots';
import { meshSizes } from './mesh-sizes';
import type { RatingFix, RatingLine } from './protocol';
import { CYLINDRICAL } from './tooth-lines';
import { firstThatCures } from './trial';

/** A face is proposed no narrower than so many modules (common practice for shafts on two bearings: 6 and more). */
const NARROWEST = 6;
/** Modules that are tried, of those smaller than the present one. */
const MODULES = 8;
/** Parts of its present width to which a face is narrowed. */
const NARROWER = [0.3, 0.4, 0.5, 0.6, 0.7, 0.8, 0.9];

/** Whether smaller sizes can be asked for at a line: teeth of a cylindrical mesh that bear what is wanted. */
export const canPropose = ({ couplings }: Design, { what, item, reserve }: Pick<RatingLine, 'what' | 'item' | 'reserve'>): boolean =>
  reserve >= 1 && /^(root|flank)/.test(what) && CYLINDRICAL.has(couplings.find((c) => c.id === item)?.type ?? '');

/**
 * What would do in place of a mesh that bears more than is wanted of it: the smallest module of ISO 54 and the narrowest face
 * with which all of it still bears that, and profile shifts that make both roots alike. Each is tried on the whole design, and
 * left out where it brings a fault or a caution.
 */
export function ratingSizes(design: Design, coupling: Id): RatingFix[] {
  const sizes = meshSizes(design, coupling);
  if (!sizes) return [];
  const { module, width, withModule, withWidth } = sizes;
  const smaller = ISO_54.filter((m) => m < module * (1 - 1e-9)).slice(-MODULES);
  const narrower = NARROWER.map((k) => Math.round(k * width)).filter((b) => b >= NARROWEST * module && b < width);
  return [smaller.map(withModule), narrower.map(withWidth), evenRoots(design, coupling)].flatMap(firstThatCures(design, coupling));
}
