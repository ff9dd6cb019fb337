import { type BevelGear, type Pulley, bevelOf, pulleyRadius } from '../elements/index';
import type { Belt } from '../couplings/index';
import type { Element, Id } from '../fields/types';
import type { Compiled } from '../kinematics/index';
import { ANY_STEEL, meshOf, meshStiffness } from '../rating/index';

/** Shear modulus of steel, MPa (E = 206 000 MPa, ν = 0.3). */
export const SHEAR = 206_000 / 2.6;
/** Stiffness of a mesh of bevel gears, N/(mm·μm) (ISO 10300-1:2001, 8.4.2; from memory). */
const BEVEL_STIFFNESS = 20;

/** How a coupling gives: N/m along the way of its first element, whose radius is in m; and where that is from. */
export interface Yields {
  readonly radius: number;
  /** Of a mesh one; of a band one for each strand, in order. */
  readonly stiffness: readonly number[];
  readonly from: string;
}

/** The stiffness of a coupling, by computation or as stated; or why it counts as rigid. */
export function yieldsOf(compiled: Compiled, at: number): Yields | { rigid: string } {
  const { coupling: c, model } = compiled.couplings[at];
  const element = (id: Id | undefined): Element | undefined => compiled.design.elements.find((e) => e.id === id);
  const [a, b] = [element(c.a), element(c.b)];
  switch (c.type) {
    case 'gear-pair':
    case 'sector-mesh':
    case 'rack-mesh': {
      const mesh = meshOf(compiled, c, model.derived?.find((d) => d.key === 'distance')?.value, ANY_STEEL);
      if ('why' in mesh) return { rigid: mesh.why };
      // As loaded with 100 N/mm and more: stiffer than teeth that hardly touch.
      const { mesh: perWidth } = meshStiffness(mesh.rated, 100 * mesh.rated.width);
      const along = Math.cos(mesh.rated.pair.workingAngle);
      const own = c.type === 'rack-mesh' || a?.id === mesh.wheels[0].element.id ? mesh.wheels[0] : mesh.wheels[1];
      return { radius: own.rated.gear.pitchRadius * 1e-3, stiffness: [perWidth * mesh.rated.width * 1e6 * along * along], from: 'cγα by ISO 6336-1' };
    }
    case 'bevel-pair': {
      const [ga, gb] = [bevelOf(a as BevelGear), bevelOf(b as BevelGear)];
      const width = Math.min(ga.width, gb.width);
      const outer = (ga.module * ga.teeth) / 2;
      const radius = outer - (width / 2) * Math.sin(ga.cone);
      return { radius: radius * 1e-3, stiffness: [BEVEL_STIFFNESS * width * 1e6 * Math.cos(ga.alpha) ** 2], from: 'cγ by ISO 10300-1' };
    }
    case 'belt':
    case 'chain': {
      const { bandStiffness: EA } = c as Belt;
      if (EA === undefined) return { rigid: 'the stiffness of its band is not stated' };
      const { band } = model as { band?: { lengths: number[] } };
      const first = element(c.wheels?.[0]) as Pulley | undefined;
      if (!band || !first) return { rigid: 'it is not complete' };
      return { radius: pulleyRadius(first) * 1e-3, stiffness: band.lengths.map((l) => EA / (l * 1e-3)), from: 'EA over the length of each strand' };
    }
    default:
      return { rigid: 'no stiffness is computed for couplings of its kind' };
  }
}
