import { finding } from '../findings/index';
import { Design, Exact, FRAME, Finding, Id, Joint, Member } from '../fields/types';
import { exactly, toNumber, type PiRatio, piNeg, piRatio, whole } from '../math/index';
import { type ScrewJoint, freedomsOf, jointKind } from '../joints/index';
import { Frame, Vec3, WORLD, cross, dot, frameOf, norm, vsub, within } from '../math/index';
import type { Term } from '../couplings/protocol';
import { type MotionUnit, motionUnit, listed } from '../units/index';

/**
 * One coordinate of the mechanism: one freedom of one joint. Point
 * in mm and unit axis, in the world, in the reference position.
 */
export interface Coordinate {
  index: number;
  joint: Joint;
  /** Which freedom of the joint. */
  order: number;
  motion: 'turn' | 'slide' | 'helix';
  unit: MotionUnit;
  label: string;
  /** Which axis of the joint's frame it goes along or about. */
  along: 'x' | 'y' | 'z';
  point: Vec3;
  axis: Vec3;
  /** Stops as stated, or as two faces give them, deg or mm. */
  lower?: Exact;
  upper?: Exact;
  /** Rest position as stated, deg or mm. */
  home?: Exact;
  /** Travel per turn of a helix along its axis, mm, with the sign of the hand. */
  lead?: PiRatio;
  /** Body that carries this freedom, and the body that it moves; one body per coordinate, the frame is body 0. */
  parent: number;
  body: number;
  /** −1 where the tree runs through the joint from its child to its parent. */
  sign: 1 | -1;
}

/** A joint that closes a loop: its own coordinates lead to a body that must coincide with the child's. */
export interface Closure {
  joint: Joint;
  /** Body at the end of the joint's own coordinates, and the child member's body. */
  reached: number;
  child: number;
  frame: Frame;
}

/** The design's members and joints as a tree of bodies with closures. */
export interface Structure {
  design: Design;
  members: Map<Id, Member>;
  frames: Map<Id, Frame>;
  jointFrames: Map<Id, Frame>;
  /** Body that a member is part of; members fastened to each other share one. */
  bodyOf: Map<Id, number>;
  coordinates: Coordinate[];
  firstOf: Map<Id, number>;
  closures: Closure[];
  findings: Finding[];
  bodies: number;
  nameOf(id: Id): string;
}

/** Where stops and home of a joint's freedoms are stated, in their order. */
const STATED = [
  ['lower', 'upper', 'home'],
  ['lower2', 'upper2', 'home2'],
  ['lower3', 'upper3', 'home3'],
] as const;

/** A joint's frame in the world, on its child's. */
export function jointFrameOf(child: Frame, j: Joint): Frame {
  const local = (j.axis ?? j.up) ? frameOf(j.at ?? [0, 0, 0], j.axis, j.up) : { ...WORLD, o: j.at ?? ([0, 0, 0] as Vec3) };
  return within(child, local);
}

/** Frames of members and joints in the world, the tree that the joints make, and what is wrong with them. */
export function structureOf(design: Design): Structure {
  const members = new Map(design.members.map((m) => [m.id, m]));
  const findings: Finding[] = [];
  const frames = new Map<Id, Frame>([[FRAME, WORLD]]);
  for (const m of design.members) frames.set(m.id, frameOf(m.at ?? [0, 0, 0], m.axis, m.up));
  const nameOf = (id: Id): string => (id === FRAME ? 'the frame' : `“${members.get(id)?.name ?? id}”`);

  const jointFrames = new Map<Id, Frame>();
  const usable: Joint[] = [];
  for (const j of design.joints) {
    const kind = jointKind(j.type);
    const known = (id: Id): boolean => id === FRAME || members.has(id);
    if (!kind) continue;
    if (!known(j.parent) || !known(j.child)) {
      findings.push(
        finding(
          'joint-member-missing',
          [j.id],
          { name: j.name ?? j.id, word: known(j.parent) ? 'what it carries' : 'what carries it' },
          known(j.parent) ? 'child' : 'parent',
        ),
      );
      continue;
    }
    if (j.parent === j.child) {
      findings.push(finding('joint-same-member', [j.id, j.child], { name: j.name ?? j.id, member: nameOf(j.child) }));
      continue;
    }
    jointFrames.set(j.id, jointFrameOf(frames.get(j.child)!, j));
    usable.push(j);
  }

  const bodyOf = new Map<Id, number>([[FRAME, 0]]);
  const coordinates: Coordinate[] = [];
  const firstOf = new Map<Id, number>();
  const closures: Closure[] = [];
  const chain = (j: Joint, from: number, reversed: boolean): number => {
    const f = jointFrames.get(j.id)!;
    const freedoms = freedomsOf(j).map((freedom, order) => ({ freedom, order }));
    const base = coordinates.length;
    firstOf.set(j.id, base);
    let body = from;
    // Coordinates keep the joint's own order of numbers; only the order of bodies turns round.
    const made: Coordinate[] = [];
    for (const { freedom, order } of reversed ? [...freedoms].reverse() : freedoms) {
      const c: Coordinate = {
        index: base + order,
        joint: j,
        order,
        motion: freedom.motion,
        unit: motionUnit(freedom.motion),
        label: freedom.label,
        along: freedom.axis,
        point: f.o,
        axis: f[freedom.axis],
        parent: body,
        body: 0,
        sign: reversed ? -1 : 1,
      };
      const [lower, upper, home] = STATED[order] ?? [];
      if (lower) {
        c.lower = j[lower];
        c.upper = j[upper!];
        c.home = j[home!];
      }
      if (freedom.motion === 'helix') {
        const screw: ScrewJoint = j;
        const lead = piRatio(exactly(screw.lead ?? 0));
        c.lead = screw.hand === 'left' ? piNeg(lead) : lead;
      }
      c.body = base + made.length + 1;
      body = c.body;
      made.push(c);
    }
    made.sort((a, b) => a.index - b.index);
    coordinates.push(...made);
    return body;
  };

  // The tree: breadth first from the frame, so that paths to carriers are short.
  const touching = new Map<Id, Joint[]>();
  for (const j of usable) for (const id of [j.parent, j.child]) touching.set(id, [...(touching.get(id) ?? []), j]);
  const used = new Set<Id>();
  const closing: Joint[] = [];
  const queue: Id[] = [FRAME];
  const grow = (): void => {
    for (let head = 0; head < queue.length; head++) {
      const here = queue[head];
      for (const j of touching.get(here) ?? []) {
        if (used.has(j.id)) continue;
        used.add(j.id);
        const other = j.parent === here ? j.child : j.parent;
        if (bodyOf.has(other)) {
          closing.push(j);
          continue;
        }
        bodyOf.set(other, chain(j, bodyOf.get(here)!, j.child === here));
        queue.push(other);
      }
    }
    queue.length = 0;
  };
  grow();
  for (const m of design.members) {
    if (bodyOf.has(m.id)) continue;
    const ring = carriersInRing(m.id, usable);
    if (ring) {
      findings.push(finding('carriers-in-a-ring', ring, { member: listed(ring.map(nameOf)) }));
    } else {
      findings.push(finding('member-not-carried', [m.id], { member: m.name }));
    }
    bodyOf.set(m.id, 0);
    queue.push(m.id);
    grow();
  }
  for (const j of closing) {
    const reached = chain(j, bodyOf.get(j.parent)!, false);
    closures.push({ joint: j, reached, child: bodyOf.get(j.child)!, frame: jointFrames.get(j.id)! });
  }
  return { design, members, frames, jointFrames, bodyOf, coordinates, firstOf, closures, findings, bodies: coordinates.length + 1, nameOf };
}

/** Members that carry each other round and round from this one, or undefined. */
function carriersInRing(start: Id, joints: readonly Joint[]): Id[] | undefined {
  const ring: Id[] = [start];
  for (let at = start; ;) {
    const up = joints.find((j) => j.child === at);
    if (!up) return undefined;
    if (up.parent === start) return ring;
    if (ring.includes(up.parent)) return undefined;
    ring.push(up.parent);
    at = up.parent;
  }
}

const PARALLEL = 1e-9;
const NEAR = 1e-6;
const parallel = (a: Vec3, b: Vec3): boolean => norm(cross(a, b)) < PARALLEL;
const onLine = (p: Vec3, [o, d]: readonly [Vec3, Vec3]): boolean => norm(cross(vsub(p, o), d)) < NEAR;

/** Does this freedom leave a line of the body in place? */
export function keepsLine(c: Coordinate, line: readonly [Vec3, Vec3]): boolean {
  return parallel(c.axis, line[1]) && (c.motion === 'slide' || onLine(c.point, line));
}

/**
 * A way from one body to a neighbour: through a freedom, with the sense in which
 * it moves the neighbour; or none where both coincide (a loop's closing end).
 */
interface Edge {
  to: number;
  by: Coordinate | undefined;
  sense: number;
}

/**
 * A way from carrier to member: its freedoms with the sense in which each
 * moves the member, and where it crosses between bodies that coincide.
 */
interface Way {
  freedoms: [Coordinate, number][];
  crossings: [number, number][];
}

/** The freedoms of a way that count, as terms; the crossings stand with the first. */
function termsOf({ freedoms, crossings }: Way, counts: (c: Coordinate) => boolean, factor: (c: Coordinate, sense: number) => PiRatio): Term[] {
  const terms = freedoms.filter(([c]) => counts(c)).map(([c, s]): Term => ({ coordinate: c.index, factor: factor(c, s) }));
  if (crossings.length && terms.length) terms[0] = { ...terms[0], crossings };
  return terms;
}

/**
 * Answers about relative motion (engine: rotation relative to the carrier), over all joints,
 * those that close loops as well. Built once per compile; neighbours of a body are found by
 * index, so that a train of thousands of couplings compiles in step with its length.
 */
export class Paths {
  private readonly byBody: Coordinate[];
  private readonly edges: Edge[][];
  private readonly depth: Int32Array;
  private readonly memberOfBody = new Map<number, Id>();

  constructor(private readonly s: Structure) {
    this.byBody = [];
    for (const c of s.coordinates) this.byBody[c.body] = c;
    this.depth = new Int32Array(s.bodies);
    for (let b = 1; b < s.bodies; b++) this.depth[b] = this.depth[this.byBody[b].parent] + 1;
    for (const [id, b] of s.bodyOf) if (!this.memberOfBody.has(b) || id === FRAME) this.memberOfBody.set(b, id);
    this.edges = Array.from({ length: s.bodies }, () => []);
    for (const c of s.coordinates) {
      this.edges[c.parent].push({ to: c.body, by: c, sense: c.sign });
      this.edges[c.body].push({ to: c.parent, by: c, sense: -c.sign });
    }
    for (const { reached, child } of s.closures) {
      this.edges[reached].push({ to: child, by: undefined, sense: 0 });
      this.edges[child].push({ to: reached, by: undefined, sense: 0 });
    }
  }

  /** Bodies in which a line that is fast on `start` stands still. */
  private still(start: number, line: readonly [Vec3, Vec3]): Set<number> {
    const seen = new Set([start]);
    const queue = [start];
    while (queue.length) {
      for (const { to, by } of this.edges[queue.pop()!]) {
        if (seen.has(to) || (by && !keepsLine(by, line))) continue;
        seen.add(to);
        queue.push(to);
      }
    }
    return seen;
  }

  /** The body next above in which the line stands still, climbing while it does. */
  private climb(start: number, line: readonly [Vec3, Vec3]): number {
    let b = start;
    while (b && keepsLine(this.byBody[b], line)) b = this.byBody[b].parent;
    return b;
  }

  carrier(memberA: Id, lineA: readonly [Vec3, Vec3], memberB: Id, lineB: readonly [Vec3, Vec3]): Id | undefined {
    const a = this.s.bodyOf.get(memberA)!,
      b = this.s.bodyOf.get(memberB)!;
    const high = this.climb(a, lineA);
    if (high !== a && high !== b && high === this.climb(b, lineB) && this.memberOfBody.has(high)) return this.memberOfBody.get(high);
    const inA = this.still(a, lineA),
      inB = this.still(b, lineB);
    let best: number | undefined;
    const worth = (k: number): number => (k === a || k === b ? -1e6 : 0) + this.depth[k];
    for (const k of inA) if (inB.has(k) && this.memberOfBody.has(k) && (best === undefined || worth(k) > worth(best))) best = k;
    return best === undefined ? undefined : this.memberOfBody.get(best);
  }

  /** Freedoms on the way through the tree from carrier to member, with +1 or −1 for the sense in which each moves the member. */
  private path(member: number, carrier: number): [Coordinate, number][] {
    let m = member,
      c = carrier;
    const out: [Coordinate, number][] = [];
    while (m !== c) {
      if (this.depth[m] >= this.depth[c]) {
        out.push([this.byBody[m], this.byBody[m].sign]);
        m = this.byBody[m].parent;
      } else {
        out.push([this.byBody[c], -this.byBody[c].sign]);
        c = this.byBody[c].parent;
      }
    }
    return out;
  }

  /** The shortest way from carrier to member over all joints through freedoms that will do, or undefined. */
  private route(member: number, carrier: number, will: (c: Coordinate) => boolean): Way | undefined {
    const from = new Map<number, { body: number; edge: Edge }>();
    const queue = [carrier];
    for (let head = 0; head < queue.length; head++) {
      const body = queue[head];
      if (body === member) {
        const freedoms: [Coordinate, number][] = [],
          crossings: [number, number][] = [];
        for (let at = member; at !== carrier; at = from.get(at)!.body) {
          const { body: before, edge } = from.get(at)!;
          if (edge.by) freedoms.push([edge.by, edge.sense]);
          else crossings.push([before, at]);
        }
        return { freedoms, crossings };
      }
      for (const edge of this.edges[body]) {
        if (edge.to === carrier || from.has(edge.to) || (edge.by && !will(edge.by))) continue;
        from.set(edge.to, { body, edge });
        queue.push(edge.to);
      }
    }
    return undefined;
  }

  /** A way whose freedoms all will do: through the tree where it does, else over any joints. */
  private way(member: Id, carrier: Id, will: (c: Coordinate) => boolean): Way | undefined {
    const m = this.s.bodyOf.get(member)!,
      c = this.s.bodyOf.get(carrier)!;
    const straight = this.path(m, c);
    return straight.every(([x]) => will(x)) ? { freedoms: straight, crossings: [] } : this.route(m, c, will);
  }

  /**
   * Turn of a member against its carrier about a line. The way goes through joints in
   * which the line stands still, where there is one: then the forces of the row are
   * those that act on the bodies, whichever joint of a loop is the one that closes it.
   */
  turn(member: Id, carrier: Id, line: readonly [Vec3, Vec3]): Term[] | undefined {
    const axis = line[1];
    const way =
      this.way(member, carrier, (c) => keepsLine(c, line)) ?? this.way(member, carrier, (c) => c.motion === 'slide' || parallel(c.axis, axis));
    return (
      way &&
      termsOf(
        way,
        (c) => c.motion !== 'slide',
        (c, s) => whole(s * Math.sign(dot(c.axis, axis))),
      )
    );
  }

  /** Travel of a member against its carrier along a line. */
  travel(member: Id, carrier: Id, line: readonly [Vec3, Vec3]): Term[] | undefined {
    const direction = line[1];
    const across = (c: Coordinate): boolean => c.motion === 'slide' && Math.abs(dot(c.axis, direction)) < PARALLEL;
    const will = (c: Coordinate): boolean => parallel(c.axis, direction) || across(c);
    // A turn across the direction moves what it carries along it in no fixed
    // proportion; where nothing else leads there, what turns is not counted.
    const way =
      this.way(member, carrier, (c) => keepsLine(c, line)) ??
      this.way(member, carrier, will) ??
      this.way(member, carrier, (c) => c.motion === 'turn' || will(c));
    return (
      way &&
      termsOf(
        way,
        (c) => c.motion !== 'turn' && !across(c),
        (c, s) => {
          const sense = s * Math.sign(dot(c.axis, direction));
          return c.lead ? (sense > 0 ? c.lead : piNeg(c.lead)) : whole(sense);
        },
      )
    );
  }
}

export const leadInMetresPerRad = (c: Coordinate): number => (c.lead ? (toNumber(c.lead.q) * Math.PI ** c.lead.pi * 1e-3) / (2 * Math.PI) : 0);
