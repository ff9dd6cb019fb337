import { type Design, emptyDesign } from '../../document/index';
import { insertStage, withInputShaft } from '../../sizing/index';
import { type Vec3, frameOf, toLocalVector } from '../../math/index';
import { Builder, state } from '../designs';

/**
 * Small sound designs that together hold every kind of joint, coupling, load, source and element, each with weight, a
 * driven input and a load on what comes out. The laws of mechanics are tried on each of them with every field away from its
 * initial value.
 */
export interface Rig {
  name: string;
  make(): Design;
}

export const RAD = Math.PI / 180;
export const X: Vec3 = [1, 0, 0];
export const Y: Vec3 = [0, 1, 0];
export const Z: Vec3 = [0, 0, 1];

/** A direction of the world in a member's frame. */
const local = (b: Builder, member: string, v: Vec3): Vec3 => {
  const m = b.design.members.find((x) => x.id === member)!;
  return toLocalVector(frameOf(m.at ?? [0, 0, 0], m.axis, m.up), v);
};
/** A joint about (along) a direction of the world, at a member's origin or a place on it. */
export const jointed = (b: Builder, type: string, parent: string, child: string, z: Vec3, more: Record<string, unknown> = {}): string => {
  const up = more['up'] as Vec3 | undefined;
  return b.joint(type, parent, child, { axis: local(b, child, z), ...more, ...(up && { up: local(b, child, up) }) });
};
/** A lump off the middle of a member, so that weight and inertia are felt. */
export const lump = (b: Builder, member: string, at: Vec3 = [40, 15, 25]): string =>
  b.element('block', member, { length: 30, depth: 20, height: 25, density: 8000, at });

/** Loads of every kind that bears on members: at a point, about an axis, a spring to the frame. */
export function burden(b: Builder, member: string): void {
  b.load('force', { member, at: [20, 10, 30], force: [12, -30, 18] });
  b.load('torque', { member, torque: [1.5, 0.7, 2.2] });
  b.load('spring', { member, at: [15, 5, 0], otherAt: [300, -200, 150], rate: 0.02, free: 120, preload: 3, damping: 0.01 });
}
/** Loads of every kind along one freedom. */
export function along(b: Builder, joint: string, size = 1): void {
  b.load('joint-load', { joint, value: -6 * size });
  b.load('joint-spring', { joint, rate: 0.01 * size, free: 12, preload: 0.4, damping: 0.002 * size });
  b.load('joint-friction', { joint, value: 0.8 * size });
}

/** A stage as it is put in, on an input shaft, with loads on what comes out. */
export const stageRig = (kind: string): Rig => ({
  name: `stage ${kind}`,
  make() {
    const begun = withInputShaft(emptyDesign(kind), { type: 'motor', name: 'Motor', fields: { speed: 40 } });
    const made = insertStage(begun.design, { kind, from: begun.output })!;
    const b = new Builder();
    Object.assign(b.design, structuredClone(made.design));
    const joint = b.design.joints.find((j) => j.child === made.output)!;
    if (made.output !== begun.output) burden(b, made.output);
    if (made.output !== begun.output) along(b, joint.id, joint.type === 'prismatic' ? 40 : 1);
    lump(b, made.output);
    // The stage leaves its wheel without a bore, and so without what a bore may have.
    for (const e of b.design.elements) if (e.type === 'worm-wheel') state(e, { bore: 20 });
    return b.design;
  },
});
