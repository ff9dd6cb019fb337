import { DENSITY_STEEL, type Gear, type Rack, type RatedStatement, USUAL_GRADE, USUAL_ROUGHNESS, gearOf, num } from '../elements/index';
import type { Id } from '../fields/types';
import type { Compiled } from '../kinematics/index';
import { dot, vsub } from '../math/index';
import { type GearData, pairData } from '../teeth/index';
import { deviations } from './accuracy';
import { agmaLines } from './agma-lines';
import { type MeshRating, rateMesh } from './cylindrical';
import { gearMaterial } from './gear-material';
import type { MeshLoad, RatedGear } from './mesh';
import type { Blocked } from './instants';
import { type Given, type Results, unknownIn } from './rater';
import { CYLINDRICAL, type Loaded, type Mesh, type Toothed, type Wheel, loadedIn, meshesOf, toothLine, toothLines } from './tooth-lines';

/** So many teeth stand for a rack: flat as far as figures tell. */
const RACK_TEETH = 1e5;
/** A gear of so many teeth has the tolerances that are taken for a rack's. */
const RACK_AS = 100;

/** A toothed element with what is stated of it for its rating; or what is missing, in words. `otherwise`: as in `meshOf`. */
export function ratedGear(e: Toothed, otherwise?: RatedStatement): RatedGear | string {
  const stated = gearMaterial(e);
  const material = typeof stated === 'string' && otherwise ? gearMaterial(otherwise) : stated;
  if (typeof material === 'string') return material;
  const rack = e.type === 'rack';
  const gear: GearData = gearOf(rack ? { ...(e as Rack), teeth: RACK_TEETH, shift: 0 } : (e as Gear));
  const width = num(e.width);
  return {
    gear,
    width,
    bore: rack ? 0 : num((e as Gear).bore),
    density: e.density ?? DENSITY_STEEL,
    material,
    deviations: deviations(e.accuracyGrade ?? USUAL_GRADE, gear.module, rack ? RACK_AS * gear.module : 2 * gear.pitchRadius, width),
    roughness: e.roughness ?? USUAL_ROUGHNESS,
  };
}
/** What is assumed of racks and sectors. */
const ofParts = ([pinion, wheel]: Mesh['wheels']): string[] => [
  ...(wheel.element.type === 'rack' ? [`the rack has the tolerances of a gear of ${RACK_AS} teeth, and meshes as often as the pinion`] : []),
  ...([pinion, wheel].some((w) => w.element.type === 'sector')
    ? ['sectors count as whole wheels: every tooth meshes once a turn, on the safe side']
    : []),
];

/** Of teeth whose material is not stated, where only their stiffness is asked for. */
export const ANY_STEEL: RatedStatement = { materialGroup: 'through-hardened steel', hardness: 250 };

/**
 * Both wheels of a mesh, the driving of the rating's formulas first: the one with fewer teeth. `otherwise` stands in for a
 * material that is not stated.
 */
export function meshOf(
  { design, elementFrames }: Compiled,
  c: { id: Id; type: string; a?: Id; b?: Id; faceLoadFactor?: number; meshLoadFactor?: number },
  distance: unknown,
  otherwise?: RatedStatement,
): Mesh | { why: string } {
  const elements = [c.a, c.b].map((id) => design.elements.find((e) => e.id === id) as Toothed | undefined);
  const [a, b] = elements;
  const [fa, fb] = [a && elementFrames.get(a.id), b && elementFrames.get(b.id)];
  if (!a || !b || !fa || !fb) return { why: 'it is not complete' };
  const wheels: Wheel[] = [];
  for (const [port, e] of [a, b].entries()) {
    const rated = ratedGear(e, otherwise);
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
  // Method B shares the load between pairs of teeth of which one at least is always in mesh.
  if (pair.transverseContactRatio < 1) return { why: `its transverse contact ratio ${pair.transverseContactRatio.toFixed(2)} is below 1` };
  return {
    rated: {
      pinion: pinion.rated,
      wheel: wheel.rated,
      pair,
      width,
      ...(c.faceLoadFactor !== undefined && { faceLoad: c.faceLoadFactor }),
      ...(c.meshLoadFactor !== undefined && { sharing: c.meshLoadFactor }),
    },
    wheels: [pinion, wheel],
  };
}

/** Tangential force, N, of a load at a wheel: a rack's is a force already, others' are torques, N·m. */
const tangential = (load: number, { element, rated }: Wheel): number => (element.type === 'rack' ? load : (load * 1e3) / rated.gear.pitchRadius);

/** Roots and flanks of cylindrical gears, internal ones and racks among them, by ISO 6336; runs by Miner's rule. */
export function rateTeeth(given: Given, results: Results): void {
  const { compiled, cases, wishes } = given;
  const meshes = meshesOf(compiled);
  const byAgma = compiled.design.settings?.agma === true;
  const conditions = { application: wishes.applicationFactor, hours: wishes.ratingHours, viscosity: wishes.viscosity };
  for (const { coupling: c, model } of compiled.couplings) {
    const name = c.name ?? c.id;
    const no = (why: string): void => results.unrated(c.id, name, why);
    if (!CYLINDRICAL.has(c.type)) continue;
    const mesh = meshOf(compiled, c, model.derived?.find((d) => d.key === 'distance')?.value);
    if ('why' in mesh) {
      no(mesh.why);
      continue;
    }
    for (const given of cases) {
      const loaded = loadedIn(c.id, mesh.wheels, tangential, given.instants, meshes);
      if (!loaded) {
        no(unknownIn(given));
        continue;
      }
      let rated: { readonly of: Loaded; readonly is: MeshRating }[];
      try {
        rated = loaded.map((of) => ({ of, is: rateMesh(mesh.rated, of.load, { ...conditions, hours: conditions.hours * of.part }) }));
        if (byAgma && !given.run) agmaLines(results, { id: c.id, name }, mesh, loaded, given, wishes, ofParts(mesh.wheels));
        if (given.blocked === 'unloaded') no(`its teeth when the output is blocked: the source carries next to nothing in “${given.name}”`);
        else if (given.blocked) staticLines(results, c, name, mesh, loaded, given.name, given.blocked, wishes);
      } catch (e) {
        if (!(e instanceof RangeError)) throw e;
        no(e.message);
        break;
      }
      for (const [k, wheel] of mesh.wheels.entries()) {
        const at = { coupling: c.id, name, case: given.name, run: given.run, assumptions: ofParts(mesh.wheels), method: METHOD };
        toothLines(results, { ...at, element: wheel.element, material: wheel.rated.material }, k as 0 | 1, rated, {
          root: wishes.rootSafety,
          flank: wishes.flankSafety,
        });
      }
    }
  }
}
/**
 * Roots and flanks where the output is blocked: the load of the case, as often as the source can give it, at rest, against what
 * holds once.
 */
function staticLines(
  results: Results,
  c: { readonly id: Id },
  name: string,
  mesh: Mesh,
  loaded: readonly Loaded[],
  within: string,
  { source, limit, times }: Blocked,
  wishes: Given['wishes'],
): void {
  const [{ load }] = loaded;
  if (!(load.force > 0)) return;
  // A single peak bends one way.
  const peak: MeshLoad = { force: load.force * times, speed: 0, ...(load.contacts && { contacts: load.contacts }) };
  const is = rateMesh(mesh.rated, peak, { application: 1, hours: 0, viscosity: wishes.viscosity });
  for (const [k, wheel] of mesh.wheels.entries()) {
    for (const on of ['root', 'flank'] as const) {
      const own = is[on][k as 0 | 1];
      toothLine(results, { coupling: c.id, name, case: within, wheel, wishes }, on, 'static', {
        value: own.safety,
        method: `${METHOD[on]}, static`,
        figures: [
          { symbol: 'Tlim', label: `Limit of ${source} at standstill`, value: limit },
          { symbol: 'k', label: 'Times the load of the case', value: times },
          ...own.figures,
          ...own.ofLife,
        ],
        assumptions: [
          wheel.rated.material.from,
          `the output is blocked and ${source} gives its limit: the load of this mesh grows with it, without impact`,
          'a single peak: KA = 1, life factors of the static end, all others as for endurance',
          ...is.assumptions,
          ...ofParts(mesh.wheels),
        ],
      });
    }
  }
}
const METHOD = { flank: 'ISO 6336-2:2006, method B', root: 'ISO 6336-3:2006, method B' } as const;
