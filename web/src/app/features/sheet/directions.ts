import type { Compiled } from '@unirota/core';
import { FRAME, type Id } from '@unirota/core/document';
import { type Vec3, WORLD, toLocalVector } from '@unirota/core/math';
import type { Option } from '../../ui/choice';

/** The world's directions as people say them. */
const SAID: readonly [string, Vec3][] = [
  ['up', [0, 0, 1]],
  ['down', [0, 0, -1]],
  ['right', [1, 0, 0]],
  ['left', [-1, 0, 0]],
  ['back', [0, 1, 0]],
  ['front', [0, -1, 0]],
];
/** Elements whose length lies along their x; that of the others lies along their axis. */
const LONG = new Set(['lever', 'block', 'rack', 'track', 'pointer', 'crank', 'pawl']);
/** So many joints and elements are offered. */
const MOST = 60;

/** A direction without the noise of having been turned, as text that stands for it. */
const textOf = (v: Vec3): string => JSON.stringify(v.map((x) => (Math.abs(x) < 1e-12 ? 0 : Number(x.toPrecision(12)))));

/**
 * Directions to choose from, as vectors (JSON) in the frame of a member: the world's, those of joints, and the
 * long edges of elements, as they stand in the document. What the direction belongs to is not offered itself.
 */
export function directionsIn(compiled: Compiled, member: Id, but: Id): Option[] {
  const { structure, design, elementFrames } = compiled;
  const frame = member === FRAME ? WORLD : (structure.frames.get(member) ?? WORLD);
  const local = (v: Vec3): string => textOf(toLocalVector(frame, v));
  const joints = design.joints.flatMap((j) => {
    const f = structure.jointFrames.get(j.id);
    return f && j.id !== but ? [{ value: local(f.z), label: `along ${j.name ?? j.id}` }] : [];
  });
  const elements = design.elements.flatMap((e) => {
    const f = elementFrames.get(e.id);
    return f && e.id !== but && e.member !== but ? [{ value: local(LONG.has(e.type) ? f.x : f.z), label: `along ${e.name ?? e.id}` }] : [];
  });
  return [...SAID.map(([label, v]) => ({ value: local(v), label })), ...joints.slice(0, MOST), ...elements.slice(0, MOST)];
}
