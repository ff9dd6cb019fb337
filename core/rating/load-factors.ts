import { type MeshLoad, type RatedMesh, meshStiffness, reducedMass, runningInFace, runningInPitch } from './mesh';

/** Factors by which a nominal load is raised (ISO 6336-1:2006). */
export interface LoadFactors {
  readonly application: number;
  /** Mesh load factor Kγ. */
  readonly sharing: number;
  readonly dynamic: number;
  readonly faceContact: number;
  readonly faceBending: number;
  readonly transverseContact: number;
  readonly transverseBending: number;
  /** Reference ratio N: speed over that of resonance. */
  readonly resonance: number;
  /** Misalignment after running-in Fβy, μm; nothing where KHβ is stated. */
  readonly misalignment?: number;
}

/** Pitch line speed of the pinion, m/s. */
export const pitchSpeed = ({ pinion }: RatedMesh, speed: number): number => (Math.PI * 2 * pinion.gear.pitchRadius * Math.abs(speed)) / 60_000;

/** Constants of the dynamic factor by the total contact ratio (ISO 6336-1, table 5). */
function constants(e: number): { b: number; f: number; k: number; resonant: number; above: number; aboveForm: number; rest: number } {
  const rest = e <= 1.5 ? 0.75 : e <= 2.5 ? 0.125 * Math.sin(Math.PI * (e - 2)) + 0.875 : 1;
  if (e <= 2) return { b: 0.32, f: 0.34, k: 0.23, resonant: 0.9, above: 0.47, aboveForm: 0.47, rest };
  return {
    b: 0.32,
    f: 0.57 / (e - 0.3),
    k: 0.096 / (e - 1.56),
    resonant: (0.57 - 0.05 * e) / (e - 1.44),
    above: 0.47,
    aboveForm: 0.12 / (e - 1.74),
    rest,
  };
}

/**
 * Dynamic factor Kv by method B, without tip relief (ISO 6336-1:2006, 6.5; from memory). `force` is Ft·KA, N. Gives the reference
 * ratio N beside it.
 */
export function dynamicFactor(mesh: RatedMesh, force: number, speed: number): { factor: number; resonance: number } {
  const { pinion, wheel, pair, width } = mesh;
  const v = pitchSpeed(mesh, speed);
  if (v === 0 || force === 0) return { factor: 1, resonance: 0 };
  const stiff = meshStiffness(mesh, force);
  const resonantSpeed = (30_000 / (Math.PI * pinion.gear.teeth)) * Math.sqrt(stiff.mesh / reducedMass(mesh));
  const N = Math.abs(speed) / resonantSpeed;
  const perWidth = force / width;
  const least = perWidth >= 100 ? 0.85 : 0.5 + 0.35 * Math.sqrt(perWidth / 100);
  const materials = [pinion.material, wheel.material];
  const base = Math.max(pinion.deviations.singlePitch, wheel.deviations.singlePitch) * Math.cos(pinion.gear.alphaT);
  const form = Math.max(pinion.deviations.profileForm, wheel.deviations.profileForm);
  const Bp = (stiff.single * (base - runningInPitch(base, v, materials))) / perWidth;
  const Bf = (stiff.single * (form - runningInPitch(form, v, materials))) / perWidth;
  const Bk = 1;
  const c = constants(pair.transverseContactRatio + pair.overlapRatio);
  const at = c.b * Bp + c.f * Bf + c.resonant * Bk + 1;
  const beyond = c.above * Bp + c.aboveForm * Bf + c.rest;
  const factor =
    N <= least ? N * (c.b * Bp + c.f * Bf + c.k * Bk) + 1 : N <= 1.15 ? at : N >= 1.5 ? beyond : beyond + ((at - beyond) / 0.35) * (1.5 - N);
  return { factor, resonance: N };
}

/**
 * All load factors of a mesh (ISO 6336-1:2006; from memory). KHβ by method C: deviations of both helices and the twist and
 * bending of a solid pinion in the middle between its bearings, no correction of helices; shafts that bend more want it stated.
 */
export function loadFactors(mesh: RatedMesh, { force, speed }: MeshLoad, application: number): LoadFactors {
  const { pinion, wheel, pair, width } = mesh;
  const { sharing = 1 } = mesh;
  const loaded = force * application * sharing;
  const { factor: dynamic, resonance } = dynamicFactor(mesh, loaded, speed);
  const v = pitchSpeed(mesh, speed);
  const materials = [pinion.material, wheel.material];
  const stiff = meshStiffness(mesh, loaded);
  const perWidth = (loaded * dynamic) / width;
  let faceContact = mesh.faceLoad ?? 1;
  let misalignment: number | undefined;
  if (mesh.faceLoad === undefined && perWidth > 0) {
    const made = Math.hypot(pinion.deviations.helixSlope, wheel.deviations.helixSlope);
    const bent = perWidth * 0.023 * (width / (2 * pinion.gear.pitchRadius)) ** 2;
    const whole = 1.33 * bent + made;
    misalignment = whole - runningInFace(whole, v, materials);
    const part = (misalignment * stiff.face) / (2 * perWidth);
    faceContact = part >= 1 ? Math.sqrt(4 * part) : 1 + part;
  }
  const height = pinion.gear.module * (pinion.gear.addendum + pinion.gear.dedendum);
  const slender = Math.max(3, width / height);
  const exponent = slender ** 2 / (1 + slender + slender ** 2);
  const [ea, eg] = [pair.transverseContactRatio, pair.transverseContactRatio + pair.overlapRatio];
  const pitch = Math.max(pinion.deviations.singlePitch, wheel.deviations.singlePitch);
  const left = pitch - runningInPitch(pitch, v, materials);
  const share = perWidth > 0 ? (stiff.mesh * left) / (perWidth * faceContact) : 0;
  const transverse = eg <= 2 ? (eg / 2) * (0.9 + 0.4 * share) : 0.9 + 0.4 * Math.sqrt((2 * (eg - 1)) / eg) * share;
  const contactRatioFactor = overlapOf(ea, pair.overlapRatio);
  return {
    application,
    sharing,
    dynamic,
    resonance,
    faceContact,
    faceBending: faceContact ** exponent,
    transverseContact: between(1, transverse, eg / (ea * contactRatioFactor ** 2)),
    transverseBending: between(1, transverse, eg / (0.25 * ea + 0.75)),
    ...(misalignment === undefined ? {} : { misalignment }),
  };
}
/** The standard bounds the factor: no less than even sharing, no more than one pair of teeth that carries all (8.3.3, 8.3.4). */
const between = (least: number, x: number, most: number): number => Math.min(Math.max(x, least), Math.max(least, most));

/** Contact ratio factor Zε (ISO 6336-2:2006, 8). */
export function overlapOf(transverse: number, overlap: number): number {
  if (overlap >= 1) return Math.sqrt(1 / transverse);
  return Math.sqrt(((4 - transverse) / 3) * (1 - overlap) + overlap / transverse);
}
