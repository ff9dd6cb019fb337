import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { analyse } from '../checks/index';
import { Design } from '../document/index';
import { row } from '../testing/designs';
import { settle } from './index';

const fresh = (): Design => JSON.parse(readFileSync(new URL('../../demo/paddle-winding-gear.json', import.meta.url), 'utf8'));

describe('bringing a train to its working distances', () => {
  it('moves what hangs behind a changed mesh, along the line of centres, and meshes the teeth again', () => {
    const d = fresh();
    const wheel = d.elements.find((e) => e.id === 'z2')!;
    const changed = { ...d, elements: d.elements.map((e) => (e === wheel ? { ...e, teeth: 100 } : e)) };
    expect(analyse(changed).findings.some((f) => f.code === 'open-mesh' || f.code === 'too-far-apart')).toBe(true);
    const s = settle(changed);
    expect(s.steps[0].members.sort()).toEqual(['paddle', 'pinionshaft']);
    // 4·(18 + 100)/2 = 236 mm instead of 252: the shaft comes 16 mm nearer.
    expect(s.design.members.find((m) => m.id === 'pinionshaft')!.at).toEqual([-67, 0, 900]);
    expect(analyse(s.design).findings.filter((f) => f.severity !== 'note')).toEqual([]);
  });

  it('leaves a train that fits as it is', () => {
    const d = fresh();
    expect(settle(d).steps).toEqual([]);
    expect(settle(d).design.members).toEqual(d.members);
  });

  it('settles a long row from the source outward', () => {
    const d = row([
      [20, 40],
      [20, 40],
      [20, 40],
    ]).design;
    d.members[1].at = [33, 0, 0];
    const s = settle(d).design;
    expect(analyse(s).findings.filter((f) => f.severity === 'fault' || /mesh|phase/.test(f.code))).toEqual([]);
  });
});
