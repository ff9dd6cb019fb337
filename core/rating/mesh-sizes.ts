import { type Gear, num } from '../elements/index';
import type { Design, Id } from '../fields/types';
import type { RatingFix } from './protocol';
import { CYLINDRICAL } from './tooth-lines';
import { together } from './trial';

/** The sizes of a mesh of cylindrical teeth, and how they are changed. */
export interface MeshSizes {
  readonly wheels: readonly Gear[];
  readonly module: number;
  /** Of the narrower wheel, mm. */
  readonly width: number;
  /** Another module for all wheels that mesh with one another; another width of face for both. */
  readonly withModule: (module: number) => RatingFix;
  readonly withWidth: (width: number) => RatingFix;
}
const said = (mm: number): string => `${Number(mm.toPrecision(4))} mm`;

/** Of a coupling that is such a mesh, and is complete. */
export function meshSizes(design: Design, coupling: Id): MeshSizes | undefined {
  const c = design.couplings.find((x) => x.id === coupling);
  const wheels = design.elements.filter((e): e is Gear => e.id === c?.a || e.id === c?.b);
  if (!c || !CYLINDRICAL.has(c.type) || wheels.length < 2) return undefined;
  const module = num(wheels[0].module);
  const width = Math.min(...wheels.map((w) => num(w.width)));
  const all = together(
    design,
    wheels.map((w) => w.id),
  );
  const toothed = design.elements.filter((e) => all.has(e.id) && 'module' in e);
  const others = toothed.length > 2 ? `, of all ${toothed.length} wheels that mesh with them` : '';
  return {
    wheels,
    module,
    width,
    withModule: (m) => ({
      label: `Module ${said(m)} instead of ${said(module)}${others}`,
      changes: toothed.map((e) => ({ item: e.id, field: 'module', value: m })),
    }),
    withWidth: (b) => ({
      label: `Face width ${said(b)} instead of ${said(width)}`,
      // Narrower together; wider only where it is not that wide already.
      changes: wheels.map((w) => ({ item: w.id, field: 'width', value: b < width ? num(w.width) - width + b : Math.max(b, num(w.width)) })),
    }),
  };
}
