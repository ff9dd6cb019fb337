import type { Member } from '../fields/types';
import type { Instant } from './instants';
import { type Given, type Results, applicationFigure, knownIn, timesBorne } from './rater';
import type { RatedKey } from './shaft-sections';
import type { ShaftMaterial } from './shaft-steel';

/** Of two keys the torque is not shared evenly. DIN 6892, method C */
const SHARED = 0.75;
/** What of the yield strength the flanks of a key bear. DIN 6892, method C */
const OF_YIELD = 0.9;

/**
 * Pressure on the flanks of parallel keys, MPa: p = 2·T/(d·(h − t1)·l·i·φ). DIN 6892, method C, from memory. T in N·m,
 * lengths in mm.
 */
export const keyPressure = (torque: number, d: number, k: { height: number; depth: number; length: number; count: number }): number =>
  (2e3 * torque) / (d * (k.height - k.depth) * k.length * k.count * (k.count > 1 ? SHARED : 1));

/** What goes over between a shaft and a hub: by how much torque, N·m, and thrust, N, differ before and behind the joint. */
interface Over {
  readonly torque: number;
  readonly thrust: number;
}
function goesOver(i: Instant, { id }: Member, { first }: { readonly first: number }): Over {
  const inside = i.shaft(id)?.inside;
  if (!inside) return { torque: NaN, thrust: NaN };
  const [before, behind] = [inside[first][0], inside[first + 1][1]];
  return { torque: Math.abs(behind.torsion - before.torsion), thrust: Math.abs(behind.thrust - before.thrust) };
}

/** What goes over a joint of a shaft in every case in which it is known; for the others it says why not. */
export const carriedOver = ({ cases }: Given, results: Results, m: Member, joint: { readonly first: number }): ReturnType<typeof knownIn<Over>> =>
  knownIn(
    cases,
    (why) => results.unrated(m.id, m.name, why),
    (i) => goesOver(i, m, joint),
  );

/** The pressure of what goes over from the hub: by how much the torque of the shaft differs before and behind the key. */
export function rateKey(given: Given, results: Results, m: Member, material: ShaftMaterial, r: RatedKey): void {
  const { wishes } = given;
  const KA = wishes.applicationFactor;
  const may = OF_YIELD * Math.min(material.yield, r.strength ?? Infinity);
  for (const [c, all] of carriedOver(given, results, m, r)) {
    const torque = Math.max(...all.map((x) => x.torque));
    const pressure = keyPressure(KA * torque, r.diameter, r.sizes);
    const safety = timesBorne(may, pressure);
    results.line(r.key, {
      item: m.id,
      name: `${m.name}: ${r.name}`,
      case: c.name,
      what: 'key',
      value: safety,
      wanted: 1,
      reserve: safety,
      method: 'DIN 6892, method C',
      figures: [
        applicationFigure(wishes),
        { symbol: 'T', label: 'Greatest torque that goes over', value: torque, unit: 'N·m' },
        { symbol: 'd', label: 'Diameter of the shaft', value: r.diameter, unit: 'mm' },
        { symbol: 'h', label: 'Height of the key', value: r.sizes.height, unit: 'mm' },
        { symbol: 't1', label: 'Depth in the shaft', value: r.sizes.depth, unit: 'mm' },
        { symbol: 'l', label: 'Bearing length', value: r.sizes.length, unit: 'mm' },
        { symbol: 'i', label: 'Keys round the shaft', value: r.sizes.count },
        { symbol: 'p', label: 'Pressure', value: pressure, unit: 'MPa', formula: `p = 2·KA·T/(d·(h − t1)·l${r.sizes.count > 1 ? '·i·0.75' : ''})` },
        { symbol: 'pzul', label: 'Permissible pressure', value: may, unit: 'MPa', formula: '0.9·σS of the weakest of shaft, key and hub' },
      ],
      assumptions: [r.strength === undefined ? 'key and hub are taken to be as strong as the shaft' : `key and hub yield at ${r.strength} MPa`],
    });
  }
}
