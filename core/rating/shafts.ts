import type { Member } from '../fields/types';
import type { Inside } from '../forces/index';
import {
  type Section,
  type SectionStress,
  STRESSES,
  type StressKind,
  fatigueSafety,
  fatigueStrength,
  meanStress,
  sectionStrength,
  yieldSafety,
} from './din-743';
import { enduranceLimit, goodmanSafety, notchSensitivity } from './goodman';
import type { RatedCase } from './instants';
import { rateKey } from './keys';
import type { Figure, RatingLine } from './protocol';
import type { Given, Results } from './rater';
import { type RatedSection, statedShaft } from './shaft-sections';
import type { ShaftMaterial } from './shaft-steel';
import { courseOf } from './shaft-stress';

/** A shaft that turns further in a run than this bends all round, rev. */
const ALL_ROUND = 0.5;

/** Shafts by DIN 743, their keys by DIN 6892. */
export function rateShafts(given: Given, results: Results): void {
  const { design } = given.compiled;
  for (const m of design.members) {
    if (m.kind !== 'shaft') continue;
    const { material, sections, keys, missing } = statedShaft(design, m);
    for (const why of missing) results.unrated(m.id, m.name, why);
    if (!material) continue;
    for (const s of sections) rateSection(given, results, m, material, s);
    for (const k of keys) rateKey(given, results, m, material, k);
  }
}

function rateSection({ cases, wishes }: Given, results: Results, m: Member, material: ShaftMaterial, r: RatedSection): void {
  const { section } = r;
  const strength = sectionStrength(section, material);
  const KA = wishes.applicationFactor;
  for (const c of cases) {
    for (const place of r.places) {
      for (const side of [0, 1] as const) {
        const insides = c.instants.map((i) => i.shaft(m.id)?.inside[place][side]);
        const known = insides.filter((i) => i !== undefined && finite(i)) as Inside[];
        if (known.length < insides.length || !known.length) {
          results.unrated(m.id, m.name, `its forces are not known in “${c.name}”`);
          return;
        }
        const course = courseOf(known, turnsAllRound(c, m), m.loadCourse ?? 'pulsating', section, KA);
        const base = { item: m.id, name: `${m.name}: ${r.name}`, case: c.name, wanted: wishes.shaftSafety };
        const loads = loadFigures(known, KA);
        const common = [`${material.said}: σB = ${material.tensile.toFixed(0)}, σS = ${material.yield.toFixed(0)} MPa at its size`, ...assumed(m, c)];
        results.line(`${r.key} fatigue`, { ...base, ...fatigueOf(section, material, strength, course, loads, wishes.shaftSafety, common) });
        results.line(`${r.key} yield`, { ...base, ...yieldOf(section, strength, course, loads, wishes.shaftSafety, common) });
      }
    }
  }
}
const finite = (i: Inside): boolean => [i.thrust, i.torsion, ...i.bending].every(Number.isFinite);

function turnsAllRound(c: RatedCase, m: Member): boolean {
  const mean = c.instants.reduce((sum, i) => sum + i.part * (i.shaft(m.id)?.speed ?? 0), 0);
  return mean > 0 && (mean / 60) * c.lasts > ALL_ROUND;
}

function loadFigures(inside: readonly Inside[], KA: number): Figure[] {
  const most = (of: (i: Inside) => number): number => Math.max(...inside.map(of));
  return [
    { symbol: 'KA', label: 'Application factor', value: KA },
    { symbol: 'Mb', label: 'Greatest bending moment', value: most((i) => Math.hypot(...i.bending)), unit: 'N·m' },
    { symbol: 'T', label: 'Greatest torque', value: most((i) => Math.abs(i.torsion)), unit: 'N·m' },
    { symbol: 'F', label: 'Greatest force along it', value: most((i) => Math.abs(i.thrust)), unit: 'N' },
  ];
}
const assumed = (m: Member, c: RatedCase): string[] => [
  `torque and thrust ${m.loadCourse ?? 'pulsating'}; bending ${turnsAllRound(c, m) ? 'reversing, as the shaft turns' : 'as in the case, the shaft hardly turning'}`,
  ...(c.run ? ['the widest range of the run counts as if it came without end: on the safe side'] : []),
];

type Said = Pick<RatingLine, 'what' | 'value' | 'reserve' | 'method' | 'figures' | 'assumptions'>;
const SUB: Readonly<Record<StressKind, string>> = { along: 'zd', bending: 'b', torsion: 't' };
const LETTER: Readonly<Record<StressKind, string>> = { along: 'σzd', bending: 'σb', torsion: 'τt' };
const CALLED: Readonly<Record<StressKind, string>> = { along: 'along the shaft', bending: 'in bending', torsion: 'in torsion' };

const sizeFigures = (s: Section): Figure[] => [
  { symbol: 'd', label: 'Diameter', value: s.diameter, unit: 'mm' },
  ...(s.bore > 0 ? [{ symbol: 'di', label: 'Bore', value: s.bore, unit: 'mm' }] : []),
  ...(s.outer !== undefined && s.outer > s.diameter ? [{ symbol: 'D', label: 'Diameter beside it', value: s.outer, unit: 'mm' }] : []),
  ...(s.radius !== undefined ? [{ symbol: 'r', label: 'Fillet radius', value: s.radius, unit: 'mm' }] : []),
];

function fatigueOf(
  s: Section,
  m: ShaftMaterial,
  strength: ReturnType<typeof sectionStrength>,
  stress: SectionStress,
  loads: readonly Figure[],
  wanted: number,
  assumptions: readonly string[],
): Said {
  const safety = fatigueSafety(stress, strength);
  const figures: Figure[] = [...loads, ...sizeFigures(s), { symbol: 'Rz', label: 'Roughness, μm', value: s.roughness }];
  for (const k of STRESSES) {
    if (!stress.amplitude[k] && !stress.mean[k]) continue;
    const l = LETTER[k];
    const n = SUB[k];
    figures.push(
      { symbol: `${l}m`, label: `Mean stress ${CALLED[k]}`, value: stress.mean[k], unit: 'MPa' },
      { symbol: `${l}a`, label: `Amplitude ${CALLED[k]}`, value: stress.amplitude[k], unit: 'MPa' },
    );
    if (!stress.amplitude[k]) continue;
    if (strength.alpha) figures.push({ symbol: `α${n}`, label: `Stress concentration ${CALLED[k]}`, value: strength.alpha[k] });
    figures.push(
      { symbol: `β${n}`, label: `Fatigue notch factor ${CALLED[k]}`, value: strength.beta[k] },
      { symbol: `K${n}`, label: `Whole notch factor ${CALLED[k]}`, value: strength.K[k], formula: 'K = (β/K2 + 1/KF − 1)/KV' },
      {
        symbol: `${l}WK`,
        label: `Reversed strength ${CALLED[k]}`,
        value: strength.reversed[k],
        unit: 'MPa',
        formula: `${k === 'along' ? '0.4' : k === 'bending' ? '0.5' : '0.3'}·σB/K`,
      },
      { symbol: `ψ${n}`, label: `Influence of the mean stress ${CALLED[k]}`, value: strength.psi[k], formula: 'ψ = σWK/(2·σB − σWK)' },
      { symbol: `${l}ADK`, label: `Strength ${CALLED[k]}`, value: fatigueStrength(k, stress, strength), unit: 'MPa', formula: 'σWK/(1 + ψ·σmv/σa)' },
    );
  }
  figures.push(
    { symbol: 'σmv', label: 'Equivalent mean stress', value: meanStress(stress), unit: 'MPa', formula: '√((σzdm + σbm)² + 3·τtm²)' },
    { symbol: 'S', label: 'Safety', value: safety, formula: '1/√((σzda/σzdADK + σba/σbADK)² + (τta/τtADK)²)' },
    { symbol: 'n', label: 'For comparison: Goodman with distortion energy (Shigley), machined, 99 %', value: goodmanOf(s, m, strength, stress) },
  );
  return {
    what: 'shaft, fatigue',
    value: safety,
    reserve: safety / wanted,
    method: 'DIN 743-1 and -2:2012, fatigue strength without end, case 2',
    figures,
    assumptions: [...assumptions, 'no peening, rolling or other treatment of the surface counts (KV = 1)'],
  };
}

function goodmanOf(s: Section, m: ShaftMaterial, { alpha, beta }: ReturnType<typeof sectionStrength>, { mean, amplitude }: SectionStress): number {
  const with_ = (kind: 'bending' | 'torsion'): number =>
    alpha && s.radius !== undefined ? 1 + notchSensitivity(m.tensile, s.radius, kind === 'torsion') * (alpha[kind] - 1) : beta[kind];
  return goodmanSafety(
    {
      bending: [amplitude.bending + amplitude.along / 0.85, mean.bending + mean.along],
      torsion: [amplitude.torsion, mean.torsion],
      Kf: with_('bending'),
      Kfs: with_('torsion'),
    },
    enduranceLimit(m.tensile, s.diameter),
    m.tensile,
  );
}

function yieldOf(
  s: Section,
  strength: ReturnType<typeof sectionStrength>,
  stress: SectionStress,
  loads: readonly Figure[],
  wanted: number,
  assumptions: readonly string[],
): Said {
  const safety = yieldSafety(stress, strength);
  const figures: Figure[] = [...loads, ...sizeFigures(s)];
  for (const k of STRESSES) {
    if (!stress.greatest[k]) continue;
    figures.push(
      { symbol: `${LETTER[k]}max`, label: `Greatest stress ${CALLED[k]}`, value: stress.greatest[k], unit: 'MPa' },
      {
        symbol: `${LETTER[k]}FK`,
        label: `Yield ${CALLED[k]}`,
        value: strength.yields[k],
        unit: 'MPa',
        formula: k === 'torsion' ? 'K2F·σS/√3' : 'K2F·γF·σS',
      },
    );
  }
  figures.push({ symbol: 'S', label: 'Safety', value: safety, formula: '1/√((σzdmax/σzdFK + σbmax/σbFK)² + (τtmax/τtFK)²)' });
  return { what: 'shaft, yield', value: safety, reserve: safety / wanted, method: 'DIN 743-1:2012, lasting deformation', figures, assumptions };
}
