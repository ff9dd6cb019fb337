import { DENSITY_STEEL, type Gear, type Rack, type RatedStatement, gearOf, num } from '../elements/index';
import type { Element, Id, Settings } from '../fields/types';
import { type Forces, type Ledger, bearingForces } from '../forces/index';
import type { CarriedJoint } from '../joints/index';
import type { Compiled } from '../kinematics/index';
import { dot, vsub } from '../math/index';
import { type GearData, gearData, pairData } from '../teeth/index';
import { deviations } from './accuracy';
import { type Conditions, type Figure, type MeshRating, type ToothRating, rateMesh } from './cylindrical';
import { gearMaterial } from './gear-material';
import type { MeshLoad, RatedGear, RatedMesh } from './mesh';
import { rateBearing } from './rolling-bearing';

/** One load case as it was worked out at its position, steady. */
export interface RatedCase {
  readonly name: string;
  readonly forces: Forces;
  readonly ledger: Ledger;
}
/** What is rated of a thing. */
export type RatedWhat = 'root' | 'flank' | 'bearing life' | 'bearing, static';

/** What one thing bears, in the load case in which it is worst. */
export interface RatingLine {
  readonly what: RatedWhat;
  /** The coupling or joint, and the element or the bearing's number there. */
  readonly item: Id;
  readonly element?: Id;
  readonly bearing?: number;
  readonly name: string;
  readonly case: string;
  /**
   * A safety, or a life in h; what is wanted of it; and how much more load than it has it would bear as wanted (below 1: it
   * fails).
   */
  readonly value: number;
  readonly unit?: 'h';
  readonly wanted: number;
  readonly reserve: number;
  readonly method: string;
  readonly figures: readonly Figure[];
  readonly assumptions: readonly string[];
}
/** Something that is not rated, and why. */
export interface Unrated {
  readonly item: Id;
  readonly name: string;
  readonly why: string;
}
/** What a design bears, and what is not rated of it. */
export interface Rating {
  /** Worst first. */
  readonly lines: readonly RatingLine[];
  readonly unrated: readonly Unrated[];
}

/** What rating reads of the settings, with what counts where nothing is stated. */
export interface Wishes extends Conditions {
  readonly flankSafety: number;
  readonly rootSafety: number;
}
/** The wishes of a design, with what counts where nothing is stated. */
export const wishesOf = (s: Settings | undefined): Wishes => ({
  application: s?.applicationFactor ?? 1,
  hours: s?.ratingHours ?? 10_000,
  viscosity: s?.viscosity ?? 220,
  flankSafety: s?.flankSafety ?? 1,
  rootSafety: s?.rootSafety ?? 1.4,
});

/** Couplings whose teeth no method here covers yet. */
const TEETH_NOT_RATED: Readonly<Record<string, string>> = {
  'bevel-pair': 'bevel teeth',
  'worm-drive': 'worm teeth',
  'crossed-gears': 'crossed helical teeth',
  'sector-mesh': 'teeth of sectors',
  ratchet: 'ratchet teeth',
  belt: 'belts',
  chain: 'chains',
  rope: 'ropes',
  'screw-drive': 'threads',
  'cam-contact': 'cam contacts',
  rolling: 'rolling contacts',
  'one-way-clutch': 'clutches',
};
/** So many teeth stand for a rack. */
const RACK_TEETH = 1e5;
const RAD = Math.PI / 180;

/** A rack as a gear without curvature: flat as far as figures tell. */
const asGear = (e: Rack): GearData =>
  gearData({
    teeth: RACK_TEETH,
    module: num(e.module),
    alpha: num(e.pressureAngle, 20) * RAD,
    beta: num(e.helix) * RAD * (e.hand === 'left' ? -1 : 1),
    shift: 0,
    internal: false,
    addendum: num(e.addendum, 1),
    dedendum: num(e.dedendum, 1.25),
    fillet: num(e.fillet, 0.38),
    tipCut: 0,
    thinning: 0,
  });

type Toothed = Element & RatedStatement & { width?: number; density?: number };

/** A toothed element with what is stated of it for its rating; or what is missing, in words. */
function ratedGear(e: Toothed, gear: GearData): RatedGear | string {
  const material = gearMaterial({
    ...(e.materialGroup && { group: e.materialGroup }),
    ...(e.hardness !== undefined && { hardness: e.hardness }),
    ...(e.contactLimit !== undefined && { contactLimit: e.contactLimit }),
    ...(e.bendingLimit !== undefined && { bendingLimit: e.bendingLimit }),
  });
  if (typeof material === 'string') return material;
  const width = num(e.width);
  // A rack's tolerances are those of a gear of usual size.
  const diameter = 2 * Math.min(gear.pitchRadius, (gear.module * 100) / 2);
  return {
    gear,
    width,
    bore: e.type === 'gear' ? num((e as Gear).bore) : 0,
    density: e.density ?? DENSITY_STEEL,
    material,
    deviations: deviations(e.accuracyGrade ?? 8, gear.module, diameter, width),
    roughness: e.roughness ?? 10,
  };
}

interface Wheel {
  readonly element: Toothed;
  readonly rated: RatedGear;
  /** Which port of the coupling it is. */
  readonly port: 0 | 1;
}

/** Rates everything that a method covers, in all load cases; what none covers, or what is not stated for, is named. */
export function rate(compiled: Compiled, cases: readonly RatedCase[]): Rating {
  const { design } = compiled;
  const wishes = wishesOf(design.settings);
  const worst = new Map<string, RatingLine>();
  const unrated: Unrated[] = [];
  const take = (key: string, line: RatingLine): void => {
    const had = worst.get(key);
    if (!had || line.reserve < had.reserve) worst.set(key, line);
  };
  const leave = (item: Id, name: string, why: string): void => {
    if (!unrated.some((u) => u.item === item && u.name === name)) unrated.push({ item, name, why });
  };
  /** Where the teeth of each gear mesh: rows of couplings, and which port there it is. */
  const meshesOf = new Map<Id, { row: number; port: 0 | 1 }[]>();
  compiled.couplings.forEach(({ coupling: c }, row) => {
    for (const [port, id] of [c.a, c.b].entries()) if (id) meshesOf.set(id, [...(meshesOf.get(id) ?? []), { row, port: port as 0 | 1 }]);
  });
  /**
   * How many meshes load a gear's flanks as this one does, and whether others load the other flanks: the torque says it by its
   * sign.
   */
  const around = (ledger: Ledger, element: Id, load: number): { same: number; other: number } => {
    const loads = (meshesOf.get(element) ?? []).map(({ row, port }) => ledger.couplings[row].loads[port] * Math.sign(load));
    return { same: Math.max(1, loads.filter((x) => x > 0).length), other: loads.filter((x) => x < 0).length };
  };
  compiled.couplings.forEach(({ coupling: c, model }, row) => {
    const name = c.name ?? c.id;
    if (c.type !== 'gear-pair' && c.type !== 'rack-mesh') {
      const what = TEETH_NOT_RATED[c.type];
      if (what) leave(c.id, name, `${what} are not rated yet`);
      return;
    }
    const mesh = meshIn(compiled, c, model.derived?.find((d) => d.key === 'distance')?.value);
    if ('why' in mesh) return leave(c.id, name, mesh.why);
    const { rated, wheels } = mesh;
    for (const { name: caseName, ledger } of cases) {
      const { loads, speeds } = ledger.couplings[row];
      const [first, second] = wheels;
      const [r1, r2] = wheels.map((w) => w.rated.gear.pitchRadius);
      // The larger of both sides: what drives, before the loss. A rack's port is a force.
      const force = Math.max(
        Math.abs(loads[first.port] * 1e3) / r1,
        second.element.type === 'rack' ? Math.abs(loads[second.port]) : Math.abs(loads[second.port] * 1e3) / r2,
      );
      if (!Number.isFinite(force)) {
        leave(c.id, name, `its forces are not known in the load case “${caseName}”`);
        continue;
      }
      let rating: MeshRating;
      try {
        const [n1, n2] = wheels.map((w) => around(ledger, w.element.id, loads[w.port]));
        const load: MeshLoad = { force, speed: speeds[first.port], contacts: [n1.same, n2.same], reversed: [n1.other > 0, n2.other > 0] };
        rating = rateMesh(rated, load, wishes);
      } catch (e) {
        if (!(e instanceof RangeError)) throw e;
        return leave(c.id, name, e.message);
      }
      wheels.forEach((w, k) => {
        const line = (what: 'root' | 'flank', r: ToothRating, wanted: number): RatingLine => ({
          what,
          item: c.id,
          element: w.element.id,
          name: `${w.element.name}, ${name}`,
          case: caseName,
          value: r.safety,
          wanted,
          // Contact stress grows with the root of the load.
          reserve: what === 'flank' ? (r.safety / wanted) ** 2 : r.safety / wanted,
          method: what === 'flank' ? 'ISO 6336-2:2006, method B' : 'ISO 6336-3:2006, method B',
          figures: r.figures,
          assumptions: [
            w.rated.material.from,
            ...assumed(w.element),
            ...rating.assumptions,
            ...(second.element.type === 'rack' ? ['the rack has the tolerances of a gear of 100 teeth, and meshes as often as the pinion'] : []),
          ],
        });
        take(`${c.id} ${w.element.id} root`, line('root', rating.root[k], wishes.rootSafety));
        take(`${c.id} ${w.element.id} flank`, line('flank', rating.flank[k], wishes.flankSafety));
      });
    }
  });
  for (const j of design.joints as CarriedJoint[]) rateBearings(compiled, j, cases, wishes, take, leave);
  return { lines: [...worst.values()].sort((a, b) => a.reserve - b.reserve || a.name.localeCompare(b.name)), unrated };
}

/** What stands in for something that is not stated. */
const assumed = (e: Toothed): string[] => [
  ...(e.accuracyGrade === undefined ? ['accuracy grade 8'] : []),
  ...(e.roughness === undefined ? ['Rz 10 μm'] : []),
];

/** Both wheels of a mesh, the driving of the rating's formulas first: the one with fewer teeth. */
function meshIn(
  { design, elementFrames }: Compiled,
  c: { id: Id; type: string; a?: Id; b?: Id; faceLoadFactor?: number },
  distance: unknown,
): { rated: RatedMesh; wheels: [Wheel, Wheel] } | { why: string } {
  const elements = [c.a, c.b].map((id) => design.elements.find((e) => e.id === id) as Toothed | undefined);
  const [a, b] = elements;
  const [fa, fb] = [a && elementFrames.get(a.id), b && elementFrames.get(b.id)];
  if (!a || !b || !fa || !fb) return { why: 'it is not complete' };
  if (a.type === 'sector') return { why: 'teeth of sectors are not rated yet' };
  const wheels: Wheel[] = [];
  for (const [port, e] of [a, b].entries()) {
    const rated = ratedGear(e, e.type === 'rack' ? asGear(e as Rack) : gearOf(e as Gear));
    if (typeof rated === 'string') return { why: `${e.name}: ${rated}` };
    wheels.push({ element: e, rated, port: port as 0 | 1 });
  }
  wheels.sort((x, y) => Number(x.rated.gear.internal) - Number(y.rated.gear.internal) || x.rated.gear.teeth - y.rated.gear.teeth);
  const [pinion, wheel] = wheels as [Wheel, Wheel];
  const offset = Math.abs(dot(vsub(fb.o, fa.o), fa.z));
  const [wa, wb] = [pinion.rated.width, wheel.rated.width];
  const width = Math.min(wa, wb, (wa + wb) / 2 - offset);
  if (!(width > 0)) return { why: 'its faces do not meet' };
  const isRack = wheel.element.type === 'rack';
  // A rack's line stands a whole radius away: at the distance without play.
  const pair = pairData(pinion.rated.gear, wheel.rated.gear, width, isRack ? undefined : Number(distance));
  if (!(pair.workingAngle > 0) || !(pair.transverseContactRatio > 0)) return { why: 'its teeth do not meet' };
  return {
    rated: {
      pinion: pinion.rated,
      wheel: wheel.rated,
      pair,
      width,
      ...(c.faceLoadFactor !== undefined && { faceLoad: c.faceLoadFactor }),
    },
    wheels: [pinion, wheel],
  };
}

/** Bearings of a joint by ISO 281 and ISO 76. */
function rateBearings(
  compiled: Compiled,
  j: CarriedJoint,
  cases: readonly RatedCase[],
  wishes: Wishes,
  take: (key: string, line: RatingLine) => void,
  leave: (item: Id, name: string, why: string) => void,
): void {
  const first = compiled.structure.firstOf.get(j.id);
  if (!j.bearings?.length || first === undefined) return;
  const joint = j.name ?? j.id;
  for (const [k, b] of j.bearings.entries()) {
    const name = `Bearing ${k + 1}, ${joint}`;
    if (b.form === 'plain') leave(j.id, name, 'plain bearings are not rated yet');
    else if (b.dynamicRating === undefined) leave(j.id, name, 'its dynamic rating C is not stated');
    else {
      const dynamic = b.dynamicRating;
      const stated = { dynamic, rolls: b.rolls ?? 'balls', ...(b.staticRating !== undefined && { static: b.staticRating }) } as const;
      for (const { name: caseName, forces } of cases) {
        const force = bearingForces(forces, j.id)?.bearings[k];
        const speed = (forces.velocity[first] * 60) / (2 * Math.PI);
        if (!force || ![force.radial, force.axial, speed].every(Number.isFinite)) {
          leave(j.id, name, `its forces are not known in the load case “${caseName}”`);
          continue;
        }
        const r = rateBearing(stated, wishes.application * force.radial, wishes.application * force.axial, speed, wishes.hours);
        if (!r) {
          leave(j.id, name, `its rollers take no thrust, but ${Math.abs(force.axial).toPrecision(3)} N acts along it`);
          continue;
        }
        const figures: Figure[] = [
          { symbol: 'KA', label: 'Application factor', value: wishes.application },
          { symbol: 'Fr', label: 'Radial force', value: Math.abs(force.radial), unit: 'N' },
          { symbol: 'Fa', label: 'Axial force', value: Math.abs(force.axial), unit: 'N' },
          { symbol: 'n', label: 'Speed', value: Math.abs(speed), unit: 'rev/min' },
          ...(stated.rolls === 'balls' ? [{ symbol: 'e', label: 'Limit of Fa/Fr', value: r.e }] : []),
          { symbol: 'X', label: 'Radial factor', value: r.X },
          { symbol: 'Y', label: 'Axial factor', value: r.Y },
        ];
        const base = { item: j.id, bearing: k, name, case: caseName };
        const rolls = stated.rolls === 'balls' ? 'deep-groove balls, f0 = 14' : 'cylindrical rollers';
        take(`${j.id} ${k} life`, {
          ...base,
          what: 'bearing life',
          value: r.hours,
          unit: 'h',
          wanted: wishes.hours,
          reserve: r.needed > 0 ? dynamic / r.needed : Infinity,
          method: 'ISO 281:2007, basic rating life',
          figures: [
            ...figures,
            { symbol: 'P', label: 'Equivalent load', value: r.load, unit: 'N', formula: 'P = KA·(X·Fr + Y·Fa)' },
            { symbol: 'C', label: 'Dynamic rating', value: dynamic, unit: 'N' },
            { symbol: 'Cneed', label: 'Dynamic rating that is needed', value: r.needed, unit: 'N' },
            { symbol: 'L10h', label: 'Basic rating life', value: r.hours, unit: 'h', formula: 'L10h = 10⁶/(60·n)·(C/P)^p' },
          ],
          assumptions: [rolls, 'reliability 90 % (a1 = 1); lubrication and cleanness are not reckoned with (aISO = 1)'],
        });
        if (r.staticSafety !== undefined) {
          take(`${j.id} ${k} static`, {
            ...base,
            what: 'bearing, static',
            value: r.staticSafety,
            wanted: 1,
            reserve: r.staticSafety,
            method: 'ISO 76:2006',
            figures: [
              ...figures.slice(0, 3),
              { symbol: 'P0', label: 'Equivalent static load', value: r.staticLoad, unit: 'N', formula: 'P0 = max(Fr, 0.6·Fr + 0.5·Fa)·KA' },
              { symbol: 'C0', label: 'Static rating', value: stated.static!, unit: 'N' },
              { symbol: 'S0', label: 'Static safety', value: r.staticSafety, formula: 'S0 = C0/P0' },
            ],
            assumptions: [rolls],
          });
        }
      }
    }
  }
}
