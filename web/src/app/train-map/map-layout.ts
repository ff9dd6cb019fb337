import { type Compiled, exactRatio } from '@unirota/core';
import { FRAME, Id, type WantedOutput } from '@unirota/core/document';
import type { PiRatio } from '@unirota/core/math';
import { gearOf } from '@unirota/core/elements';

/** A member as a line of the map. */
export interface MapMember {
  id: Id;
  name: string;
  slide: boolean;
  /** Line from x0 to x1 at height y. */
  x0: number;
  x1: number;
  y: number;
  source?: { id: Id; type: string };
  wanted: Id[];
  joint?: Id;
}

/** A coupling as a symbol between two lines. */
export interface MapCoupling {
  /** Unique among symbols: a belt over three wheels has two. */
  key: string;
  id: Id;
  name: string;
  type: string;
  x: number;
  ya: number;
  yb: number;
  /** Where the two wheels meet, between ya and yb, and their far ends. */
  meet: number;
  farA: number;
  farB: number;
  /** Member lines on the a and b side. */
  a: Id;
  b: Id;
  ratio?: PiRatio;
  /** b slides (a rack, a carriage). */
  slides: boolean;
  /** Closes a loop: its b line lies elsewhere, joined by a dashed line to (bx, yb). */
  back?: { x: number; y: number };
}

export interface MapLayout {
  members: MapMember[];
  couplings: MapCoupling[];
  width: number;
  height: number;
}

const COLUMN = 206;
const LEVEL = 64;
const LEFT = 58;
const TOP = 36;

/**
 * Arranges the train from sources at the left to outputs at the right: each member takes the column after the coupling that reaches it;
 * branches are stacked; lines alternate between two levels so that wheels stand between them, as in a kinematic diagram.
 */
export function mapLayout(compiled: Compiled): MapLayout {
  const { design, structure } = compiled;
  const jointOf = new Map<Id, string>();
  for (const j of design.joints) if (!jointOf.has(j.child)) jointOf.set(j.child, j.id);
  const jointIds = new Set(design.joints.map((j) => j.id));
  // Couplings first, then the joints between moving members, which carry motion as well.
  const edges = [
    // The thread of a screw joint is drawn with its joint.
    ...compiled.couplings
      .filter((c) => !jointIds.has(c.coupling.id))
      .map(({ coupling, model }) => {
        const wheels = (coupling['wheels'] as Id[] | undefined) ?? [];
        const onElements = [coupling['a'], coupling['b'], ...wheels].map((id) => compiled.elements.get(id as Id)?.member);
        const ids = [...new Set([...onElements, ...model.ports.map((p) => p.member)])].filter((m): m is Id => !!m && m !== FRAME);
        return { id: coupling.id, name: coupling.name ?? coupling.id, type: coupling.type, ids };
      }),
    ...design.joints
      .filter((j) => j.parent !== FRAME && structure.members.has(j.parent) && structure.members.has(j.child))
      .map((j) => ({ id: j.id, name: j.name ?? j.id, type: 'joint', ids: [j.parent, j.child] })),
  ];
  const sourceOf = new Map<Id, { id: Id; type: string }>();
  for (const s of compiled.sources) {
    const child = structure.coordinates[s.coordinate].joint.child;
    if (!sourceOf.has(child)) sourceOf.set(child, { id: s.source.id, type: s.source.type });
  }
  const placed = new Map<Id, { depth: number; lane: number; level: number }>();
  const out: MapCoupling[] = [];
  let lanes = 0;
  let deepest = 0;
  const used = new Set<Id>();

  /** Breadth first: a member stands one column behind the nearest one that drives it; branches of one column are stacked. */
  const taken = new Map<number, number>();
  const visit = (root: Id): void => {
    const base = lanes;
    const put = (m: Id, depth: number, wish: number, level: number): void => {
      const lane = Math.max(wish, taken.get(depth) ?? base, base);
      placed.set(m, { depth, lane, level });
      taken.set(depth, lane + 1);
      lanes = Math.max(lanes, lane + 1);
      deepest = Math.max(deepest, depth);
    };
    put(root, 0, base, 0);
    const queue = [root];
    while (queue.length) {
      const m = queue.shift()!;
      const here = placed.get(m)!;
      for (const e of edges) {
        if (used.has(e.id) || !e.ids.includes(m)) continue;
        used.add(e.id);
        for (const other of e.ids) {
          if (other === m) continue;
          const known = placed.get(other);
          if (known) out.push(symbol(e, m, other, Math.min(here.depth, known.depth), Math.abs(here.depth - known.depth) > 1));
          else {
            put(other, here.depth + 1, here.lane, 1 - here.level);
            out.push(symbol(e, m, other, here.depth, false));
            queue.push(other);
          }
        }
      }
    }
    taken.clear();
  };
  const y = (m: Id): number => {
    const p = placed.get(m)!;
    return TOP + p.lane * (2 * LEVEL + 22) + p.level * LEVEL;
  };
  const symbol = (c: { id: Id; name: string; type: string }, a: Id, b: Id, depth: number, back: boolean): MapCoupling => ({
    key: `${c.id}:${a}:${b}`,
    id: c.id,
    name: c.name,
    type: c.type,
    x: LEFT + COLUMN * (depth + 1),
    ya: 0,
    yb: 0,
    meet: 0,
    farA: 0,
    farB: 0,
    a,
    b,
    slides: false,
    back: back ? { x: 0, y: 0 } : undefined,
  });
  for (const id of sourceOf.keys()) if (!placed.has(id)) visit(id);
  for (const m of design.members) if (!placed.has(m.id)) visit(m.id);

  const coordinate = (m: Id): number => {
    const j = jointOf.get(m);
    return j === undefined ? -1 : (structure.firstOf.get(j) ?? -1);
  };
  const reach = (element: unknown): number => {
    const e = compiled.elements.get(element as Id);
    return e?.type === 'gear' || e?.type === 'sector' ? gearOf(e).pitchRadius : 0;
  };
  const leaving = new Map<Id, number>();
  for (const s of out) {
    s.ya = y(s.a);
    s.yb = y(s.b);
    const pb = placed.get(s.b)!;
    // Symbols of one column stand side by side where several lanes meet there.
    s.x -=
      20 *
      (Math.max(placed.get(s.a)!.lane, pb.lane) -
        Math.min(...[...placed.values()].filter((p) => p.depth === placed.get(s.a)!.depth).map((p) => p.lane)));
    if (s.back) s.back = { x: LEFT + COLUMN * pb.depth + 24, y: s.yb };
    else leaving.set(s.a, (leaving.get(s.a) ?? 0) + 1);
    const c = compiled.couplings.find((k) => k.coupling.id === s.id)?.coupling;
    const onA = c && compiled.elements.get(c.a as Id)?.member === s.a;
    const ra = reach(onA ? c?.a : c?.b);
    const rb = reach(onA ? c?.b : c?.a);
    const share = ra + rb > 0 ? Math.min(0.72, Math.max(0.28, ra / (ra + rb))) : 0.5;
    s.meet = s.ya + (s.yb - s.ya) * (rb === 0 && ra > 0 ? 1 : share);
    // Far ends as long as the near ones, cut where they would leave their lane.
    const away = (y: number): number => y - Math.sign(s.meet - y) * Math.min(Math.abs(s.meet - y), 30);
    s.farA = away(s.ya);
    s.farB = away(s.yb);
    const ia = coordinate(s.a),
      ib = coordinate(s.b);
    s.slides = ib >= 0 && structure.coordinates[ib]?.motion === 'slide';
    if (ia >= 0 && ib >= 0 && structure.coordinates[ia] && structure.coordinates[ib]) s.ratio = exactRatio(compiled.reduction, ib, ia);
  }
  const members = design.members.map((m): MapMember => {
    const p = placed.get(m.id)!;
    const i = coordinate(m.id);
    const x = LEFT + COLUMN * p.depth;
    return {
      id: m.id,
      name: m.name,
      slide: i >= 0 && structure.coordinates[i]?.motion === 'slide',
      x0: p.depth === 0 ? x : x - 14,
      x1: x + COLUMN + (leaving.get(m.id) ? 14 : -24),
      y: y(m.id),
      source: sourceOf.get(m.id),
      wanted: design.wanted.filter((w: WantedOutput) => String(w.joint ?? '').split(':')[0] === jointOf.get(m.id)).map((w) => w.id),
      joint: jointOf.get(m.id),
    };
  });
  return { members, couplings: out, width: LEFT + COLUMN * (deepest + 1) + 40, height: members.length ? TOP + lanes * (2 * LEVEL + 22) - 26 : 120 };
}
