import { type Vec3 } from '../../math/index';
import { Builder } from '../designs';
import { X, Y, Z, along, burden, jointed, lump, type Rig } from './base';

/** One joint after the other on a rising chain, all freedoms led. */
export const chainOfJoints: Rig = {
  name: 'open chain of joints',
  make() {
    const b = new Builder();
    const add = (type: string, parent: string, at: Vec3, axis: Vec3, more: Record<string, unknown> = {}): { member: string; joint: string } => {
      const member = b.member(at, { kind: 'body', axis });
      const joint = b.joint(type, parent, member, more);
      lump(b, member);
      return { member, joint };
    };
    const base = add('revolute', 'frame', [0, 0, 0], Z);
    const arm = add('prismatic', base.member, [80, 0, 40], X);
    const quill = add('cylindrical', arm.member, [160, 20, 40], [1, 1, 0]);
    const screw = add('screw', quill.member, [200, 60, 40], Z, { lead: 8, friction: 0.12, diameter: 24 });
    const table = add('planar', screw.member, [230, 60, 90], [0, 1, 1]);
    const pin = add('pin-in-slot', table.member, [230, 100, 120], Y);
    const ball = add('spherical', pin.member, [260, 130, 120], X);
    const plain = add('screw', ball.member, [300, 130, 160], X, { lead: 5, hand: 'left' });
    const seat = add('fixed', plain.member, [330, 130, 160], Z);
    const freedoms = [base, arm, quill, [quill, 1], screw, table, [table, 1], [table, 2], pin, [pin, 1], ball, [ball, 1], [ball, 2], plain] as const;
    freedoms.forEach((f, k) => {
      const joint = 'joint' in f ? f.joint : `${f[0].joint}:${f[1]}`;
      const slides = [1, 3, 5, 6, 8].includes(k);
      b.motor(joint, (slides ? 9 : 3) + k);
      b.design.joints.find((j) => j.id === joint.split(':')[0])![joint.endsWith(':1') ? 'home2' : joint.endsWith(':2') ? 'home3' : 'home'] = slides
        ? 7 + k
        : 11 + k;
      along(b, joint, slides ? 20 : 1);
    });
    along(b, `${screw.joint}:1`, 10);
    burden(b, seat.member);
    burden(b, table.member);
    return b.design;
  },
};

/**
 * A crank, a rod, and a joint of each kind that ties the rod's end to the frame or to a slide: the loop closes there, or
 * elsewhere as the order of joints has it.
 */
export const loop = (type: string, early: boolean): Rig => ({
  name: `loop closed by a ${type} joint${early ? ', stated first' : ''}`,
  make() {
    const b = new Builder();
    const crank = b.member([0, 0, 0], { kind: 'lever' });
    const rod = b.member([60, 30, 0], { kind: 'lever' });
    const end: Vec3 = [220, 10, 0];
    const at: Vec3 = [160, -20, 0];
    const slider = ['revolute', 'cylindrical', 'spherical'].includes(type) ? b.member(end, { kind: 'slide', axis: X }) : undefined;
    const close = (): string =>
      type === 'prismatic'
        ? jointed(b, 'prismatic', swinger!, rod, [160, -20, 0], { at })
        : jointed(b, type, slider ?? 'frame', rod, Z, { at, up: X });
    const swinger = type === 'prismatic' ? b.member(end, { kind: 'lever' }) : undefined;
    let closing = early ? close() : '';
    const first = jointed(b, 'revolute', 'frame', crank, Z);
    const pin = jointed(b, 'revolute', crank, rod, Z);
    const way = slider ? jointed(b, 'prismatic', 'frame', slider, X) : swinger ? jointed(b, 'revolute', 'frame', swinger, Z) : undefined;
    if (!early) closing = close();
    b.motor(first, 20);
    if (type === 'planar') b.motor(pin, 7);
    for (const m of [crank, rod, slider ?? swinger]) if (m) lump(b, m);
    const count = { revolute: 1, prismatic: 1, cylindrical: 2, spherical: 3, planar: 3, 'pin-in-slot': 2 }[type] ?? 1;
    const slides = { prismatic: [0], cylindrical: [1], planar: [0, 1], 'pin-in-slot': [0] }[type as 'prismatic'] ?? [];
    for (let k = 0; k < count; k++) along(b, k ? `${closing}:${k}` : closing, slides.includes(k) ? 20 : 1);
    along(b, pin);
    if (way) along(b, way, slider ? 30 : 1);
    burden(b, rod);
    return b.design;
  },
});

/** A screw that turns in the frame and draws a slide: its screw joint closes the loop, or is the way to one of the two. */
export const screwLoop = (early: boolean): Rig => ({
  name: `loop closed by a screw joint${early ? ', stated first' : ''}`,
  make() {
    const b = new Builder();
    const shaft = b.member([0, 0, 0]),
      nut = b.member([0, 0, 120], { kind: 'slide' });
    const thread = (): string => b.joint('screw', nut, shaft, { lead: 6, friction: 0.1, diameter: 20, at: [0, 0, 120] });
    let closing = early ? thread() : '';
    const turn = b.joint('revolute', 'frame', shaft),
      way = b.joint('prismatic', 'frame', nut);
    if (!early) closing = thread();
    b.motor(turn, 90);
    lump(b, shaft);
    lump(b, nut);
    along(b, way, 60);
    along(b, closing, 0.2);
    along(b, `${closing}:1`, 10);
    burden(b, nut);
    return b.design;
  },
});

/** What a loop's closing joint is tied to by a typed pair, and a cam whose follower a closing joint carries. */
export const tiedLoop = (early: boolean): Rig => ({
  name: `typed pair at a closing joint${early ? ', stated first' : ''}`,
  make() {
    const b = new Builder();
    const crank = b.member([0, 0, 0], { kind: 'lever' }),
      rod = b.member([60, 30, 0], { kind: 'lever' }),
      rocker = b.member([260, -40, 0], { kind: 'lever' });
    const last = (): string => jointed(b, 'revolute', rocker, rod, Z, { at: [180, 60, 0] });
    let knee = early ? last() : '';
    const first = jointed(b, 'revolute', 'frame', crank, Z);
    jointed(b, 'revolute', crank, rod, Z);
    const swing = jointed(b, 'revolute', 'frame', rocker, Z);
    if (!early) knee = last();
    const dial = b.shaft([500, 0, 0]);
    b.couple('proportional', { a: knee, amountA: 2, b: dial.joint, amountB: 5, efficiency: 0.9 });
    const slide = b.slide([500, 100, 0], X);
    b.couple('proportional', { a: swing, amountA: 1, b: slide.joint, amountB: 80, reversed: true, efficiency: 0.95 });
    b.motor(first, 15);
    for (const m of [crank, rod, rocker]) lump(b, m);
    along(b, dial.joint);
    along(b, slide.joint, 30);
    along(b, knee);
    burden(b, rod);
    return b.design;
  },
});
