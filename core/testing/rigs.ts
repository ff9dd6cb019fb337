import { type Design, emptyDesign } from '../document/index';
import { camOf } from '../elements/index';
import { touch } from '../cams/index';
import { settle } from '../edits/index';
import { STAGE_KINDS, insertStage, withInputShaft } from '../sizing/index';
import { type Vec3, frameOf, toLocalVector } from '../math/index';
import type { DrivingSource } from '../document/kinds';
import { Builder, item, state } from './designs';

/**
 * Small sound designs that together hold every kind of joint, coupling, load, source and element, each with weight, a driven input
 * and a load on what comes out. The laws of mechanics are tried on each of them with every field away from its initial value.
 */
export interface Rig {
  name: string;
  make(): Design;
}

const RAD = Math.PI / 180;
const X: Vec3 = [1, 0, 0];
const Y: Vec3 = [0, 1, 0];
const Z: Vec3 = [0, 0, 1];

/** A direction of the world in a member's frame. */
const local = (b: Builder, member: string, v: Vec3): Vec3 => {
  const m = b.design.members.find((x) => x.id === member)!;
  return toLocalVector(frameOf(m.at ?? [0, 0, 0], m.axis, m.up), v);
};
/** A joint about (along) a direction of the world, at a member's origin or a place on it. */
const jointed = (b: Builder, type: string, parent: string, child: string, z: Vec3, more: Record<string, unknown> = {}): string => {
  const up = more['up'] as Vec3 | undefined;
  return b.joint(type, parent, child, { axis: local(b, child, z), ...more, ...(up && { up: local(b, child, up) }) });
};
/** A lump off the middle of a member, so that weight and inertia are felt. */
const lump = (b: Builder, member: string, at: Vec3 = [40, 15, 25]): string =>
  b.element('block', member, { length: 30, depth: 20, height: 25, density: 8000, at });

/** Loads of every kind that bears on members: at a point, about an axis, a spring to the frame. */
function burden(b: Builder, member: string): void {
  b.load('force', { member, at: [20, 10, 30], force: [12, -30, 18] });
  b.load('torque', { member, torque: [1.5, 0.7, 2.2] });
  b.load('spring', { member, at: [15, 5, 0], otherAt: [300, -200, 150], rate: 0.02, free: 120, preload: 3, damping: 0.01 });
}
/** Loads of every kind along one freedom. */
function along(b: Builder, joint: string, size = 1): void {
  b.load('joint-load', { joint, value: -6 * size });
  b.load('joint-spring', { joint, rate: 0.01 * size, free: 12, preload: 0.4, damping: 0.002 * size });
  b.load('joint-friction', { joint, value: 0.8 * size });
}

/** A stage as it is put in, on an input shaft, with loads on what comes out. */
const stageRig = (kind: string): Rig => ({
  name: `stage ${kind}`,
  make() {
    const begun = withInputShaft(emptyDesign(kind), { type: 'motor', name: 'Motor', fields: { speed: 40 } });
    const made = insertStage(begun.design, { kind, from: begun.output })!;
    const b = new Builder();
    Object.assign(b.design, structuredClone(made.design));
    const joint = b.design.joints.find((j) => j.child === made.output)!;
    if (made.output !== begun.output) burden(b, made.output);
    if (made.output !== begun.output) along(b, joint.id, joint.type === 'prismatic' ? 40 : 1);
    lump(b, made.output);
    return b.design;
  },
});

/** A train of pairs one after the other, its lay shafts off one line. */
const gears: Rig = {
  name: 'gear train',
  make() {
    const b = new Builder();
    const [s1, s2, s3, s4] = [
      b.shaft([0, 0, 0]),
      b.shaft([(2 * 60) / Math.cos(15 * RAD) / 2, 0, 0]),
      b.shaft([(2 * 60) / Math.cos(15 * RAD) / 2, 70, 0]),
      b.shaft([(2 * 60) / Math.cos(15 * RAD) / 2 + 40, 70, 0]),
    ];
    b.mesh(b.gear(s1.member, 20, 2, { helix: 15, hand: 'left' }), b.gear(s2.member, 40, 2, { helix: 15, hand: 'right' }), { efficiency: 0.95 });
    b.mesh(b.gear(s2.member, 30, 2, { at: [0, 0, 60] }), b.gear(s3.member, 40, 2, { at: [0, 0, 60] }), { efficiency: 0.9 });
    b.mesh(b.gear(s3.member, 20, 2, { at: [0, 0, 90] }), b.gear(s4.member, 60, 2, { at: [0, 0, 90], internal: true, rim: 140 }), {
      efficiency: 0.97,
    });
    b.motor(s1.joint, 90);
    Object.assign(
      b.design.joints.find((j) => j.id === s2.joint)!,
      {
        bearings: [
          { at: -20, thrust: 'takes', form: 'rolling', inner: 20, outer: 42, width: 12, block: 'no' },
          { at: 100, thrust: 'free', form: 'rolling', inner: 20, outer: 42, width: 12, block: 'no' },
        ],
      },
    );
    along(b, s4.joint);
    burden(b, s4.member);
    lump(b, s4.member);
    return b.design;
  },
};

const sector: Rig = {
  name: 'sector',
  make() {
    const b = new Builder();
    const p = b.shaft([0, 0, 0]),
      s = b.shaft([80, 0, 0]);
    b.couple('sector-mesh', {
      a: b.element('sector', s.member, { teeth: 60, arcTeeth: 25, phase: -180 - 72, module: 2, width: 18, bore: 20 }),
      b: b.gear(p.member, 20, 2),
      efficiency: 0.93,
    });
    b.motor(p.joint, 3);
    along(b, s.joint);
    burden(b, s.member);
    lump(b, s.member);
    return b.design;
  },
};

const crossed: Rig = {
  name: 'crossed helical gears',
  make() {
    const b = new Builder();
    const r = (z: number): number => (2 * z) / Math.cos(45 * RAD) / 2;
    const s1 = b.shaft([0, 0, 0]),
      s2 = b.shaft([r(20) + r(30), 0, 0], 'frame', { axis: [0, 1, 0] });
    b.couple('crossed-gears', { a: b.gear(s1.member, 20, 2, { helix: 45 }), b: b.gear(s2.member, 30, 2, { helix: 45 }), efficiency: 0.8 });
    b.motor(s1.joint, 30);
    along(b, s2.joint);
    burden(b, s2.member);
    lump(b, s2.member);
    return b.design;
  },
};

/** Three wheels and a load on two of them. */
const belt = (form: string): Rig => ({
  name: `${form} band over three wheels`,
  make() {
    const b = new Builder();
    const toothed = form === 'toothed' || form === 'sprocket';
    const [s1, s2, s3] = [b.shaft([0, 0, 0]), b.shaft([300, 40, 0]), b.shaft([120, 260, 0])];
    const wheel = (member: string, z: number): string =>
      b.element('pulley', member, { form, width: 20, ...(toothed ? { teeth: z, pitch: 8 } : { diameter: (z * 8) / 3 }) });
    b.couple(form === 'sprocket' ? 'chain' : 'belt', {
      wheels: [wheel(s1.member, 24), wheel(s2.member, 36), wheel(s3.member, 30)],
      pretension: 400,
      efficiency: 0.94,
      ...(toothed ? {} : { creep: 0.01 }),
    });
    b.motor(s1.joint, 120);
    along(b, s2.joint);
    along(b, s3.joint, 0.5);
    burden(b, s3.member);
    lump(b, s2.member);
    return b.design;
  },
});

/** A wheel that carries a trolley along a straight rail, and one about a post along a curved one. */
const trolley: Rig = {
  name: 'wheels on rails',
  make() {
    const b = new Builder();
    const car = b.slide([0, 0, 0], X),
      axle = b.shaft([0, 0, 0], car.member, { axis: Y });
    b.couple('rolling', {
      a: b.element('wheel', axle.member, { diameter: 100, width: 20 }),
      b: b.element('track', 'frame', { length: 3000, width: 40, height: 30, at: [0, 0, -50], axis: [0, -1, 0], up: X }),
      efficiency: 0.9,
    });
    const post = b.shaft([5000, 0, 70]);
    const arm = b.shaft([6000, 0, 70], post.member, { axis: X, up: Z });
    b.couple('rolling', {
      a: b.element('wheel', arm.member, { diameter: 100, width: 20, at: [0, 0, 0] }),
      b: b.element('track', 'frame', { length: 1500, width: 40, height: 30, curve: 1000, at: [6000, 0, 20], axis: [-1, 0, 0], up: [0, -1, 0] }),
      efficiency: 0.92,
    });
    const [w1, w2] = [b.shaft([0, 500, 0]), b.shaft([60, 500, 0])];
    b.couple('rolling', {
      a: b.element('wheel', w1.member, { diameter: 40, width: 20 }),
      b: b.element('wheel', w2.member, { diameter: 80, width: 20 }),
      efficiency: 0.85,
    });
    b.motor(axle.joint, 20);
    b.motor(arm.joint, 5);
    b.motor(w1.joint, 33);
    along(b, car.joint, 30);
    along(b, post.joint);
    along(b, w2.joint);
    burden(b, car.member);
    lump(b, post.member);
    return b.design;
  },
};

const SEGMENTS = [
  { angle: 120, rise: 16, law: 'modified sine' },
  { angle: 40, rise: 0, law: 'dwell' },
  { angle: 140, rise: -16, law: '4-5-6-7' },
  { angle: 60, rise: 0, law: 'dwell' },
];
/** A cam in the middle of its rise, and its follower. */
const cam = (name: string, of: Record<string, unknown>): Rig => ({
  name: `cam, ${name}`,
  make() {
    const b = new Builder();
    const shaft = b.shaft([0, 0, 0]);
    const swing = of['carries'] === 'swinging';
    const segments = SEGMENTS.map((s) => ({ ...s, rise: swing ? s.rise * 0.8 : s.rise }));
    const e = b.element('cam', shaft.member, { base: 80, width: 10, roller: 20, segments, ...of });
    const data = camOf(b.design.elements[0]);
    if (typeof data === 'string') throw new Error(data);
    const t = touch(data.shape, 0, 0).trace;
    const f = swing ? b.shaft([data.shape.distance, 0, 0]) : b.slide([0, 0, 0], X, 'frame', { up: Y });
    const at: Vec3 = swing ? [t[0] - data.shape.distance, t[1], 0] : [t[1], 0, t[0]];
    const follower = (of['follower'] as string) ?? 'roller';
    b.couple('cam-contact', { a: e, b: b.element('follower', f.member, { form: follower, size: 20, width: 10, at }), efficiency: 0.9 });
    b.motor(shaft.joint, 60);
    b.design.joints.find((j) => j.id === shaft.joint)!.home = 50;
    if (swing) {
      b.load('joint-load', { joint: f.joint, value: 9 });
      b.load('joint-friction', { joint: f.joint, value: 0.5 });
    } else along(b, f.joint, 40);
    burden(b, f.member);
    lump(b, f.member);
    return b.design;
  },
});

/** A ratchet that holds a weight, and a clutch that takes a shaft along. */
const oneWay: Rig = {
  name: 'ratchet and clutch',
  make() {
    const b = new Builder();
    const s = b.shaft([0, 0, 0]);
    b.couple('ratchet', {
      a: b.element('ratchet-wheel', s.member, { teeth: 20, diameter: 100, width: 10 }),
      b: b.element('pawl', 'frame', { length: 40, width: 10, at: [50, -40, 0], axis: Z, up: Y }),
    });
    b.motor(s.joint, 20);
    const [d, o] = [b.shaft([400, 0, 0]), b.shaft([400, 0, 60])];
    b.couple('one-way-clutch', { a: d.joint, b: o.joint });
    b.motor(d.joint, 60);
    along(b, o.joint);
    along(b, s.joint);
    burden(b, o.member);
    lump(b, o.member);
    return b.design;
  },
};

/** One joint after the other on a rising chain, all freedoms led. */
const chainOfJoints: Rig = {
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
 * A crank, a rod, and a joint of each kind that ties the rod's end to the frame or to a slide: the loop closes there, or elsewhere
 * as the order of joints has it.
 */
const loop = (type: string, early: boolean): Rig => ({
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
const screwLoop = (early: boolean): Rig => ({
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
const tiedLoop = (early: boolean): Rig => ({
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

/** Sources that state what they give, each on a shaft with damping of its own. */
const sources: Rig = {
  name: 'sources',
  make() {
    const b = new Builder();
    const shafts = [0, 200, 400, 600, 800].map((x) => b.shaft([x, 0, 0]));
    const handle = b.element('crank', shafts[0].member, { radius: 180 });
    const source = (k: number, of: object): void =>
      void b.design.sources.push(item({ id: `s${k}`, name: `s${k}`, joint: shafts[k].joint, type: 'motor', ...of }));
    source(0, { type: 'crank', speed: 20, element: handle });
    source(1, { type: 'torque', torque: 3, speed: 60 });
    source(2, { type: 'power', power: 40, speed: 90 });
    source(3, { type: 'torque-line', stall: 6, noLoad: 300 });
    source(4, { type: 'motor', speed: -50 });
    shafts.forEach((s) => {
      b.load('joint-spring', { joint: s.joint, rate: 0, damping: 0.002 });
      b.load('joint-friction', { joint: s.joint, value: 0.2 });
    });
    for (const [k, type] of ['pointer', 'dial', 'lever', 'rod', 'block'].entries()) {
      const size = {
        pointer: { length: 60 },
        dial: { diameter: 90 },
        lever: { length: 120, eye: 30, thickness: 12 },
        rod: { diameter: 20, length: 80 },
        block: { length: 30, depth: 20, height: 10 },
      }[type]!;
      b.element(type, shafts[k].member, size);
    }
    return b.design;
  },
};

/** One source that leads a shaft, a table that lies on it, and all that rubs. */
const led = (type: string): Rig => ({
  name: `led by one ${type}`,
  make() {
    const b = new Builder();
    const s = b.shaft([0, 0, 0]);
    const handle = b.element('crank', s.member, { radius: 180 });
    const of = {
      crank: { speed: 20, element: handle },
      power: { speed: 20, power: 40 },
      torque: { speed: 20, torque: 12 },
      'torque-line': { stall: 24, noLoad: 40 },
    }[type];
    b.design.sources.push(item({ id: 'led', name: 'led', joint: s.joint, type, ...of }));
    b.element('lever', s.member, { length: 120, eye: 30, thickness: 12, at: [0, 0, 40] });
    b.element('rod', s.member, { diameter: 20, length: 80, at: [0, 0, 80] });
    const seat = b.member([0, 0, 200]);
    b.joint('fixed', s.member, seat);
    lump(b, seat);
    const table = b.member([300, 0, 0]);
    const lies = b.joint('planar', 'frame', table);
    [1, 0.5, 2].forEach((amountB, k) => b.couple('proportional', { a: s.joint, b: k ? `${lies}:${k}` : lies, amountA: 1, amountB }));
    lump(b, table);
    along(b, s.joint);
    b.load('joint-resistance', { joint: s.joint, value: 3, place: 15 });
    b.load('joint-rubbing', { joint: s.joint, coefficient: 0.05, diameter: 25, collar: 40, length: 200 });
    b.load('joint-brake', { joint: s.joint, value: 0.6 });
    return b.design;
  },
});

/** Brakes, resisting loads, friction by coefficient, rotors, a ball screw, and levers with teeth. */
const rubbing: Rig = {
  name: 'brakes, rubbing and sectors',
  make() {
    const b = new Builder();
    const s = b.shaft([0, 0, 0]),
      n = b.slide([0, 0, 100], Z);
    b.couple('screw-drive', {
      a: b.element('screw', s.member, { diameter: 32, pitch: 10, length: 400, form: 'ball', at: [0, 0, 100] }),
      b: b.element('nut', n.member, { outside: 60, bore: 32, length: 50 }),
      efficiency: 0.9,
      efficiencyBack: 0.8,
    });
    b.motor(s.joint, 60, { rotor: 0.004, brake: 12, place: -40 });
    b.load('joint-resistance', { joint: n.joint, value: 300, place: 15 });
    b.load('joint-rubbing', { joint: n.joint, coefficient: 0.12, length: 160 });
    b.load('joint-rubbing', { joint: s.joint, coefficient: 0.05, diameter: 25, collar: 40, length: 200 });
    b.load('joint-brake', { joint: s.joint, value: 0.6 });
    burden(b, n.member);
    lump(b, n.member);
    // Two levers with teeth, and one on a rack.
    const [p, q] = [b.shaft([500, 0, 0]), b.shaft([620, 0, 0])];
    const teeth = { arcTeeth: 21, module: 2, width: 18, bore: 20 };
    b.couple('sector-mesh', {
      a: b.element('sector', p.member, { teeth: 60, phase: -60, ...teeth }),
      b: b.element('sector', q.member, { teeth: 60, phase: 180 - 60 + 3, ...teeth }),
      efficiency: 0.96,
    });
    b.motor(p.joint, 2);
    along(b, q.joint);
    lump(b, q.member);
    const lever = b.shaft([900, 0, 0]),
      rack = b.slide([900, 0, 0], X, 'frame', { up: Y });
    b.couple('rack-mesh', {
      a: b.element('sector', lever.member, { teeth: 60, phase: -90 - 60, ...teeth }),
      b: b.element('rack', rack.member, { teeth: 31, module: 2, width: 18, height: 20, at: [-60, 0, 0], axis: Y, up: Z }),
      efficiency: 0.95,
    });
    b.motor(lever.joint, 2);
    along(b, rack.joint, 30);
    return settle(b.design).design;
  },
};

/** Motions in time of every kind, led by a motor and by a crank. */
const profiles: Rig = {
  name: 'motion profiles',
  make() {
    const b = new Builder();
    const of: (Partial<DrivingSource> & { through?: number })[] = [
      { profile: 'part turn', amount: 90, time: 2, speedShape: 'S-shaped' },
      { profile: 'to and fro', amount: -60, time: 3, speedShape: 'harmonic' },
      {
        profile: 'ramps',
        ramps: [
          { time: 0, speed: 0 },
          { time: 1, speed: 30 },
        ],
      },
      {
        profile: 'table',
        table: [
          { time: 0, value: 0 },
          { time: 1, value: 30 },
          { time: 2, value: 10 },
        ],
      },
      {
        profile: 'part turn',
        amount: 90,
        timing: 'speed and acceleration',
        topSpeed: 40,
        topAcceleration: 20,
        speedShape: 'S-shaped',
        jerk: 200,
        dwell: 0.3,
        repeats: 3,
      },
      { profile: 'part turn', amount: 60, timing: 'speed', topSpeed: 30, speedShape: 'polynomial 3-4-5', through: 3 },
    ];
    ['motor', 'crank'].forEach((type, row) =>
      of.forEach(({ through, ...fields }, k) => {
        const s = b.shaft([150 * k, 200 * row, 0]);
        const source: DrivingSource = item({ id: `${type}${k}`, name: `${type} ${k}`, joint: s.joint, type, speed: 20, ...fields });
        b.design.sources.push(source);
        if (through) {
          // The motion is that of another shaft, which turns the other way.
          const t = b.shaft([150 * k, 200 * row, 150]);
          lump(b, t.member);
          b.couple('proportional', { a: s.joint, amountA: through, b: t.joint, amountB: 1, reversed: true });
          state(source, { motionOf: t.joint });
        }
        lump(b, s.member);
        along(b, s.joint, 0.3);
      }),
    );
    return b.design;
  },
};

/** A ratchet wheel of which more is stated. */
const curvedRatchet: Rig = {
  name: 'ratchet with curved backs',
  make() {
    const b = new Builder();
    const s = b.shaft([0, 0, 0]);
    b.couple('ratchet', {
      a: b.element('ratchet-wheel', s.member, { teeth: 20, module: 5, width: 10, free: 'back', back: 'curved', backRadius: 30 }),
      b: b.element('pawl', 'frame', { length: 40, width: 10, at: [50, 40, 0], axis: Z, up: [0, -1, 0] }),
    });
    b.motor(s.joint, -20);
    along(b, s.joint);
    lump(b, s.member);
    return b.design;
  },
};

/** A rig with fields of some elements stated otherwise, wheels moved to where they mesh. */
const otherwise = (rig: Rig, name: string, fields: (type: string, d: Design) => object | undefined): Rig => ({
  name,
  make() {
    const d = rig.make();
    return settle({ ...d, elements: d.elements.map((e) => ({ ...e, ...fields(e.type, d) })) }).design;
  },
});

export const RIGS: readonly Rig[] = [
  ...STAGE_KINDS.filter((k) => k.kind !== 'ratchet').map((k) => stageRig(k.kind)),
  gears,
  sector,
  crossed,
  belt('flat'),
  belt('v'),
  belt('toothed'),
  belt('sprocket'),
  trolley,
  cam('translating roller', { offset: 12 }),
  cam('translating flat face', { follower: 'flat' }),
  cam('swinging roller', { carries: 'swinging', distance: 110, arm: 90 }),
  cam('swinging flat face', { carries: 'swinging', follower: 'flat', distance: 110 }),
  otherwise(stageRig('rack'), 'helical rack, 25°', (type) =>
    type === 'gear' ? { helix: 14, hand: 'right', pressureAngle: 25 } : type === 'rack' ? { helix: 14, hand: 'left', pressureAngle: 25 } : undefined,
  ),
  otherwise(sector, 'helical sector, 25°', (type) =>
    type === 'gear'
      ? { helix: 14, hand: 'right', pressureAngle: 25 }
      : type === 'sector'
        ? { helix: 14, hand: 'left', pressureAngle: 25 }
        : undefined,
  ),
  otherwise(stageRig('bevel'), 'bevel pair, 25°', (type) => (type === 'bevel-gear' ? { pressureAngle: 25 } : undefined)),
  oneWay,
  curvedRatchet,
  ...['crank', 'power', 'torque', 'torque-line'].map(led),
  rubbing,
  profiles,
  chainOfJoints,
  ...['revolute', 'prismatic', 'cylindrical', 'planar', 'spherical', 'pin-in-slot'].flatMap((t) => [loop(t, false), loop(t, true)]),
  screwLoop(false),
  screwLoop(true),
  tiedLoop(false),
  tiedLoop(true),
  sources,
];
