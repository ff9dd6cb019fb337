import type { Compiled } from '../kinematics/index';
import { FRAME, type Coupling, type Id, type Joint } from '../document/index';
import { gearOf, num } from '../elements/index';
import { sameLine } from '../math/index';

/** Planets of one set that are alike: drawn once. */
export interface PlanetClass {
  planet: Id;
  alike: Id[];
}

/** Where a planet meets a wheel about the carrier's axis, or another planet. */
export interface PlanetContact {
  coupling: Id;
  planet: Id;
  /** The other member; none where the frame holds the wheel. */
  other?: Id;
  /** The wheel on the other member goes round the planet. */
  ring: boolean;
  text: string;
}

/** Sun, planets, ring and carrier as one thing. */
export interface PlanetarySet {
  carrier: Id;
  classes: PlanetClass[];
  contacts: PlanetContact[];
}

/** Members that loops of joints tie. */
export interface Linkage {
  members: Id[];
  joints: Id[];
}

/** What ties members of the map together. */
export interface TrainEdge {
  id: Id;
  name: string;
  /** A kind of coupling, or one of ours. */
  type: string;
  /** The moving members that it ties, each once. */
  ends: Id[];
  /** One side is the frame. */
  ground: boolean;
  set?: PlanetarySet;
  box?: Linkage;
}

/** A train as the map reads it. */
export interface MapTrain {
  members: Id[];
  edges: TrainEdge[];
  /** Members that are not drawn by themselves: planets like another, inner members of a linkage. */
  within: Map<Id, Id>;
}

const teethOf = (c: Compiled, element: unknown): number => num((c.elements.get(element as Id) as { teeth?: number | string } | undefined)?.teeth);

/** Joints that carry members; those between two that move, by child. */
const carrierOf = (c: Compiled): Map<Id, Joint> => {
  const out = new Map<Id, Joint>();
  for (const j of c.design.joints) if (!out.has(j.child)) out.set(j.child, j);
  return out;
};

/** Whether two members turn about one line. */
export function coaxial(c: Compiled, a: Id, b: Id, carriers: ReadonlyMap<Id, Joint> = carrierOf(c)): boolean {
  const line = (m: Id) => {
    const j = carriers.get(m);
    const first = j && c.structure.firstOf.get(j.id);
    const q = first === undefined ? undefined : c.structure.coordinates[first];
    return q && q.motion !== 'slide' ? q : undefined;
  };
  const [p, q] = [line(a), line(b)];
  return !!p && !!q && sameLine(p.point, p.axis, q.point, q.axis, 1e-3, 1e-6);
}

/** The planetary sets of a train. */
function setsOf(c: Compiled, carriers: ReadonlyMap<Id, Joint>): { sets: PlanetarySet[]; couplings: Set<Id>; joints: Set<Id> } {
  const sets: PlanetarySet[] = [];
  const couplings = new Set<Id>(),
    joints = new Set<Id>();
  const memberOf = (element: unknown): Id | undefined => c.elements.get(element as Id)?.member;
  const meshes = c.design.couplings.filter((x) => ['gear-pair', 'bevel-pair', 'sector-mesh'].includes(x.type));
  for (const carrier of c.design.members) {
    const carried = new Set(
      c.design.members.filter((m) => carriers.get(m.id)?.parent === carrier.id && carriers.get(m.id)?.type === 'revolute').map((m) => m.id),
    );
    if (!carried.size) continue;
    const onAxis = (element: unknown, member: Id): boolean => {
      if (member !== FRAME) return coaxial(c, member, carrier.id, carriers);
      const f = c.elementFrames.get(element as Id);
      const j = carriers.get(carrier.id);
      const q = j && c.structure.coordinates[c.structure.firstOf.get(j.id) ?? -1];
      return !!f && !!q && sameLine(f.o, f.z, q.point, q.axis, 1e-3, 1e-6);
    };
    const contacts: PlanetContact[] = [];
    for (const m of meshes) {
      for (const [own, far] of [
        [m.a, m.b],
        [m.b, m.a],
      ]) {
        const planet = memberOf(own),
          other = memberOf(far);
        if (planet === undefined || other === undefined || !carried.has(planet)) continue;
        const between = carried.has(other);
        if (!between && !onAxis(far, other)) continue;
        if (between && far === m.a) continue;
        const e = c.elements.get(far as Id);
        const ring = e?.type === 'gear' && gearOf(e).internal;
        contacts.push({ coupling: m.id, planet, other: other === FRAME ? undefined : other, ring, text: `${teethOf(c, own)} : ${teethOf(c, far)}` });
      }
    }
    const centrals = contacts.filter((x) => x.other === undefined || !carried.has(x.other));
    if (!centrals.length) continue;
    // Planets that meet the same wheels with the same teeth are alike.
    const byKey = new Map<string, PlanetClass>();
    for (const planet of carried) {
      const own = contacts.filter((x) => x.planet === planet || x.other === planet);
      if (!own.length) continue;
      const key = own
        .map((x) =>
          x.planet === planet ? `${x.other !== undefined && carried.has(x.other) ? 'planet' : (x.other ?? FRAME)} ${x.text}` : `by ${x.text}`,
        )
        .sort()
        .join('|');
      const had = byKey.get(key);
      if (had) had.alike.push(planet);
      else byKey.set(key, { planet, alike: [] });
    }
    const classes = [...byKey.values()];
    const drawn = new Set(classes.map((x) => x.planet));
    for (const x of contacts) couplings.add(x.coupling);
    for (const x of classes) for (const p of [x.planet, ...x.alike]) joints.add(carriers.get(p)!.id);
    const first = new Map<string, PlanetContact>();
    for (const x of contacts) {
      if (!drawn.has(x.planet)) continue;
      const between = x.other !== undefined && carried.has(x.other);
      const key = `${x.planet} ${between ? 'planet' : (x.other ?? FRAME)} ${x.text}`;
      if (!first.has(key)) {
        first.set(key, between && !drawn.has(x.other!) ? { ...x, other: classes.find((k) => k.alike.includes(x.other!))!.planet } : x);
      }
    }
    sets.push({ carrier: carrier.id, classes, contacts: [...first.values()] });
  }
  return { sets, couplings, joints };
}

/**
 * The parts of the graph of joints in which every two are on a loop, with two or
 * more joints (Tarjan's biconnected components; the frame is one of the nodes).
 */
function loopsOf(joints: readonly Joint[]): Joint[][] {
  const at = new Map<Id, { joint: Joint; to: Id }[]>();
  for (const joint of joints) {
    for (const [from, to] of [
      [joint.parent, joint.child],
      [joint.child, joint.parent],
    ]) {
      const list = at.get(from);
      if (list) list.push({ joint, to });
      else at.set(from, [{ joint, to }]);
    }
  }
  const order = new Map<Id, number>(),
    low = new Map<Id, number>();
  const stack: Joint[] = [];
  const out: Joint[][] = [];
  const visit = (v: Id, by: Joint | undefined): void => {
    order.set(v, order.size);
    low.set(v, order.get(v)!);
    for (const { joint, to } of at.get(v) ?? []) {
      if (joint === by) continue;
      if (!order.has(to)) {
        stack.push(joint);
        visit(to, joint);
        low.set(v, Math.min(low.get(v)!, low.get(to)!));
        if (low.get(to)! >= order.get(v)!) {
          const part = stack.splice(stack.lastIndexOf(joint));
          if (part.length > 1) out.push(part);
        }
      } else if (order.get(to)! < order.get(v)!) {
        stack.push(joint);
        low.set(v, Math.min(low.get(v)!, order.get(to)!));
      }
    }
  };
  for (const v of at.keys()) if (!order.has(v)) visit(v, undefined);
  return out;
}

/** Members at which something outside a linkage acts or is asked for. */
function outward(c: Compiled): Set<Id> {
  const out = new Set<Id>();
  const child = new Map(c.design.joints.map((j) => [j.id, j.child]));
  const of = (joint: unknown): void => {
    const m = child.get(String(joint ?? '').split(':')[0]);
    if (m) out.add(m);
  };
  for (const s of c.design.sources) of(s.joint);
  for (const w of c.design.wanted) of((w as { joint?: Id }).joint);
  for (const l of c.design.loads as { member?: Id; joint?: Id }[]) {
    if (l.member && l.member !== FRAME) out.add(l.member);
    of(l.joint);
  }
  for (const { coupling, model } of c.couplings) {
    for (const id of [coupling.a, coupling.b, ...(coupling.wheels ?? [])]) {
      const m = c.elements.get(id!)?.member;
      if (m) out.add(m);
    }
    for (const p of model.ports) out.add(p.member);
  }
  return out;
}

/** Reads a compiled design as the map draws it; linkages that are named in `open` are drawn joint by joint. */
export function mapTrain(c: Compiled, open: ReadonlySet<Id> = new Set()): MapTrain {
  const { design, structure } = c;
  const carriers = carrierOf(c);
  const within = new Map<Id, Id>();
  const { sets, couplings: inSets, joints: pins } = setsOf(c, carriers);
  const edges: TrainEdge[] = [];
  const usable = design.joints.filter(
    (j) => (j.parent === FRAME || structure.members.has(j.parent)) && (j.child === FRAME || structure.members.has(j.child)),
  );

  for (const set of sets) {
    for (const k of set.classes) for (const p of k.alike) within.set(p, k.planet);
    const ends = [set.carrier, ...new Set(set.contacts.flatMap((x) => (x.other && !set.classes.some((k) => k.planet === x.other) ? [x.other] : [])))];
    const [first] = set.contacts;
    edges.push({
      id: first.coupling,
      name: nameOf(design.couplings, first.coupling),
      type: 'planetary',
      ends,
      ground: set.contacts.some((x) => !x.other),
      set,
    });
  }

  const acts = outward(c);
  const inBox = new Set<Id>();
  const movable = (j: Joint): boolean => j.type !== 'fixed';
  for (const joints of loopsOf(usable.filter(movable))) {
    const members = [...new Set(joints.flatMap((j) => [j.parent, j.child]))].filter((m) => m !== FRAME);
    const id = joints[0].id;
    // Two joints between one member and the frame are that member's bearings, not a linkage.
    if (members.length < 2 || open.has(id)) continue;
    const own = new Set(joints);
    const carries = (m: Id): boolean =>
      usable.some((j) => !own.has(j) && j.parent !== FRAME && j.child !== FRAME && (j.parent === m || j.child === m));
    const ends = members.filter((m) => acts.has(m) || carries(m));
    for (const j of joints) inBox.add(j.id);
    for (const m of members) if (!ends.includes(m)) within.set(m, id);
    const inner = members.map((m) => design.members.find((x) => x.id === m)?.name ?? m);
    edges.push({
      id,
      name: `Linkage of ${inner.length} members`,
      type: 'linkage',
      ends: ends.length ? ends : members.slice(0, 1),
      ground: joints.some((j) => j.parent === FRAME || j.child === FRAME),
      box: { members, joints: joints.map((j) => j.id) },
    });
    if (!ends.length) within.delete(members[0]);
  }

  const jointIds = new Set(design.joints.map((j) => j.id));
  const seen = new Set<Id>();
  for (const { coupling, model } of c.couplings) {
    // The thread of a screw joint is drawn with its joint, a band once.
    if (jointIds.has(coupling.id) || inSets.has(coupling.id) || seen.has(coupling.id)) continue;
    seen.add(coupling.id);
    const wheels: readonly Id[] = coupling.wheels ?? [];
    const onElements = [coupling.a, coupling.b, ...wheels].map((id) => c.elements.get(id!)?.member);
    const all = [...new Set([...onElements, ...model.ports.map((p) => p.member)])].filter((m): m is Id => !!m);
    const ends = [...new Set(all.filter((m) => m !== FRAME).map((m) => standsFor(within, m)))];
    // What ties alike planets to the same thing is drawn once.
    if (
      edges.some(
        (e) =>
          e.type === coupling.type &&
          !wheels.length &&
          e.ends.length === ends.length &&
          e.ends.every((m) => ends.includes(m)) &&
          all.some((m) => within.has(m)),
      )
    ) {
      continue;
    }
    edges.push({ id: coupling.id, name: coupling.name ?? coupling.id, type: coupling.type, ends, ground: ends.length < 2 });
  }
  for (const j of usable) {
    if (j.parent === FRAME || j.child === FRAME || inBox.has(j.id) || pins.has(j.id)) continue;
    const ends = [...new Set([j.parent, j.child].map((m) => standsFor(within, m)))];
    if (ends.length > 1) edges.push({ id: j.id, name: j.name ?? j.id, type: 'joint', ends, ground: false });
  }
  const members = design.members.map((m) => m.id).filter((m) => !within.has(m));
  return { members, edges: edges.map((e) => ({ ...e, ends: e.ends.filter((m) => members.includes(m)) })), within };
}

const nameOf = (list: readonly Coupling[], id: Id): string => list.find((x) => x.id === id)?.name ?? id;
/** The member that is drawn for one that is not; itself where the linkage's box stands for it. */
function standsFor(within: ReadonlyMap<Id, Id>, m: Id): Id {
  return within.get(m) ?? m;
}

/** Teeth of a set, from its first wheel over the planets to the last: "28 · 35 · 98, ring held". */
export function setText(set: PlanetarySet): string {
  const central = set.contacts.filter((k) => !set.classes.some((x) => x.planet === k.other));
  const [first] = central;
  const held = central.some((k) => !k.other) ? (central.some((k) => !k.other && k.ring) ? ', ring held' : ', sun held') : '';
  if (set.classes.length > 1 || central.length !== set.contacts.length) return `${set.classes.length} kinds of planets${held}`;
  const planets = [...new Set(central.map((k) => k.text.split(' : ')[0]))];
  const wheels = central.map((k) => k.text.split(' : ')[1]);
  return `${wheels[0]} · ${planets.join(' / ')}${first && wheels.length > 1 ? ` · ${wheels.slice(1).join(' · ')}` : ''}${held}`;
}

/** What an edge says of itself beside its symbol: teeth from the first end on, a rack's way per turn, a band's wheels. */
export function statedOf(c: Compiled, e: TrainEdge, from: Id): string {
  const k = c.design.couplings.find((x) => x.id === e.id);
  if (!k?.a || !k.b) return '';
  const [one, two] = c.elements.get(k.a)?.member === from ? [k.a, k.b] : [k.b, k.a];
  const starts = (id: Id): number => num((c.elements.get(id) as { starts?: number } | undefined)?.starts, 1);
  const count = (id: Id): number => (c.elements.get(id)?.type === 'worm' ? starts(id) : teethOf(c, id));
  const [za, zb] = [count(one), count(two)];
  return za > 0 && zb > 0 && e.type !== 'rack-mesh' && e.type !== 'ratchet' ? `${za} : ${zb}` : '';
}

/** Whether a member is carried by the frame. */
export const onFrame = (c: Compiled, m: Id): boolean =>
  c.design.joints.some((j) => (j.child === m && j.parent === FRAME) || (j.parent === m && j.child === FRAME));
