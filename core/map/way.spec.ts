import { readFileSync, readdirSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import type { Design } from '../document/index';
import { compile } from '../kinematics/index';
import { mapLayout } from './layout';
import { wayTo } from './way';

const folder = new URL('../../demo/', import.meta.url);
const demo = (f: string): Design => JSON.parse(readFileSync(new URL(f, folder), 'utf8')) as Design;
const names = (d: Design, to: string | undefined): string[] => wayTo(mapLayout(compile(d)), to).map((p) => p.member?.name ?? p.coupling!.id);

describe('the way along a train', () => {
  it('goes from the source by couplings, one after the other, to a member or through a coupling', () => {
    const d = demo('weed-rake.json');
    const carriage = d.members.find((m) => m.name === 'Rake carriage')!;
    const way = wayTo(mapLayout(compile(d)), carriage.id);
    expect(way[0].member!.source).toBeDefined();
    expect(way.at(-1)!.member!.id).toBe(carriage.id);
    expect(way.filter((p) => p.coupling)).toHaveLength(4);
    const first = way.find((p) => p.coupling)!.coupling!;
    expect(wayTo(mapLayout(compile(d)), first.id)).toHaveLength(3);
  });
  it('prefers what ties motions to what carries', () => {
    const d = demo('towpath-trolley.json');
    const trolley = d.members.find((m) => m.name === 'Trolley')!;
    const ties = wayTo(mapLayout(compile(d)), trolley.id).flatMap((p) => p.coupling?.type ?? []);
    // The motor stands on the trolley; what moves that goes through the differential to an axle.
    expect(ties.filter((t) => t === 'joint')).toHaveLength(1);
    expect(ties.length).toBeGreaterThan(2);
  });
  it.each(readdirSync(folder).filter((f) => f.endsWith('.json')))(
    '%s: reaches every member that the map has tied to the source, without a gap',
    (f) => {
      const d = demo(f);
      const map = mapLayout(compile(d));
      for (const m of map.members) {
        const way = wayTo(map, m.id);
        for (let k = 1; k < way.length; k += 2) {
          const touched = way[k].coupling!.touches.map((t) => t.member);
          for (const beside of [way[k - 1].member!, way[k + 1].member!]) {
            expect([beside.id, ...beside.alike].some((id) => touched.includes(id))).toBe(true);
          }
        }
      }
      expect(names({ ...d, members: [], joints: [], elements: [], couplings: [], sources: [], loads: [], wanted: [] }, undefined)).toEqual([]);
    },
  );
});
