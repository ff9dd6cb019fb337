import { statedBy } from '../fields/fields';
import { type Vec3, frameOf, toLocalVector, vmap } from '../math/index';
import { DESIGN_FORMAT, DESIGN_VERSION } from '../fields/types';

const isObject = (x: unknown): x is object => typeof x === 'object' && x !== null;
const isVector = (v: unknown): v is Vec3 => Array.isArray(v) && v.length === 3 && v.every((x) => typeof x === 'number' && Number.isFinite(x));

/**
 * The loads of a document, what turns with a member told along its
 * axes. Whatever is not as it should be is left to validation.
 */
function alongMembers(document: object): { loads?: unknown } {
  const { members, loads } = statedBy(document);
  if (!Array.isArray(members) || !Array.isArray(loads)) return {};
  const axes = new Map(members.filter(isObject).map((m) => [statedBy(m)['id'], statedBy(m)]));
  return {
    loads: loads.map((l: unknown) => {
      const load = isObject(l) ? statedBy(l) : undefined;
      const key = load?.['type'] === 'force' || load?.['type'] === 'torque' ? load['type'] : undefined;
      const m = axes.get(load?.['member']);
      if (!load || !key || !m || load['follows'] !== true || !isVector(load[key])) return l;
      const [axis, up] = [m['axis'], m['up']].map((v) => (isVector(v) ? v : undefined));
      if (axis && Math.hypot(...axis) === 0) return l;
      return { ...load, [key]: vmap(toLocalVector(frameOf([0, 0, 0], axis, up), load[key]), (x) => Number(x.toPrecision(15))) };
    }),
  };
}

/** What makes a document of one version one of the next. None changes what it is given. */
const TO_NEXT: Readonly<Record<number, (document: object) => object>> = {
  // Version 2 states a force or torque that turns with its member along the
  // member's own axes, as points are; version 1 did so along the world's.
  // It may state stops and home of every freedom of a joint, a joint's
  // bearings, and sector gears: what version 1 states means the same in it.
  1: (document) => ({ ...document, ...alongMembers(document), version: 2 }),
  // Version 3 may name quantities, and a typed text that names one is a
  // formula: what version 2 states means the same in it.
  2: (document) => ({ ...document, version: 3 }),
};

/** A document of an earlier version as one of this; any other as it is. Looks at format and version alone. */
export function migrate<T extends object>(document: T): T {
  let at: { format?: unknown; version?: unknown } = document;
  if (at.format !== DESIGN_FORMAT) return document;
  while (typeof at.version === 'number' && at.version < DESIGN_VERSION) {
    const next = TO_NEXT[at.version];
    if (!next) break;
    at = next(at);
  }
  return at as T;
}
