import type { Element, Id, Joint } from '../fields/types';
import { type Bulk, bulksOf, common, extent, meetsLine } from '../interference/index';
import type { Compiled } from './compiled';
import { movedFrame } from './moved-frame';
import type { Pose } from './pose';
import { type Frame, type Vec3, dot, toLocalPoint, toLocalVector, within } from '../math/index';

/** Two members that stand in each other where nothing joins them. */
export interface Interference {
  members: readonly [Id, Id];
  elements: readonly [Id, Id];
  /** Diameter of the largest ball found that fits in both, mm. */
  depth: number;
  /** Its middle in the world, mm. */
  at: Vec3;
  /** Not found: `depth` is what it can be at most, where the search was given up. */
  undecided?: true;
}

interface Part {
  element: Element;
  body: number;
  bulk: Bulk;
  frame: Frame;
  lower: [number, number, number];
  upper: [number, number, number];
}

/**
 * Joints by which one member runs in the other: what stands in each other in the reference position is a bar in its guide, a pin
 * in its slot.
 */
const GUIDED = new Set(['prismatic', 'cylindrical', 'planar', 'pin-in-slot', 'spherical', 'screw', 'fixed']);
/** Joints about whose axis members turn: what stands about it is mated. */
const TURNS = new Set(['revolute', 'cylindrical', 'screw']);
const WAYS: readonly Vec3[] = [
  [1, 0, 0],
  [0, 1, 0],
  [0, 0, 1],
];
const SPAN = { least: 0, most: 0 };

/** The bodies of a design, ready to be looked at in one pose after the other. */
export class Bodies {
  private readonly parts: Part[];
  private readonly partsOf = new Map<Id, Part[]>();
  private readonly joints = new Map<string, Joint[]>();
  private readonly fits = new Map<string, boolean>();
  private readonly coupled = new Set<string>();
  private readonly allowed = new Set<string>();
  private readonly order: number[];

  constructor(private readonly compiled: Compiled) {
    const { structure, design, elementFrames } = compiled;
    this.parts = design.elements.flatMap((element) => {
      const at = elementFrames.get(element.id);
      const body = structure.bodyOf.get(element.member);
      if (!at || body === undefined) return [];
      return bulksOf(element).map((bulk): Part => ({ element, body, bulk, frame: within(at, bulk.place), lower: [0, 0, 0], upper: [0, 0, 0] }));
    });
    this.order = this.parts.map((_, k) => k);
    for (const p of this.parts) {
      const own = this.partsOf.get(p.element.id);
      if (own) own.push(p);
      else this.partsOf.set(p.element.id, [p]);
    }
    for (const j of design.joints) {
      const key = pair(j.parent, j.child);
      this.joints.set(key, [...(this.joints.get(key) ?? []), j]);
    }
    for (const c of design.couplings) if (c.a && c.b) this.coupled.add(pair(c.a, c.b));
    for (const m of design.members) for (const o of m.mayOverlap ?? []) this.allowed.add(pair(m.id, o));
  }

  /**
   * What stands in each other at a pose: of each two elements the deepest place; only of some elements with all others, where
   * these are named.
   */
  at(pose: Pose, only?: ReadonlySet<Id>): Interference[] {
    const out = new Map<string, Interference>();
    const frames = this.parts.map((p) => movedFrame(pose, p.element.member, p.frame));
    this.parts.forEach((p, k) => {
      for (let i = 0; i < 3; i++) {
        const [n, f] = [WAYS[i], frames[k]];
        extent(p.bulk, dot(f.x, n), dot(f.y, n), dot(f.z, n), SPAN);
        p.lower[i] = f.o[i] + SPAN.least;
        p.upper[i] = f.o[i] + SPAN.most;
      }
    });
    // Sorted along x, each is compared with those that begin before it ends.
    const { order, parts } = this;
    order.sort((a, b) => parts[a].lower[0] - parts[b].lower[0]);
    for (let i = 0; i < order.length; i++) {
      const a = parts[order[i]];
      for (let j = i + 1; j < order.length; j++) {
        const b = parts[order[j]];
        if (b.lower[0] >= a.upper[0]) break;
        if (a.body === b.body || b.lower[1] >= a.upper[1] || b.upper[1] <= a.lower[1] || b.lower[2] >= a.upper[2] || b.upper[2] <= a.lower[2]) {
          continue;
        }
        if (only && !only.has(a.element.id) && !only.has(b.element.id)) continue;
        const key = pair(a.element.id, b.element.id);
        if (this.mated(key, a.element, b.element)) continue;
        const had = out.get(key);
        // No ball in both is larger than the least extent of either: one that is as large is known already.
        if (had && had.depth >= Math.min(a.bulk.least, b.bulk.least)) continue;
        const found = common(a.bulk, frames[order[i]], b.bulk, frames[order[j]]);
        if (!found || (had && had.depth >= found.depth)) continue;
        out.set(key, { members: [a.element.member, b.element.member], elements: [a.element.id, b.element.id], ...found });
      }
    }
    return [...out.values()].sort((a, b) => b.depth - a.depth);
  }

  /**
   * Whether two elements may stand in each other: they mesh, they stand about the axis of a joint between their members, or a
   * person said so.
   */
  private mated(key: string, a: Element, b: Element): boolean {
    const had = this.fits.get(key);
    if (had !== undefined) return had;
    const members = pair(a.member, b.member);
    const mated =
      this.coupled.has(key) ||
      this.allowed.has(members) ||
      (this.joints.get(members) ?? []).some(
        (j) => (this.about(j, a.id) && this.about(j, b.id) && TURNS.has(j.type)) || (GUIDED.has(j.type) && this.from(a.id, b.id)),
      );
    this.fits.set(key, mated);
    return mated;
  }

  /** Whether two elements stand in each other in the reference position. */
  private from(a: Id, b: Id): boolean {
    const of = (id: Id): Part[] => this.partsOf.get(id) ?? [];
    return of(a).some((p) => of(b).some((q) => common(p.bulk, p.frame, q.bulk, q.frame)));
  }

  /** Whether the axis of a joint passes through an element. */
  private about(j: Joint, element: Id): boolean {
    const first = this.compiled.structure.coordinates[this.compiled.structure.firstOf.get(j.id) ?? -1];
    if (!first) return true;
    return (this.partsOf.get(element) ?? []).some((p) => meetsLine(p.bulk, toLocalPoint(p.frame, first.point), toLocalVector(p.frame, first.axis)));
  }
}

const pair = (a: Id, b: Id): string => (a < b ? `${a} ${b}` : `${b} ${a}`);
