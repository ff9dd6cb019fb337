import { type Vec3, frameOf, toLocalVector } from '../math/index';
import { Builder } from './designs';

/** Crank r and rod l in the x–y plane, slider along x; the reference position at crank angle θ0. */
export function sliderCrank(r: number, l: number, theta0: number) {
  const b = new Builder().weightless();
  const x = r * Math.cos(theta0),
    y = r * Math.sin(theta0);
  const slide = x + Math.sqrt(l * l - y * y);
  const crank = b.shaft([0, 0, 0], 'frame', { id: 'crank', mass: 0 });
  const rod = b.shaft([x, y, 0], crank.member, { id: 'rod', mass: 0 });
  const slider = b.slide([slide, 0, 0], [1, 0, 0], 'frame', { id: 'slider', mass: 0 });
  const pin = b.joint('revolute', rod.member, slider.member, { id: 'pin', axis: [0, 1, 0] });
  // The slide's own z axis lies along x: its local y is the world's z or its opposite.
  b.design.joints.find((j) => j.id === pin)!.axis = [-1, 0, 0];
  b.design.members.find((m) => m.id === slider.member)!.up = [0, 0, -1];
  b.motor(crank.joint, 60);
  return { b, crank, rod, slider, pin };
}

/** A direction of the world in the frame of a member placed so. */
const inMember = (b: Builder, member: string, v: Vec3): Vec3 => {
  const m = b.design.members.find((x) => x.id === member)!;
  return toLocalVector(frameOf(m.at ?? [0, 0, 0], m.axis, m.up), v);
};
/** A joint whose axis (and whose x, where it has one) is stated in the world, at the child's origin. */
const pinned = (b: Builder, type: string, parent: string, child: string, axis: Vec3): string =>
  b.joint(type, parent, child, { axis: inMember(b, child, axis) });

const X: Vec3 = [1, 0, 0];
const Y: Vec3 = [0, 1, 0];

/**
 * A screw along x that turns, led by a motor, in a trunnion on one
 * member at the origin and in a nut pinned to another at (reach, 0, 0).
 */
function screwBetween(b: Builder, from: string, to: string, lead: number, reach: number) {
  const trunnion = b.member([0, 0, 0]);
  pinned(b, 'revolute', from, trunnion, Y);
  const screw = b.member([0, 0, 0], { axis: X });
  const turn = pinned(b, 'revolute', trunnion, screw, X);
  const nut = b.member([reach, 0, 0], { axis: X });
  pinned(b, 'revolute', to, nut, Y);
  pinned(b, 'cylindrical', screw, nut, X);
  const s = b.element('screw', screw, { diameter: 30, pitch: lead, length: 3 * reach }),
    n = b.element('nut', nut, { diameter: 30, outside: 60, length: 40 });
  b.couple('screw-drive', { a: s, b: n, friction: 0 });
  b.motor(turn, 60);
  return { screw, turn, nut };
}

/**
 * A screw turning in a trunnion at the origin, along x; its nut pinned to a lever's end at
 * (reach, 0, 0); the lever stands on the frame `arm` mm below. The screw and its nut close
 * the loop by a cylindrical joint. Turning the screw by one turn draws the nut by a lead.
 */
export function trunnionScrew(lead = 5, reach = 200, arm = 100) {
  const b = new Builder().weightless();
  const lever = b.member([reach, 0, -arm]);
  const swing = pinned(b, 'revolute', 'frame', lever, Y);
  const { screw, turn, nut } = screwBetween(b, 'frame', lever, lead, reach);
  return { b, screw, turn, lever, swing, nut };
}

/**
 * A screw that floats between two levers on the frame: it turns in a trunnion on
 * the one and in a nut on the other; the first lever is held by its own motor.
 */
export function floatingScrew(lead = 5, reach = 200, arm = 100) {
  const b = new Builder().weightless();
  const first = b.member([0, 0, -arm]),
    lever = b.member([reach, 0, -arm]);
  const lead1 = pinned(b, 'revolute', 'frame', first, Y),
    swing = pinned(b, 'revolute', 'frame', lever, Y);
  b.motor(lead1, 0.5);
  const { turn } = screwBetween(b, first, lever, lead, reach);
  return { b, first, lever, swing, turn };
}

/**
 * Sun and planet: the planet is fast on a rod that hangs from a
 * beam, and an arm keeps it at the sun. Arm at angle 0, rod upright.
 */
export function sunAndPlanet(zs = 30, zp = 30) {
  const b = new Builder().weightless();
  const d = (zs + zp) / 2;
  const sun = b.shaft([0, 0, 0]),
    arm = b.shaft([0, 0, 0]);
  const rod = b.shaft([d, 0, 0], arm.member);
  const beam = b.shaft([d + 300, 400, 0]);
  b.joint('revolute', beam.member, rod.member, { at: [0, 400, 0] });
  b.mesh(b.gear(sun.member, zs), b.gear(rod.member, zp));
  b.motor(arm.joint, 60);
  return { b, sun, arm, rod, beam };
}
