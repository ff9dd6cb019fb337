import { BEVEL_MOUNTINGS, type BevelPair } from '../couplings/index';
import { type BevelGear, DENSITY_STEEL, USUAL_GRADE, USUAL_ROUGHNESS, bevelOf } from '../elements/index';
import { type BevelMesh, type RatedBevel, bevelMiddle, rateBevel } from './bevel';
import { gearMaterial } from './gear-material';
import type { Given, Results } from './rater';
import { pairOf, ratePair } from './tooth-lines';

/** Mounting factor KHβ-be of industrial gears (ISO 10300-1:2001, table 4; from memory). */
const MOUNTING: Readonly<Record<(typeof BEVEL_MOUNTINGS)[number], number>> = {
  'both between bearings': 1.1,
  'one overhung': 1.25,
  'both overhung': 1.5,
};

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
export function rateBevels(given: Given, results: Results): void {
  const { applicationFactor: application, viscosity } = given.wishes;
  for (const { coupling } of given.compiled.couplings) {
    if (coupling.type !== 'bevel-pair') continue;
    const c = coupling as BevelPair;
    const name = c.name ?? c.id;
    const no = (why: string): void => results.unrated(c.id, name, why);
    const pair = pairOf(
      given.compiled,
      c,
      (e) => ratedBevel(e as BevelGear),
      (r) => r.given.teeth,
      no,
    );
    if (!pair) continue;
    const mesh: BevelMesh = { pinion: pair[0].rated, wheel: pair[1].rated, mounting: MOUNTING[c.mounting ?? 'one overhung'] };
    const assumptions = c.mounting === undefined ? ['mounting not stated: one gear overhung'] : [`mounting: ${c.mounting}`];
    ratePair(given, results, { coupling: c.id, name, assumptions, method: METHOD }, pair, () => {
      const { diameters } = bevelMiddle(mesh);
      return {
        force: (load, w) => (load * 2e3) / diameters[w === pair[0] ? 0 : 1],
        rate: (load, hours) => rateBevel(mesh, load, { application, hours, viscosity }),
      };
    });
  }
}
const METHOD = { flank: 'ISO 10300-2:2001, method B1', root: 'ISO 10300-3:2001, method B1' } as const;
