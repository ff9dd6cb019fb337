import { type Compiled, type Kinematics, type Pose } from '../kinematics/index';
import { STANDARD_GRAVITY, bodyMasses } from '../forces/index';
import { FRAME } from '../fields/types';
import { type Vec3, piToNumber, vscale } from '../math/index';
import type { Assembly, AssemblyMember } from './assembly';

/**
 * A design as other engines state one: a tree of links with joints of one freedom, what ties their positions, and welds where
 * loops close. m, rad, kg; places in the world in the reference position, in which all joints are at zero.
 */
export interface Mechanism {
  name: string;
  gravity: Vec3;
  links: MechanismLink[];
  ties: Tie[];
  /** Pairs of links, by their place in the list, that coincide. */
  welds: [number, number][];
  /** Position of each joint at which it was made: in the order of links. */
  at: number[];
  /** What is not taken over. */
  untaken: string[];
}

export interface MechanismLink {
  name: string;
  /** Its place in the list; the world where it is −1. */
  parent: number;
  joint: MechanismJoint;
  mass: number;
  centre: Vec3;
  /** About the centre: xx, yy, zz, xy, yz, zx, with the sign of the tensor. */
  inertia: readonly number[];
  /** The members that move with it. */
  members: AssemblyMember[];
}

export interface MechanismJoint {
  name: string;
  kind: 'turn' | 'slide';
  axis: Vec3;
  point: Vec3;
  lower?: number;
  upper?: number;
  /** Its position follows that of another: factor times it, and a constant. */
  follows?: { link: number; factor: number; constant: number };
  /** It follows more than one other. */
  several?: true;
  /** Driven by a source. */
  driven: boolean;
}

/** Σ factor · position of a link's joint = constant. */
export interface Tie {
  name: string;
  terms: { link: number; factor: number }[];
  constant: number;
}

/** Names that every format allows, each once. */
function namer(): (text: string) => string {
  const had = new Set<string>();
  return (text) => {
    const plain =
      text
        .normalize('NFKD')
        .replace(/[^A-Za-z0-9]+/g, '_')
        .replace(/^_+|_+$/g, '') || 'link';
    let name = plain;
    for (let n = 2; had.has(name); n++) name = `${plain}_${n}`;
    had.add(name);
    return name;
  };
}

const at3 = (v: ArrayLike<number>, k: number): Vec3 => [v[3 * k], v[3 * k + 1], v[3 * k + 2]];

/** The design at a pose as a mechanism for other engines. `assembly` is that of the same design in its reference position. */
export function mechanismOf(compiled: Compiled, pose: Pose, assembly: Assembly): Mechanism {
  const masses = bodyMasses(compiled);
  const { structure, design } = compiled;
  const k = pose.kinematics;
  const name = namer();
  const member = new Map<number, AssemblyMember[]>();
  for (const m of assembly.members) {
    const body = structure.bodyOf.get(m.member) ?? 0;
    member.set(body, [...(member.get(body) ?? []), m]);
  }
  const ofBody = new Map<number, string>();
  for (const m of design.members) {
    const b = structure.bodyOf.get(m.id);
    if (b && !ofBody.has(b)) ofBody.set(b, m.name);
  }
  const driven = new Set(compiled.sources.map((s) => s.coordinate));
  const links: MechanismLink[] = [];
  const linkOf = new Map<number, number>();
  const jointLink = new Map<number, number>();
  const positions: number[] = [];
  // Bodies stand behind those that carry them.
  for (let b = 1; b < k.bodies; b++) {
    const c = structure.coordinates[k.bodyCoordinate[b]];
    const i = c.index;
    const axis = vscale(at3(k.axis, i), k.sign[i]),
      point = at3(k.point, i);
    const order = c.order ? ` ${c.order + 1}` : '';
    const limit = (which: 'lower' | 'upper'): number | undefined =>
      k.limits.find(
        (l) =>
          l.kind === 'stop' && l.id === c.joint.id && l.which === which && l.coordinate.length === 1 && l.coordinate[0] === i && l.value[0] === 1,
      )?.at;
    const [lower, upper] = [limit('lower'), limit('upper')];
    let parent = linkOf.get(k.parentOf[b]) ?? -1;
    if (c.motion === 'helix') {
      // A turn on a slide that follows it.
      const slide = links.length;
      links.push({
        name: name(`${ofBody.get(b) ?? c.joint.name} slide`),
        parent,
        joint: {
          name: name(`${c.joint.name}${order} travel`),
          kind: 'slide',
          axis,
          point,
          follows: { link: slide + 1, factor: k.lead[i], constant: 0 },
          driven: false,
        },
        mass: 0,
        centre: point,
        inertia: [0, 0, 0, 0, 0, 0],
        members: [],
      });
      positions.push(k.lead[i] * pose.q[i]);
      parent = slide;
    }
    const mass = masses.mass[b];
    linkOf.set(b, links.length);
    jointLink.set(i, links.length);
    positions.push(pose.q[i]);
    links.push({
      name: name(ofBody.get(b) ?? `${c.joint.name}${order}`),
      parent,
      joint: {
        name: name(`${c.joint.name}${order}`),
        kind: c.motion === 'slide' ? 'slide' : 'turn',
        axis,
        point,
        lower,
        upper,
        driven: driven.has(i),
      },
      mass,
      centre: mass > 0 ? at3(masses.centre, b) : point,
      inertia: [...masses.inertia.subarray(6 * b, 6 * b + 6)],
      members: member.get(b) ?? [],
    });
  }
  followers(k, links, jointLink);
  const welds = structure.closures.flatMap((c): [number, number][] => [[linkOf.get(c.reached) ?? -1, linkOf.get(c.child) ?? -1]]);
  return {
    name: name(design.name),
    gravity: design.settings?.gravity ?? STANDARD_GRAVITY,
    links,
    ties: tiesOf(compiled, pose, k, jointLink),
    welds,
    at: positions,
    untaken: untaken(compiled),
  };
}

/** Joints whose position follows that of one other, by the exact elimination. */
function followers(k: Kinematics, links: MechanismLink[], jointLink: ReadonlyMap<number, number>): void {
  // The free coordinates themselves: a row of one entry of value 1 without a constant, the first of each column.
  const own = new Map<number, number>();
  for (let i = 0; i < k.count; i++) {
    const alone = k.start[i + 1] - k.start[i] === 1 && Math.abs(k.value[k.start[i]] - 1) < 1e-12 && k.constant[i] === 0;
    if (alone && !own.has(k.column[k.start[i]])) own.set(k.column[k.start[i]], i);
  }
  for (let i = 0; i < k.count; i++) {
    const link = jointLink.get(i);
    if (link === undefined) continue;
    if (k.start[i + 1] - k.start[i] > 1) links[link].joint.several = true;
    if (k.start[i + 1] - k.start[i] !== 1) continue;
    const lead = own.get(k.column[k.start[i]]);
    if (lead === undefined || lead === i) continue;
    const to = jointLink.get(lead);
    if (to !== undefined) links[link].joint.follows = { link: to, factor: k.value[k.start[i]], constant: k.constant[i] };
  }
}

/** Couplings that tie positions in proportion, each with the constant that it has at the pose. */
function tiesOf(compiled: Compiled, pose: Pose, k: Kinematics, jointLink: ReadonlyMap<number, number>): Tie[] {
  const name = namer();
  return compiled.rows.flatMap((r, row): Tie[] => {
    if (k.constraintOf[row] >= 0 || r.numeric) return [];
    const terms = r.terms.map(({ coordinate, coefficient }) => ({
      coordinate,
      link: jointLink.get(coordinate) ?? -1,
      factor: piToNumber(coefficient) / k.scale[coordinate],
    }));
    if (terms.some((t) => t.link < 0)) return [];
    const called = compiled.design.couplings.find((c) => c.id === r.coupling)?.name ?? r.coupling;
    return [
      {
        name: name(called),
        terms: terms.map(({ link, factor }) => ({ link, factor })),
        constant: terms.reduce((s, t) => s + t.factor * pose.q[t.coordinate], 0),
      },
    ];
  });
}

/** What no format of bodies and joints holds, in words. */
function untaken({ design, rows, kinematics: k }: Compiled): string[] {
  const named = (c: string): string => design.couplings.find((x) => x.id === c)?.name ?? c;
  const numeric = [...new Set(rows.flatMap((r, i) => (k.constraintOf[i] >= 0 || r.numeric ? [named(r.coupling)] : [])))];
  return [
    ...numeric.map((n) => `${n}: a coupling that is not a proportion.`),
    ...design.loads.map((l) => `${l.name}: a load.`),
    ...(design.couplings.length ? ['Losses of couplings, tooth forces and backlash.'] : []),
    ...design.sources.map((s) => `${s.name}: torque-speed line and motion profile of a source.`),
  ];
}

/** The members that stand still. */
export const standing = (a: Assembly, compiled: Compiled): AssemblyMember[] =>
  a.members.filter((m) => m.member === FRAME || !compiled.structure.bodyOf.get(m.member));
