import { readFileSync, readdirSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { assemblyOf, mechanismOf, standing } from '../assembly/index';
import { analyse } from '../checks/index';
import { type Design, readDesign } from '../document/index';
import { poseOf } from '../kinematics/index';
import { norm, vsub } from '../math/index';
import { boxMesh } from '../testing/shapes';
import { CannotRead, readModel, treeOrder, writeMjcf, writeStl, writeUrdf, zipped } from './geometry';

const DEMOS = new URL('../../demo/', import.meta.url);
const demos = readdirSync(DEMOS).filter((f) => f.endsWith('.json'));
const bytes = (text: string): Uint8Array => new TextEncoder().encode(text);
/** A demo written as a model, read again as a design. */
function roundTrip(file: string, format: 'mjcf' | 'urdf') {
  const design = JSON.parse(readFileSync(new URL(file, DEMOS), 'utf8')) as Design;
  const { compiled } = analyse(design);
  const pose = poseOf(compiled);
  const assembly = assemblyOf(compiled, pose);
  const m = mechanismOf(compiled, pose, assembly);
  const { xml, files, untaken } = (format === 'mjcf' ? writeMjcf : writeUrdf)(m, standing(assembly, compiled));
  return { m, compiled, untaken, taken: readModel(zipped({ [`model.${format === 'mjcf' ? 'xml' : 'urdf'}`]: bytes(xml), ...files })) };
}

describe.each(demos)('%s as a mechanism, written and read again', (file) => {
  it('MJCF: a valid design with the same links, masses, joints and freedoms', () => {
    const { m, compiled, untaken, taken } = roundTrip(file, 'mjcf');
    expect(readDesign(JSON.parse(JSON.stringify(taken.design))).problems).toBeUndefined();
    const again = analyse(taken.design);
    expect(taken.design.members.length).toBe(m.links.length);
    treeOrder(m).forEach((k0, i) => {
      const l = m.links[k0];
      const { mass, centre, inertia } = again.masses.get(`link${i + 1}`)!;
      // The format holds no link without a mass: a grain stands for none.
      expect(Math.abs(mass - l.mass)).toBeLessThan(1e-8 + 1e-9 * l.mass);
      if (l.mass <= 0) return;
      expect(norm(vsub(centre, [l.centre[0] * 1000, l.centre[1] * 1000, l.centre[2] * 1000]))).toBeLessThan(1e-5);
      l.inertia.forEach((x, k) => expect(Math.abs(inertia[k] * 1e-6 - x)).toBeLessThan(2e-9 + 1e-9 * (l.inertia[0] + l.inertia[1] + l.inertia[2])));
    });
    // What the format cannot hold is told when it is written; several terms of a tie are a tendon, told when it is read.
    if (!untaken.length && !taken.untaken.some((u) => /tendon/.test(u))) expect(again.freedoms).toBe(analyse(compiled.design).freedoms);
  });

  it('URDF: joints move as they did: a position of each gives the same points', () => {
    const { m, taken } = roundTrip(file, 'urdf');
    expect(readDesign(JSON.parse(JSON.stringify(taken.design))).problems).toBeUndefined();
    const again = analyse(taken.design).compiled;
    for (const [i, k0] of treeOrder(m).entries()) {
      const l = m.links[k0];
      const c = again.structure.coordinates.find((x) => x.joint.child === `link${i + 1}`)!;
      expect(c.motion).toBe(l.joint.kind);
      // The same line, the same sense.
      expect(norm(vsub(c.axis, l.joint.axis))).toBeLessThan(1e-9);
      const off = vsub(c.point, [l.joint.point[0] * 1000, l.joint.point[1] * 1000, l.joint.point[2] * 1000]);
      const along = off[0] * c.axis[0] + off[1] * c.axis[1] + off[2] * c.axis[2];
      if (c.motion === 'turn') expect(norm(vsub(off, [along * c.axis[0], along * c.axis[1], along * c.axis[2]]))).toBeLessThan(1e-6);
      for (const key of ['lower', 'upper'] as const) {
        const at = l.joint[key];
        if (at !== undefined && l.joint.lower !== undefined && l.joint.upper !== undefined) {
          expect(Number(c.joint[key])).toBeCloseTo(at * (l.joint.kind === 'turn' ? 180 / Math.PI : 1000), 6);
        }
      }
    }
  });
});

describe('forms of the formats', () => {
  const first = (text: string): Design => readModel(bytes(text)).design;
  it('MJCF: degrees unless it says radian, Euler angles about turned axes, classes of defaults, capsules by their ends', () => {
    const { design, untaken } = readModel(
      bytes(`<mujoco model="Arm"><compiler angle="degree"/><default><joint damping="0"/><default class="big"><geom rgba="1 0 0 1" size="0.01"/></default></default>
      <worldbody><body name="arm" pos="0 0 1" euler="90 0 0"><joint name="pin" axis="0 1 0" range="-45 60"/><geom class="big" type="capsule" fromto="0 0 0 0.3 0 0"/></body></worldbody></mujoco>`),
    );
    expect(design.members).toMatchObject([{ name: 'arm', at: [0, 0, 1000] }]);
    // Turned by 90° about x: its z looks along −y.
    expect(design.members[0].axis!.map((x) => Math.round(x))).toEqual([0, -1, 0]);
    expect(design.joints[0]).toMatchObject({ type: 'revolute', lower: -45, upper: 60 });
    expect(design.elements[0]).toMatchObject({ type: 'rod', diameter: 20, length: 300, density: 1000 });
    expect(untaken.join()).toMatch(/round ends/);
  });
  it('MJCF: an equality of joints is a typed pair, a connect closes a loop by a ball', () => {
    const d =
      first(`<mujoco><compiler angle="radian"/><worldbody><body name="a"><joint name="j1"/><geom type="box" size="1 1 1"/></body><body name="b" pos="2 0 0"><joint name="j2" type="slide"/><geom type="box" size=".1 .1 .1"/></body></worldbody>
      <equality><joint joint1="j2" joint2="j1" polycoef="0.5 -0.25 0 0 0"/><connect body1="a" body2="b" anchor="1 0 0"/></equality></mujoco>`);
    // 0.25 m to a radian: 1570.796 mm to a turn; 500 mm from the beginning.
    expect(d.couplings[0]).toMatchObject({ a: 'j1', b: 'j2', amountA: 1, reversed: true, offset: 500 });
    expect(Number((d.couplings[0] as { amountB?: number }).amountB)).toBeCloseTo(500 * Math.PI, 6);
    expect(d.joints.at(-1)).toMatchObject({ type: 'spherical', parent: 'link1', child: 'link2' });
  });
  it('MJCF: a mesh weighs by the density of its geom and has the nearest of our colours', () => {
    const model = `<mujoco><asset><mesh name="box" file="box.stl"/></asset><worldbody><body name="a"><joint/><geom type="mesh" mesh="box" density="2700" rgba="0.44 0.42 0.4 1"/></body></worldbody></mujoco>`;
    const { design } = readModel(zipped({ 'm.xml': bytes(model), 'box.stl': writeStl([boxMesh(0.1, 0.2, 0.3)]) }));
    expect(design.elements[0]).toMatchObject({ type: 'shape', density: 2700, colour: 'graphite' });
    // 0.1 × 0.2 × 0.3 m of 2700 kg/m³.
    expect(analyse(design).masses.get('link1')!.mass).toBeCloseTo(16.2, 4);
  });
  it('a body with two joints hangs on a member without mass', () => {
    const d = first(
      '<mujoco><worldbody><body name="table"><joint name="x" type="slide" axis="1 0 0"/><joint name="y" type="slide" axis="0 1 0"/><geom type="box" size=".1 .1 .1"/></body></worldbody></mujoco>',
    );
    expect(d.members.map((m) => m.mass)).toEqual([0, undefined]);
    expect(analyse(d).freedoms).toBe(2);
  });
  it('URDF: products of inertia turn with their frame; damping, effort and transmissions are listed', () => {
    const { design, untaken } = readModel(
      bytes(`<robot name="R"><link name="base"/><link name="l"><inertial><origin rpy="0 0 1.5707963267948966"/><mass value="2"/><inertia ixx="0.1" iyy="0.2" izz="0.25" ixy="0.01" iyz="0" ixz="0"/></inertial></link>
      <joint name="j" type="continuous"><parent link="base"/><child link="l"/><axis xyz="0 0 1"/><dynamics damping="1"/><limit effort="5" velocity="1"/></joint><transmission name="t"/></robot>`),
    );
    expect(design.members[0].inertia!.map((x) => Number(x.toFixed(9)))).toEqual([0.2, 0.1, 0.25]);
    expect(design.members[0].inertiaProducts![0]).toBeCloseTo(-0.01, 12);
    expect(untaken.join(' ')).toMatch(/dynamics of the joint j.*effort.*transmission/);
  });
  it.each([
    ['<robot name="x"><link name="a"/><joint name="j" type="fixed"><parent link="a"/><child link="b"/></joint></robot>', /not there/],
    [
      '<robot name="x"><link name="a"/><link name="b"/><joint name="j" type="fixed"><parent link="a"/><child link="b"/></joint><joint name="k" type="fixed"><parent link="b"/><child link="a"/></joint></robot>',
      /ring/,
    ],
    [
      '<robot name="x"><link name="o"/><link name="a"/><link name="b"/><joint name="j" type="fixed"><parent link="a"/><child link="b"/></joint><joint name="k" type="fixed"><parent link="b"/><child link="a"/></joint></robot>',
      /ring/,
    ],
    ['<robot name="x"><link name="a"/><link name="a"/></robot>', /same name/],
    [`<robot name="x">${Array.from({ length: 6000 }, (_, i) => `<link name="l${i}"/>`).join('')}</robot>`, /more than 5000 links/],
    [`<mujoco><worldbody>${'<body><joint/></body>'.repeat(6000)}</worldbody></mujoco>`, /more than 5000 links/],
    ['<mujoco><include file="other.xml"/></mujoco>', /includes others/],
    ['<mujoco><worldbody><body pos="1 2"/></worldbody></mujoco>', /3 numbers/],
    ['<!DOCTYPE a [<!ENTITY b "c">]><robot name="&b;"/>', /entities/],
    ['<mujoco><worldbody>', /no XML/],
    ['<html/>', /neither/],
    ['<mujoco><worldbody><body quat="0 0 0 0"/></worldbody></mujoco>', /quaternion/],
  ])('%s is refused with a sentence', (text, words) => {
    expect(() => readModel(bytes(text))).toThrow(CannotRead);
    expect(() => readModel(bytes(text))).toThrow(words);
  });
});
