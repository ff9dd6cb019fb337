import { gear } from './gear';
import { rack } from './rack';
import { crank } from './crank';
import { rod } from './rod';
import { block } from './block';
import { bevelGear } from './bevel-gear';
import { worm, wormWheel } from './worm';
import { pulley } from './pulley';
import { sector } from './sector';
import { nut, screwElement } from './screw';
import { track, wheel } from './wheel';
import { cam, follower } from './cam';
import { pawl, ratchetWheel } from './ratchet';
import { drum } from './drum';
import { dial, lever, pointer } from './lever';
import { isShape, nameOfPlace, placeOfShape, placesOf, shapeElement } from './shape';
import type { Element } from '../fields/types';
import { FACES, faceOfKind, isFace } from './faces';
import { type Vec3, norm } from '../math/index';
import type { ElementKind, ElementProblem } from './protocol';
import type { Simplified } from './simplified';
import { type Faceted, type Solid, faceted } from '../solids/index';

export * from './protocol';
export type { Simplified, SurfaceLine } from './simplified';
export { FACES, extentOf, reachOfElement, type Face } from './faces';
export {
  type KeptPlace,
  MOST_PLACES,
  type ShapeElement,
  asShape,
  contentsIn,
  faceAt,
  isShape,
  lostPlaces,
  nameOfPlace,
  placeKey,
  placeName,
  placeOfShape,
  placesOf,
} from './shape';
export { parallelKey } from './keyway';
export { type Gear, exactOf, gearOf, num, toothLimits } from './gear';
export { type Rack, rackOf } from './rack';
export { type ThicknessStated, thicknessOf } from './thickness';
export { MATERIAL_GROUPS, type MaterialGroup, RATING_FIELDS, type RatedStatement, USUAL_GRADE, USUAL_ROUGHNESS } from './rating-fields';
export { type Sector, sectorArc } from './sector';
export type { Rod } from './rod';
export { type BevelGear, type BevelGiven, BEVEL_HEIGHTS, bevelOf } from './bevel-gear';
export { WORM_BRONZES, type Worm, type WormBronze, type WormWheel, wormOf, wormWheelRadius } from './worm';
export { type Cam, type CamData, type Follower, camOf } from './cam';
export { type Pulley, pitchDiameter, pulleyRadius } from './pulley';
export { type Drum, turnsPerLayer, windingDiameter } from './drum';
export type { Crank } from './crank';
export { type PawlPlace, type PawlSwing, pawlSwing, swingOverPitch } from './pawl-swing';
export { type Pawl, type RatchetWheel, ratchetDiameter, ratchetOutline, ratchetRoot } from './ratchet';
export { curveOf } from './wheel';
export type { Track, Wheel } from './wheel';
export { FLANK, type Nut, type NutMaterial, type Screw, type ScrewEnds, screwCoreDiameter, screwLead, screwPitchDiameter } from './screw';

/** Every kind of element; a new one is a new file and a line here. */
export const ELEMENT_KINDS: readonly ElementKind[] = [
  gear,
  rack,
  sector,
  bevelGear,
  worm,
  wormWheel,
  pulley,
  drum,
  screwElement,
  nut,
  wheel,
  track,
  cam,
  follower,
  ratchetWheel,
  pawl,
  crank,
  lever,
  pointer,
  dial,
  rod,
  block,
  shapeElement,
];
const byType = new Map(ELEMENT_KINDS.map((k) => [k.type, k]));
export const elementKind = (type: string): ElementKind | undefined => byType.get(type);

/** A toothed or threaded element as drawings show it; undefined of one that is drawn as it is. */
export const simplifiedOf = (e: Element): Simplified | undefined => elementKind(e.type)?.simplified?.(e);

/** An element's body without teeth, threads and marks. */
export function plainOf(e: Element): Solid[] {
  const kind = elementKind(e.type);
  return kind ? (kind.plain?.(e) ?? kind.shape(e)) : [];
}

const problemsOf = new WeakMap<Element, ElementProblem[]>();

/** What is wrong with an element in itself. Kept with the element, which is never changed in place. */
export function elementProblems(e: Element): readonly ElementProblem[] {
  let p = problemsOf.get(e);
  if (!p) problemsOf.set(e, (p = elementKind(e.type)?.problems?.(e) ?? []));
  return p;
}

/** A side of an element's extent, or a flat face of a shape, in its own frame, mm; undefined where it has none. */
export const faceOf = (e: Element, side: string): { point: Vec3; normal: Vec3 } | undefined => {
  const place = placeOfShape(e, side);
  if (place) return place.kind === 'face' && norm(place.direction) > 0 ? { point: place.point, normal: place.direction } : undefined;
  const kind = elementKind(e.type);
  return kind && isFace(side) ? faceOfKind(kind, e, side) : undefined;
};

/** The faces by which stops can be taken from an element, with their names: a shape's own, and the sides of its extent. */
export const facesOf = (e: Element): { key: string; label: string }[] => [
  ...(isShape(e)
    ? placesOf(e)
        .filter((p) => p.kind === 'face')
        .map((p) => ({ key: p.key, label: nameOfPlace(e, p.key) }))
    : []),
  ...FACES.map((key) => ({ key, label: key })),
];

const keys = new WeakMap<Element, string>();

/** What decides an element's shape, as a text: elements of the same sizes have the same key, wherever they are. */
export function shapeKey(e: Element): string {
  let k = keys.get(e);
  if (k === undefined) {
    const { id: _id, name: _name, member: _member, at: _at, axis: _axis, up: _up, material: _material, cost: _cost, note: _note, ...sizes } = e;
    keys.set(e, (k = JSON.stringify(sizes)));
  }
  return k;
}

/** How many shapes a store keeps before it begins anew. */
const MOST_SHAPES = 1000;

/** Keeps what is made of elements by their shape, so that a hundred equal wheels are drawn and weighed once. */
export function byShape<T>(make: (e: Element) => T): (e: Element) => T {
  const made = new Map<string, T>();
  return (e) => {
    const k = shapeKey(e);
    let t = made.get(k);
    if (t === undefined) {
      if (made.size >= MOST_SHAPES) made.clear();
      made.set(k, (t = make(e)));
    }
    return t;
  };
}

/** An element's body by polygons, as fine as it is drawn: for sketches and overlaps. */
export const facetedOf = (e: Element): Faceted[] => (elementKind(e.type)?.shape(e) ?? []).map((s) => faceted(s));
