import { describe, expect, it } from 'vitest';
import { analyse } from '../checks/index';
import type { Design } from '../fields/types';
import { type Vec3, vscale } from '../math/index';
import { figures, alike, steadily, interactions } from '../testing/laws';
import { RIGS } from '../testing/rigs/index';
import { freedomsOf, senseInMirror } from '../joints/index';
import { mirrorItems } from './mirror';

const everything = (d: Design): Set<string> =>
  new Set([d.members, d.joints, d.elements, d.couplings, d.sources, d.loads].flatMap((l) => l.map((x) => x.id)));
const PLANES = [
  { point: [40, 0, 0] as Vec3, axis: [1, 0, 0] as Vec3 },
  { point: [0, 0, -30] as Vec3, axis: [0, 0, 1] as Vec3 },
  { point: [5, 10, 15] as Vec3, axis: vscale([1, 2, -2], 1 / 3) },
];

/** A shape from a file has no mirror image: it is said so. */
const hasImage = (r: (typeof RIGS)[number]): boolean => !r.make().elements.some((e) => e.type === 'shape');

it('a shape from a file is not mirrored: a sentence says what to do', () => {
  const d = RIGS.find((r) => !hasImage(r))!.make();
  expect(mirrorItems(d, everything(d), PLANES[0])).toMatch(/no mirror image here/);
});

describe.each(RIGS.filter(hasImage).map((r) => [r.name, r] as const))('in a mirror: %s', (_n, rig) => {
  it('moves and loads as the picture does, with the same findings, and mirrored twice it is itself', () => {
    const d = rig.make();
    // Weight mirrored as well: it is part of what is seen.
    for (const plane of PLANES) {
      const flip = (v: Vec3): Vec3 => {
        const s = 2 * (v[0] * plane.axis[0] + v[1] * plane.axis[1] + v[2] * plane.axis[2]);
        return [v[0] - s * plane.axis[0], v[1] - s * plane.axis[1], v[2] - s * plane.axis[2]];
      };
      const g = d.settings?.gravity ?? [0, 0, -9.80665];
      const m = mirrorItems({ ...d, settings: { ...d.settings, gravity: flip(g) } }, everything(d), plane);
      if (typeof m === 'string') throw new Error(m);
      const [here, there] = [steadily(d), steadily(m)];
      const sense = new Map(d.joints.flatMap((j) => freedomsOf(j).map((f, k) => [k ? `${j.id}:${k}` : j.id, senseInMirror(f)])));
      const sized = (s: typeof here): Map<string, number> => new Map([...figures(s)].map(([k, v]) => [k, Math.abs(v)]));
      alike('sizes in the mirror', sized(there), sized(here), 1e-7);
      for (const x of here.ledger.sources) {
        const y = there.ledger.sources.find((s) => s.source === x.source)!;
        const turned = sense.get(d.sources.find((s) => s.id === x.source)!.joint)!;
        if (Math.abs(x.load) > 1e-9) expect(Math.sign(y.load) * turned).toBe(Math.sign(x.load));
      }
      const forces = new Map([...interactions(here)].filter(([k]) => k.endsWith('force')).map(([k, v]) => [k, flip(v as Vec3)]));
      const seen = new Map([...interactions(there)].filter(([k]) => k.endsWith('force')));
      if (here.forces.state.indeterminate === 0) alike('forces in the mirror', seen, forces, 1e-6);
      expect(
        analyse(m)
          .findings.map((f) => f.code)
          .sort(),
      ).toEqual(
        analyse(d)
          .findings.map((f) => f.code)
          .sort(),
      );
      const back = mirrorItems(m, everything(d), plane);
      if (typeof back === 'string') throw new Error(back);
      alike('mirrored twice', figures(steadily({ ...back, settings: d.settings })), figures(here), 1e-7);
    }
  });
});
