/**
 * Mechanisms for other engines: MJCF (the XML of the open engine MuJoCo, its reference “XML Reference”), URDF (ROS, “XML
 * Robot Description Format”) and SDF (the specification of SDFormat, 1.11). A model with a surface for each link, in STL, mm.
 * Lengths m, angles rad.
 */
import { zipSync } from 'fflate/browser';
import { type AssemblyMember, type Mechanism, type MechanismLink, inPlace, meshed } from '../assembly/index';
import type { Fineness } from '../solids/index';
import { xmlText } from './drawing';
import { writeStl } from './stl';

/** Rough enough for engines that take no more than 200 000 triangles a mesh. */
const ROUGH: Fineness = { turn: Math.PI / 12, tolerance: 0.05 };
const num = (x: number): string => String(Number(x.toPrecision(16)) || 0);
const nums = (v: readonly number[]): string => v.map(num).join(' ');

/** Files of a model by their paths. */
export type ModelFiles = Record<string, Uint8Array>;

/** A model, the meshes that it names, and what it does not hold. */
export interface Model {
  xml: string;
  files: ModelFiles;
  untaken: string[];
}

/** The surface of what moves with each link, in the world in the reference position, mm. */
const meshFiles = (m: Mechanism, still: readonly AssemblyMember[]): ModelFiles =>
  Object.fromEntries(
    [...m.links, { name: 'still', members: still }].flatMap(({ name, members }) => {
      const meshes = inPlace(meshed({ name, members: [...members] }, ROUGH));
      return meshes.length ? [[`meshes/${name}.stl`, writeStl(meshes)]] : [];
    }),
  );

/** The engine holds no link that moves without a mass: a grain, kg and kg·m², where there is none. */
const GRAIN = 1e-9;

/**
 * MJCF. Links stand in the world's frame; ties of two joints are equalities of joints, others of fixed tendons; loops close by
 * welds of links that coincide. Without contact. The position at which it was made is its key frame `shown`.
 */
export function writeMjcf(m: Mechanism, still: readonly AssemblyMember[] = []): Model {
  const files = meshFiles(m, still);
  const has = (name: string): boolean => files[`meshes/${name}.stl`] !== undefined;
  const geom = (name: string): string => (has(name) ? `<geom type="mesh" mesh="${name}" contype="0" conaffinity="0"/>` : '');
  const inertial = (l: MechanismLink): string => {
    const [xx, yy, zz, xy, yz, zx] = l.inertia;
    const g = l.mass > 0 && Math.min(xx, yy, zz) > 0 ? 0 : GRAIN;
    return `<inertial pos="${nums(l.centre)}" mass="${num(l.mass || GRAIN)}" fullinertia="${nums([xx + g, yy + g, zz + g, xy, zx, yz])}"/>`;
  };
  const body = (i: number, pad: string): string => {
    const l = m.links[i];
    const j = l.joint;
    const range = j.lower !== undefined && j.upper !== undefined ? ` range="${nums([j.lower, j.upper])}" limited="true"` : '';
    const inner = m.links.map((x, k) => (x.parent === i ? body(k, `${pad}  `) : '')).join('');
    return `${pad}<body name="${l.name}">\n${pad}  <joint name="${j.name}" type="${j.kind === 'turn' ? 'hinge' : 'slide'}" axis="${nums(j.axis)}" pos="${nums(j.point)}"${range}/>\n${pad}  ${inertial(l)}\n${has(l.name) ? `${pad}  ${geom(l.name)}\n` : ''}${inner}${pad}</body>\n`;
  };
  const joint = (i: number): string => m.links[i].joint.name;
  const tendons: string[] = [];
  const equalities: string[] = [];
  // A screw's travel follows its turn.
  for (const [i, l] of m.links.entries()) {
    const f = l.joint.follows;
    if (f && l.joint.kind === 'slide' && m.links[f.link].parent === i) {
      equalities.push(`<joint name="${l.joint.name}" joint1="${l.joint.name}" joint2="${joint(f.link)}" polycoef="0 ${num(f.factor)} 0 0 0"/>`);
    }
  }
  for (const t of m.ties) {
    if (t.terms.length === 2) {
      const [a, b] = t.terms;
      equalities.push(
        `<joint name="${t.name}" joint1="${joint(a.link)}" joint2="${joint(b.link)}" polycoef="${nums([t.constant / a.factor, -b.factor / a.factor, 0, 0, 0])}"/>`,
      );
    } else {
      tendons.push(`<fixed name="${t.name}">${t.terms.map((x) => `<joint joint="${joint(x.link)}" coef="${num(x.factor)}"/>`).join('')}</fixed>`);
      equalities.push(`<tendon name="${t.name}" tendon1="${t.name}" polycoef="${nums([t.constant, 0, 0, 0, 0])}"/>`);
    }
  }
  const world = (i: number): string => (i < 0 ? 'world' : m.links[i].name);
  for (const [a, b] of m.welds) equalities.push(`<weld body1="${world(a)}" body2="${world(b)}"/>`);
  const motors = m.links.flatMap((l) => (l.joint.driven ? [`<motor name="${l.joint.name}" joint="${l.joint.name}"/>`] : []));
  const block = (tag: string, lines: readonly string[]): string =>
    lines.length ? `  <${tag}>\n${lines.map((l) => `    ${l}\n`).join('')}  </${tag}>\n` : '';
  const meshes = Object.keys(files).map((f) => `<mesh name="${f.slice(7, -4)}" file="${f}" scale="0.001 0.001 0.001" inertia="shell"/>`);
  const xml = `<mujoco model="${xmlText(m.name)}">
  <compiler angle="radian" balanceinertia="false" boundmass="0" boundinertia="0"/>
  <option gravity="${nums(m.gravity)}"/>
${block('asset', meshes)}  <worldbody>
${has('still') ? `    ${geom('still')}\n` : ''}${m.links.map((l, i) => (l.parent < 0 ? body(i, '    ') : '')).join('')}  </worldbody>
${block('tendon', tendons)}${block('equality', equalities)}${block('actuator', motors)}${block('keyframe', [`<key name="shown" qpos="${nums(treeOrder(m).map((i) => m.at[i]))}"/>`])}</mujoco>
`;
  return { xml, files, untaken: m.untaken };
}

/** Files in one zip. */
export const zipped = (files: ModelFiles): Uint8Array => zipSync(files);

/** Joints that follow more than one other, which a mimic joint cannot. */
const leftFree = (m: Mechanism): string[] =>
  m.links.flatMap(({ joint: j }) => (j.several ? [`${j.name}: it follows more than one joint, and is left free.`] : []));

/** Links in the order in which a tree is written: each before those that it carries. */
export function treeOrder(m: Mechanism): number[] {
  const out: number[] = [];
  const visit = (parent: number): void =>
    m.links.forEach((l, i) => {
      if (l.parent !== parent) return;
      out.push(i);
      visit(i);
    });
  visit(-1);
  return out;
}

/**
 * URDF. A link's frame stands at its joint's point, in the world's directions. Joints that follow one other mimic it; what
 * follows several, and loops, the format cannot express: in `untaken`.
 */
export function writeUrdf(m: Mechanism, still: readonly AssemblyMember[] = []): Model {
  const files = meshFiles(m, still);
  const origin = (at: readonly number[], from: readonly number[]): string => `<origin xyz="${nums(at.map((v, k) => v - from[k]))}" rpy="0 0 0"/>`;
  const visual = (name: string, from: readonly number[]): string =>
    files[`meshes/${name}.stl`]
      ? `<visual>${origin([0, 0, 0], from)}<geometry><mesh filename="meshes/${name}.stl" scale="0.001 0.001 0.001"/></geometry></visual>`
      : '';
  const ZERO = [0, 0, 0];
  const links = m.links.map((l) => {
    const [xx, yy, zz, xy, yz, zx] = l.inertia;
    const inertial =
      l.mass > 0
        ? `<inertial>${origin(l.centre, l.joint.point)}<mass value="${num(l.mass)}"/><inertia ixx="${num(xx)}" iyy="${num(yy)}" izz="${num(zz)}" ixy="${num(xy)}" iyz="${num(yz)}" ixz="${num(zx)}"/></inertial>`
        : '';
    return `  <link name="${l.name}">${inertial}${visual(l.name, l.joint.point)}</link>\n`;
  });
  const joints = m.links.map((l, i) => {
    const j = l.joint;
    const parent = l.parent < 0 ? 'world' : m.links[l.parent].name;
    const bounded = j.lower !== undefined && j.upper !== undefined;
    const type = j.kind === 'slide' ? 'prismatic' : bounded ? 'revolute' : 'continuous';
    // The format wants bounds, an effort and a speed of what slides: none that holds is as good as none.
    const limit = type === 'continuous' ? '' : `<limit lower="${num(j.lower ?? -1e3)}" upper="${num(j.upper ?? 1e3)}" effort="1e9" velocity="1e9"/>`;
    const mimic = j.follows
      ? `<mimic joint="${m.links[j.follows.link].joint.name}" multiplier="${num(j.follows.factor)}" offset="${num(j.follows.constant)}"/>`
      : '';
    return `  <joint name="${m.links[i].joint.name}" type="${type}"><parent link="${parent}"/><child link="${l.name}"/>${origin(j.point, l.parent < 0 ? ZERO : m.links[l.parent].joint.point)}<axis xyz="${nums(j.axis)}"/>${limit}${mimic}</joint>\n`;
  });
  const xml = `<?xml version="1.0"?>
<robot name="${xmlText(m.name)}">
  <link name="world">${visual('still', ZERO)}</link>
${links.join('')}${joints.join('')}</robot>
`;
  const untaken = [...leftFree(m), ...(m.welds.length ? [`${m.welds.length} loops of joints: they are left open.`] : []), ...m.untaken];
  return { xml, files, untaken };
}

/**
 * SDF. A link's frame stands at its joint's point, in the model's directions, which is the joint's frame too. Joints that follow
 * one other mimic it; loops close by fixed joints of links that coincide. What follows several joints is left free: in `untaken`.
 */
export function writeSdf(m: Mechanism, still: readonly AssemblyMember[] = []): Model {
  const files = meshFiles(m, still);
  const pose = (at: readonly number[], from: readonly number[]): string => `<pose>${nums(at.map((v, k) => v - from[k]))} 0 0 0</pose>`;
  const ZERO = [0, 0, 0];
  const visual = (name: string, from: readonly number[]): string =>
    files[`meshes/${name}.stl`]
      ? `<visual name="shape">${pose(ZERO, from)}<geometry><mesh><uri>meshes/${name}.stl</uri><scale>0.001 0.001 0.001</scale></mesh></geometry></visual>`
      : '';
  const links = m.links.map((l) => {
    const [xx, yy, zz, xy, yz, zx] = l.inertia;
    // The format takes a link of which nothing is said for one of a kilogram.
    const g = l.mass > 0 && Math.min(xx, yy, zz) > 0 ? 0 : GRAIN;
    const inertia = `<ixx>${num(xx + g)}</ixx><iyy>${num(yy + g)}</iyy><izz>${num(zz + g)}</izz><ixy>${num(xy)}</ixy><iyz>${num(yz)}</iyz><ixz>${num(zx)}</ixz>`;
    return `    <link name="${l.name}">${pose(l.joint.point, ZERO)}<inertial>${pose(l.centre, l.joint.point)}<mass>${num(l.mass || GRAIN)}</mass><inertia>${inertia}</inertia></inertial>${visual(l.name, l.joint.point)}</link>\n`;
  });
  const joints = m.links.map((l) => {
    const j = l.joint;
    const bounds = [
      j.lower !== undefined ? `<lower>${num(j.lower)}</lower>` : '',
      j.upper !== undefined ? `<upper>${num(j.upper)}</upper>` : '',
    ].join('');
    const mimic = j.follows
      ? `<mimic joint="${m.links[j.follows.link].joint.name}"><multiplier>${num(j.follows.factor)}</multiplier><offset>${num(j.follows.constant)}</offset><reference>0</reference></mimic>`
      : '';
    const type = j.kind === 'slide' ? 'prismatic' : bounds ? 'revolute' : 'continuous';
    return `    <joint name="${j.name}" type="${type}"><parent>${l.parent < 0 ? 'still' : m.links[l.parent].name}</parent><child>${l.name}</child><axis><xyz>${nums(j.axis)}</xyz>${bounds && `<limit>${bounds}</limit>`}${mimic}</axis></joint>\n`;
  });
  const closing = m.welds.map(
    ([a, b], k) =>
      `    <joint name="loop_${k + 1}" type="fixed"><parent>${b < 0 ? 'still' : m.links[b].name}</parent><child>${a < 0 ? 'still' : m.links[a].name}</child></joint>\n`,
  );
  const xml = `<?xml version="1.0"?>
<sdf version="1.11">
  <model name="${xmlText(m.name)}">
    <link name="still">${visual('still', ZERO)}</link>
    <joint name="standing" type="fixed"><parent>world</parent><child>still</child></joint>
${links.join('')}${joints.join('')}${closing.join('')}  </model>
</sdf>
`;
  const untaken = [...leftFree(m), `Gravity, which the format has in its world: ${nums(m.gravity)} m/s².`, ...m.untaken];
  return { xml, files, untaken };
}
