import { camOf } from '../../elements/index';
import { touch } from '../../cams/index';
import { type Vec3 } from '../../math/index';
import { Builder } from '../designs';
import { RAD, X, Y, Z, along, burden, lump, type Rig } from './base';

/** A train of pairs one after the other, its lay shafts off one line. */
export const gears: Rig = {
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

export const sector: Rig = {
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

export const crossed: Rig = {
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
export const belt = (form: string): Rig => ({
  name: `${form} band over three wheels`,
  make() {
    const b = new Builder();
    const toothed = form === 'toothed' || form === 'sprocket';
    const [s1, s2, s3] = [b.shaft([0, 0, 0]), b.shaft([300, 40, 0]), b.shaft([120, 260, 0])];
    const wheel = (member: string, z: number): string =>
      b.element('pulley', member, { form, width: 20, ...(toothed ? { teeth: z, pitch: 8, bore: 16 } : { diameter: (z * 8) / 3 }) });
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
export const trolley: Rig = {
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
export const cam = (name: string, of: Record<string, unknown>): Rig => ({
  name: `cam, ${name}`,
  make() {
    const b = new Builder();
    const shaft = b.shaft([0, 0, 0]);
    const swing = of['carries'] === 'swinging';
    const segments = SEGMENTS.map((s) => ({ ...s, rise: swing ? s.rise * 0.8 : s.rise }));
    const e = b.element('cam', shaft.member, { base: 80, width: 10, roller: 20, bore: 20, segments, ...of });
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
export const oneWay: Rig = {
  name: 'ratchet and clutch',
  make() {
    const b = new Builder();
    const s = b.shaft([0, 0, 0]);
    b.couple('ratchet', {
      a: b.element('ratchet-wheel', s.member, { teeth: 20, diameter: 100, width: 10, bore: 24 }),
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

export const curvedRatchet: Rig = {
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
