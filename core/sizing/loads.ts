import { unusedName } from '../document/names';
import { LOAD_KINDS } from '../loads/index';
import { type Design, FRAME, type Id, type Load } from '../fields/types';
import { jointFrameOf } from '../kinematics/index';
import { type Vec3, vscale } from '../math/index';
import { jointKind } from '../joints/index';
import { memberFrame, tidy } from './frames';
import { freshId, idsOf, withSettings, withoutGaps } from './edits';

/** Where a load is to act: on a member, at a point of it (mm, in its own frame), or on a joint. */
export interface LoadAt {
  member?: Id;
  point?: Vec3;
  joint?: Id;
  /** Which way the joint moves that carries it, so that what is put in opposes that: −1 where it runs back. */
  sense?: (joint: Id) => 1 | -1;
}

/** Whether a kind of load acts on a joint, not on a member. */
export const actsOnJoint = (type: string): boolean => type.startsWith('joint-');

const slides = (d: Design, joint: Id): boolean => jointKind(d.joints.find((j) => j.id === joint)?.type ?? '')?.freedoms[0]?.motion === 'slide';

/** Axis of a joint in the world, upright where there is none, and which way it moves. */
function against(d: Design, id: Id | undefined, sense: LoadAt['sense']): { axis: Vec3; sense: 1 | -1 } {
  const joint = d.joints.find((j) => j.id === id);
  if (!joint) return { axis: [0, 0, 1], sense: 1 };
  return { axis: jointFrameOf(memberFrame(d, joint.child), joint).z, sense: sense?.(joint.id) ?? 1 };
}

/** The last joint that leaves a motion, as far from the sources as a train is built: where loads are, mostly. */
const lastJoint = (d: Design): Id | undefined => [...d.joints].reverse().find((j) => j.type !== 'fixed')?.id;

/** Sizes to begin with, small beside those of any drive and easily seen. SI of documents: N, N·m, mm. `against`: the way that opposes the motion. */
function startOf(type: string, slide: boolean, against: { axis: Vec3; sense: 1 | -1 }): object {
  const along = (size: number): Vec3 => tidy(vscale(against.axis, -size * against.sense));
  switch (type) {
    case 'force':
      // On what turns it hangs, as a weight does.
      return { force: slide ? along(100) : [0, 0, -100] };
    case 'torque':
      return { torque: along(10) };
    case 'joint-load':
      return { value: (slide ? -100 : -10) * against.sense };
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
 * A load of a kind to begin with, where asked, else on what was built last; undefined where there is nothing that it could act on.
 * It acts about or along the axis of the joint that carries its member, against the motion. Springs run to the frame, a little
 * beside the point at which they hang, so that they have a direction.
 */
export function newLoad(d: Design, type: string, at: LoadAt = {}): Load | undefined {
  const kind = LOAD_KINDS.find((k) => k.type === type);
  if (!kind) return undefined;
  const id = freshId(idsOf(d), 'load');
  const names = new Set(d.loads.map((l) => l.name));
  const name = unusedName(kind.label, names);
  if (actsOnJoint(type)) {
    const joint = at.joint ?? [...d.joints].reverse().find((j) => j.child === at.member && j.type !== 'fixed')?.id ?? lastJoint(d);
    return joint === undefined ? undefined : { id, name, type, ...{ joint }, ...startOf(type, slides(d, joint), against(d, joint, at.sense)) };
  }
  const member = at.member ?? d.joints.find((j) => j.id === (at.joint ?? lastJoint(d)))?.child;
  if (member === undefined || member === FRAME) return undefined;
  const own = d.members.find((m) => m.id === member)?.at ?? [0, 0, 0];
  const carried =
    d.joints.find((j) => j.id === at.joint && j.child === member) ?? [...d.joints].reverse().find((j) => j.child === member && j.type !== 'fixed');
  const slidesOnly = carried !== undefined && slides(d, carried.id);
  const other = type === 'spring' ? { otherAt: [own[0], own[1] + 100, own[2]] } : {};
  return withoutGaps({
    id,
    name,
    type,
    ...{ member, at: type === 'torque' ? undefined : at.point, ...other },
    ...startOf(type, slidesOnly, against(d, carried?.id, at.sense)),
  });
}

/** The design with its weight counted, by the acceleration that is usual, or not at all. */
export const withWeight = (d: Design, on: boolean): Design => withSettings(d, { gravity: on ? undefined : [0, 0, 0] });
export const hasWeight = (d: Design): boolean => !d.settings?.gravity || d.settings.gravity.some((x) => x !== 0);
