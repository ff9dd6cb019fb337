import { type BevelGiven, BEVEL_HEIGHTS } from '../elements/index';
import { type Conditions, type ToothRating, changesOf, elasticityFactor, flankLimit, rootLimit } from './cylindrical';
import type { GearMaterial } from './gear-material';
import { flankLife, rootLife } from './life';
import { type MeshLoad, type RatedGear, type RatedMesh, runningInPitch } from './mesh';
import type { Figure } from './protocol';
import { timesBorne } from './rater';
import { toothForm } from './tooth-form';
import { gearData, pairData } from '../teeth/index';

/** A bevel gear with what is stated of it for its rating. */
export interface RatedBevel {
  readonly given: BevelGiven;
  readonly material: GearMaterial;
  readonly grade: number;
  readonly roughness: number;
  readonly density: number;
}
/** Two bevel gears in mesh, the one with fewer teeth first. */
export interface BevelMesh {
  readonly pinion: RatedBevel;
  readonly wheel: RatedBevel;
  /** Mounting factor KHβ-be. */
  readonly mounting: number;
}
/** What the bevel pair and its virtual cylindrical gears are in the middle of the face. mm. */
export interface BevelMiddle {
  readonly virtual: RatedMesh;
  readonly module: number;
  readonly diameters: readonly [number, number];
  /** Length of the middle line of contact, and the transverse contact ratio of the virtual gears. */
  readonly line: number;
  readonly contactRatio: number;
}
export interface BevelRating {
  readonly flank: readonly [ToothRating, ToothRating];
  readonly root: readonly [ToothRating, ToothRating];
  readonly assumptions: readonly string[];
}

/** Single pitch deviation, μm: module and diameter in the middle of the face, mm (ISO 17485:2006, 5.2; from memory). */
export const bevelPitchDeviation = (grade: number, module: number, diameter: number): number =>
  (0.003 * diameter + 0.3 * module + 5) * Math.SQRT2 ** (grade - 4);

/**
 * The virtual cylindrical gears of straight bevels in the middle of the face: z/cos δ teeth (ISO 10300-1:2001, annex A; from
 * memory).
 */
export function bevelMiddle({ pinion, wheel }: BevelMesh): BevelMiddle {
  const [a, b] = [pinion.given, wheel.given];
  const outer = (a.module * a.teeth) / 2 / Math.sin(a.cone);
  const width = Math.min(a.width, b.width);
  const module = (a.module * (outer - width / 2)) / outer;
  const virtual = (r: RatedBevel): RatedGear => {
    const gear = gearData({
      teeth: r.given.teeth / Math.cos(r.given.cone),
      module,
      alpha: r.given.alpha,
      beta: 0,
      shift: 0,
      internal: false,
      ...BEVEL_HEIGHTS,
      fillet: 0.2,
      tipCut: 0,
      thinning: 0,
    });
    const deviation = bevelPitchDeviation(r.grade, module, module * r.given.teeth);
    return {
      gear,
      width,
      bore: 0,
      density: r.density,
      material: r.material,
      deviations: { singlePitch: deviation, profileForm: deviation, helixSlope: 0, helixTotal: 0 },
      roughness: r.roughness,
    };
  };
  const [v1, v2] = [virtual(pinion), virtual(wheel)];
  const pair = pairData(v1.gear, v2.gear, width);
  const e = pair.transverseContactRatio;
  if (!(e > 1)) throw new RangeError(`the contact ratio ${e.toFixed(2)} of its virtual gears is not above 1`);
  return {
    virtual: { pinion: v1, wheel: v2, pair, width },
    module,
    diameters: [module * a.teeth, module * b.teeth],
    line: (2 * width * Math.sqrt(e - 1)) / e,
    contactRatio: e,
  };
}

/** Stiffness of one pair and of the mesh, N/(mm·μm), at 100 N/mm and above (ISO 10300-1, 8.4.2; from memory). */
const SINGLE = 14;
export const BEVEL_MESH = 20;
/** Bevel factor ZK, by experience (ISO 10300-2). */
const BEVEL_FACTOR = 0.8;
const softer = (perWidth: number): number => Math.min(1, perWidth / 100);

/** Dynamic factor Kv by method B of ISO 10300-1:2001, 8.4 (from memory): force Fmt·KA, N; speed of the pinion, rev/min. */
export function bevelDynamicFactor(
  { pinion, wheel }: BevelMesh,
  m: BevelMiddle,
  force: number,
  speed: number,
): { factor: number; resonance: number } {
  if (force === 0 || speed === 0) return { factor: 1, resonance: 0 };
  const { width } = m.virtual;
  const v = pitchLineSpeed(m, speed);
  const perWidth = force / width;
  const mass = (r: RatedBevel, d: number): number => ((1 / 8) * r.density * 1e-9 * Math.PI * d * d) / Math.cos(r.given.alpha) ** 2;
  const [m1, m2] = [mass(pinion, m.diameters[0]), mass(wheel, m.diameters[1])];
  const resonance =
    Math.abs(speed) / ((30_000 / (Math.PI * pinion.given.teeth)) * Math.sqrt((BEVEL_MESH * softer(perWidth) * (m1 + m2)) / (m1 * m2)));
  const deviation = Math.max(m.virtual.pinion.deviations.singlePitch, m.virtual.wheel.deviations.singlePitch);
  const effective = deviation - runningInPitch(deviation, v, [pinion.material, wheel.material]);
  const B = (effective * SINGLE * softer(perWidth)) / perWidth;
  const e = m.contactRatio;
  const many = e > 2;
  const c12 = 0.32 + (many ? 0.57 / (e - 0.3) : 0.34);
  const c3 = many ? 0.096 / (e - 1.56) : 0.23;
  const c4 = many ? (0.57 - 0.05 * e) / (e - 1.44) : 0.9;
  const c56 = 0.47 + (many ? 0.12 / (e - 1.74) : 0.47);
  const c7 = e <= 1.5 ? 0.75 : e <= 2.5 ? 0.125 * Math.sin(Math.PI * (e - 2)) + 0.875 : 1;
  const below = (N: number): number => N * (B * c12 + c3) + 1;
  const at = B * c12 + c4 + 1;
  const above = B * c56 + c7;
  const factor =
    resonance <= 0.75 ? below(resonance) : resonance <= 1.25 ? at : resonance >= 1.5 ? above : above + ((at - above) / 0.25) * (1.5 - resonance);
  return { factor, resonance };
}
const pitchLineSpeed = (m: BevelMiddle, speed: number): number => (Math.PI * m.diameters[0] * Math.abs(speed)) / 60_000;

/**
 * Rates a pair of straight bevel gears: flanks by ISO 10300-2:2001 and roots by ISO 10300-3:2001, methods B and B1, with
 * limits of ISO 6336-5; from memory. `load.force` is Fmt at the middle of the face, N. Throws RangeError where the virtual
 * gears do not mesh.
 */
export function rateBevel(mesh: BevelMesh, load: MeshLoad, { application: KA, hours, viscosity }: Conditions): BevelRating {
  const m = bevelMiddle(mesh);
  const { virtual, contactRatio: e, line } = m;
  const { pinion: v1, wheel: v2, width } = virtual;
  const dynamic = bevelDynamicFactor(mesh, m, load.force * KA, load.speed);
  const faceLoad = 1.5 * mesh.mounting;
  const v = pitchLineSpeed(m, load.speed);
  const materials = [v1.material, v2.material];
  const deviation = Math.max(v1.deviations.singlePitch, v2.deviations.singlePitch);
  const left = deviation - runningInPitch(deviation, v, materials);
  const perWidth = (load.force * KA * dynamic.factor * faceLoad) / width;
  const contactShare = 0.25 + 0.75 / e;
  // The standard bounds it: from even sharing to one pair that carries all; of flanks both are 1 where teeth are straight.
  const transverse =
    perWidth > 0 ? Math.min(Math.max(1, (e / 2) * (0.9 + (0.4 * BEVEL_MESH * softer(perWidth) * left) / perWidth)), 1 / contactShare) : 1;
  const common: Figure[] = [
    { symbol: 'Fmt', label: 'Tangential force in the middle of the face', value: load.force, unit: 'N' },
    { symbol: 'KA', label: 'Application factor', value: KA },
    { symbol: 'Kv', label: 'Dynamic factor', value: dynamic.factor },
    { symbol: 'KHβ', label: 'Face load factor', value: faceLoad, formula: 'KHβ = 1.5·KHβ-be' },
  ];
  const [g1, g2] = [v1.gear, v2.gear];
  const u = g2.teeth / g1.teeth;
  const alpha = g1.alpha;
  const arm = (g: typeof g1, times: number): number => Math.sqrt((g.tipRadius / g.baseRadius) ** 2 - 1) - (times * Math.PI) / g.teeth;
  const product = arm(g1, 2) * arm(g2, 2 * (e - 1));
  if (!(arm(g1, 2) > 0 && arm(g2, 2 * (e - 1)) > 0)) throw new RangeError('its flanks meet below their base circles');
  const midZone = Math.tan(alpha) / Math.sqrt(product);
  const zone = 2 / Math.sqrt(Math.sin(2 * alpha));
  const elasticity = elasticityFactor(v1.material, v2.material);
  const nominal = Math.sqrt(((load.force / (2 * g1.pitchRadius * line)) * (u + 1)) / u) * midZone * zone * elasticity * BEVEL_FACTOR;
  const contact = nominal * Math.sqrt(KA * dynamic.factor * faceLoad);
  const times = mesh.wheel.given.teeth / mesh.pinion.given.teeth;
  const one = (which: 0 | 1): { flank: ToothRating; root: ToothRating } => {
    const own = which ? v2 : v1;
    const changes = changesOf(which ? load.speed / times : load.speed, hours, load.contacts?.[which]);
    const flank = flankLimit(virtual, which, v, viscosity);
    const flankFactor = flankLife(own.material.life, changes);
    const form = toothForm(own.gear, 1);
    const spread = (0.5 + line / (2 * width)) ** 2 * (width / line);
    const share = Math.max(0.625, contactShare);
    const stress0 = (load.force / (width * m.module)) * form.form * form.stress * share * spread;
    const stress = stress0 * KA * dynamic.factor * faceLoad * transverse;
    const root = rootLimit(own, form, m.module, load.reversed?.[which] === true);
    const rootFactor = rootLife(own.material.life, changes);
    return {
      flank: {
        safety: timesBorne(flank.endurance * flankFactor, contact),
        stress: contact,
        permissible: flank.endurance * flankFactor,
        endurance: flank.endurance,
        changes,
        figures: [
          ...common,
          { symbol: 'lbm', label: 'Length of the middle line of contact', value: line, unit: 'mm' },
          { symbol: 'ZM-B', label: 'Mid-zone factor', value: midZone },
          { symbol: 'ZH', label: 'Zone factor', value: zone },
          { symbol: 'ZE', label: 'Elasticity factor', value: elasticity, unit: '√MPa' },
          { symbol: 'ZK', label: 'Bevel factor', value: BEVEL_FACTOR },
          {
            symbol: 'σH',
            label: 'Contact stress',
            value: contact,
            unit: 'MPa',
            formula: 'σH = ZM-B·ZH·ZE·ZK·√(Fmt/(dv1·lbm)·(uv + 1)/uv)·√(KA·Kv·KHβ)',
          },
          ...flank.figures,
        ],
        ofLife: [
          { symbol: 'NL', label: 'Load changes', value: changes },
          { symbol: 'ZNT', label: 'Life factor', value: flankFactor },
          { symbol: 'σHP', label: 'Permissible contact stress', value: flank.endurance * flankFactor, unit: 'MPa' },
        ],
      },
      root: {
        safety: timesBorne(root.endurance * rootFactor, stress),
        stress,
        permissible: root.endurance * rootFactor,
        endurance: root.endurance,
        changes,
        figures: [
          ...common,
          { symbol: 'KFα', label: 'Transverse load factor', value: transverse },
          { symbol: 'zv', label: 'Virtual teeth', value: own.gear.teeth, formula: 'zv = z/cos δ' },
          { symbol: 'YFa', label: 'Form factor, load at the tip', value: form.form },
          { symbol: 'YSa', label: 'Stress correction factor', value: form.stress },
          { symbol: 'Yε', label: 'Contact ratio factor', value: share },
          { symbol: 'YK', label: 'Bevel gear factor', value: spread },
          { symbol: 'σF', label: 'Root stress', value: stress, unit: 'MPa', formula: 'σF = Fmt/(b·mmn)·YFa·YSa·Yε·YK·KA·Kv·KFβ·KFα' },
          ...root.figures,
        ],
        ofLife: [
          { symbol: 'NL', label: 'Load changes', value: changes },
          { symbol: 'YNT', label: 'Life factor', value: rootFactor },
          { symbol: 'σFP', label: 'Permissible root stress', value: root.endurance * rootFactor, unit: 'MPa' },
        ],
      },
    };
  };
  const [a, b] = [one(0), one(1)];
  return {
    flank: [a.flank, b.flank],
    root: [a.root, b.root],
    assumptions: [
      'straight teeth without crowning errors, contact over at least 85 % of the face',
      ...(load.reversed?.some(Boolean) ? ['teeth that bend both ways (planets of a differential) bear 0.7 of the root limit'] : []),
      ...(load.contacts?.some((n) => n > 1) ? [`flanks mesh ${Math.max(...load.contacts)} times in a turn`] : []),
    ],
  };
}
