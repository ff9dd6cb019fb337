import { type BevelGear, type Pulley, type Screw, bevelOf, num, pulleyRadius, screwCoreDiameter } from '../elements/index';
import { type Belt, couplingKind } from '../couplings/index';
import type { Element, Id } from '../fields/types';
import { STEEL } from '../forces/index';
import type { Compiled } from '../kinematics/index';
import { ANY_STEEL, BEVEL_MESH, meshOf, meshStiffness } from '../rating/index';
import { sideways } from './bearings';

/**
 * How a coupling gives: at port 0, N/m along the rim of its first element, whose radius is in m: a mesh once, a band in each
 * strand, whose first element is the wheel that it comes from. At port 1, in the motion of its second part: N·m/rad or N/m.
 */
export interface Yields {
  readonly port: 0 | 1;
  readonly unit: 'N' | 'N·m';
  readonly teeth?: boolean;
  readonly radii: readonly number[];
  readonly stiffness: readonly number[];
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
      // Along the line of action: teeth, and both shafts in their bearings.
      const gives = 1 / (perWidth * mesh.rated.width * 1e6) + mesh.wheels.reduce((sum, w) => sum + sideways(compiled.design, w.element), 0);
      return { port: 0, unit: 'N', teeth: true, radii: [own.rated.gear.pitchRadius * 1e-3], stiffness: [(along * along) / gives] };
    }
    case 'bevel-pair': {
      const [ga, gb] = [bevelOf(a as BevelGear), bevelOf(b as BevelGear)];
      const width = Math.min(ga.width, gb.width);
      const outer = (ga.module * ga.teeth) / 2;
      const radius = outer - (width / 2) * Math.sin(ga.cone);
      return { port: 0, unit: 'N', teeth: true, radii: [radius * 1e-3], stiffness: [BEVEL_MESH * width * 1e6 * Math.cos(ga.alpha) ** 2] };
    }
    case 'belt':
    case 'chain': {
      const { bandStiffness: EA } = c as Belt;
      if (EA === undefined) return { rigid: 'the stiffness of its band is not stated' };
      const { band } = model as { band?: { lengths: number[] } };
      if (!band) return { rigid: 'it is not complete' };
      const radii = (c.wheels ?? []).map((id) => pulleyRadius(element(id) as Pulley) * 1e-3);
      return { port: 0, unit: 'N', radii, stiffness: band.lengths.map((l) => EA / (l * 1e-3)) };
    }
    default:
      return stated(compiled, at, element(c.a));
  }
}

/** As stated, in the motion of the second part; of a screw otherwise that of its core over the greatest free length. */
function stated({ couplings }: Compiled, at: number, a: Element | undefined): Yields | { rigid: string } {
  const { coupling: c, model } = couplings[at];
  const { stiffness } = c as { stiffness?: number };
  const [, second] = model.ports;
  const yields = (K: number, unit: Yields['unit']): Yields => ({ port: 1, unit, radii: [1], stiffness: [K] });
  if (stiffness !== undefined && second) return second.motion === 'slide' ? yields(stiffness * 1e3, 'N') : yields((stiffness * 180) / Math.PI, 'N·m');
  if (c.type === 'screw-drive' && a) {
    const core = screwCoreDiameter(a as Screw);
    const free = num((a as Screw).freeLength);
    if (core !== undefined && free > 0) return yields(((STEEL * Math.PI * core * core) / 4 / free) * 1e3, 'N');
  }
  const takes = couplingKind(c.type)?.fields.some((f) => f.key === 'stiffness');
  return { rigid: takes ? 'its stiffness is not stated' : 'no stiffness is computed for couplings of its kind' };
}
