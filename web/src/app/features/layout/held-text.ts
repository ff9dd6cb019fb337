import type { Vector3 } from 'three';
import type { Held } from '@unirota/core';
import type { Id } from '@unirota/core/document';
import type { MotionService } from '../../state/motion.service';

/** What holds the train under the hand, in a sentence. */
export function heldText(h: Held, parts: MotionService['endParts'], coupling: string): string {
  if (h.leaves) return `“${coupling}” would leave engagement: ${h.leaves} ends here`;
  if (h.which === 'pawl') return $localize`Held by “${coupling}”`;
  const { name, seen, at } = parts(h);
  if (h.dead === 'dead-point') return $localize`Held at a dead centre: the links at “${name}” come into line${at}`;
  if (h.dead) return $localize`Held where the links reach no farther: “${name}”${at}`;
  return seen ? $localize`Held by the ${seen} stop of “${name}”` : $localize`Held by the stop of “${name}”${at}`;
}

/** A face of an element by the direction in which it looks, as stops name it: `element:+x`. */
export function faceName(element: Id, normal: Vector3): string {
  const n = [normal.x, normal.y, normal.z];
  const k = n.map(Math.abs);
  const axis = k.indexOf(Math.max(...k));
  return `${element}:${n[axis] > 0 ? '+' : '-'}${'xyz'[axis]}`;
}
