import { alongLine, basePitch, cosBaseHelix } from '../teeth/index';
import type { LoadFactors } from './load-factors';
import { loadFactors, overlapOf, pitchSpeed } from './load-factors';
import { flankLife, rootLife } from './life';
import { type GearMaterial, POISSON } from './gear-material';
import type { MeshLoad, RatedGear, RatedMesh } from './mesh';
import type { Figure } from './protocol';
import { timesBorne } from './rater';
import { type ToothForm, toothForm, virtualTeeth } from './tooth-form';

/** Under what a mesh works, and for how long. */
export interface Conditions {
  /** Application factor KA. */
  readonly application: number;
  /** h */
  readonly hours: number;
  /** Kinematic viscosity at 40 °C, mm²/s. */
  readonly viscosity: number;
}
/** What a flank or a root bears: stress, permissible stress, and their ratio. */
export interface ToothRating {
  readonly safety: number;
  readonly stress: number;
  readonly permissible: number;
  /** Permissible stress without the life factor, MPa, and load changes in the wanted life. */
  readonly endurance: number;
  readonly changes: number;
  /** Factors and stress; and what follows from how long it works: load changes, life factor, permissible stress. */
  readonly figures: readonly Figure[];
  readonly ofLife: readonly Figure[];
}
/** The rating of a mesh: flank and root of the pinion and of the wheel. */
export interface MeshRating {
  readonly factors: LoadFactors;
  readonly flank: readonly [ToothRating, ToothRating];
  readonly root: readonly [ToothRating, ToothRating];
  readonly assumptions: readonly string[];
}

/** Load changes of a flank in its life: 60·n·h, times how often it meshes in a turn. */
export const changesOf = (speed: number, hours: number, contacts = 1): number => 60 * Math.abs(speed) * hours * contacts;

function commonFigures(f: LoadFactors, force: number): Figure[] {
  return [
    { symbol: 'Ft', label: 'Tangential force', value: force, unit: 'N' },
    { symbol: 'KA', label: 'Application factor', value: f.application },
    ...(f.sharing === 1 ? [] : [{ symbol: 'Kγ', label: 'Mesh load factor', value: f.sharing }]),
    { symbol: 'Kv', label: 'Dynamic factor', value: f.dynamic },
  ];
}

/** Elasticity factor ZE, √MPa (ISO 6336-2:2006, 7). */
export function elasticityFactor(a: GearMaterial, b: GearMaterial): number {
  const compliance = (m: GearMaterial): number => (1 - POISSON ** 2) / m.modulus;
  return Math.sqrt(1 / (Math.PI * (compliance(a) + compliance(b))));
}

/** What a tooth bears without its life factor, MPa, and how it is found. */
interface ToothLimit {
  readonly endurance: number;
  readonly figures: readonly Figure[];
}
/** Of the flank of a wheel: σHlim·ZL·Zv·ZR·ZW, at a pitch line speed, m/s, and a viscosity, mm²/s. */
export function flankLimit(mesh: RatedMesh, which: 0 | 1, v: number, viscosity: number): ToothLimit {
  const [own, other] = which ? [mesh.wheel, mesh.pinion] : [mesh.pinion, mesh.wheel];
  const limit = own.material.contactLimit;
  const film = lubrication(mesh, Math.min(limit, other.material.contactLimit), v, viscosity);
  const work = workHardening(own, other, mesh, v, viscosity);
  return {
    endurance: limit * film.viscosity * film.speed * film.roughness * work,
    figures: [
      { symbol: 'σHlim', label: 'Endurance limit', value: limit, unit: 'MPa' },
      { symbol: 'ZL', label: 'Lubricant factor', value: film.viscosity },
      { symbol: 'Zv', label: 'Speed factor', value: film.speed },
      { symbol: 'ZR', label: 'Roughness factor', value: film.roughness },
      { symbol: 'ZW', label: 'Work hardening factor', value: work },
    ],
  };
}
/** Of the root of a wheel: σFlim·2·YδrelT·YRrelT·YX, less where its teeth bend both ways. */
export function rootLimit(own: RatedGear, form: ToothForm, module: number, reversed: boolean): ToothLimit {
  const notch = notchFactor(form, own.material);
  const rough = roughnessFactor(own);
  const size = sizeFactor(own.material, module);
  return {
    endurance: own.material.bendingLimit * 2 * notch * rough * size * (reversed ? REVERSED : 1),
    figures: [
      { symbol: 'σFlim', label: 'Endurance limit', value: own.material.bendingLimit, unit: 'MPa' },
      { symbol: 'YδrelT', label: 'Relative notch factor', value: notch },
      { symbol: 'YRrelT', label: 'Relative surface factor', value: rough },
      { symbol: 'YX', label: 'Size factor', value: size },
      ...(reversed ? [{ symbol: 'YM', label: 'Factor of reversed bending', value: REVERSED }] : []),
    ],
  };
}

/** Flank by ISO 6336-2:2006, method B (from memory). */
function flankOf(mesh: RatedMesh, load: MeshLoad, f: LoadFactors, { hours, viscosity }: Conditions, which: 0 | 1): ToothRating {
  const { pinion, wheel, pair, width } = mesh;
  const [g1, g2] = [pinion.gear, wheel.gear];
  const own: RatedGear = which ? wheel : pinion;
  const sign = g2.internal ? -1 : 1;
  const u = g2.teeth / g1.teeth;
  const cosBase = cosBaseHelix(g1);
  const [at, aw] = [g1.alphaT, pair.workingAngle];
  const zone = Math.sqrt((2 * cosBase * Math.cos(aw)) / (Math.cos(at) ** 2 * Math.sin(aw)));
  const elasticity = elasticityFactor(pinion.material, wheel.material);
  const contactRatio = overlapOf(pair.transverseContactRatio, pair.overlapRatio);
  const helix = 1 / Math.sqrt(Math.cos(g1.beta));
  const nominal = zone * elasticity * contactRatio * helix * Math.sqrt(((load.force / (2 * g1.pitchRadius * width)) * (u + sign)) / u);
  const single = singleContact(mesh, which);
  const stress = single * nominal * Math.sqrt(f.application * f.sharing * f.dynamic * f.faceContact * f.transverseContact);
  const v = pitchSpeed(mesh, load.speed);
  const speed = which ? load.speed / u : load.speed;
  const changes = changesOf(speed, hours, load.contacts?.[which]);
  const bears = flankLimit(mesh, which, v, viscosity);
  const life = flankLife(own.material.life, changes);
  const { endurance } = bears;
  const permissible = endurance * life;
  return {
    safety: timesBorne(permissible, stress),
    stress,
    permissible,
    endurance,
    changes,
    figures: [
      ...commonFigures(f, load.force),
      { symbol: 'KHβ', label: 'Face load factor', value: f.faceContact },
      { symbol: 'KHα', label: 'Transverse load factor', value: f.transverseContact },
      { symbol: 'ZH', label: 'Zone factor', value: zone, formula: 'ZH = √(2·cos βb·cos αwt / (cos² αt·sin αwt))' },
      { symbol: 'ZE', label: 'Elasticity factor', value: elasticity, unit: '√MPa' },
      { symbol: 'Zε', label: 'Contact ratio factor', value: contactRatio },
      { symbol: 'Zβ', label: 'Helix factor', value: helix, formula: 'Zβ = 1/√cos β' },
      { symbol: which ? 'ZD' : 'ZB', label: 'Single pair contact factor', value: single },
      {
        symbol: 'σH',
        label: 'Contact stress',
        value: stress,
        unit: 'MPa',
        formula: 'σH = ZB·ZH·ZE·Zε·Zβ·√(Ft/(d1·b)·(u ± 1)/u)·√(KA·Kγ·Kv·KHβ·KHα)',
      },
      ...bears.figures,
    ],
    ofLife: [
      { symbol: 'NL', label: 'Load changes', value: changes },
      { symbol: 'ZNT', label: 'Life factor', value: life },
      { symbol: 'σHG', label: 'Permissible contact stress', value: permissible, unit: 'MPa', formula: 'σHG = σHlim·ZNT·ZL·Zv·ZR·ZW' },
    ],
  };
}

/**
 * ZB of the pinion or ZD of the wheel: from the pitch point to the inner point of single pair contact (ISO 6336-2, 6.2), by the
 * curvatures there. The flanks' radii add to the length between the base circles; with an internal gear they differ by it.
 */
function singleContact({ pinion, wheel, pair }: RatedMesh, which: 0 | 1): number {
  const [g1, g2] = [pinion.gear, wheel.gear];
  // Of an internal gear the standard takes none.
  if (g2.internal && which) return 1;
  const tan = Math.tan(pair.workingAngle);
  const between = (g2.internal ? g2.baseRadius - g1.baseRadius : g1.baseRadius + g2.baseRadius) * tan;
  const own = which ? g2 : g1;
  const here = alongLine(own, own.tipRadius) - basePitch(own);
  const there = g2.internal ? between + here : between - here;
  if (!(here > 0 && there > 0)) throw new RangeError('its flanks meet below their base circles');
  const M = tan * Math.sqrt((g1.baseRadius * g2.baseRadius) / (here * there));
  if (pair.overlapRatio >= 1 || M <= 1) return 1;
  return M - pair.overlapRatio * (M - 1);
}

/** Radius of relative curvature at the pitch point, mm (ISO 6336-2, 12.3.2). */
function reducedRadius({ pinion, wheel, pair }: Pick<RatedMesh, 'pinion' | 'wheel' | 'pair'>): number {
  const radius = (g: RatedGear): number => g.gear.baseRadius * Math.tan(pair.workingAngle);
  const [r1, r2] = [radius(pinion), radius(wheel)];
  return wheel.gear.internal ? (r1 * r2) / (r2 - r1) : (r1 * r2) / (r1 + r2);
}

/** ZL, Zv and ZR (ISO 6336-2:2006, 12), by the softer of both. */
function lubrication(
  { pinion, wheel, pair }: RatedMesh,
  limit: number,
  v: number,
  nu40: number,
): { viscosity: number; speed: number; roughness: number } {
  const between = (low: number, high: number): number => low + ((high - low) * (Math.min(1200, Math.max(850, limit)) - 850)) / 350;
  const C = between(0.83, 0.91);
  const Cv = C + 0.02;
  const rough = ((pinion.roughness + wheel.roughness) / 2) * Math.cbrt(10 / reducedRadius({ pinion, wheel, pair }));
  return {
    viscosity: C + (4 * (1 - C)) / (1.2 + 134 / nu40) ** 2,
    // At rest 32/v is without bound, and only Cv is left.
    speed: v === 0 ? Cv : Cv + (2 * (1 - Cv)) / Math.sqrt(0.8 + 32 / v),
    roughness: (3 / rough) ** between(0.15, 0.08),
  };
}

/**
 * ZW: a soft wheel that runs with a surface-hardened pinion; less where that is rough (ISO 6336-2:2006, 13, from memory). The
 * standard counts its roughness from 3 to 16 μm.
 */
function workHardening(own: RatedGear, other: RatedGear, mesh: RatedMesh, v: number, nu40: number): number {
  const soft = own.material.runningIn === 'steel';
  if (!soft || other.material.runningIn !== 'hard') return 1;
  const hb = own.material.hardnessNow;
  const film = Math.cbrt((nu40 * v) / 1500);
  // At rest there is no film, and the surface counts as the roughest.
  const rough = (other.roughness * Math.cbrt(10 / reducedRadius(mesh)) * (other.roughness / own.roughness) ** 0.66) / film;
  const smooth = (3 / Math.min(16, Math.max(3, rough))) ** 0.15;
  return (hb < 130 ? 1.2 : hb > 470 ? 1 : 1.2 - (hb - 130) / 1700) * smooth;
}

/** Root by ISO 6336-3:2006, method B (from memory). */
function rootOf(mesh: RatedMesh, load: MeshLoad, f: LoadFactors, { hours }: Conditions, which: 0 | 1): ToothRating {
  const own = which ? mesh.wheel : mesh.pinion;
  const g = own.gear;
  const form = toothForm(g, mesh.pair.transverseContactRatio);
  const beta = (Math.abs(g.beta) * 180) / Math.PI;
  const helix = 1 - (Math.min(1, mesh.pair.overlapRatio) * Math.min(30, beta)) / 120;
  const nominal = (load.force / (mesh.width * g.module)) * form.form * form.stress * helix;
  const stress = nominal * f.application * f.sharing * f.dynamic * f.faceBending * f.transverseBending;
  const u = mesh.wheel.gear.teeth / mesh.pinion.gear.teeth;
  const speed = which ? load.speed / u : load.speed;
  const changes = changesOf(speed, hours, load.contacts?.[which]);
  const life = rootLife(own.material.life, changes);
  const bears = rootLimit(own, form, g.module, load.reversed?.[which] === true);
  const { endurance } = bears;
  const permissible = endurance * life;
  return {
    safety: timesBorne(permissible, stress),
    stress,
    permissible,
    endurance,
    changes,
    figures: [
      ...commonFigures(f, load.force),
      { symbol: 'KFβ', label: 'Face load factor', value: f.faceBending },
      { symbol: 'KFα', label: 'Transverse load factor', value: f.transverseBending },
      { symbol: 'zn', label: 'Virtual teeth', value: virtualTeeth(g) },
      { symbol: 'YF', label: 'Form factor', value: form.form, formula: 'YF = 6·hFe/mn·cos αFen / ((sFn/mn)²·cos αn)' },
      { symbol: 'YS', label: 'Stress correction factor', value: form.stress, formula: 'YS = (1.2 + 0.13·L)·qs^(1/(1.21 + 2.3/L))' },
      { symbol: 'Yβ', label: 'Helix factor', value: helix },
      { symbol: 'σF', label: 'Root stress', value: stress, unit: 'MPa', formula: 'σF = Ft/(b·mn)·YF·YS·Yβ·KA·Kγ·Kv·KFβ·KFα' },
      ...bears.figures,
    ],
    ofLife: [
      { symbol: 'NL', label: 'Load changes', value: changes },
      { symbol: 'YNT', label: 'Life factor', value: life },
      { symbol: 'σFG', label: 'Permissible root stress', value: permissible, unit: 'MPa', formula: 'σFG = σFlim·2·YNT·YδrelT·YRrelT·YX' },
    ],
  };
}
/** Of idlers and planets, whose teeth bend both ways (ISO 6336-5, 5.3: 0.7). */
const REVERSED = 0.7;

/** YδrelT by the slip layer (ISO 6336-3, 13.3). */
export function notchFactor({ notch }: ToothForm, { slipLayer }: GearMaterial): number {
  const gradient = (q: number): number => (1 + 2 * q) / 5;
  return (1 + Math.sqrt(slipLayer * gradient(notch))) / (1 + Math.sqrt(slipLayer * gradient(2.5)));
}
/** YRrelT (ISO 6336-3, 14). */
function roughnessFactor({ roughness, material }: RatedGear): number {
  const kind = material.surface;
  if (roughness < 1) return kind === 'steel' ? 1.12 : kind === 'soft' ? 1.07 : 1.025;
  if (kind === 'steel') return 1.674 - 0.529 * (roughness + 1) ** 0.1;
  return kind === 'soft' ? 5.306 - 4.203 * (roughness + 1) ** 0.01 : 4.299 - 3.259 * (roughness + 1) ** 0.0058;
}
/** YX (ISO 6336-3, 15). */
function sizeFactor({ size }: GearMaterial, module: number): number {
  if (module <= 5) return 1;
  if (size === 'steel') return Math.max(0.85, 1.03 - 0.006 * module);
  return size === 'hard' ? Math.max(0.8, 1.05 - 0.01 * module) : Math.max(0.7, 1.075 - 0.015 * module);
}

/**
 * Rates a pair of cylindrical gears: safety of flanks and roots of both, by ISO 6336:2006 parts 1, 2, 3 and 5, method B, from
 * memory.
 * Throws RangeError where a tooth has no root section, or flanks meet below their base circles.
 */
export function rateMesh(mesh: RatedMesh, load: MeshLoad, conditions: Conditions): MeshRating {
  const factors = loadFactors(mesh, load, conditions.application);
  return {
    factors,
    flank: [flankOf(mesh, load, factors, conditions, 0), flankOf(mesh, load, factors, conditions, 1)],
    root: [rootOf(mesh, load, factors, conditions, 0), rootOf(mesh, load, factors, conditions, 1)],
    assumptions: [
      ...(mesh.faceLoad === undefined ? ['KHβ: pinion in the middle between its bearings, bending of shafts and housing left out'] : []),
      'no tip relief, rim thick enough (YB = 1), teeth not scuffed',
      ...(mesh.wheel.gear.internal ? ['root of the internal gear with the fillet of the rack; stiffness of a rack'] : []),
      ...(load.reversed?.some(Boolean) ? ['teeth that bend both ways (idlers, planets) bear 0.7 of the root limit'] : []),
      ...(load.contacts?.some((n) => n > 1)
        ? [
            `flanks mesh ${Math.max(...load.contacts)} times in a turn${mesh.sharing === undefined ? '; the meshes share the load evenly (Kγ = 1)' : ''}`,
          ]
        : []),
    ],
  };
}
