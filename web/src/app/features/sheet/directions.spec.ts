import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { compile } from '@unirota/core';
import type { Design } from '@unirota/core/document';
import { directionsIn } from './directions';

const demo = (name: string): Design => JSON.parse(readFileSync(new URL(`../../../../../demo/${name}.json`, import.meta.url), 'utf8')) as Design;
const vector = (list: readonly { value: string | number; label: string }[], label: string): number[] =>
  JSON.parse(String(list.find((o) => o.label === label)!.value)) as number[];

describe('directions to choose from', () => {
  it('are those of the world, of joints and of elements, in the frame in which they are stated', () => {
    const compiled = compile(demo('inspection-lift'));
    const { design, structure } = compiled;
    const arm = design.members.find((m) => m.name === 'Lower arm A')!;
    const list = directionsIn(compiled, arm.id, 'nothing');
    const frame = structure.frames.get(arm.id)!;
    // Up in the arm's own frame, taken back into the world.
    const [x, y, z] = vector(list, 'up');
    [0, 1, 2].forEach((k) => expect(x * frame.x[k] + y * frame.y[k] + z * frame.z[k]).toBeCloseTo([0, 0, 1][k], 9));
    const joint = design.joints.find((j) => j.child === arm.id)!;
    const [jx, jy, jz] = vector(list, `along ${joint.name}`);
    const axis = structure.jointFrames.get(joint.id)!.z;
    [0, 1, 2].forEach((k) => expect(jx * frame.x[k] + jy * frame.y[k] + jz * frame.z[k]).toBeCloseTo(axis[k], 9));
    // Each has a length, and none is the item itself.
    for (const o of list) expect(Math.hypot(...(JSON.parse(String(o.value)) as number[]))).toBeCloseTo(1, 9);
    expect(directionsIn(compiled, arm.id, joint.id).some((o) => o.label === `along ${joint.name}`)).toBe(false);
  });
});
