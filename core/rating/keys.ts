import type { Member } from '../fields/types';
import type { Given, Results } from './rater';
import { OF_YIELD, keyPressure } from './shaft-key';
import type { RatedKey } from './shaft-sections';
import type { ShaftMaterial } from './shaft-steel';

/** The pressure of what goes over from the hub: by how much the torque of the shaft differs before and behind the key. */
export function rateKey({ cases, wishes }: Given, results: Results, m: Member, material: ShaftMaterial, r: RatedKey): void {
  const KA = wishes.applicationFactor;
  const may = OF_YIELD * Math.min(material.yield, r.strength ?? Infinity);
  for (const c of cases) {
    const torques = c.instants.map((i) => {
      const inside = i.shaft(m.id)?.inside;
      return inside ? Math.abs(inside[r.first + 1][1].torsion - inside[r.first][0].torsion) : NaN;
    });
    const torque = Math.max(...torques);
    if (!Number.isFinite(torque)) {
      results.unrated(m.id, m.name, `its forces are not known in “${c.name}”`);
      continue;
    }
    const pressure = keyPressure(KA * torque, r.diameter, r.sizes);
    const safety = pressure > 0 ? may / pressure : Infinity;
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
        { symbol: 'KA', label: 'Application factor', value: KA },
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
