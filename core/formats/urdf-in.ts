/** URDF, read (ROS, “XML Robot Description Format”): links, joints with bounds, mimic joints, inertias, meshes. */
import { type Frame, type Vec3, WORLD, colourOfParts, listAt, toWorldVector, within } from '../math/index';
import type { ReadBody, ReadLink, ReadMechanism } from './mechanism-in';
import { CannotRead, checkLinks } from './refused';
import { type XmlNode, childOf, childrenOf, numberIn, numbersIn, xmlTree } from './xml-in';

const asVec = (v: readonly number[] | undefined): Vec3 => (v ? [v[0], v[1], v[2]] : [0, 0, 0]);

/** Roll, pitch and yaw: about the fixed x, y, z in turn. */
export function rpyFrame(o: Vec3, [r, p, y]: Vec3): Frame {
  const [cr, sr, cp, sp, cy, sy] = [Math.cos(r), Math.sin(r), Math.cos(p), Math.sin(p), Math.cos(y), Math.sin(y)];
  return {
    o,
    x: [cy * cp, sy * cp, -sp],
    y: [cy * sp * sr - sy * cr, sy * sp * sr + cy * cr, cp * sr],
    z: [cy * sp * cr + sy * sr, sy * sp * cr - cy * sr, cp * cr],
  };
}
const originOf = (n: XmlNode | undefined): Frame => {
  const o = n && childOf(n, 'origin');
  return o ? rpyFrame(asVec(numbersIn(o, 'xyz', 3)), asVec(numbersIn(o, 'rpy', 3))) : WORLD;
};

function colourOf(material: XmlNode | undefined, named: ReadonlyMap<string, string>): string | undefined {
  const rgba = material && numbersIn(childOf(material, 'color'), 'rgba', 4);
  if (!rgba) return material && named.get(material.attributes['name']);
  return colourOfParts(rgba);
}

/** Bodies of a link in the world; what has no form here is told. */
function bodiesOf(link: XmlNode, frame: Frame, named: ReadonlyMap<string, string>, untaken: string[]): ReadBody[] {
  const name = link.attributes['name'];
  return childrenOf(link, 'visual').flatMap((v, k): ReadBody[] => {
    const g = childOf(v, 'geometry')?.children[0];
    const at = within(frame, originOf(v));
    const base = { name: v.attributes['name'] ?? (k ? `${name} ${k + 1}` : name), colour: colourOf(childOf(v, 'material'), named), frame: at };
    switch (g?.name) {
      case 'mesh':
        return [{ ...base, shape: { kind: 'mesh', file: g.attributes['filename'] ?? '', scale: asVec(numbersIn(g, 'scale', 3) ?? [1, 1, 1]) } }];
      case 'box':
        return [{ ...base, shape: { kind: 'box', size: asVec(numbersIn(g, 'size', 3)) } }];
      case 'cylinder':
        return [{ ...base, shape: { kind: 'cylinder', radius: numberIn(g, 'radius') ?? 0, length: numberIn(g, 'length') ?? 0 } }];
      default:
        untaken.push(`The ${g?.name ?? 'empty shape'} of ${name}: there is no such element.`);
        return [];
    }
  });
}

const KINDS: Readonly<Record<string, 'turn' | 'slide' | 'fixed'>> = { revolute: 'turn', continuous: 'turn', prismatic: 'slide', fixed: 'fixed' };

/** Throws `CannotRead`. */
export function readUrdf(text: string): ReadMechanism {
  const robot = xmlTree(text);
  if (robot.name !== 'robot') throw new CannotRead('This is no URDF file: it describes no robot.');
  const untaken: string[] = [];
  const named = new Map(
    childrenOf(robot, 'material').flatMap((m) => {
      const c = colourOf(m, new Map());
      return c ? [[m.attributes['name'], c] as const] : [];
    }),
  );
  const all = childrenOf(robot, 'link');
  checkLinks(all.length);
  const links = new Map(all.map((l) => [l.attributes['name'], l]));
  if (links.size < all.length) throw new CannotRead('The file is damaged: two of its links have the same name.');
  const byParent = new Map<string, XmlNode[]>();
  const children = new Set<string>();
  for (const j of childrenOf(robot, 'joint')) {
    const [p, c] = [childOf(j, 'parent')?.attributes['link'] ?? '', childOf(j, 'child')?.attributes['link'] ?? ''];
    if (!links.has(p) || !links.has(c)) {
      throw new CannotRead(`The file is damaged: the joint ${j.attributes['name']} names a link that is not there.`);
    }
    if (children.has(c)) throw new CannotRead(`The file is damaged: the link ${c} hangs on two joints.`);
    children.add(c);
    listAt(byParent, p).push(j);
  }
  const out: ReadLink[] = [];
  const ties: ReadMechanism['ties'] = [];
  const still: ReadBody[] = [];
  let visited = 0;
  const visit = (name: string, frame: Frame, parent: number, joint: XmlNode | undefined): void => {
    visited++;
    const link = links.get(name)!;
    let self = -1;
    const type = joint?.attributes['type'];
    if (joint && type) {
      const kind = KINDS[type] as (typeof KINDS)[string] | undefined;
      const jointName = joint.attributes['name'];
      const limit = childOf(joint, 'limit');
      const bounded = type === 'revolute' || type === 'prismatic';
      if (!kind) untaken.push(`The joint ${jointName}: ${type} joints have no like here, so “${name}” is left without one.`);
      for (const odd of ['dynamics', 'calibration', 'safety_controller']) if (childOf(joint, odd)) untaken.push(`${odd} of the joint ${jointName}.`);
      if (numberIn(limit, 'effort') || numberIn(limit, 'velocity')) untaken.push(`Limits of effort and speed of the joint ${jointName}.`);
      const inertial = childOf(link, 'inertial');
      const i = inertial && childOf(inertial, 'inertia');
      const at = (key: string): number => numberIn(i, key) ?? 0;
      self = out.length;
      out.push({
        name,
        parent,
        frame,
        joints: kind
          ? [
              {
                name: jointName,
                kind,
                point: frame.o,
                axis: toWorldVector(frame, asVec(numbersIn(childOf(joint, 'axis'), 'xyz', 3) ?? [1, 0, 0])),
                ...(bounded && limit && { lower: numberIn(limit, 'lower') ?? 0, upper: numberIn(limit, 'upper') ?? 0 }),
              },
            ]
          : [],
        mass: inertial ? numberIn(childOf(inertial, 'mass'), 'value') : 0,
        ...(i && { inertial: { frame: originOf(inertial), inertia: [at('ixx'), at('iyy'), at('izz'), at('ixy'), at('iyz'), at('ixz')] } }),
        bodies: bodiesOf(link, frame, named, untaken),
      });
      const mimic = childOf(joint, 'mimic');
      if (mimic) {
        ties.push({
          name: `${jointName} follows ${mimic.attributes['joint']}`,
          first: mimic.attributes['joint'],
          second: jointName,
          factor: numberIn(mimic, 'multiplier') ?? 1,
          constant: numberIn(mimic, 'offset') ?? 0,
        });
      }
    } else still.push(...bodiesOf(link, frame, named, untaken));
    for (const j of byParent.get(name) ?? []) visit(childOf(j, 'child')!.attributes['link'], within(frame, originOf(j)), self, j);
  };
  const roots = [...links.keys()].filter((l) => !children.has(l));
  if (roots.length > 1) untaken.push(`Links besides the first that hang on nothing stand still: ${roots.slice(1, 6).join(', ')}.`);
  for (const r of roots) visit(r, WORLD, -1, undefined);
  if (visited < links.size) throw new CannotRead('The file is damaged: its links hang on each other in a ring.');
  for (const odd of ['transmission', 'gazebo', 'sensor']) {
    const n = childrenOf(robot, odd).length;
    if (n) untaken.push(`${n} × ${odd}.`);
  }
  return { name: robot.attributes['name'] ?? 'Mechanism', links: out, ties, closures: [], still, untaken };
}
