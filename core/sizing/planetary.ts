import { finding } from '../findings/index';
import { Design, Finding, Id } from '../fields/types';
import { type Gear, gearOf } from '../elements/index';
import type { Compiled } from '../kinematics/index';

/** A sun, a ring and planets between them on one carrier. */
export interface PlanetarySet {
  sun: Id;
  ring: Id;
  planets: Id[];
  carrier: Id;
  couplings: Id[];
}

/** Sets of simple planets: gears that mesh with a sun and an internal ring on one axis, found among the couplings. */
export function planetarySets(c: Compiled): PlanetarySet[] {
  const touching = new Map<Id, { other: Id; coupling: Id; carrier: Id }[]>();
  for (const { coupling, model } of c.couplings) {
    if (coupling.type !== 'gear-pair') continue;
    const { a, b } = coupling;
    if (a === undefined || b === undefined) continue;
    const carrier = model.ports[0].carrier;
    for (const [x, y] of [
      [a, b],
      [b, a],
    ]) {
      touching.set(x, [...(touching.get(x) ?? []), { other: y, coupling: coupling.id, carrier }]);
    }
  }
  const internal = (e: Id): boolean => {
    const wheel: Gear | undefined = c.elements.get(e);
    return wheel?.internal === true;
  };
  const sets = new Map<string, PlanetarySet>();
  for (const [planet, meshes] of touching) {
    const ring = meshes.find((x) => internal(x.other)),
      sun = meshes.find((x) => !internal(x.other));
    if (!ring || !sun || meshes.length !== 2 || ring.carrier !== sun.carrier) continue;
    const key = `${sun.other} ${ring.other} ${sun.carrier}`;
    const s = sets.get(key) ?? { sun: sun.other, ring: ring.other, planets: [], carrier: sun.carrier, couplings: [] };
    s.planets.push(planet);
    s.couplings.push(sun.coupling, ring.coupling);
    sets.set(key, s);
  }
  return [...sets.values()];
}

/**
 * Does a set of evenly spaced planets go together: (sun + ring) a whole multiple
 * of their number. Common practice, e.g. Müller, Epicyclic Drive Trains.
 */
export const assembles = (sun: number, ring: number, planets: number): boolean => (sun + ring) % planets === 0;

/** The angle between places at which a planet goes in, deg: 360°/(sun + ring). */
export const assemblyStep = (sun: number, ring: number): number => 360 / (sun + ring);

/** Places for the planets nearest to even spacing at which all go in, deg from the first. */
export const assemblyAngles = (sun: number, ring: number, planets: number): number[] => {
  const step = assemblyStep(sun, ring);
  return Array.from({ length: planets }, (_, k) => Math.round((k * 360) / planets / step) * step);
};

/** How many planets fit beside each other: tips may not meet. Standard gears, working distances of the counts. */
export const mostPlanets = (sun: number, planet: number): number => Math.floor(Math.PI / Math.asin((planet + 2) / (sun + planet)));

/** One set of tooth counts for a planetary reducer. */
export interface PlanetChoice {
  sun: number;
  planet: number;
  ring: number;
}

/** Counts near the given ones that assemble evenly: ring = sun + 2·planet, nearest ratio first. At most `count`. */
export function choicesNear(sun: number, ring: number, planets: number, count = 4): PlanetChoice[] {
  const want = 1 + ring / sun;
  const out: (PlanetChoice & { off: number })[] = [];
  for (let s = Math.max(8, sun - 6); s <= sun + 6; s++) {
    for (let r = Math.max(s + 16, ring - 14); r <= ring + 14; r++) {
      if ((r - s) % 2 || !assembles(s, r, planets)) continue;
      const p = (r - s) / 2;
      if (mostPlanets(s, p) < planets) continue;
      out.push({ sun: s, planet: p, ring: r, off: Math.abs(1 + r / s - want) + 0.01 * (Math.abs(s - sun) + Math.abs(r - ring)) });
    }
  }
  return out
    .sort((a, b) => a.off - b.off)
    .slice(0, count)
    .map(({ sun: s, planet, ring: r }) => ({ sun: s, planet, ring: r }));
}

const angles = (list: readonly number[]): string => list.map((a) => `${Number(a.toFixed(3))}°`).join(', ');

/**
 * What keeps planetary sets from being put together, with angles and
 * counts that would do. `loops` are couplings whose phases do not close.
 */
export function planetFindings(c: Compiled, loops: ReadonlySet<Id>): Finding[] {
  const out: Finding[] = [];
  const design: Design = c.design;
  for (const s of planetarySets(c)) {
    const sun = gearOf(c.elements.get(s.sun)!),
      ring = gearOf(c.elements.get(s.ring)!);
    const n = s.planets.length;
    if (n < 2 || !s.couplings.some((k) => loops.has(k))) continue;
    const near = choicesNear(sun.teeth, ring.teeth, n);
    const name = design.members.find((m) => m.id === s.carrier)?.name ?? s.carrier;
    out.push(
      finding('planets-do-not-assemble', [...s.couplings, ...s.planets], {
        count: n,
        name,
        step: Number(assemblyStep(sun.teeth, ring.teeth).toFixed(4)),
        angles: angles(assemblyAngles(sun.teeth, ring.teeth, n)),
        word: assembles(sun.teeth, ring.teeth, n)
          ? ''
          : `; evenly spaced ones would need (sun + ring) divisible by ${n}, such as ${near.map((x) => `${x.sun}/${x.planet}/${x.ring}`).join(', ')}`,
      }),
    );
  }
  return out;
}
