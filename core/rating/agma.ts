import { type Bearing, agmaForm, loadShare, pittingFactor, pittingPoint } from './agma-form';
import type { GearMaterial } from './gear-material';
import { changesOf, elasticityFactor } from './cylindrical';
import { pitchSpeed } from './load-factors';
import type { MeshLoad, RatedGear, RatedMesh } from './mesh';
import type { Figure } from './protocol';
import { timesBorne } from './rater';

/** Accuracy number Qv of AGMA 2000 for a grade of ISO 1328-1: 17 less the grade (common practice). */
export const accuracyNumber = (grade: number): number => 17 - grade;

/**
 * Dynamic factor Kv by accuracy number and pitch line speed, m/s (AGMA 2101-D04, clause 8; from memory). Undefined beyond
 * its speed.
 */
export function agmaDynamic(Qv: number, speed: number): number | undefined {
  const B = 0.25 * (12 - Math.min(11, Qv)) ** (2 / 3);
  const A = 50 + 56 * (1 - B);
  // In m/s the standard has √(200·v), in ft/min √v.
  if (speed > (A + Math.min(11, Qv) - 3) ** 2 / 200) return undefined;
  return ((A + Math.sqrt(200 * speed)) / A) ** B;
}

/**
 * Load distribution factor KH of a pinion in the middle between its bearings, uncrowned, in a commercial enclosed drive (AGMA
 * 2101-D04, clause 15, empirical; from memory). Face and pinion diameter mm.
 */
export function agmaDistribution(width: number, diameter: number): number {
  const F = width / 25.4;
  const part = Math.max(0.05, width / (10 * diameter));
  const proportion = F <= 1 ? part - 0.025 : F <= 17 ? part - 0.0375 + 0.0125 * F : part - 0.1109 + 0.0207 * F - 0.000228 * F * F;
  return 1 + proportion + (0.127 + 0.0158 * F - 0.93e-4 * F * F);
}

/** Allowable stress numbers of grade 1, MPa (AGMA 2101-D04, clauses 16 and figures 8, 9; from memory); or why there are none. */
export function agmaAllowable({ group, hardnessNow: hb }: GearMaterial): { bending: number; contact: number } | string {
  switch (group) {
    case 'through-hardened steel':
    case 'normalized steel':
      if (hb < 180 || hb > 400) return `AGMA gives stresses of through-hardened steel from 180 to 400 HB, not for ${Math.round(hb)}`;
      return { bending: 0.533 * hb + 88.3, contact: 2.22 * hb + 200 };
    case 'case-hardened steel':
      return { bending: 380, contact: 1240 };
    case 'induction-hardened steel':
      return { bending: 310, contact: 1170 };
    default:
      return `no stresses of AGMA for ${group} here`;
  }
}

/** Life factors of bending below 3·10⁶ changes: coefficient and power by hardness HB, and of case-hardened teeth. */
const BENDING_LIFE: readonly (readonly [hb: number, factor: number, power: number])[] = [
  [160, 2.3194, -0.0538],
  [250, 4.9404, -0.1045],
  [400, 9.4518, -0.148],
];
/** Life factor of bending YN, its upper line, at load changes from 1000 on (AGMA 2101-D04, figure 18; from memory). */
export function agmaBendingLife({ group, hardnessNow }: GearMaterial, changes: number): number {
  const N = Math.max(1e3, changes);
  if (N > 3e6) return 1.3558 * N ** -0.0178;
  if (group === 'case-hardened steel' || group === 'induction-hardened steel') return 6.1514 * N ** -0.1192;
  const row = BENDING_LIFE.filter(([hb]) => hb <= hardnessNow).at(-1) ?? BENDING_LIFE[0];
  return row[1] * N ** row[2];
}
/** Life factor of pitting ZN, its upper line (AGMA 2101-D04, figure 17; from memory). */
export const agmaContactLife = (changes: number): number => (changes > 1e7 ? 1.4488 * changes ** -0.023 : 2.466 * Math.max(1e4, changes) ** -0.056);

/** Root and flank of one wheel: stress and allowable stress, MPa. */
export interface AgmaRating {
  readonly safety: number;
  readonly figures: readonly Figure[];
}
export interface AgmaConditions {
  /** Overload factor, taken from the application factor; and the wanted life, h. */
  readonly application: number;
  readonly hours: number;
  /** Grades of both wheels by ISO 1328-1. */
  readonly grades: readonly [number, number];
}
/** Of idlers, whose teeth bend both ways (AGMA 2101-D04, clause 16: 0.7). */
const REVERSED = 0.7;

/** Why a mesh is not covered. */
function notCovered({ pinion, wheel, pair }: RatedMesh): string | undefined {
  if (wheel.gear.internal) return 'AGMA 908 has no geometry factors of internal gears';
  if (pinion.gear.beta !== 0 && pair.overlapRatio < 1) return 'its overlap is below 1: AGMA 908 has other rules for that, which are not here yet';
  if (pair.transverseContactRatio >= 2) return 'its transverse contact ratio is 2 or more, which AGMA 908 does not cover';
  return undefined;
}

/**
 * Rates external spur and helical gears by AGMA 2101-D04 with geometry factors of AGMA 908-B89; from memory. KB = 1, size factor
 * 1, temperature factor 1, reliability 99 %. Throws RangeError with a reason where the standard gives nothing.
 */
export function rateAgma(
  mesh: RatedMesh,
  load: MeshLoad,
  { application, hours, grades }: AgmaConditions,
): { root: readonly [AgmaRating, AgmaRating]; flank: readonly [AgmaRating, AgmaRating] } {
  const { pinion, wheel, pair, width } = mesh;
  const why = notCovered(mesh);
  if (why !== undefined) throw new RangeError(why);
  const bearing: Bearing = pinion.gear.beta === 0 ? 'spur' : 'helical';
  const v = pitchSpeed(mesh, load.speed);
  const dynamic = agmaDynamic(Math.min(...grades.map(accuracyNumber)), v);
  if (dynamic === undefined) throw new RangeError(`${v.toPrecision(3)} m/s is too fast for AGMA at its accuracy grade`);
  const working = (2 * pinion.gear.baseRadius) / Math.cos(pair.workingAngle);
  const distribution = mesh.faceLoad ?? agmaDistribution(width, working);
  const share = loadShare(pinion.gear, pair, width, bearing);
  const I = pittingFactor(pinion.gear, wheel.gear, pair, pittingPoint(pinion.gear, wheel.gear, pair, bearing)) / share;
  const ZE = elasticityFactor(pinion.material, wheel.material);
  const raised = load.force * application * (mesh.sharing ?? 1) * dynamic * distribution;
  const contact = ZE * Math.sqrt(raised / (working * width * I));
  const u = wheel.gear.teeth / pinion.gear.teeth;
  const common: Figure[] = [
    { symbol: 'Ft', label: 'Tangential force', value: load.force, unit: 'N' },
    { symbol: 'Ko', label: 'Overload factor', value: application },
    ...(mesh.sharing === undefined ? [] : [{ symbol: 'Kγ', label: 'Mesh load factor', value: mesh.sharing }]),
    { symbol: 'Kv', label: 'Dynamic factor', value: dynamic },
    { symbol: 'KH', label: 'Load distribution factor', value: distribution },
  ];
  const of = (own: RatedGear, which: 0 | 1): { root: AgmaRating; flank: AgmaRating } => {
    const allowed = agmaAllowable(own.material);
    if (typeof allowed === 'string') throw new RangeError(allowed);
    const changes = changesOf(which ? load.speed / u : load.speed, hours, load.contacts?.[which]);
    const form = agmaForm(own.gear, bearing === 'spur' ? pair.transverseContactRatio : 1, bearing);
    const J = form.form / (form.correction * share);
    const stress = raised / (width * (own.gear.module / Math.cos(own.gear.beta)) * J);
    const [YN, ZN] = [agmaBendingLife(own.material, changes), agmaContactLife(changes)];
    const bends = allowed.bending * YN * (load.reversed?.[which] ? REVERSED : 1);
    const presses = allowed.contact * ZN;
    return {
      root: {
        safety: timesBorne(bends, stress),
        figures: [
          ...common,
          { symbol: 'Y', label: 'Form factor', value: form.form },
          { symbol: 'Kf', label: 'Stress correction factor', value: form.correction },
          { symbol: 'mN', label: 'Load sharing ratio', value: share },
          { symbol: 'YJ', label: 'Geometry factor of bending', value: J, formula: 'YJ = Y/(Kf·mN)' },
          { symbol: 'σF', label: 'Bending stress', value: stress, unit: 'MPa', formula: 'σF = Ft·Ko·Kv·KH/(b·mt·YJ)' },
          { symbol: 'σFP', label: 'Allowable bending stress', value: allowed.bending, unit: 'MPa' },
          { symbol: 'NL', label: 'Load changes', value: changes },
          { symbol: 'YN', label: 'Life factor', value: YN },
          ...(load.reversed?.[which] ? [{ symbol: '', label: 'Reversed bending', value: REVERSED }] : []),
          { symbol: 'SF', label: 'Safety', value: timesBorne(bends, stress), formula: 'SF = σFP·YN/σF' },
        ],
      },
      flank: {
        safety: timesBorne(presses, contact),
        figures: [
          ...common,
          { symbol: 'ZE', label: 'Elasticity factor', value: ZE, unit: '√MPa' },
          { symbol: 'ZI', label: 'Geometry factor of pitting', value: I },
          { symbol: 'σH', label: 'Contact stress', value: contact, unit: 'MPa', formula: 'σH = ZE·√(Ft·Ko·Kv·KH/(dw1·b·ZI))' },
          { symbol: 'σHP', label: 'Allowable contact stress', value: allowed.contact, unit: 'MPa' },
          { symbol: 'NL', label: 'Load changes', value: changes },
          { symbol: 'ZN', label: 'Life factor', value: ZN },
          { symbol: 'SH', label: 'Safety', value: timesBorne(presses, contact), formula: 'SH = σHP·ZN/σH' },
        ],
      },
    };
  };
  const [a, b] = [of(pinion, 0), of(wheel, 1)];
  return { root: [a.root, b.root], flank: [a.flank, b.flank] };
}
