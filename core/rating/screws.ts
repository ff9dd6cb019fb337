import { type Nut, type Screw, num, screwCoreDiameter, screwPitchDiameter } from '../elements/index';
import type { Coupling, Member } from '../fields/types';
import type { Figure, RatingLine } from './protocol';
import { type Given, type Results, WHIRL_RESERVE, applicationFigure, timesBorne, unknownIn } from './rater';
import { bearingDepth, bucklingForce, coreStress, flankPressure, threadPressure, whirlingSpeed } from './screw';
import { type ShaftMaterial, materialOf } from './shaft-steel';

/** What a screw drive bears at one instant: N, N·m, rev/min. */
interface Turned {
  readonly part: number;
  readonly force: number;
  readonly torque: number;
  readonly speed: number;
}
interface Drive {
  readonly coupling: Coupling;
  readonly name: string;
  readonly screw: Screw;
  readonly nut: Nut;
  readonly member: Member | undefined;
}

/** Screws and nuts: pressure of the threads, strength of the core, buckling, whirling; the life of ball screws. */
export function rateScrews(given: Given, results: Results): void {
  const { design } = given.compiled;
  for (const { coupling } of given.compiled.couplings) {
    if (coupling.type !== 'screw-drive') continue;
    const element = (id: string | undefined): unknown => design.elements.find((e) => e.id === id);
    const [screw, nut] = [element(coupling.a) as Screw | undefined, element(coupling.b) as Nut | undefined];
    if (!screw || !nut) continue;
    const member = design.members.find((m) => m.id === screw.member);
    rateDrive(given, results, { coupling, name: coupling.name ?? coupling.id, screw, nut, member });
  }
}

function rateDrive({ cases, wishes }: Given, results: Results, d: Drive): void {
  const { coupling: c, name, screw } = d;
  const no = (why: string): void => results.unrated(c.id, name, why);
  const ball = screw.form === 'ball';
  const core = screwCoreDiameter(screw);
  const material = d.member && materialOf(d.member, num(screw.diameter));
  if (core === undefined) no('the core of its ball screw is not known: no strength, buckling or whirling');
  else if (!material) no('the steel of its screw is not stated: no strength or buckling');
  if (core !== undefined && screw.freeLength === undefined) no('the free length of its screw is not stated: no buckling or whirling');
  if (ball && d.nut.dynamicRating === undefined) no('its dynamic rating Ca is not stated: no life');
  const { pressureLimit, nutMaterial } = d.nut;
  if (!ball && pressureLimit === undefined && nutMaterial === undefined) no('the material of its nut is not stated: no pressure');
  const KA = wishes.applicationFactor;
  for (const given of cases) {
    const turned = given.instants.map((i): Turned => {
      const line = i.coupling(c.id);
      return {
        part: i.part,
        force: KA * Math.abs(line?.loads[1] ?? NaN),
        torque: KA * Math.abs(line?.loads[0] ?? NaN),
        speed: Math.abs(line?.speeds[0] ?? NaN),
      };
    });
    if (turned.some((t) => !Number.isFinite(t.force + t.torque + t.speed))) {
      no(unknownIn(given));
      continue;
    }
    const most = turned.reduce((a, b) => (b.force > a.force ? b : a));
    const fastest = Math.max(...turned.map((t) => t.speed));
    const loads: Figure[] = [applicationFigure(wishes), { symbol: 'F', label: 'Greatest force', value: most.force / KA, unit: 'N' }];
    const take = (
      what: RatingLine['what'],
      wanted: number,
      said: Omit<RatingLine, 'item' | 'name' | 'case' | 'what' | 'wanted' | 'reserve'>,
      reserve?: number,
    ): void =>
      results.line(`${c.id} ${what}`, { item: c.id, name, case: given.name, what, wanted, ...said, reserve: reserve ?? said.value / wanted });
    if (!ball) {
      const said = pressureOf(d, turned, loads);
      if (typeof said === 'string') no(said);
      else if (said) take('screw, threads', 1, said);
    }
    if (ball && d.nut.dynamicRating !== undefined) {
      const said = lifeOf(d.nut.dynamicRating, turned, loads, given.run);
      take(
        'ball screw life',
        wishes.ratingHours,
        said,
        said.needed > 0 ? d.nut.dynamicRating / loadFor(said.needed, wishes.ratingHours, said.turns) : Infinity,
      );
    }
    if (core === undefined) continue;
    if (material) {
      take('screw, strength', wishes.shaftSafety, strengthLine(core, turned, material, loads));
      if (screw.freeLength !== undefined) take('screw, buckling', wishes.bucklingSafety, bucklingLine(d, core, most.force, material, loads));
    }
    if (screw.freeLength !== undefined) {
      // More load changes nothing: what it reserves is speed.
      take('screw, whirling', WHIRL_RESERVE, whirlingLine(d, core, fastest));
    }
  }
}

type Said = Omit<RatingLine, 'item' | 'name' | 'case' | 'what' | 'wanted' | 'reserve'>;

/** The worst instant by pressure against what is permissible at its speed; a reason where no source has a figure. */
function pressureOf(d: Drive, turned: readonly Turned[], loads: readonly Figure[]): Said | string | undefined {
  const { screw, nut } = d;
  const [pitch, d2] = [num(screw.pitch), screwPitchDiameter(screw)];
  const depth = bearingDepth(screw.form ?? 'trapezoidal') * pitch;
  let worst: { p: number; may: number; v: number } | undefined;
  for (const t of turned) {
    const v = (Math.PI * d2 * 1e-3 * t.speed) / 60;
    const may = nut.pressureLimit ?? (nut.nutMaterial && threadPressure(nut.nutMaterial, v));
    if (may === undefined) return nut.nutMaterial && `the source has no permissible pressure for ${nut.nutMaterial} at ${(1e3 * v).toFixed(0)} mm/s`;
    const p = flankPressure(t.force, pitch, d2, depth, num(nut.length));
    if (!worst || p / may > worst.p / worst.may) worst = { p, may, v };
  }
  return (
    worst && {
      value: timesBorne(worst.may, worst.p),
      method: nut.pressureLimit === undefined ? 'Flank pressure; limits after Shigley, Mechanical Engineering Design' : 'Flank pressure',
      figures: [
        ...loads,
        { symbol: 'P', label: 'Pitch', value: pitch, unit: 'mm' },
        { symbol: 'd2', label: 'Pitch diameter', value: d2, unit: 'mm' },
        { symbol: 'H1', label: 'Depth that bears', value: depth, unit: 'mm' },
        { symbol: 'L', label: 'Length of the nut', value: num(nut.length), unit: 'mm' },
        { symbol: 'v', label: 'Sliding speed', value: 1e3 * worst.v, unit: 'mm/s', formula: 'v = π·d2·n' },
        { symbol: 'p', label: 'Pressure', value: worst.p, unit: 'MPa', formula: 'p = KA·F·P/(π·d2·H1·L)' },
        { symbol: 'pzul', label: 'Permissible pressure', value: worst.may, unit: 'MPa' },
      ],
      assumptions: [
        'all turns in the nut bear alike',
        nut.pressureLimit === undefined ? `${nut.nutMaterial} on steel, the lower figure for its speed` : 'permissible pressure as stated',
      ],
    }
  );
}

function strengthLine(core: number, turned: readonly Turned[], material: ShaftMaterial, loads: readonly Figure[]): Said {
  const stress = turned.map((t) => coreStress(t.force, t.torque, core)).reduce((a, b) => (b.both > a.both ? b : a));
  return {
    value: timesBorne(material.yield, stress.both),
    method: 'Yield of the core by distortion energy',
    figures: [
      ...loads,
      { symbol: 'd3', label: 'Core diameter', value: core, unit: 'mm' },
      { symbol: 'σ', label: 'Stress along it', value: stress.along, unit: 'MPa', formula: 'σ = 4·KA·F/(π·d3²)' },
      { symbol: 'τ', label: 'Stress in torsion', value: stress.torsion, unit: 'MPa', formula: 'τ = 16·KA·T/(π·d3³)' },
      { symbol: 'σv', label: 'Equivalent stress', value: stress.both, unit: 'MPa', formula: '√(σ² + 3·τ²)' },
      { symbol: 'σS', label: 'Yield strength', value: material.yield, unit: 'MPa' },
    ],
    assumptions: [`${material.said}, at its size`, 'torque and force act in the same section'],
  };
}

function bucklingLine({ screw }: Drive, core: number, force: number, material: ShaftMaterial, loads: readonly Figure[]): Said {
  const ends = screw.ends ?? 'guided and guided';
  const free = num(screw.freeLength);
  const buckles = bucklingForce(core, free, ends, material.yield);
  return {
    value: timesBorne(buckles.force, force),
    method: `Buckling by ${buckles.by}`,
    figures: [
      ...loads,
      { symbol: 'd3', label: 'Core diameter', value: core, unit: 'mm' },
      { symbol: 'l', label: 'Free length', value: free, unit: 'mm' },
      { symbol: 'λ', label: 'Slenderness', value: buckles.slenderness, formula: 'λ = 4·β·l/d3' },
      {
        symbol: 'FK',
        label: 'Buckling force',
        value: buckles.force,
        unit: 'N',
        formula: buckles.by === 'Euler' ? 'π²·E/λ²·A' : 'σS·(1 − σS·λ²/(4·π²·E))·A',
      },
    ],
    assumptions: [`ends ${ends}`, 'the force presses the screw, whichever way it acts', `${material.said}, at its size`],
  };
}

function whirlingLine({ screw }: Drive, core: number, speed: number): Said {
  const ends = screw.ends ?? 'guided and guided';
  const free = num(screw.freeLength);
  const whirls = whirlingSpeed(core, free, ends);
  return {
    value: timesBorne(whirls, speed),
    method: 'Whirling of an even bar',
    figures: [
      { symbol: 'd3', label: 'Core diameter', value: core, unit: 'mm' },
      { symbol: 'l', label: 'Free length', value: free, unit: 'mm' },
      { symbol: 'n', label: 'Greatest speed', value: speed, unit: 'rev/min' },
      { symbol: 'nk', label: 'Whirling speed', value: whirls, unit: 'rev/min', formula: 'nk = λ²/(2π·l²)·√(E·I/(ρ·A))' },
    ],
    assumptions: [`ends ${ends}`, 'the core alone is stiff and heavy; what it has in reserve is speed, not load'],
  };
}

/** Force with which a ball screw lasts so many hours at so many turns a minute, over its rating. */
const loadFor = (mean: number, hours: number, turns: number): number => mean * Math.cbrt((60 * turns * hours) / 1e6);
function lifeOf(rating: number, turned: readonly Turned[], loads: readonly Figure[], run: boolean): Said & { needed: number; turns: number } {
  const turns = turned.reduce((s, t) => s + t.part * t.speed, 0);
  const mean = turns > 0 ? Math.cbrt(turned.reduce((s, t) => s + t.part * t.speed * t.force ** 3, 0) / turns) : 0;
  const hours = mean > 0 ? ((rating / mean) ** 3 * 1e6) / (60 * turns) : Infinity;
  return {
    value: hours,
    unit: 'h',
    needed: mean,
    turns,
    method: 'ISO 3408-5, basic rating life',
    figures: [
      ...loads,
      { symbol: 'Fm', label: 'Mean force', value: mean, unit: 'N', formula: 'Fm = (Σ Fi³·ni·ti / Σ ni·ti)^(1/3)' },
      { symbol: 'nm', label: 'Mean speed', value: turns, unit: 'rev/min' },
      { symbol: 'Ca', label: 'Dynamic rating', value: rating, unit: 'N' },
      { symbol: 'L10h', label: 'Basic rating life', value: hours, unit: 'h', formula: 'L10h = 10⁶/(60·nm)·(Ca/Fm)³' },
    ],
    assumptions: [
      'reliability 90 %; no preload, and the force acts along the screw',
      ...(run ? ['the run is repeated over the wanted life; turning to and fro counts by its path'] : []),
    ],
  };
}
