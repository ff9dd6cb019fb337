import type { Member } from '../fields/types';
import type { Inside } from '../forces/index';
import {
  type Section,
  type SectionStrength,
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
import { rateFit } from './press-fits';
import type { Figure, RatingLine } from './protocol';
import { type Given, type Results, type Wishes, applicationFigure, unknownIn } from './rater';
import { type RatedSection, statedShaft } from './shaft-sections';
import type { ShaftMaterial } from './shaft-steel';
import { courseOf } from './shaft-stress';
import { ratePin, rateSplines } from './splines';

/** A shaft that turns further in a run than this bends all round, rev. */
const ALL_ROUND = 0.5;

/** Shafts by DIN 743, and what joins them to hubs: keys, press fits, splines, pins. */
export function rateShafts(given: Given, results: Results): void {
  const { design } = given.compiled;
  for (const m of design.members) {
    if (m.kind !== 'shaft') continue;
    const { material, sections, keys, fits, splines, pins, missing } = statedShaft(design, m);
    for (const why of missing) results.unrated(m.id, m.name, why);
    if (!material) continue;
    for (const s of sections) rateSection(given, results, m, material, s);
    for (const k of keys) rateKey(given, results, m, material, k);
    for (const f of fits) rateFit(given, results, m, material, f);
    for (const s of splines) rateSplines(given, results, m, material, s);
    for (const p of pins) ratePin(given, results, m, material, p);
  }
}

function rateSection({ cases, wishes }: Given, results: Results, m: Member, material: ShaftMaterial, r: RatedSection): void {
  const { section } = r;
  const strength = sectionStrength(section, material);
  for (const c of cases) {
    for (const place of r.places) {
      for (const side of [0, 1] as const) {
        const insides = c.instants.map((i) => i.shaft(m.id)?.inside[place][side]);
        const known = insides.filter((i) => i !== undefined && finite(i)) as Inside[];
        if (known.length < insides.length || !known.length) {
          results.unrated(m.id, m.name, unknownIn(c));
          return;
        }
        const turns = turnsAllRound(c, m);
        const rated: Rated = {
          section,
          material,
          strength,
          stress: courseOf(known, turns, m.loadCourse ?? 'pulsating', section, wishes.applicationFactor),
          loads: [...loadFigures(known, wishes), ...sizeFigures(section)],
          assumptions: [
            `${material.said}: σB = ${material.tensile.toFixed(0)}, σS = ${material.yield.toFixed(0)} MPa at its size`,
            ...assumed(m, c, turns),
          ],
        };
        const base = { item: m.id, name: `${m.name}: ${r.name}`, case: c.name, wanted: wishes.shaftSafety };
        for (const said of [fatigueOf(rated), yieldOf(rated)]) {
          results.line(`${r.key} ${said.what}`, { ...base, ...said, reserve: said.value / wishes.shaftSafety });
        }
      }
    }
  }
}
const finite = (i: Inside): boolean => [i.thrust, i.torsion, ...i.bending].every(Number.isFinite);

function turnsAllRound(c: RatedCase, m: Member): boolean {
  const mean = c.instants.reduce((sum, i) => sum + i.part * (i.shaft(m.id)?.speed ?? 0), 0);
  return mean > 0 && (mean / 60) * c.lasts > ALL_ROUND;
}

function loadFigures(inside: readonly Inside[], wishes: Wishes): Figure[] {
  const most = (of: (i: Inside) => number): number => Math.max(...inside.map(of));
  return [
    applicationFigure(wishes),
    { symbol: 'Mb', label: 'Greatest bending moment', value: most((i) => Math.hypot(...i.bending)), unit: 'N·m' },
    { symbol: 'T', label: 'Greatest torque', value: most((i) => Math.abs(i.torsion)), unit: 'N·m' },
    { symbol: 'F', label: 'Greatest force along it', value: most((i) => Math.abs(i.thrust)), unit: 'N' },
  ];
}
const assumed = (m: Member, c: RatedCase, turns: boolean): string[] => [
  `torque and thrust ${m.loadCourse ?? 'pulsating'}; bending ${turns ? 'reversing, as the shaft turns' : 'as in the case, the shaft hardly turning'}`,
  ...(c.run ? ['the widest range of the run counts as if it came without end: on the safe side'] : []),
];

/** A section under the loads of a case. */
interface Rated {
  readonly section: Section;
  readonly material: ShaftMaterial;
  readonly strength: SectionStrength;
  readonly stress: SectionStress;
  /** What both its lines show first. */
  readonly loads: readonly Figure[];
  readonly assumptions: readonly string[];
}
type Said = Pick<RatingLine, 'what' | 'value' | 'method' | 'figures' | 'assumptions'>;
const SUB: Readonly<Record<StressKind, string>> = { along: 'zd', bending: 'b', torsion: 't' };
const LETTER: Readonly<Record<StressKind, string>> = { along: 'σzd', bending: 'σb', torsion: 'τt' };
const CALLED: Readonly<Record<StressKind, string>> = { along: 'along the shaft', bending: 'in bending', torsion: 'in torsion' };

const sizeFigures = (s: Section): Figure[] => [
  { symbol: 'd', label: 'Diameter', value: s.diameter, unit: 'mm' },
  ...(s.bore > 0 ? [{ symbol: 'di', label: 'Bore', value: s.bore, unit: 'mm' }] : []),
  ...(s.outer !== undefined && s.outer > s.diameter ? [{ symbol: 'D', label: 'Diameter beside it', value: s.outer, unit: 'mm' }] : []),
  ...(s.radius !== undefined ? [{ symbol: 'r', label: 'Fillet radius', value: s.radius, unit: 'mm' }] : []),
];

function fatigueOf(rated: Rated): Said {
  const { section, strength, stress, loads, assumptions } = rated;
  const safety = fatigueSafety(stress, strength);
  const figures: Figure[] = [...loads, { symbol: 'Rz', label: 'Roughness, μm', value: section.roughness }];
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
    { symbol: 'n', label: 'For comparison: Goodman with distortion energy (Shigley), machined, 99 %', value: goodmanOf(rated) },
  );
  return {
    what: 'shaft, fatigue',
    value: safety,
    method: 'DIN 743-1 and -2:2012, fatigue strength without end, case 2',
    figures,
    assumptions: [...assumptions, 'no peening, rolling or other treatment of the surface counts (KV = 1)'],
  };
}

function goodmanOf({ section: s, material: m, strength: { alpha, beta }, stress: { mean, amplitude } }: Rated): number {
  const factor = (kind: 'bending' | 'torsion'): number =>
    alpha && s.radius !== undefined ? 1 + notchSensitivity(m.tensile, s.radius, kind === 'torsion') * (alpha[kind] - 1) : beta[kind];
  return goodmanSafety(
    {
      bending: [amplitude.bending + amplitude.along / 0.85, mean.bending + mean.along],
      torsion: [amplitude.torsion, mean.torsion],
      Kf: factor('bending'),
      Kfs: factor('torsion'),
    },
    enduranceLimit(m.tensile, s.diameter),
    m.tensile,
  );
}

function yieldOf({ strength, stress, loads, assumptions }: Rated): Said {
  const safety = yieldSafety(stress, strength);
  const figures: Figure[] = [...loads];
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
  return { what: 'shaft, yield', value: safety, method: 'DIN 743-1:2012, lasting deformation', figures, assumptions };
}
