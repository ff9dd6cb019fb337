import type { GearData, PairData } from '../teeth/index';
import type { Deviations } from './accuracy';
import type { GearMaterial } from './gear-material';
import { virtualTeeth } from './tooth-form';

/** One wheel of a mesh with what is stated of it. Sizes mm. */
export interface RatedGear {
  readonly gear: GearData;
  readonly width: number;
  readonly bore: number;
  readonly density: number;
  readonly material: GearMaterial;
  readonly deviations: Deviations;
  /** Rz of flanks and fillets, μm. */
  readonly roughness: number;
}
/** Two wheels in mesh, the one with fewer teeth first. */
export interface RatedMesh {
  readonly pinion: RatedGear;
  readonly wheel: RatedGear;
  readonly pair: PairData;
  /** Face width in mesh, mm. */
  readonly width: number;
  /** Stated face load factor KHβ, where it is not to be computed. */
  readonly faceLoad?: number;
  /** Mesh load factor Kγ, where it is stated. */
  readonly sharing?: number;
}
/** What a mesh carries in steady motion. */
export interface MeshLoad {
  /** Tangential force at the reference circle Ft, N. */
  readonly force: number;
  /** Speed of the pinion relative to what carries it, rev/min. */
  readonly speed: number;
  /**
   * How often in a turn the same flank meshes, of the pinion and of the wheel: 1 where nothing is stated, 3 of a sun with three
   * planets.
   */
  readonly contacts?: readonly [number, number];
  /** Whether its teeth bend both ways in a turn: those of an idler or a planet. */
  readonly reversed?: readonly [boolean, boolean];
}

/** Effective stiffness of a pair, N/(mm·μm): c′, cγα and cγβ (ISO 6336-1:2006, 9, method B; from memory). */
export interface Stiffness {
  readonly single: number;
  readonly mesh: number;
  readonly face: number;
}
export function meshStiffness({ pinion, wheel, pair, width }: RatedMesh, force: number): Stiffness {
  const [g1, g2] = [pinion.gear, wheel.gear];
  const z1 = virtualTeeth(g1);
  // The formula holds for external pairs; an internal wheel is taken as a rack (1/zn = 0), as the standard does.
  const inverse2 = g2.internal ? 0 : 1 / virtualTeeth(g2);
  const [x1, x2] = [g1.shift, g2.internal ? 0 : g2.shift];
  const q =
    0.04723 +
    0.15551 / z1 +
    0.25791 * inverse2 -
    0.00635 * x1 -
    (0.11654 * x1) / z1 -
    0.00193 * x2 -
    0.24188 * x2 * inverse2 +
    0.00529 * x1 * x1 +
    0.00182 * x2 * x2;
  const rack = (1 + 0.5 * (1.2 - g1.dedendum)) * (1 - 0.02 * (20 - (g1.alpha * 180) / Math.PI));
  const [e1, e2] = [pinion.material.modulus, wheel.material.modulus];
  const elastic = (2 * e1 * e2) / (e1 + e2) / STEEL;
  // Below 100 N/mm teeth are softer.
  const little = Math.min(1, force / width / 100);
  const single = (1 / q) * 0.8 * rack * Math.cos(g1.beta) * elastic * little;
  const mesh = single * (0.75 * pair.transverseContactRatio + 0.25);
  return { single, mesh, face: 0.85 * mesh };
}
/** Modulus of steel for which the stiffness holds, MPa. */
const STEEL = 206_000;

/** Mass of the pair for each mm of width on the line of action, kg/mm (ISO 6336-1, 6.4.8, gears without webs; from memory). */
export function reducedMass({ pinion, wheel }: RatedMesh): number {
  const [g1, g2] = [pinion.gear, wheel.gear];
  const mean = (g: GearData): number => g.tipRadius + g.rootRadius;
  const u = g2.teeth / g1.teeth;
  const hollow = (r: RatedGear): number => 1 - (r.bore / mean(r.gear)) ** 4;
  const [d1, db1] = [mean(g1), 2 * g1.baseRadius];
  const kgPerMm3 = 1e-9;
  const first = 1 / (hollow(pinion) * pinion.density * kgPerMm3);
  const second = 1 / (hollow(wheel) * wheel.density * kgPerMm3 * u * u);
  return ((Math.PI / 8) * (d1 / db1) ** 2 * d1 * d1) / (first + second);
}

/** Running-in of pitch deviations yα, μm, for a base pitch deviation (ISO 6336-1, 8.3.5; of two materials the mean). */
export function runningInPitch(deviation: number, speed: number, materials: readonly GearMaterial[]): number {
  const of = (m: GearMaterial): number => {
    if (m.runningIn === 'hard') return Math.min(3, 0.075 * deviation);
    if (m.runningIn === 'iron') return 0.275 * deviation;
    const most = speed <= 5 ? Infinity : (speed <= 10 ? 12_800 : 6400) / m.contactLimit;
    // No more wears off than there is, as below.
    return Math.min(most, Math.min(1, 160 / m.contactLimit) * deviation);
  };
  return materials.reduce((s, m) => s + of(m), 0) / materials.length;
}
/** Running-in of the misalignment yβ, μm (ISO 6336-1, 7.5.3). */
export function runningInFace(misalignment: number, speed: number, materials: readonly GearMaterial[]): number {
  const of = (m: GearMaterial): number => {
    if (m.runningIn === 'hard') return Math.min(6, 0.15 * misalignment);
    if (m.runningIn === 'iron') return Math.min(speed <= 5 ? Infinity : speed <= 10 ? 45 : 22, 0.55 * misalignment);
    const most = speed <= 5 ? Infinity : (speed <= 10 ? 25_600 : 12_800) / m.contactLimit;
    return Math.min(most, Math.min(1, 320 / m.contactLimit) * misalignment);
  };
  return materials.reduce((s, m) => s + of(m), 0) / materials.length;
}
