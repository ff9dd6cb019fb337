import { Forces } from '../forces/index';
import { type Pose } from '../kinematics/index';

/** The general rigid-body engine that checks ours and is measured beside it (a development dependency). */
export async function loadMujoco(): Promise<any> {
  const load = (await import('mujoco-js')).default as unknown as () => Promise<any>;
  const mujoco = await load();
  mujoco.FS.mkdir('/w');
  mujoco.FS.mount(mujoco.MEMFS, { root: '.' }, '/w');
  return mujoco;
}

const nums = (v: readonly number[]): string => v.map((x) => x.toPrecision(17)).join(' ');

export interface ModelOptions {
  gravity: readonly number[];
  timestep?: number;
  /** Adds closing joints and linear coupling rows as that engine's constraints. */
  constraints?: boolean;
  /** Coordinate that a stiff drive holds at a speed set through `ctrl`. */
  drive?: number;
}

/**
 * The tree part of a mechanism as a model of the other engine. Bodies are
 * stated in the world at the reference position, so nothing needs a frame.
 */
export function treeModel(mujoco: any, m: Pose, f: Forces, options: ModelOptions) {
  const tree = new Set<number>();
  const { structure } = m.compiled;
  for (const b of structure.bodyOf.values()) for (let k = b; k; k = m.kinematics.parentOf[k]) tree.add(k);
  const body = (b: number): string => {
    const c = structure.coordinates[m.kinematics.bodyCoordinate[b]];
    const axis = c.axis.map((v) => v * c.sign),
      at = c.point.map((v) => v / 1000);
    const p = f.bodyMass(b);
    const [xx, yy, zz, xy, yz, zx] = p.inertia;
    // That engine cannot hold a body without mass: a grain stands in where it integrates.
    const grain = options.timestep && !(p.mass > 0) ? 1e-6 : 0;
    const inertial = `<inertial pos="${nums(p.mass > 0 ? p.centre : at)}" mass="${p.mass + grain}" fullinertia="${nums([xx + grain, yy + grain, zz + grain, xy, zx, yz])}"/>`;
    const inner = [...tree]
      .filter((k) => m.kinematics.parentOf[k] === b && k !== b)
      .map(body)
      .join('');
    return `<body name="b${b}"><joint name="q${c.index}" type="${c.motion === 'slide' ? 'slide' : 'hinge'}" axis="${nums(axis)}" pos="${nums(at)}"${options.drive === c.index ? ' armature="0.01"' : ''}/>${inertial}${inner}</body>`;
  };
  const roots = [...tree]
    .filter((k) => m.kinematics.parentOf[k] === 0)
    .map(body)
    .join('');
  const stiff = 'solref="0.0004 1" solimp="0.9999 0.9999 0.001"';
  const inTree = (i: number): boolean => tree.has(structure.coordinates[i].body);
  const equality: string[] = [];
  if (options.constraints) {
    for (const c of structure.closures) {
      // A closing joint as a point that two bodies share; about a common turning direction of plane loops that is all it takes.
      const parent = structure.bodyOf.get(c.joint.parent)!;
      const name = (b: number): string => (b ? `b${b}` : 'world');
      equality.push(`<connect body1="${name(c.child)}" body2="${name(parent)}" anchor="${nums(c.frame.o.map((v) => v / 1000))}" ${stiff}/>`);
    }
    m.compiled.rows.forEach((r, k) => {
      if (m.kinematics.constraintOf[k] >= 0) return;
      const terms = r.terms.filter((t) => inTree(t.coordinate));
      if (terms.length !== 2) return;
      const si = terms.map(
        (t) => ((Number(t.coefficient.q.n) / Number(t.coefficient.q.d)) * Math.PI ** t.coefficient.pi) / m.kinematics.scale[t.coordinate],
      );
      equality.push(
        `<joint joint1="q${terms[1].coordinate}" joint2="q${terms[0].coordinate}" polycoef="0 ${(-si[0] / si[1]).toPrecision(17)} 0 0 0" ${stiff}/>`,
      );
    });
  }
  const drive = options.drive === undefined ? '' : `<actuator><velocity joint="q${options.drive}" kv="1e4"/></actuator>`;
  const xml = `<mujoco><compiler angle="radian" balanceinertia="false" boundmass="0" boundinertia="0"/><option gravity="${nums(options.gravity)}" timestep="${options.timestep ?? 0.002}" integrator="${options.constraints ? 'implicitfast' : 'RK4'}"><flag contact="disable"/></option><worldbody>${roots}</worldbody>${equality.length ? `<equality>${equality.join('')}</equality>` : ''}${drive}</mujoco>`;
  mujoco.FS.writeFile('/w/m.xml', xml);
  const model = mujoco.MjModel.loadFromXML('/w/m.xml');
  return { model, data: new mujoco.MjData(model), order: xml.match(/name="q(\d+)"/g)!.map((s) => Number(/\d+/.exec(s)![0])) };
}
