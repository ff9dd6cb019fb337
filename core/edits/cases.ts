import type { ActingLoad } from '../loads/index';
import type { Design, Id, Load, LoadCase } from '../fields/types';
import { type Vec3, vmap } from '../math/index';
import { changed, freshId, idsOf, withoutGaps } from './items';

/**
 * A load of another size: forces, torques and friction by the factor,
 * springs by rate, preload and damping. A factor of 1 is the load as stated.
 */
export function scaledLoad(load: Load, factor: number): Load {
  if (factor === 1) return load;
  const l: ActingLoad & { torque?: Vec3; damping?: number; preload?: number } = load;
  const by = (x: number | undefined): number | undefined => (x === undefined ? undefined : x * factor);
  const vector = (v: Vec3 | undefined): Vec3 | undefined => v && vmap(v, (x) => x * factor + 0);
  return withoutGaps({
    ...l,
    force: vector(l.force),
    torque: vector(l.torque),
    value: by(l.value),
    rate: by(l.rate),
    preload: by(l.preload),
    damping: by(l.damping),
  });
}

/**
 * The design as it is in a load case: its loads scaled or left out,
 * its sources at the case's speeds. Without a case, as stated. Loads and speeds of a case follow no formula, so it names no
 * quantities.
 */
export function inCase(design: Design, id: Id | undefined): Design {
  const c = id === undefined ? undefined : design.cases?.find((x) => x.id === id);
  if (!c) return design;
  const factor = new Map(c.loads?.map((x) => [x.load, x.factor]));
  const speed = new Map(c.speeds?.map((x) => [x.source, x.speed]));
  const { quantities: _, ...stated } = design;
  return {
    ...stated,
    loads: design.loads.flatMap((l) => {
      const k = factor.get(l.id) ?? 1;
      return k === 0 ? [] : [scaledLoad(l, k)];
    }),
    sources: design.sources.map((s) => (speed.has(s.id) ? { ...s, speed: speed.get(s.id)! } : s)),
  };
}

/** Adds a load case. */
export const withCase = (design: Design): Design => ({ ...design, cases: [...(design.cases ?? []), newCase(design)] });

/** A load case changed. */
export const withCaseChanged = (design: Design, id: Id, to: (c: LoadCase) => LoadCase): Design => ({
  ...design,
  cases: design.cases && changed(design.cases, id, to),
});

/** A new load case, as stated until something is changed in it. */
export function newCase(design: Design): LoadCase {
  const usual = ['Lifting', 'Holding', 'Lowering'];
  const names = new Set(design.cases?.map((c) => c.name));
  let name = usual.find((x) => !names.has(x));
  for (let k = 4; name === undefined || names.has(name); k++) name = `Case ${k}`;
  return { id: freshId(idsOf(design), 'case'), name };
}

/** The case with a load's factor, or a source's speed, set; undefined takes it back to what is stated. */
export function withFactor(c: LoadCase, load: Id, factor: number | undefined): LoadCase {
  const rest = (c.loads ?? []).filter((x) => x.load !== load);
  const loads = factor === undefined ? rest : [...rest, { load, factor }];
  return withoutGaps({ ...c, loads: loads.length ? loads : undefined });
}
/** The case with a source's speed set, rev/min or mm/s; undefined takes it back to what is stated. */
export function withSpeed(c: LoadCase, source: Id, speed: number | undefined): LoadCase {
  const rest = (c.speeds ?? []).filter((x) => x.source !== source);
  const speeds = speed === undefined ? rest : [...rest, { source, speed }];
  return withoutGaps({ ...c, speeds: speeds.length ? speeds : undefined });
}
