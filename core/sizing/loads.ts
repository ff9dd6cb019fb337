import { unusedName } from '../document/names';
import { LOAD_KINDS } from '../loads/index';
import { type Design, FRAME, type Id, type Load } from '../fields/types';
import type { Vec3 } from '../math/index';
import { jointKind } from '../joints/index';
import { freshId, idsOf, withSettings, withoutGaps } from './edits';

/** Where a load is to act: on a member, at a point of it (mm, in its own frame), or on a joint. */
export interface LoadAt {
  member?: Id;
  point?: Vec3;
  joint?: Id;
}

/** Whether a kind of load acts on a joint, not on a member. */
export const actsOnJoint = (type: string): boolean => type.startsWith('joint-');

const slides = (d: Design, joint: Id): boolean => jointKind(d.joints.find((j) => j.id === joint)?.type ?? '')?.freedoms[0]?.motion === 'slide';

/** The last joint that leaves a motion, as far from the sources as a train is built: where loads are, mostly. */
const lastJoint = (d: Design): Id | undefined => [...d.joints].reverse().find((j) => j.type !== 'fixed')?.id;

/** Sizes to begin with, small beside those of any drive and easily seen. SI of documents: N, N·m, mm. */
function startOf(type: string, slide: boolean): object {
  switch (type) {
    case 'force':
      return { force: [0, 0, -100] };
    case 'torque':
      return { torque: [0, 0, -10] };
    case 'joint-load':
      return { value: slide ? -100 : -10 };
    case 'spring':
      return { rate: 1, free: 100 };
    case 'joint-spring':
      return { rate: slide ? 1 : 0.1 };
    case 'joint-rubbing':
      return slide ? { coefficient: 0.1 } : { coefficient: 0.1, diameter: 20 };
    case 'joint-resistance':
    case 'joint-brake':
      return { value: slide ? 100 : 10 };
    case 'joint-friction':
      return { value: slide ? 10 : 1 };
    default:
      return {};
  }
}

/**
 * A load of a kind to begin with, where asked, else on what was built last; undefined where there is nothing that it could act on. Springs run to the frame,
 * a little beside the point at which they hang, so that they have a direction.
 */
export function newLoad(d: Design, type: string, at: LoadAt = {}): Load | undefined {
  const kind = LOAD_KINDS.find((k) => k.type === type);
  if (!kind) return undefined;
  const id = freshId(idsOf(d), 'load');
  const names = new Set(d.loads.map((l) => l.name));
  const name = unusedName(kind.label, names);
  if (actsOnJoint(type)) {
    const joint = at.joint ?? [...d.joints].reverse().find((j) => j.child === at.member && j.type !== 'fixed')?.id ?? lastJoint(d);
    return joint === undefined ? undefined : { id, name, type, ...{ joint }, ...startOf(type, slides(d, joint)) };
  }
  const member = at.member ?? d.joints.find((j) => j.id === (at.joint ?? lastJoint(d)))?.child;
  if (member === undefined || member === FRAME) return undefined;
  const own = d.members.find((m) => m.id === member)?.at ?? [0, 0, 0];
  const other = type === 'spring' ? { otherAt: [own[0], own[1] + 100, own[2]] } : {};
  return withoutGaps({ id, name, type, ...{ member, at: type === 'torque' ? undefined : at.point, ...other }, ...startOf(type, false) });
}

/** The design with its weight counted, by the acceleration that is usual, or not at all. */
export const withWeight = (d: Design, on: boolean): Design => withSettings(d, { gravity: on ? undefined : [0, 0, 0] });
export const hasWeight = (d: Design): boolean => !d.settings?.gravity || d.settings.gravity.some((x) => x !== 0);
