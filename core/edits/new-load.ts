import { unusedName } from '../document/names';
import { LOAD_KINDS } from '../loads/index';
import { type Design, FRAME, type Id, type Load } from '../fields/types';
import { jointFrameOf } from '../kinematics/index';
import { type Vec3, vscale } from '../math/index';
import { freedomsOf } from '../joints/index';
import { memberFrame, tidy } from './frames';
import { freshId, idsOf, withSettings, withoutGaps } from './items';

/** Where a load is to act: on a member, at a point of it (mm, in its own frame), or on a joint. */
export interface LoadAt {
  member?: Id;
  point?: Vec3;
  joint?: Id;
  /** Which way a coordinate (`joint`, or `joint:1` for its second freedom) moves, so that what is put in opposes that. */
  sense?: (coordinate: string) => 1 | -1;
}

/** Whether a kind of load acts on a joint, not on a member. */
export const actsOnJoint = (type: string): boolean => type.startsWith('joint-');

const slides = (d: Design, joint: Id): boolean => {
  const j = d.joints.find((x) => x.id === joint);
  return j !== undefined && freedomsOf(j)[0]?.motion === 'slide';
};

/** A motion that a member has: its axis in the world, and which way it goes. */
interface Going {
  axis: Vec3;
  sense: 1 | -1;
}

/** How a member turns, or slides, in one of the joints that tie it: the one that was asked for, one that carries it, or any. */
function goingOf(d: Design, member: Id, motion: 'turn' | 'slide', at: LoadAt): Going | undefined {
  const last = [...d.joints].reverse();
  const order = [...last.filter((j) => j.id === at.joint), ...last.filter((j) => j.child === member), ...last.filter((j) => j.parent === member)];
  for (const j of order) {
    const k = freedomsOf(j).findIndex((f) => (motion === 'slide') === (f.motion === 'slide'));
    if (k < 0 || (j.child !== member && j.parent !== member)) continue;
    const axis = jointFrameOf(memberFrame(d, j.child), j)[freedomsOf(j)[k].axis];
    const sense = at.sense?.(k ? `${j.id}:${k}` : j.id) ?? 1;
    // A joint's motion is that of its child against its parent.
    return { axis, sense: j.child === member ? sense : sense > 0 ? -1 : 1 };
  }
  return undefined;
}

/** The last joint that leaves a motion, as far from the sources as a train is built: where loads are, mostly. */
const lastJoint = (d: Design): Id | undefined => [...d.joints].reverse().find((j) => j.type !== 'fixed')?.id;

/** A vector against a motion; otherwise what is stated without one. */
const opposing = (g: Going | undefined, size: number, otherwise: Vec3): Vec3 => (g ? tidy(vscale(g.axis, -size * g.sense)) : otherwise);

/**
 * Sizes to begin with, small beside those of any drive and easily seen. N, N·m, mm. `slide`: the joint
 * that it acts on slides; `sense`: which way that moves; `going`: how the member moves that it acts on.
 */
function startOf(type: string, slide: boolean, sense: 1 | -1, going?: Going): object {
  switch (type) {
    case 'force':
      // On what does not slide it hangs, as a weight does.
      return { force: opposing(going, 100, [0, 0, -100]) };
    case 'torque':
      return { torque: opposing(going, 10, [0, 0, -10]) };
    case 'joint-load':
      return { value: (slide ? -100 : -10) * sense };
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
 * A load of a kind to begin with, where asked, else on what was built last; undefined where there is nothing that it could
 * act on. It acts about or along the axis of the joint that carries its member, against the motion. Springs run to the
 * frame, a little beside the point at which they hang, so that they have a direction.
 */
export function newLoad(d: Design, type: string, at: LoadAt = {}): Load | undefined {
  const kind = LOAD_KINDS.find((k) => k.type === type);
  if (!kind) return undefined;
  const id = freshId(idsOf(d), 'load');
  const names = new Set(d.loads.map((l) => l.name));
  const name = unusedName(kind.label, names);
  if (actsOnJoint(type)) {
    const joint = at.joint ?? [...d.joints].reverse().find((j) => j.child === at.member && j.type !== 'fixed')?.id ?? lastJoint(d);
    return joint === undefined ? undefined : { id, name, type, ...{ joint }, ...startOf(type, slides(d, joint), at.sense?.(joint) ?? 1) };
  }
  const member = at.member ?? d.joints.find((j) => j.id === (at.joint ?? lastJoint(d)))?.child;
  if (member === undefined || member === FRAME) return undefined;
  const own = d.members.find((m) => m.id === member)?.at ?? [0, 0, 0];
  const other = type === 'spring' ? { otherAt: [own[0], own[1] + 100, own[2]] } : {};
  return withoutGaps({
    id,
    name,
    type,
    ...{ member, at: type === 'torque' ? undefined : at.point, ...other },
    ...startOf(type, false, 1, goingOf(d, member, type === 'torque' ? 'turn' : 'slide', at)),
  });
}

/** The design with its weight counted, by the acceleration that is usual, or not at all. */
export const withWeight = (d: Design, on: boolean): Design => withSettings(d, { gravity: on ? undefined : [0, 0, 0] });
/** Whether weight counts. */
export const hasWeight = (d: Design): boolean => !d.settings?.gravity || d.settings.gravity.some((x) => x !== 0);
