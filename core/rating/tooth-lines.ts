import { type RatedStatement, USUAL_GRADE, USUAL_ROUGHNESS } from '../elements/index';
import type { Element, Id } from '../fields/types';
import type { Compiled } from '../kinematics/index';
import type { ToothRating } from './cylindrical';
import type { GearMaterial } from './gear-material';
import type { Instant } from './instants';
import { flankChanges, rootChanges } from './life';
import type { MeshLoad, RatedGear, RatedMesh } from './mesh';
import type { Figure, RatingLine } from './protocol';
import { type Given, type Results, type Wishes, unknownIn } from './rater';
import { type SpectrumStep, damageOf, safetyOf } from './spectrum';

/** A toothed element with what is stated of it for its rating. */
export type Toothed = Element & RatedStatement & { width?: number; density?: number };
/** A mesh made ready for its rating, the wheel with fewer teeth first. */
export interface Mesh {
  readonly rated: RatedMesh;
  readonly wheels: readonly [Wheel, Wheel];
}
export interface Wheel {
  readonly element: Toothed;
  readonly rated: RatedGear;
  /** Which port of the coupling it is. */
  readonly port: 0 | 1;
}

/** Where the teeth of each gear mesh: couplings, and which port there it is. */
export type Meshes = ReadonlyMap<Id, readonly { readonly coupling: Id; readonly port: 0 | 1 }[]>;
export function meshesOf({ couplings }: Compiled): Meshes {
  const of = new Map<Id, { coupling: Id; port: 0 | 1 }[]>();
  for (const { coupling: c } of couplings) {
    for (const [port, id] of [c.a, c.b].entries()) {
      if (id === undefined) continue;
      const rows = of.get(id) ?? [];
      rows.push({ coupling: c.id, port: port as 0 | 1 });
      of.set(id, rows);
    }
  }
  return of;
}
/**
 * How many meshes load a gear's flanks as this one does, and whether others load the other flanks: the torque says it by its
 * sign.
 */
function around(meshes: Meshes, now: Instant, element: Id, load: number): { same: number; other: number } {
  const loads = (meshes.get(element) ?? []).map(({ coupling, port }) => (now.coupling(coupling)?.loads[port] ?? 0) * Math.sign(load));
  return { same: Math.max(1, loads.filter((x) => x > 0).length), other: loads.filter((x) => x < 0).length };
}

/** What a mesh carries at an instant, and which of its flanks. */
export interface Loaded {
  readonly part: number;
  readonly forward: boolean;
  readonly load: MeshLoad;
}

/** A wheel of a mesh: its element, and which port of the coupling it is. */
interface Meshing {
  readonly element: { readonly id: Id };
  readonly port: 0 | 1;
}
/**
 * What a mesh carries at each instant of a case, the wheel with fewer teeth first. `force`: tangential force, N, that the
 * load at a wheel's port comes to; the larger of both counts, which is the driving side before the loss. Undefined where
 * forces are not known.
 */
export function loadedIn<W extends Meshing>(
  coupling: Id,
  wheels: readonly [W, W],
  force: (load: number, wheel: W) => number,
  instants: readonly Instant[],
  meshes: Meshes,
): readonly Loaded[] | undefined {
  const out: Loaded[] = [];
  for (const now of instants) {
    const line = now.coupling(coupling);
    if (!line) return undefined;
    const most = Math.max(...wheels.map((w) => force(Math.abs(line.loads[w.port]), w)));
    if (!Number.isFinite(most)) return undefined;
    const [n1, n2] = wheels.map((w) => around(meshes, now, w.element.id, line.loads[w.port]));
    const [first] = wheels;
    out.push({
      part: now.part,
      forward: line.loads[first.port] >= 0,
      load: { force: most, speed: line.speeds[first.port], contacts: [n1.same, n2.same], reversed: [n1.other > 0, n2.other > 0] },
    });
  }
  return bentBothWays(out);
}

/** In a run that loads the teeth both ways they bend both ways. */
function bentBothWays(loaded: readonly Loaded[]): readonly Loaded[] {
  const both = [true, false].every((forward) => loaded.some((x) => x.forward === forward && x.load.force > 0));
  return both ? loaded.map((x) => ({ ...x, load: { ...x.load, reversed: [true, true] } })) : loaded;
}

/** What stands in for something that is not stated. */
const assumed = (e: RatedStatement): string[] => [
  ...(e.accuracyGrade === undefined ? [`accuracy grade ${USUAL_GRADE}`] : []),
  ...(e.roughness === undefined ? [`Rz ${USUAL_ROUGHNESS} μm`] : []),
];

/** Where a line stands, and by which standards it is found. */
export interface LineAt {
  readonly coupling: Id;
  readonly method: Readonly<Record<'root' | 'flank', string>>;
  readonly name: string;
  readonly case: string;
  readonly run: boolean;
  readonly element: Element & RatedStatement;
  readonly material: GearMaterial;
  readonly assumptions: readonly string[];
  /** The load goes with this power of the contact stress: 2 along a line, 3 in a point. */
  readonly contact?: 2 | 3;
}
/** A line of what a tooth bears: of a load case as it is, of a run by Miner's rule with the figures of its worst instant. */
function lineOf(
  what: 'root' | 'flank',
  wanted: number,
  instants: readonly { readonly own: ToothRating; readonly assumptions: readonly string[] }[],
  borne: (factor: number) => number,
  at: LineAt,
): RatingLine {
  const { element, material } = at;
  const steps = instants.map(({ own }): SpectrumStep => ({ stress: own.stress / own.endurance, changes: own.changes }));
  const worst = instants[steps.reduce((most, s, k) => (s.stress > steps[most].stress ? k : most), 0)];
  const value = at.run ? safetyOf(steps, borne) : worst.own.safety;
  const spectrum: Figure[] = [
    {
      symbol: what === 'root' ? 'σFE' : 'σHE',
      label: 'Endurance stress there',
      value: worst.own.endurance,
      unit: 'MPa',
      formula: what === 'root' ? 'σFE = σFlim·2·YδrelT·YRrelT·YX' : 'σHE = σHlim·ZL·Zv·ZR·ZW',
    },
    { symbol: 'ΣN', label: 'Load changes in all', value: steps.reduce((n, s) => n + s.changes, 0) },
    { symbol: 'D', label: 'Miner’s sum of the wanted life', value: damageOf(steps, borne), formula: 'D = Σ ni/Ni' },
    { symbol: what === 'root' ? 'SF' : 'SH', label: 'Safety of the spectrum', value },
  ];
  return {
    what,
    item: at.coupling,
    element: element.id,
    name: `${element.name}, ${at.name}`,
    case: at.case,
    value,
    wanted,
    reserve: loadReserve(what, value / wanted, at.contact),
    method: at.run ? `${at.method[what]}, load spectrum by ISO 6336-6` : at.method[what],
    figures: [...worst.own.figures, ...(at.run ? spectrum : worst.own.ofLife)],
    assumptions: [
      material.from,
      ...assumed(element),
      ...new Set(instants.flatMap((i) => i.assumptions)),
      ...at.assumptions,
      ...(at.run ? [`the run is repeated over the wanted life; figures are of the worst of its ${steps.length} instants`] : []),
    ],
  };
}

/** What one wheel of a mesh bears by another method than that of its endurance: static, or by another standard. */
export function toothLine(
  results: Results,
  { coupling, name, case: within, wheel, wishes }: { coupling: Id; name: string; case: string; wheel: Wheel; wishes: Wishes },
  on: 'root' | 'flank',
  by: 'static' | 'AGMA',
  said: Pick<RatingLine, 'value' | 'method' | 'figures' | 'assumptions'>,
): void {
  const { element } = wheel;
  const wanted = on === 'root' ? wishes.rootSafety : wishes.flankSafety;
  results.line(`${coupling} ${element.id} ${on} ${by}`, {
    what: `${on}, ${by}`,
    item: coupling,
    element: element.id,
    name: `${element.name}, ${name}`,
    case: within,
    wanted,
    reserve: loadReserve(on, said.value / wanted),
    ...said,
  });
}
/** How much more load a tooth bears that is so many times safe enough: contact stress grows with a root of the load. */
const loadReserve = (on: 'root' | 'flank', much: number, contact = 2): number => (on === 'flank' ? much ** contact : much);

/** What both wheels of a pair bear. */
type PairRating = Readonly<Record<'root' | 'flank', readonly [ToothRating, ToothRating]>> & { readonly assumptions: readonly string[] };
/**
 * Root and flanks of one wheel in a case: of a load case as they are, of a run by Miner's rule. Each flank wears by what
 * loads it.
 */
export function toothLines<R extends PairRating>(
  results: Results,
  at: LineAt,
  k: 0 | 1,
  rated: readonly { readonly of: Loaded; readonly is: R }[],
  wanted: Readonly<Record<'root' | 'flank', number>>,
): void {
  const curve = at.material.life;
  const take = (what: 'root' | 'flank', of: typeof rated): void => {
    if (!of.length) return;
    const borne = (x: number): number => (what === 'root' ? rootChanges(curve, x) : flankChanges(curve, x));
    const instants = of.map(({ is }) => ({ own: is[what][k], assumptions: is.assumptions }));
    results.line(`${at.coupling} ${at.element.id} ${what}`, lineOf(what, wanted[what], instants, borne, at));
  };
  take('root', rated);
  for (const forward of [true, false]) {
    take(
      'flank',
      rated.filter(({ of }) => of.forward === forward),
    );
  }
}

/** A wheel of a pair: its element, what its rating takes of it, and which port of the coupling it is. */
export interface PairWheel<R> {
  readonly element: Element & RatedStatement;
  readonly rated: R;
  readonly port: 0 | 1;
}
/** Couplings of cylindrical teeth. */
export const CYLINDRICAL: ReadonlySet<string> = new Set(['gear-pair', 'rack-mesh', 'sector-mesh']);

/** Both wheels of a coupling, the one with fewer teeth first; undefined where one is missing or is not rated, which is said. */
export function pairOf<R>(
  { design }: Compiled,
  c: { readonly a?: Id; readonly b?: Id },
  rated: (e: Element & RatedStatement) => R | string,
  teeth: (r: R) => number,
  no: (why: string) => void,
): readonly [PairWheel<R>, PairWheel<R>] | undefined {
  const wheels: PairWheel<R>[] = [];
  for (const [port, id] of [c.a, c.b].entries()) {
    const element = design.elements.find((e) => e.id === id);
    if (!element) continue;
    const own = rated(element);
    if (typeof own === 'string') no(`${element.name}: ${own}`);
    else wheels.push({ element, rated: own, port: port as 0 | 1 });
  }
  if (wheels.length < 2) return undefined;
  wheels.sort((x, y) => teeth(x.rated) - teeth(y.rated));
  return wheels as unknown as readonly [PairWheel<R>, PairWheel<R>];
}

/**
 * Roots and flanks of a pair in all cases. `way` gives the force of a load, as in `loadedIn`, and what the pair bears under one
 * load for so many hours. What throws RangeError there is named as not rated.
 */
export function ratePair<W extends PairWheel<{ readonly material: GearMaterial }>, R extends PairRating>(
  { compiled, cases, wishes }: Given,
  results: Results,
  at: Pick<LineAt, 'coupling' | 'name' | 'method' | 'assumptions' | 'contact'>,
  pair: readonly [W, W],
  way: () => { readonly force: (load: number, wheel: W) => number; readonly rate: (load: MeshLoad, hours: number) => R },
): void {
  const no = (why: string): void => results.unrated(at.coupling, at.name, why);
  const meshes = meshesOf(compiled);
  try {
    const { force, rate } = way();
    for (const given of cases) {
      const loaded = loadedIn(at.coupling, pair, force, given.instants, meshes);
      if (!loaded) {
        no(unknownIn(given));
        continue;
      }
      const rated = loaded.map((of) => ({ of, is: rate(of.load, wishes.ratingHours * of.part) }));
      for (const [k, { element, rated: own }] of pair.entries()) {
        const line = { ...at, case: given.name, run: given.run, element, material: own.material };
        toothLines(results, line, k as 0 | 1, rated, { root: wishes.rootSafety, flank: wishes.flankSafety });
      }
    }
  } catch (e) {
    if (!(e instanceof RangeError)) throw e;
    no(e.message);
  }
}
