import { BEVEL_MOUNTINGS, type BevelPair } from '../couplings/index';
import { type BevelGear, DENSITY_STEEL, USUAL_GRADE, USUAL_ROUGHNESS, bevelOf } from '../elements/index';
import { type BevelMesh, type BevelRating, type RatedBevel, bevelMiddle, rateBevel } from './bevel';
import { gearMaterial } from './gear-material';
import { type Given, type Results, unknownIn } from './rater';
import { type Loaded, loadedIn, meshesOf, toothLines } from './tooth-lines';

/** Mounting factor KHβ-be of industrial gears (ISO 10300-1:2001, table 4; from memory). */
const MOUNTING: Readonly<Record<(typeof BEVEL_MOUNTINGS)[number], number>> = {
  'both between bearings': 1.1,
  'one overhung': 1.25,
  'both overhung': 1.5,
};

interface Wheel {
  readonly element: BevelGear;
  readonly rated: RatedBevel;
  readonly port: 0 | 1;
}

function ratedBevel(e: BevelGear): RatedBevel | string {
  const material = gearMaterial(e);
  if (typeof material === 'string') return material;
  return {
    given: bevelOf(e),
    material,
    grade: e.accuracyGrade ?? USUAL_GRADE,
    roughness: e.roughness ?? USUAL_ROUGHNESS,
    density: e.density ?? DENSITY_STEEL,
  };
}

/** Straight bevel gears by ISO 10300; runs by Miner's rule. */
export function rateBevels({ compiled, cases, wishes }: Given, results: Results): void {
  const meshes = meshesOf(compiled);
  const conditions = { application: wishes.applicationFactor, hours: wishes.ratingHours, viscosity: wishes.viscosity };
  for (const { coupling } of compiled.couplings) {
    if (coupling.type !== 'bevel-pair') continue;
    const c = coupling as BevelPair;
    const name = c.name ?? c.id;
    const no = (why: string): void => results.unrated(c.id, name, why);
    const wheels: Wheel[] = [];
    for (const [port, id] of [c.a, c.b].entries()) {
      const element = compiled.design.elements.find((e) => e.id === id) as BevelGear | undefined;
      if (!element) continue;
      const rated = ratedBevel(element);
      if (typeof rated === 'string') no(`${element.name}: ${rated}`);
      else wheels.push({ element, rated, port: port as 0 | 1 });
    }
    if (wheels.length < 2) continue;
    wheels.sort((x, y) => x.rated.given.teeth - y.rated.given.teeth);
    const pair = wheels as [Wheel, Wheel];
    const mesh: BevelMesh = { pinion: pair[0].rated, wheel: pair[1].rated, mounting: MOUNTING[c.mounting ?? 'one overhung'] };
    try {
      const { diameters } = bevelMiddle(mesh);
      for (const given of cases) {
        const loaded = loadedIn(c.id, pair, (load, w) => (load * 2e3) / diameters[w === pair[0] ? 0 : 1], given.instants, meshes);
        if (!loaded) {
          no(unknownIn(given));
          continue;
        }
        const rated = loaded.map((of): { of: Loaded; is: BevelRating } => ({
          of,
          is: rateBevel(mesh, of.load, { ...conditions, hours: conditions.hours * of.part }),
        }));
        for (const [k, w] of pair.entries()) {
          const assumptions = c.mounting === undefined ? ['mounting not stated: one gear overhung'] : [`mounting: ${c.mounting}`];
          toothLines(
            results,
            { coupling: c.id, name, case: given.name, run: given.run, element: w.element, material: w.rated.material, assumptions, method: METHOD },
            k as 0 | 1,
            rated,
            { root: wishes.rootSafety, flank: wishes.flankSafety },
          );
        }
      }
    } catch (e) {
      if (!(e instanceof RangeError)) throw e;
      no(e.message);
    }
  }
}
const METHOD = { flank: 'ISO 10300-2:2001, method B1', root: 'ISO 10300-3:2001, method B1' } as const;
