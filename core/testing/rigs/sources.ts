import { SAMPLES } from '../samples';
import { settle } from '../../edits/index';
import type { DrivingSource } from '../../document/kinds';
import { Builder, item, state } from '../designs';
import { X, Y, Z, along, burden, lump, type Rig } from './base';

/** Sources that state what they give, each on a shaft with damping of its own. */
export const sources: Rig = {
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

/** A shaft with imported parts off its axis, one of them with an open surface. */
export const imported: Rig = {
  name: 'imported shapes',
  make() {
    const b = new Builder();
    const s = b.shaft([0, 0, 0]);
    b.motor(s.joint, 40);
    b.element('shape', s.member, { ...SAMPLES['shape'], density: 7200, at: [10, -6, 60] });
    b.element('shape', s.member, { ...SAMPLES['shape'], open: true, lost: 'p1' });
    burden(b, s.member);
    along(b, s.joint);
    return b.design;
  },
};

/** One source that leads a shaft, a table that lies on it, and all that rubs. */
export const led = (type: string): Rig => ({
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
    Object.assign(
      b.design.members.find((m) => m.id === s.member)!,
      { inertia: [0.03, 0.04, 0.05], inertiaProducts: [0.003, -0.004, 0.002] },
    );
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
export const rubbing: Rig = {
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
export const profiles: Rig = {
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
