import { type Design, FRAME, type Id, emptyDesign, nearestColour, unusedName } from '../document/index';
import { type TakenPart, addShapes, memberFrame } from '../edits/index';
import { type Frame, type Vec3, WORLD, frameIn, frameOf, norm, unit } from '../math/index';
import type { ShapeData } from '../shapes/index';
import { ContentStore } from './shape-file';

/** A mechanism as another engine states it: links in the position in which all joints are at zero. m, rad, kg, world. */
export interface ReadLink {
  name: string;
  /** Its place in the list; the fixed body where it is −1. */
  parent: number;
  frame: Frame;
  joints: ReadJoint[];
  mass?: number;
  /** Where its mass is, in its own frame, and the moments about it along the axes of `inertiaFrame`: xx, yy, zz, xy, yz, zx. */
  inertial?: { frame: Frame; inertia: readonly number[] };
  bodies: ReadBody[];
}
export interface ReadJoint {
  name: string;
  kind: 'turn' | 'slide' | 'ball' | 'fixed';
  /** In the world. */
  point: Vec3;
  axis: Vec3;
  lower?: number;
  upper?: number;
}
export interface ReadBody {
  name: string;
  colour?: string;
  frame: Frame;
  shape: { kind: 'mesh'; file: string; scale: Vec3 } | { kind: 'box'; size: Vec3 } | { kind: 'cylinder'; radius: number; length: number };
  density?: number;
}
export interface ReadMechanism {
  name: string;
  gravity?: Vec3;
  links: ReadLink[];
  /** The second joint's position is factor times the first's, and a constant. */
  ties: { name: string; first: string; second: string; factor: number; constant: number }[];
  /** Two links (−1: the fixed body) that coincide at a point, or wholly. */
  closures: { name: string; a: number; b: number; point?: Vec3 }[];
  /** Bodies of the fixed one. */
  still: ReadBody[];
  untaken: string[];
}

/** What came of a mechanism's file. */
export interface TakenMechanism {
  design: Design;
  contents: Map<string, Uint8Array<ArrayBuffer>>;
  untaken: string[];
}

const MM = 1000;
const DEG = 180 / Math.PI;
const round = (x: number): number => Number(x.toPrecision(12)) + 0;
const vec = (v: Vec3, k: number): Vec3 => [round(v[0] * k), round(v[1] * k), round(v[2] * k)];
const tidyFrame = (f: Frame, k: number): { at: Vec3; axis: Vec3; up: Vec3 } => ({ at: vec(f.o, k), axis: vec(f.z, 1), up: vec(f.x, 1) });
const inMm = (f: Frame): Frame => ({ ...f, o: [f.o[0] * MM, f.o[1] * MM, f.o[2] * MM] });

/** Names are one line, of a length, each once. */
function namer(): (text: string, else_: string) => string {
  const had = new Set<string>();
  return (text, else_) => {
    const name = unusedName(
      text
        .replace(/\p{Cc}/gu, ' ')
        .trim()
        .slice(0, 110) || else_,
      had,
    );
    had.add(name);
    return name;
  };
}

/** The tensor of a link in its member's own directions. */
function turned(inertia: readonly number[], f: Frame): number[] {
  const [xx, yy, zz, xy, yz, zx] = inertia;
  const rows: Vec3[] = [
    [xx, xy, zx],
    [xy, yy, yz],
    [zx, yz, zz],
  ];
  const axes = [f.x, f.y, f.z];
  const at = (i: number, j: number): number => axes.reduce((s, a, k) => s + axes.reduce((t, b, l) => t + a[i] * rows[k][l] * b[j], 0), 0);
  return [at(0, 0), at(1, 1), at(2, 2), at(0, 1), at(1, 2), at(2, 0)];
}

/**
 * A mechanism as a design: members with stated masses, joints with stops, typed pairs where one follows another, closing joints,
 * blocks, bars and shapes. `mesh` gives the shape of a mesh file, in mm of its own unit times 1; undefined where it is not there.
 */
export function designOfMechanism(m: ReadMechanism, mesh: (file: string, scale: Vec3) => ShapeData | undefined): TakenMechanism {
  const name = namer();
  const untaken = [...m.untaken];
  const members: Design['members'] = [];
  const joints: Record<string, unknown>[] = [];
  const elements: Record<string, unknown>[] = [];
  const shapes: TakenPart[] = [];
  const store = new ContentStore();
  const memberOf: Id[] = [];
  const jointId = new Map<string, { id: Id; kind: ReadJoint['kind'] }>();
  const missing = new Set<string>();
  const put = (b: ReadBody, member: Id, host: Frame): void => {
    const place = inMm(b.frame);
    const look = { ...(b.colour && { colour: nearestColour(b.colour) }), ...(b.density !== undefined && { density: b.density }) };
    if (b.shape.kind === 'mesh') {
      const data = mesh(b.shape.file, b.shape.scale);
      if (!data) {
        missing.add(b.shape.file);
        return;
      }
      shapes.push({ content: store.put(data), data: { ...data, part: b.name || data.part }, place, ...look, onto: { member } });
      return;
    }
    const local = frameIn(host, place);
    const id = `body${elements.length + 1}`;
    if (b.shape.kind === 'box') {
      const [length, depth, height] = vec(b.shape.size, MM);
      elements.push({ id, name: name(b.name, 'Box'), type: 'block', member, length, depth, height, ...look, ...tidyFrame(local, 1) });
    } else {
      const { radius, length } = b.shape;
      elements.push({
        id,
        name: name(b.name, 'Cylinder'),
        type: 'rod',
        member,
        diameter: round(2 * radius * MM),
        length: round(length * MM),
        ...look,
        ...tidyFrame(local, 1),
      });
    }
  };
  const jointOf = (j: ReadJoint, id: Id, parent: Id, child: Id, host: Frame): Record<string, unknown> => {
    const z = unit(j.axis);
    const f = frameOf([j.point[0] * MM, j.point[1] * MM, j.point[2] * MM], norm(z) > 0 ? z : [0, 0, 1]);
    const local = frameIn(host, f);
    const k = j.kind === 'turn' ? DEG : MM;
    const stop = (x: number | undefined, key: string): object =>
      x === undefined || j.kind === 'ball' || Math.abs(x * k) > 1e8 ? {} : { [key]: round(x * k) };
    return {
      id,
      name: name(j.name, 'Joint'),
      type: { turn: 'revolute', slide: 'prismatic', ball: 'spherical', fixed: 'fixed' }[j.kind],
      parent,
      child,
      ...stop(j.lower, 'lower'),
      ...stop(j.upper, 'upper'),
      ...tidyFrame(local, 1),
    };
  };
  for (const b of m.still) put(b, FRAME, WORLD);
  m.links.forEach((l, i) => {
    const host = inMm(l.frame);
    const parent = l.parent < 0 ? FRAME : memberOf[l.parent];
    // A link with several joints hangs on as many, one behind the other, with members of no mass between.
    let carrier = parent;
    l.joints.slice(0, -1).forEach((j, k) => {
      const id = `link${i + 1}-${k + 1}`;
      members.push({ id, name: name(`${l.name}, ${j.name}`, 'Link'), kind: 'body', ...tidyFrame(host, 1), mass: 0 });
      joints.push(jointOf(j, `j${joints.length + 1}`, carrier, id, host));
      jointId.set(j.name, { id: `j${joints.length}`, kind: j.kind });
      carrier = id;
    });
    const id = `link${i + 1}`;
    memberOf.push(id);
    const stated: Partial<Design['members'][number]> = {};
    if (l.mass !== undefined) stated.mass = round(l.mass);
    if (l.inertial) {
      stated.massCentre = vec(l.inertial.frame.o, MM);
      const six = turned(l.inertial.inertia, l.inertial.frame).map(round);
      stated.inertia = [six[0], six[1], six[2]];
      if (six.slice(3).some((x) => Math.abs(x) > 1e-12 * (six[0] + six[1] + six[2]))) stated.inertiaProducts = [six[3], six[4], six[5]];
    }
    members.push({ id, name: name(l.name, 'Link'), kind: 'body', ...tidyFrame(host, 1), ...stated });
    const last = l.joints.at(-1);
    if (last) {
      joints.push(jointOf(last, `j${joints.length + 1}`, carrier, id, host));
      jointId.set(last.name, { id: `j${joints.length}`, kind: last.kind });
    }
    for (const b of l.bodies) put(b, id, host);
  });
  const couplings: Record<string, unknown>[] = [];
  for (const t of m.ties) {
    const [a, b] = [jointId.get(t.first), jointId.get(t.second)];
    if (!a || !b || a.kind === 'ball' || b.kind === 'ball' || t.factor === 0) {
      untaken.push(`The tie ${t.name}: its joints cannot follow each other here.`);
      continue;
    }
    // In turns and mm: one of the first moves so many of the second.
    const of = (x: typeof a): number => (x.kind === 'turn' ? 2 * Math.PI : 1 / MM);
    couplings.push({
      id: `tie${couplings.length + 1}`,
      name: name(t.name, 'Tie'),
      type: 'proportional',
      a: a.id,
      b: b.id,
      amountA: 1,
      amountB: round(Math.abs((t.factor * of(a)) / of(b))),
      ...(t.factor < 0 && { reversed: true }),
      ...(t.constant !== 0 && { offset: round(t.constant / of(b)) }),
    });
  }
  const base: Design = {
    ...emptyDesign(m.name.slice(0, 110) || 'Mechanism'),
    members,
    elements: elements as unknown as Design['elements'],
    joints: joints as unknown as Design['joints'],
    couplings: couplings as unknown as Design['couplings'],
  };
  for (const c of m.closures) {
    const member = (k: number): Id => (k < 0 ? FRAME : memberOf[k]);
    // The second is the child: the frame carries and is not carried.
    const [parent, child] = c.b < 0 ? [member(c.b), member(c.a)] : [member(c.a), member(c.b)];
    const point = c.point ?? (memberFrame(base, child).o.map((x) => x / MM) as unknown as Vec3);
    base.joints.push(
      jointOf(
        { name: c.name, kind: c.point ? 'ball' : 'fixed', point, axis: [0, 0, 1] },
        `j${base.joints.length + 1}`,
        parent,
        child,
        memberFrame(base, child),
      ) as unknown as Design['joints'][number],
    );
  }
  if (m.gravity) base.settings = { gravity: vec(m.gravity, 1) };
  for (const f of missing) untaken.push(`The mesh ${f}: it is not in the file, or cannot be read.`);
  return { design: addShapes(base, shapes).design, contents: store.contents, untaken };
}
