import { distancesFromSources } from './reach';
import { type CouplingContext, type CouplingModel, type Term, couplingKind } from '../couplings/index';
import { withoutUnstated } from '../document/stated';
import { type Coupling, type Design, type Element, type Id, type Joint, type Member } from '../fields/types';
import { type Frame, frameOf, localFrame, within } from '../math/index';
import { type Coordinate, Paths, type Structure, jointFrameOf, structureOf } from './structure';

/** The main coordinate of a joint, or the numbered one in "joint:1". */
export function coordinateOf(s: Structure, ref: unknown): Coordinate | undefined {
  if (typeof ref !== 'string') return undefined;
  const [id, order = '0'] = ref.split(':');
  const first = s.firstOf.get(id);
  const c = first === undefined ? undefined : s.coordinates[first + Number(order)];
  return c && c.joint.id === id ? c : undefined;
}

/**
 * A design as its things stand: frames of members and elements, joints as a tree, and what one
 * coupling may ask of the others. It follows when members are moved or an element is restated,
 * so that one coupling after the other can be asked anew without compiling the whole.
 */
export class Standing {
  readonly design: Design;
  readonly structure: Structure;
  readonly elements = new Map<Id, Element>();
  readonly elementFrames = new Map<Id, Frame>();
  readonly context: CouplingContext;
  private readonly on = new Map<Id, Element[]>();
  private readonly jointsOf = new Map<Id, Joint[]>();

  constructor(document: Design) {
    const design = (this.design = withoutUnstated(document));
    this.structure = structureOf(design);
    for (const e of design.elements) {
      this.elements.set(e.id, e);
      this.on.set(e.member, [...(this.on.get(e.member) ?? []), e]);
      const member = this.structure.frames.get(e.member);
      if (member) this.elementFrames.set(e.id, within(member, localFrame(e)));
    }
    for (const j of design.joints) this.jointsOf.set(j.child, [...(this.jointsOf.get(j.child) ?? []), j]);
    this.context = contextOf(design, this.structure, this.elements, this.elementFrames);
  }

  /** Members that have been moved, as they are stated now. */
  move(members: Iterable<Member>): void {
    const { frames, jointFrames, coordinates, firstOf } = this.structure;
    for (const m of members) {
      const frame = frameOf(m.at ?? [0, 0, 0], m.axis, m.up);
      frames.set(m.id, frame);
      for (const e of this.on.get(m.id) ?? []) this.elementFrames.set(e.id, within(frame, localFrame(this.elements.get(e.id)!)));
      for (const j of this.jointsOf.get(m.id) ?? []) {
        if (!jointFrames.has(j.id)) continue;
        const f = jointFrameOf(frame, j);
        jointFrames.set(j.id, f);
        for (let i = firstOf.get(j.id) ?? coordinates.length; coordinates[i]?.joint.id === j.id; i++) {
          coordinates[i].point = f.o;
          coordinates[i].axis = f[coordinates[i].along];
        }
      }
    }
  }

  /** An element of which something else is stated now. */
  restate(e: Element): void {
    this.elements.set(e.id, e);
    const member = this.structure.frames.get(e.member);
    if (member) this.elementFrames.set(e.id, within(member, localFrame(e)));
  }

  /** What a coupling ties as things stand; undefined where it cannot be made. */
  model(c: Coupling): CouplingModel | undefined {
    return couplingKind(c.type)?.model(c, this.context).model;
  }
}

/** What a coupling may ask of the design around it. */
function contextOf(design: Design, structure: Structure, elements: ReadonlyMap<Id, Element>, elementFrames: ReadonlyMap<Id, Frame>): CouplingContext {
  const paths = new Paths(structure);
  const joints = new Map(design.joints.map((j) => [j.id, j]));
  const touching = new Map<Id, Joint[]>();
  for (const j of design.joints) {
    if (!structure.firstOf.has(j.id)) continue;
    for (const id of new Set([j.child, j.parent])) touching.set(id, [...(touching.get(id) ?? []), j]);
  }
  let distances: ReadonlyMap<Id, number> | undefined;
  return {
    element(id) {
      const element = elements.get(id as Id);
      const frame = elementFrames.get(id as Id);
      return element && frame ? { element, member: element.member, frame } : undefined;
    },
    joint(id) {
      const joint = joints.get(id as Id);
      const frame = structure.jointFrames.get(id as Id);
      return joint && frame ? { joint, frame } : undefined;
    },
    memberName: structure.nameOf,
    fromSource: (member) => (distances ??= distancesFromSources(design)).get(member) ?? Infinity,
    carrier: (a, la, b, lb) => paths.carrier(a, la, b, lb),
    turn: (m, c, line) => paths.turn(m, c, line),
    travel: (m, c, line) => paths.travel(m, c, line),
    coordinate(ref) {
      const c = coordinateOf(structure, ref);
      return (
        c && {
          index: c.index,
          motion: c.motion === 'slide' ? 'slide' : 'turn',
          joint: c.joint,
          parent: c.joint.parent,
          child: c.joint.child,
          point: c.point,
          axis: c.axis,
          lead: c.lead,
        }
      );
    },
    carried(member, will = () => true) {
      const here = touching.get(member) ?? [];
      // As stated, the joint carries its child; found the other way round it moves its parent against its child, in the other sense.
      const ways = [...here.filter((j) => j.child === member), ...here.filter((j) => j.child !== member)].flatMap((j) => {
        const c = coordinateOf(structure, j.id);
        if (!c) return [];
        const forward = j.child === member;
        const motion: 'turn' | 'slide' = c.motion === 'slide' ? 'slide' : 'turn';
        const closing = structure.closures.find((x) => x.joint.id === j.id);
        const crossings: Term['crossings'] = closing && [forward ? [closing.reached, closing.child] : [closing.child, closing.reached]];
        return [{ index: c.index, motion, parent: forward ? j.parent : j.child, point: c.point, axis: c.axis, sense: forward ? 1 : -1, crossings }];
      });
      return ways.find(will) ?? ways[0];
    },
  };
}
