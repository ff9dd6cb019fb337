import type { Design, Element } from '../fields/types';
import type { CarriedJoint } from '../joints/index';
import { localFrame } from '../math/index';

/**
 * How far a shaft gives sideways at an element, m/N, as a stiff bar on the springs of its bearings: u(z) = [1 z]·K⁻¹·[1 z]ᵀ
 * with K of Σk, Σk·z, Σk·z². Nothing where fewer than two bearings state a stiffness, or one of them states none.
 */
export function sideways({ joints }: Design, element: Element): number {
  const joint = (joints as readonly CarriedJoint[]).find((j) => j.child === element.member);
  const bearings = joint?.bearings ?? [];
  if (!joint || bearings.length < 2 || bearings.some((b) => b.stiffness === undefined)) return 0;
  const frame = localFrame(joint);
  const along = Math.abs(Math.abs(frame.z[2]) - 1) < 1e-9 ? frame.z[2] : 0;
  if (!along) return 0;
  const z = localFrame(element).o[2];
  // About the element itself only the first of the inverse counts.
  let [k0, k1, k2] = [0, 0, 0];
  for (const b of bearings) {
    const [k, arm] = [b.stiffness! * 1e3, (frame.o[2] + along * b.at - z) * 1e-3];
    k0 += k;
    k1 += k * arm;
    k2 += k * arm * arm;
  }
  const det = k0 * k2 - k1 * k1;
  return det > 1e-12 * k0 * k2 ? k2 / det : 0;
}
