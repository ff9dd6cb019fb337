/** MJCF, read (MuJoCo, “XML Reference”): bodies, hinges, slides and balls with ranges, inertias, meshes, equalities, defaults. */
import {
  type Frame,
  type Vec3,
  WORLD,
  across,
  colourOfParts,
  cross,
  norm,
  toWorldPoint,
  toWorldVector,
  unit,
  vscale,
  vsub,
  dot,
  within,
} from '../math/index';
import type { ReadBody, ReadJoint, ReadLink, ReadMechanism } from './mechanism-in';
import { CannotRead, checkLinks } from './refused';
import { type XmlNode, childOf, childrenOf, numberIn, numbersIn, xmlTree } from './xml-in';

const asVec = (v: readonly number[] | undefined, or: Vec3 = [0, 0, 0]): Vec3 => (v ? [v[0], v[1], v[2]] : or);

/** A quaternion w, x, y, z as a turn. */
function quatFrame(o: Vec3, q: readonly number[]): Frame {
  const l = Math.hypot(...q);
  if (!(l > 0)) throw new CannotRead('The file is damaged: a quaternion is zero.');
  const [w, x, y, z] = q.map((v) => v / l);
  return {
    o,
    x: [1 - 2 * (y * y + z * z), 2 * (x * y + w * z), 2 * (x * z - w * y)],
    y: [2 * (x * y - w * z), 1 - 2 * (x * x + z * z), 2 * (y * z + w * x)],
    z: [2 * (x * z + w * y), 2 * (y * z - w * x), 1 - 2 * (x * x + y * y)],
  };
}
const axisAngle = (axis: Vec3, angle: number): number[] => {
  const a = unit(axis);
  return [Math.cos(angle / 2), ...a.map((v) => v * Math.sin(angle / 2))];
};

interface Settings {
  /** rad to one unit of an angle. */
  angle: number;
  euler: string;
  meshDir: string;
  autoLimits: boolean;
}

/** The place of a body, a geom or an inertia in its parent, as its attributes say. */
function placeOf(n: XmlNode, s: Settings): Frame {
  const o = asVec(numbersIn(n, 'pos', 3));
  const q = numbersIn(n, 'quat', 4);
  if (q) return quatFrame(o, q);
  const aa = numbersIn(n, 'axisangle', 4);
  if (aa) return quatFrame(o, axisAngle([aa[0], aa[1], aa[2]], aa[3] * s.angle));
  const xy = numbersIn(n, 'xyaxes', 6);
  if (xy) {
    const x = unit([xy[0], xy[1], xy[2]]);
    const y0: Vec3 = [xy[3], xy[4], xy[5]];
    const y = unit(vsub(y0, vscale(x, dot(x, y0))));
    return { o, x, y, z: cross(x, y) };
  }
  const za = numbersIn(n, 'zaxis', 3);
  if (za) {
    const z = unit(asVec(za));
    const n0 = cross([0, 0, 1], z);
    // Straight down: turned by half a turn about x.
    return norm(n0) > 1e-12 ? quatFrame(o, axisAngle(n0, Math.atan2(norm(n0), z[2]))) : { o, x: [1, 0, 0], y: [0, Math.sign(z[2]), 0], z };
  }
  const e = numbersIn(n, 'euler', 3);
  if (!e) return { ...WORLD, o };
  let f: Frame = WORLD;
  [...s.euler].forEach((letter, k) => {
    const axis = ({ x: [1, 0, 0], y: [0, 1, 0], z: [0, 0, 1] } as Record<string, Vec3>)[letter.toLowerCase()];
    const turn = quatFrame([0, 0, 0], axisAngle(axis, e[k] * s.angle));
    // Lower case about the axes as they have turned, upper case about fixed ones.
    f = letter === letter.toLowerCase() ? within(f, turn) : within(turn, f);
  });
  return { ...f, o };
}

/** Attributes of an element with those of its class and of the classes about it. */
class Defaults {
  private readonly of = new Map<string, Map<string, Record<string, string>>>();

  constructor(root: XmlNode | undefined) {
    if (root) this.read(root, 'main', new Map());
    else this.of.set('main', new Map());
  }
  private read(node: XmlNode, name: string, outer: ReadonlyMap<string, Record<string, string>>): void {
    const mine = new Map(outer);
    for (const c of node.children) if (c.name !== 'default') mine.set(c.name, { ...mine.get(c.name), ...c.attributes });
    this.of.set(name, mine);
    for (const c of childrenOf(node, 'default')) this.read(c, c.attributes['class'] ?? name, mine);
  }
  full(n: XmlNode, childClass: string): XmlNode {
    const own = this.of.get(n.attributes['class'] ?? childClass)?.get(n.name);
    return own ? { ...n, attributes: { ...own, ...n.attributes } } : n;
  }
}

const KINDS: Readonly<Record<string, ReadJoint['kind']>> = { hinge: 'turn', slide: 'slide', ball: 'ball' };

/** Throws `CannotRead`. */
export function readMjcf(text: string): ReadMechanism {
  const root = xmlTree(text);
  if (root.name !== 'mujoco') throw new CannotRead('This is no MJCF file.');
  if (childOf(root, 'include')) throw new CannotRead('The file includes others: join them into one.');
  const compiler = childOf(root, 'compiler')?.attributes ?? {};
  const s: Settings = {
    angle: compiler['angle'] === 'radian' ? 1 : Math.PI / 180,
    euler: compiler['eulerseq'] ?? 'xyz',
    meshDir: compiler['meshdir'] ?? compiler['assetdir'] ?? '',
    autoLimits: compiler['autolimits'] !== 'false',
  };
  if (compiler['coordinate'] === 'global') throw new CannotRead('The file states global coordinates, which are not taken in.');
  const defaults = new Defaults(childOf(root, 'default'));
  const untaken: string[] = [];
  const meshes = new Map<string, { file: string; scale: Vec3 }>();
  for (const a of childrenOf(root, 'asset').flatMap((x) => childrenOf(x, 'mesh'))) {
    const m = defaults.full(a, 'main');
    const file = m.attributes['file'] ?? '';
    const name = m.attributes['name'] ?? file.replace(/^.*\//, '').replace(/\.[^.]*$/, '');
    meshes.set(name, { file: s.meshDir ? `${s.meshDir.replace(/\/$/, '')}/${file}` : file, scale: asVec(numbersIn(m, 'scale', 3), [1, 1, 1]) });
  }
  const links: ReadLink[] = [];
  const numbers = new Map<string, number>();
  const still: ReadBody[] = [];
  const jointNames = new Set<string>();

  const geomBody = (g: XmlNode, frame: Frame, owner: string, k: number): ReadBody[] => {
    const type = g.attributes['type'] ?? (g.attributes['mesh'] ? 'mesh' : 'sphere');
    const size = numbersIn(g, 'size') ?? [];
    const at = within(frame, placeOf(g, s));
    const rgba = numbersIn(g, 'rgba', 4);
    const base = {
      name: g.attributes['name'] ?? (k ? `${owner} ${k + 1}` : owner),
      frame: at,
      ...(rgba && { colour: colourOfParts(rgba) }),
      density: numberIn(g, 'density') ?? 1000,
    };
    const fromTo = numbersIn(g, 'fromto', 6);
    if ((type === 'cylinder' || type === 'capsule') && fromTo) {
      const [a, b]: Vec3[] = [
        [fromTo[0], fromTo[1], fromTo[2]],
        [fromTo[3], fromTo[4], fromTo[5]],
      ];
      const z = unit(vsub(b, a));
      const x = across(z);
      const mid: Vec3 = [(a[0] + b[0]) / 2, (a[1] + b[1]) / 2, (a[2] + b[2]) / 2];
      if (type === 'capsule') untaken.push(`The round ends of the capsule ${base.name}.`);
      return [
        {
          ...base,
          frame: within(frame, { o: mid, x, y: cross(z, x), z }),
          shape: { kind: 'cylinder', radius: size[0] ?? 0, length: norm(vsub(b, a)) },
        },
      ];
    }
    switch (type) {
      case 'mesh': {
        const m = meshes.get(g.attributes['mesh'] ?? '');
        return m ? [{ ...base, shape: { kind: 'mesh', ...m } }] : [];
      }
      case 'box':
        return [{ ...base, shape: { kind: 'box', size: [2 * (size[0] ?? 0), 2 * (size[1] ?? 0), 2 * (size[2] ?? 0)] } }];
      case 'cylinder':
      case 'capsule':
        if (type === 'capsule') untaken.push(`The round ends of the capsule ${base.name}.`);
        return [{ ...base, shape: { kind: 'cylinder', radius: size[0] ?? 0, length: 2 * (size[1] ?? 0) } }];
      default:
        if (type !== 'plane') untaken.push(`The ${type} ${base.name}: there is no such element.`);
        return [];
    }
  };

  const jointsOf = (body: XmlNode, frame: Frame, name: string, childClass: string): ReadJoint[] => {
    const all = body.children.filter((c) => c.name === 'joint' || c.name === 'freejoint');
    return all.flatMap((raw, k): ReadJoint[] => {
      const j = defaults.full(raw, childClass);
      const type = raw.name === 'freejoint' ? 'free' : (j.attributes['type'] ?? 'hinge');
      const jointName = j.attributes['name'] ?? `${name} joint${all.length > 1 ? ` ${k + 1}` : ''}`;
      jointNames.add(jointName);
      if (type === 'free') {
        untaken.push(`The free joint of ${name}: it is left without a joint.`);
        return [];
      }
      for (const odd of ['damping', 'stiffness', 'frictionloss', 'armature']) if (numberIn(j, odd)) untaken.push(`${odd} of the joint ${jointName}.`);
      const kind = KINDS[type] as ReadJoint['kind'] | undefined;
      if (!kind) throw new CannotRead(`The file is damaged: there are no joints of the type ${type}.`);
      const range = numbersIn(j, 'range', 2);
      const limited = j.attributes['limited'] === 'true' || (j.attributes['limited'] !== 'false' && s.autoLimits && range !== undefined);
      const unitOf = kind === 'slide' ? 1 : s.angle;
      return [
        {
          name: jointName,
          kind,
          point: toWorldPoint(frame, asVec(numbersIn(j, 'pos', 3))),
          axis: toWorldVector(frame, asVec(numbersIn(j, 'axis', 3), [0, 0, 1])),
          ...(limited && range && { lower: range[0] * unitOf, upper: range[1] * unitOf }),
        },
      ];
    });
  };

  const visit = (body: XmlNode, outer: Frame, parent: number, outerClass: string): void => {
    const childClass = body.attributes['childclass'] ?? outerClass;
    const frame = within(outer, placeOf(body, s));
    const self = links.length;
    checkLinks(self + 1);
    const name = body.attributes['name'] ?? `body ${self + 1}`;
    numbers.set(name, self);
    const joints = jointsOf(body, frame, name, childClass);
    const inertial = childOf(body, 'inertial');
    const diagonal = numbersIn(inertial, 'diaginertia', 3);
    const full = numbersIn(inertial, 'fullinertia', 6);
    const geoms = childrenOf(body, 'geom').map((g) => defaults.full(g, childClass));
    const statedMass = geoms.some((g) => g.attributes['mass'] !== undefined) && !inertial;
    if (statedMass) untaken.push(`Masses of the geoms of ${name}: they weigh by their density.`);
    links.push({
      name,
      parent,
      frame,
      // Without a joint a body is fast on its parent.
      joints: joints.length
        ? joints
        : body.children.some((c) => c.name === 'freejoint' || c.attributes['type'] === 'free')
          ? []
          : [{ name: `${name} fixed`, kind: 'fixed', point: frame.o, axis: frame.z }],
      ...(inertial && { mass: numberIn(inertial, 'mass') }),
      ...(inertial &&
        (diagonal ?? full) && {
          inertial: {
            frame: placeOf(inertial, s),
            // Theirs: xx, yy, zz, xy, xz, yz.
            inertia: full ? [full[0], full[1], full[2], full[3], full[5], full[4]] : [...diagonal!, 0, 0, 0],
          },
        }),
      bodies: geoms.flatMap((g, k) => geomBody(g, frame, name, k)),
    });
    for (const c of childrenOf(body, 'body')) visit(c, frame, self, childClass);
    if (childOf(body, 'frame')) untaken.push(`What stands in frames of ${name}.`);
  };
  for (const w of childrenOf(root, 'worldbody')) {
    childrenOf(w, 'geom').forEach((g, k) => still.push(...geomBody(defaults.full(g, 'main'), WORLD, 'world', k)));
    for (const b of childrenOf(w, 'body')) visit(b, WORLD, -1, w.attributes['childclass'] ?? 'main');
  }
  const ties: ReadMechanism['ties'] = [];
  const closures: ReadMechanism['closures'] = [];
  for (const e of childrenOf(root, 'equality').flatMap((x) => x.children)) {
    const name = e.attributes['name'] ?? e.name;
    if (e.attributes['active'] === 'false') continue;
    if (e.name === 'joint') {
      const c = numbersIn(e, 'polycoef') ?? [0, 1, 0, 0, 0];
      const [second, first] = [e.attributes['joint1'], e.attributes['joint2']];
      if (!first || c.slice(2).some((x) => x !== 0)) untaken.push(`The equality ${name}: only proportional ones are taken over.`);
      else ties.push({ name, first, second, factor: c[1] ?? 1, constant: c[0] ?? 0 });
    } else if (e.name === 'weld' || e.name === 'connect') {
      const of = (key: string): number | undefined =>
        e.attributes[key] === undefined || e.attributes[key] === 'world' ? -1 : numbers.get(e.attributes[key]);
      const [a, b] = [of('body1'), of('body2')];
      if (a === undefined || b === undefined || a === b) untaken.push(`The equality ${name}: it names a body that is not there.`);
      else {
        const anchor = numbersIn(e, 'anchor', 3);
        closures.push({ name, a, b, ...(e.name === 'connect' && { point: toWorldPoint(a < 0 ? WORLD : links[a].frame, asVec(anchor)) }) });
      }
    } else untaken.push(`The equality ${name}: ${e.name} has no like here.`);
  }
  for (const t of ['tendon', 'actuator', 'sensor', 'contact', 'keyframe', 'deformable', 'extension']) {
    const n = childrenOf(root, t).reduce((sum, x) => sum + x.children.length, 0);
    if (n) untaken.push(`${n} × ${t}.`);
  }
  const gravity = numbersIn(childOf(root, 'option'), 'gravity', 3);
  return { name: root.attributes['model'] ?? 'Mechanism', gravity: asVec(gravity, [0, 0, -9.81]), links, ties, closures, still, untaken };
}
