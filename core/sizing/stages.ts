import { Coupling, Design, Element, FRAME, Id, Joint, Member, Source } from '../fields/types';
import { Field, choiceField, exactField, flagField, numberField, wholeField } from '../fields/fields';
import { camOf, elementKind, extentOf, num } from '../elements/index';
import { touch } from '../cams/index';
import { setPhases } from '../mechanism/index';
import { Frame, Vec3, WORLD, cross, dot, frameOf, toLocalPoint, toWorldPoint, unit, vadd, vscale } from '../numeric/index';
import { ISO_54 } from './catalogue';
import { freshId, idsOf, tidy } from './edits';
import { choicesNear, mostPlanets } from './planetary';

/** Sizes by key. */
export type Values = Record<string, number | string | boolean>;

/** What a person asks for when putting a stage into the train. */
export interface StageRequest {
  kind: string;
  /** The member at which the stage begins; a new input shaft where none is named. */
  from?: Id;
  /** Sizes, by the keys of the kind's fields; what is left open has the field's initial value. */
  values?: Values;
}

/** A stage as made: a new design, what is new in it, and the member that it drives. */
export interface StageMade {
  design: Design;
  made: Id[];
  output: Id;
  coupling?: Id;
}

/** A kind of stage: what it is, which sizes it asks for, and how it is built. */
export interface StageKind {
  readonly kind: string;
  readonly label: string;
  /** What it turns into what, in a few words. */
  readonly does: string;
  /** Ratio asked for: turns of the driving for one of the driven member; or mm per turn. */
  readonly ratio?: 'turns' | 'travel';
  readonly fields: readonly Field[];
  build(b: StageBuilder): void;
  /** Sizes that come nearest to a wanted ratio. */
  forRatio?(ratio: number, values: Values): Record<string, number>;
}

const GAP = 6;

/** Puts items into a design and remembers what is new. */
class StageBuilder {
  readonly made: Id[] = [];
  output: Id = FRAME;
  coupling?: Id;
  private readonly ids: Set<Id>;
  readonly number: number;

  constructor(
    public design: Design,
    readonly from: Id,
    readonly values: Values,
  ) {
    this.ids = idsOf(design);
    this.number = 1 + design.couplings.length;
    this.output = from;
  }

  n(key: string): number {
    return num(this.values[key]);
  }
  exact(key: string): number | string {
    const v = this.values[key];
    return typeof v === 'string' ? v : Number(v);
  }
  text(key: string): string {
    return String(this.values[key]);
  }

  id(prefix: string): Id {
    const id = freshId(this.ids, prefix);
    this.ids.add(id);
    this.made.push(id);
    return id;
  }
  name(base: string): string {
    const names = new Set(
      [...this.design.members, ...this.design.elements, ...this.design.couplings, ...this.design.joints, ...(this.design.groups ?? [])].map(
        (x) => x.name,
      ),
    );
    if (!names.has(base)) return base;
    let k = 2;
    while (names.has(`${base} ${k}`)) k++;
    return `${base} ${k}`;
  }

  member(name: string, kind: Member['kind'], o: Vec3, axis: Vec3, up?: Vec3): Id {
    const id = this.id('member');
    this.design = {
      ...this.design,
      members: [...this.design.members, { id, name: this.name(name), kind, at: tidy(o), axis: tidy(axis), ...(up ? { up: tidy(up) } : {}) }],
    };
    return id;
  }
  joint(type: string, parent: Id, child: Id, more: Partial<Joint> = {}): Id {
    const id = this.id('joint');
    const of = this.design.members.find((m) => m.id === child)?.name ?? child;
    const word = type === 'prismatic' ? 'guide' : 'bearing';
    this.design = { ...this.design, joints: [...this.design.joints, { id, name: this.name(`${of} ${word}`), type, parent, child, ...more }] };
    return id;
  }
  element(type: string, member: Id, name: string, fields: Record<string, unknown>): Id {
    const id = this.id('part');
    this.design = { ...this.design, elements: [...this.design.elements, { id, name: this.name(name), type, member, ...fields } as Element] };
    return id;
  }
  couple(type: string, name: string, fields: Record<string, unknown>): Id {
    const id = this.id('tie');
    this.coupling ??= id;
    this.design = { ...this.design, couplings: [...this.design.couplings, { id, name: this.name(name), type, ...fields } as Coupling] };
    return id;
  }
  /** A shaft with its revolute joint about its own z axis. */
  shaft(name: string, o: Vec3, axis: Vec3, up: Vec3, parent: Id = this.carrier): Id {
    const m = this.member(name, 'shaft', o, axis, up);
    this.joint('revolute', parent, m);
    return m;
  }
  slide(name: string, o: Vec3, axis: Vec3, up: Vec3, parent: Id = this.carrier): Id {
    const m = this.member(name, 'slide', o, axis, up);
    this.joint('prismatic', parent, m);
    return m;
  }

  /** What carries the member at which the stage begins. */
  get carrier(): Id {
    return this.design.joints.find((j) => j.child === this.from)?.parent ?? FRAME;
  }
  frameOf(member: Id): Frame {
    const m = this.design.members.find((x) => x.id === member);
    return m ? frameOf(m.at ?? [0, 0, 0], m.axis, m.up) : WORLD;
  }
  /** Place along the member's axis beyond everything that is on it, for something of the given width: its middle. mm */
  next(member: Id, width: number): number {
    let end = -Infinity;
    for (const e of this.design.elements) {
      if (e.member !== member || e.type === 'rod') continue;
      const box = extentOf(elementKind(e.type)!, e);
      const f = frameOf(e.at ?? [0, 0, 0], e.axis ?? [0, 0, 1], e.up ?? (e.axis ? undefined : [1, 0, 0]));
      if (box) {
        for (const x of [box[0][0], box[1][0]]) {
          for (const y of [box[0][1], box[1][1]]) for (const z of [box[0][2], box[1][2]]) end = Math.max(end, toWorldPoint(f, [x, y, z])[2]);
        }
      }
    }
    return Number.isFinite(end) ? Math.round(end + GAP + width / 2) : 0;
  }
  /** Direction across the axis in which the next shaft lies: as asked, or away from what is there. */
  direction(f: Frame): Vec3 {
    const a = (this.n('angle') * Math.PI) / 180;
    return vadd(vscale(f.x, Math.cos(a)), vscale(f.y, Math.sin(a)));
  }
}

const ANGLE = numberField('angle', 'Direction of the line of centres', {
  unit: 'deg',
  initial: 0,
  min: -360,
  max: 360,
  help: 'About the driving axis, from its own x.',
});
const MODULE = exactField('module', 'Module', { unit: 'mm', symbol: 'm', initial: 2, above: 0, max: 100 });
const WIDTH = numberField('width', 'Face width', { unit: 'mm', symbol: 'b', initial: 20, above: 0, max: 1e4 });
const teeth = (key: string, label: string, initial: number, min = 6): Field => wholeField(key, label, { initial, min, max: 2000 });

/** Counts whose quotient is nearest to the ratio, small first; a prime pair where two are equally near, so that wear spreads. */
export function countsFor(ratio: number, least: number, most: number, wheelMost = 400): [number, number] {
  let best: [number, number] = [least, Math.round(least * ratio)],
    off = Infinity;
  for (let a = least; a <= most; a++) {
    const b = Math.max(least, Math.min(wheelMost, Math.round(a * ratio)));
    const d = Math.abs(b / a / ratio - 1);
    if (d < off - 1e-12) {
      best = [a, b];
      off = d;
    }
  }
  return best;
}
const pairFor = (ratio: number): Record<string, number> => {
  const up = ratio < 1;
  const [a, b] = countsFor(up ? 1 / ratio : ratio, 18, 36);
  return up ? { z1: b, z2: a } : { z1: a, z2: b };
};

function cylindrical(b: StageBuilder, helix: number): void {
  const f = b.frameOf(b.from);
  const m = b.n('module'),
    w = b.n('width');
  const z = b.next(b.from, w);
  const at: Vec3 = [0, 0, z];
  const d = b.direction(f);
  const mt = m / Math.cos((helix * Math.PI) / 180);
  const a = (mt * (b.n('z1') + b.n('z2'))) / 2;
  const o = vadd(vadd(f.o, vscale(f.z, z)), vscale(d, a));
  const out = b.shaft('Shaft', o, f.z, f.x);
  const tilt = helix ? { helix } : {};
  const g1 = b.element('gear', b.from, 'Pinion', { teeth: b.n('z1'), module: b.exact('module'), width: w + 2, at, ...tilt });
  const g2 = b.element('gear', out, 'Wheel', { teeth: b.n('z2'), module: b.exact('module'), width: w, ...tilt, ...(helix ? { hand: 'left' } : {}) });
  b.couple('gear-pair', helix ? 'Helical pair' : 'Spur pair', { a: g1, b: g2 });
  b.output = out;
}

const perpendicular = (f: Frame, b: StageBuilder): [Vec3, Vec3] => {
  const d = b.direction(f);
  return [d, cross(f.z, d)];
};

function run(b: StageBuilder, form: 'v' | 'flat' | 'toothed' | 'sprocket'): void {
  const f = b.frameOf(b.from),
    w = b.n('width');
  const z = b.next(b.from, w),
    d = b.direction(f);
  const counted = form === 'toothed' || form === 'sprocket';
  const size = (k: 1 | 2): Record<string, unknown> =>
    counted ? { form, pitch: b.exact('pitch'), teeth: b.n(`z${k}`), width: w } : { form, diameter: b.exact(`d${k}`), width: w };
  const radius = (k: 1 | 2): number => (counted ? (b.n(`z${k}`) * b.n('pitch')) / (2 * Math.PI) : b.n(`d${k}`) / 2);
  const r1 = radius(1),
    r2 = radius(2);
  let a = b.n('distance') || Math.round(1.5 * (r1 + r2) + 20);
  if (counted && !b.n('distance')) {
    // The nearest distance at which the belt has a whole number of teeth, or the chain an even number of links.
    const p = b.n('pitch');
    const length = (c: number): number => {
      const s = Math.asin((r2 - r1) / c);
      return 2 * c * Math.cos(s) + Math.PI * (r1 + r2) + 2 * s * (r2 - r1);
    };
    const step = form === 'sprocket' ? 2 * p : p;
    const want = Math.ceil(length(a) / step) * step;
    let lo = a,
      hi = a + 4 * step;
    for (let k = 0; k < 60; k++) {
      const mid = (lo + hi) / 2;
      if (length(mid) < want) lo = mid;
      else hi = mid;
    }
    a = (lo + hi) / 2;
  }
  const o = vadd(vadd(f.o, vscale(f.z, z)), vscale(d, a));
  const out = b.shaft('Shaft', o, f.z, f.x);
  const word = form === 'sprocket' ? 'Sprocket' : 'Pulley';
  const p1 = b.element('pulley', b.from, word, { ...size(1), at: [0, 0, z] });
  const p2 = b.element('pulley', out, word, size(2));
  b.couple(
    form === 'sprocket' ? 'chain' : 'belt',
    form === 'sprocket' ? 'Chain' : form === 'toothed' ? 'Toothed belt' : form === 'v' ? 'V-belt' : 'Flat belt',
    {
      wheels: [p1, p2],
    },
  );
  b.output = out;
}
const DISTANCE = numberField('distance', 'Centre distance', { unit: 'mm', initial: 0, min: 0, max: 1e5, help: 'Nought: proposed.' });
const rims = (ratio: number, v: Values): Record<string, number> => {
  const d1 = num(v['d1'] as number, 80);
  return ratio >= 1 ? { d1, d2: Number((d1 * ratio).toPrecision(10)) } : { d1: Number((d1 / ratio).toPrecision(10)), d2: d1 };
};
const chainCounts =
  (least: number, most: number) =>
  (ratio: number): Record<string, number> => {
    const up = ratio < 1;
    const [a, b] = countsFor(up ? 1 / ratio : ratio, least, most);
    return up ? { z1: b, z2: a } : { z1: a, z2: b };
  };

const frictionBelt = (kind: string, label: string, form: 'v' | 'flat', width: number): StageKind => ({
  kind,
  label,
  does: 'turn at a distance',
  ratio: 'turns',
  fields: [
    exactField('d1', 'Diameter of the driver', { unit: 'mm', initial: 100, above: 0, max: 1e4 }),
    exactField('d2', 'Diameter of the driven', { unit: 'mm', initial: 200, above: 0, max: 1e4 }),
    { ...WIDTH, label: 'Width', initial: width },
    DISTANCE,
    ANGLE,
  ],
  forRatio: rims,
  build: (b) => run(b, form),
});

/** Every kind of stage that can be put into a train. */
export const STAGE_KINDS: readonly StageKind[] = [
  {
    kind: 'spur',
    label: 'Spur pair',
    does: 'turn to turn, opposite sense',
    ratio: 'turns',
    fields: [teeth('z1', 'Teeth of the pinion', 20), teeth('z2', 'Teeth of the wheel', 60), MODULE, WIDTH, ANGLE],
    forRatio: pairFor,
    build: (b: StageBuilder): void => cylindrical(b, 0),
  },
  {
    kind: 'helical',
    label: 'Helical pair',
    does: 'the same, quietly',
    ratio: 'turns',
    fields: [
      teeth('z1', 'Teeth of the pinion', 20),
      teeth('z2', 'Teeth of the wheel', 60),
      MODULE,
      WIDTH,
      numberField('helix', 'Helix angle', { unit: 'deg', symbol: 'β', initial: 15, above: 0, max: 45 }),
      ANGLE,
    ],
    forRatio: pairFor,
    build: (b: StageBuilder): void => cylindrical(b, b.n('helix')),
  },
  {
    kind: 'internal',
    label: 'Internal pair',
    does: 'turn to turn, same sense',
    ratio: 'turns',
    fields: [teeth('z1', 'Teeth of the pinion', 24), teeth('z2', 'Teeth of the ring', 84, 20), MODULE, WIDTH, ANGLE],
    forRatio: (ratio: number): Record<string, number> => {
      const [a, c] = countsFor(Math.max(2, ratio), 24, 40);
      return { z1: a, z2: c };
    },
    build(b: StageBuilder): void {
      const f = b.frameOf(b.from),
        m = b.n('module'),
        w = b.n('width');
      const z = b.next(b.from, w);
      const o = vadd(vadd(f.o, vscale(f.z, z)), vscale(b.direction(f), (m * (b.n('z2') - b.n('z1'))) / 2));
      const out = b.shaft('Ring shaft', o, f.z, f.x);
      const g1 = b.element('gear', b.from, 'Pinion', { teeth: b.n('z1'), module: b.exact('module'), width: w + 2, at: [0, 0, z] });
      const g2 = b.element('gear', out, 'Ring', {
        teeth: b.n('z2'),
        module: b.exact('module'),
        width: w,
        internal: true,
        rim: Math.round(m * (b.n('z2') + 8)),
      });
      b.couple('gear-pair', 'Internal pair', { a: g1, b: g2 });
      b.output = out;
    },
  },
  {
    kind: 'bevel',
    label: 'Bevel pair',
    does: 'turn to turn round a corner',
    ratio: 'turns',
    fields: [
      teeth('z1', 'Teeth of the pinion', 20),
      teeth('z2', 'Teeth of the wheel', 40),
      exactField('module', 'Outer module', { unit: 'mm', symbol: 'me', initial: 3, above: 0, max: 100 }),
      numberField('corner', 'Angle between the axes', { unit: 'deg', symbol: 'Σ', initial: 90, min: 20, max: 150 }),
      ANGLE,
    ],
    forRatio: pairFor,
    build(b: StageBuilder): void {
      const f = b.frameOf(b.from);
      const m = b.n('module'),
        z1 = b.n('z1'),
        z2 = b.n('z2'),
        sigma = (b.n('corner') * Math.PI) / 180;
      const d1 = Math.atan2(Math.sin(sigma), z2 / z1 + Math.cos(sigma)),
        d2 = sigma - d1;
      const cone = (m * z1) / 2 / Math.sin(d1);
      const width = Number(Math.min(cone / 3, 10 * m).toFixed(2));
      // The pinion's cone opens back towards the shaft it is on: its apex lies ahead by the wheel's reach.
      const place = b.next(b.from, 0) + Math.ceil(cone * Math.cos(d1) + 2 * m) + GAP;
      const d = b.direction(f);
      const apex = vadd(f.o, vscale(f.z, place));
      const back = vscale(f.z, -1);
      const axis = vadd(vscale(back, Math.cos(sigma)), vscale(d, Math.sin(sigma)));
      const out = b.shaft('Cross shaft', apex, axis, f.z);
      const g1 = b.element('bevel-gear', b.from, 'Bevel pinion', {
        teeth: z1,
        module: b.exact('module'),
        coneAngle: Number(((d1 * 180) / Math.PI).toFixed(10)),
        width,
        at: [0, 0, place],
        axis: [0, 0, -1],
        up: [1, 0, 0],
      });
      const g2 = b.element('bevel-gear', out, 'Bevel wheel', {
        teeth: z2,
        module: b.exact('module'),
        coneAngle: Number(((d2 * 180) / Math.PI).toFixed(10)),
        width,
      });
      b.couple('bevel-pair', 'Bevel pair', { a: g1, b: g2 });
      b.output = out;
    },
  },
  {
    kind: 'worm',
    label: 'Worm drive',
    does: 'turn to slow turn across',
    ratio: 'turns',
    fields: [
      wholeField('starts', 'Starts of the worm', { initial: 1, min: 1, max: 12 }),
      teeth('z2', 'Teeth of the wheel', 40, 20),
      exactField('module', 'Axial module', { unit: 'mm', symbol: 'mx', initial: 3, above: 0, max: 100 }),
      numberField('quotient', 'Diameter quotient', { symbol: 'q', initial: 10, min: 6, max: 25 }),
      ANGLE,
    ],
    forRatio: (ratio: number): Record<string, number> => {
      const starts = ratio >= 28 ? 1 : ratio >= 14 ? 2 : 4;
      return { starts, z2: Math.max(20, Math.round(ratio * starts)) };
    },
    build(b: StageBuilder): void {
      const f = b.frameOf(b.from);
      const m = b.n('module'),
        d1 = Number((m * b.n('quotient')).toPrecision(12));
      const length = Math.ceil(m * (12 + 0.1 * b.n('z2')));
      const z = b.next(b.from, length);
      const [d, side] = perpendicular(f, b);
      const o = vadd(vadd(f.o, vscale(f.z, z)), vscale(d, (d1 + m * b.n('z2')) / 2));
      const out = b.shaft('Wheel shaft', o, side, f.z);
      const lead = (Math.atan((m * b.n('starts')) / d1) * 180) / Math.PI;
      const g1 = b.element('worm', b.from, 'Worm', { starts: b.n('starts'), module: b.exact('module'), diameter: d1, length, at: [0, 0, z] });
      const g2 = b.element('worm-wheel', out, 'Worm wheel', {
        teeth: b.n('z2'),
        module: b.exact('module'),
        width: Math.round(0.7 * d1),
        twist: Number(lead.toFixed(6)),
      });
      b.couple('worm-drive', 'Worm drive', { a: g1, b: g2 });
      b.output = out;
    },
  },
  {
    kind: 'rack',
    label: 'Rack and pinion',
    does: 'turn to travel',
    ratio: 'travel',
    fields: [
      teeth('z1', 'Teeth of the pinion', 20),
      teeth('z2', 'Teeth of the rack', 60, 4),
      MODULE,
      WIDTH,
      numberField('height', 'Body height of the rack', { unit: 'mm', initial: 16, above: 0, max: 1e4 }),
      ANGLE,
    ],
    forRatio: (travel: number, v: Values): Record<string, number> => {
      const z = (m: number): number => Math.round(travel / (Math.PI * m));
      const asked = num(v['module'] as number, 2);
      const m = z(asked) >= 14 ? asked : ([...ISO_54].reverse().find((x) => x < asked && z(x) >= 14) ?? ISO_54[0]);
      return { module: m, z1: Math.max(12, z(m)) };
    },
    build(b: StageBuilder): void {
      const f = b.frameOf(b.from),
        m = b.n('module'),
        w = b.n('width');
      const z = b.next(b.from, w);
      const [d, along] = perpendicular(f, b);
      const o = vadd(vadd(f.o, vscale(f.z, z)), vscale(d, (m * b.n('z1')) / 2));
      const out = b.slide('Rack slide', o, along, d);
      // The slide's z runs along the travel, its x away from the pinion. The rack's x is the travel, its teeth point back to the pinion.
      const g1 = b.element('gear', b.from, 'Rack pinion', { teeth: b.n('z1'), module: b.exact('module'), width: w + 2, at: [0, 0, z] });
      const own = b.frameOf(out);
      const yAxis = vscale(d, -1),
        zAxis = cross(along, yAxis);
      const local = (v: Vec3): Vec3 => tidy([dot(own.x, v), dot(own.y, v), dot(own.z, v)]);
      const g2 = b.element('rack', out, 'Rack', {
        teeth: b.n('z2'),
        module: b.exact('module'),
        width: w,
        height: Math.max(b.n('height'), 2.6 * m),
        at: [0, 0, 0],
        axis: local(zAxis),
        up: local(along),
      });
      b.couple('rack-mesh', 'Rack mesh', { a: g1, b: g2 });
      b.output = out;
    },
  },
  frictionBelt('v-belt', 'V-belt', 'v', 20),
  frictionBelt('flat-belt', 'Flat belt', 'flat', 30),
  {
    kind: 'toothed-belt',
    label: 'Toothed belt',
    does: 'turn at a distance, no slip',
    ratio: 'turns',
    fields: [
      teeth('z1', 'Teeth of the driver', 20, 10),
      teeth('z2', 'Teeth of the driven', 40, 10),
      exactField('pitch', 'Belt pitch', { unit: 'mm', symbol: 'p', initial: 5, above: 0, max: 100 }),
      { ...WIDTH, label: 'Width', initial: 15 },
      DISTANCE,
      ANGLE,
    ],
    forRatio: chainCounts(16, 36),
    build: (b: StageBuilder): void => run(b, 'toothed'),
  },
  {
    kind: 'chain',
    label: 'Chain',
    does: 'turn at a distance, no slip',
    ratio: 'turns',
    fields: [
      teeth('z1', 'Teeth of the driver', 17, 9),
      teeth('z2', 'Teeth of the driven', 34, 9),
      exactField('pitch', 'Chain pitch', { unit: 'mm', symbol: 'p', initial: 12.7, above: 0, max: 200 }),
      { ...WIDTH, label: 'Width', initial: 8 },
      DISTANCE,
      ANGLE,
    ],
    forRatio: chainCounts(17, 31),
    build: (b: StageBuilder): void => run(b, 'sprocket'),
  },
  {
    kind: 'screw',
    label: 'Screw and nut',
    does: 'turn to travel along the axis',
    ratio: 'travel',
    fields: [
      exactField('diameter', 'Nominal diameter', { unit: 'mm', symbol: 'd', initial: 24, above: 0, max: 1e3 }),
      exactField('pitch', 'Pitch', { unit: 'mm', symbol: 'P', initial: 5, above: 0, max: 200 }),
      wholeField('starts', 'Starts', { initial: 1, min: 1, max: 12 }),
      choiceField('hand', 'Hand', ['right', 'left'], { initial: 'right' }),
      numberField('length', 'Threaded length', { unit: 'mm', initial: 300, above: 0, max: 1e5 }),
    ],
    // More starts where one thread would be too steep for its diameter.
    forRatio: (travel: number, v: Values): Record<string, number> => {
      const starts = Math.min(12, Math.max(1, Math.ceil(travel / (0.35 * num(v['diameter'] as number, 24)))));
      return { starts, pitch: Number((travel / starts).toPrecision(10)) };
    },
    build(b: StageBuilder): void {
      const f = b.frameOf(b.from);
      const L = b.n('length');
      const z = b.next(b.from, L);
      const d = b.n('diameter');
      const o = vadd(f.o, vscale(f.z, z));
      const out = b.slide('Nut slide', o, f.z, f.x);
      const s = b.element('screw', b.from, 'Screw', {
        diameter: b.exact('diameter'),
        pitch: b.exact('pitch'),
        starts: b.n('starts'),
        hand: b.text('hand'),
        length: L,
        at: [0, 0, z],
      });
      const n = b.element('nut', out, 'Nut', { outside: Math.round(2.2 * d), bore: d, length: Math.round(1.8 * d) });
      b.couple('screw-drive', 'Screw drive', { a: s, b: n });
      b.output = out;
    },
  },
  {
    kind: 'planetary',
    label: 'Planetary set',
    does: 'turn to turn on one axis',
    ratio: 'turns',
    fields: [
      teeth('sun', 'Teeth of the sun', 24, 8),
      teeth('planet', 'Teeth of a planet', 30, 8),
      wholeField('planets', 'Planets', { initial: 3, min: 1, max: 8 }),
      choiceField('held', 'Held', ['ring', 'sun', 'carrier'], {
        initial: 'ring',
        help: 'With the sun held, the ring is driven; with the ring or the carrier held, the sun.',
      }),
      MODULE,
      WIDTH,
    ],
    forRatio: (ratio: number, v: Values): Record<string, number> => {
      const n = num(v['planets'] as number, 3);
      const held = v['held'];
      // Ring held: 1 + zr/zs; sun held: 1 + zs/zr; carrier held: zr/zs.
      const q = held === 'sun' ? 1 / Math.max(1e-3, ratio - 1) : held === 'carrier' ? ratio : ratio - 1;
      const sun = 24;
      const near = choicesNear(sun, Math.max(sun + 16, 2 * Math.round((sun * Math.min(12, Math.max(1.5, q))) / 2)), n, 1)[0];
      return near ? { sun: near.sun, planet: near.planet } : ({} as Record<string, number>);
    },
    build(b: StageBuilder): void {
      const f = b.frameOf(b.from);
      const m = b.n('module'),
        w = b.n('width'),
        zs = b.n('sun'),
        zp = b.n('planet'),
        zr = zs + 2 * zp,
        held = b.text('held');
      const z = b.next(b.from, w);
      const o = vadd(f.o, vscale(f.z, z));
      const base = b.carrier;
      const local = (member: Id): Vec3 => (member === b.from ? [0, 0, z] : tidy(toLocalPoint(b.frameOf(member), o)));
      const onFrame = (member: Id): Record<string, unknown> =>
        member === FRAME
          ? { at: tidy(o), axis: tidy(f.z), up: tidy(f.x) }
          : { at: local(member), ...(member === b.from ? {} : placeOn(b.frameOf(member), f)) };
      const carrier = held === 'carrier' ? base : b.member('Planet carrier', 'carrier', o, f.z, f.x);
      if (held !== 'carrier') b.joint('revolute', base, carrier);
      const sunOn = held === 'sun' ? base : b.from;
      let ringOn = held === 'ring' ? base : b.from;
      if (held === 'carrier') ringOn = b.shaft('Ring shaft', o, f.z, f.x, base);
      const s = b.element('gear', sunOn, 'Sun', { teeth: zs, module: b.exact('module'), width: w, ...onFrame(sunOn) });
      const r = b.element('gear', ringOn, 'Ring', {
        teeth: zr,
        module: b.exact('module'),
        width: w,
        internal: true,
        rim: Math.round(m * (zr + 8)),
        ...onFrame(ringOn),
      });
      for (let k = 0; k < b.n('planets'); k++) {
        const a = (2 * Math.PI * k) / b.n('planets');
        const p = vadd(o, vadd(vscale(f.x, ((m * (zs + zp)) / 2) * Math.cos(a)), vscale(f.y, ((m * (zs + zp)) / 2) * Math.sin(a))));
        const pin = b.shaft('Planet', p, f.z, f.x, carrier);
        const g = b.element('gear', pin, 'Planet wheel', { teeth: zp, module: b.exact('module'), width: w });
        b.couple('gear-pair', 'Sun mesh', { a: s, b: g });
        b.couple('gear-pair', 'Ring mesh', { a: g, b: r });
      }
      b.output = held === 'carrier' ? ringOn : carrier;
    },
  },
  {
    kind: 'differential',
    label: 'Differential',
    does: 'turn to the sum of two turns',
    fields: [teeth('z', 'Teeth of each bevel', 20), exactField('module', 'Outer module', { unit: 'mm', initial: 3, above: 0, max: 100 })],
    build(b: StageBuilder): void {
      const f = b.frameOf(b.from);
      const m = b.n('module'),
        z = b.n('z');
      const width = Number(Math.min((m * z) / 2 / Math.SQRT1_2 / 3, 10 * m).toFixed(2));
      const reach = Math.ceil((m * z) / 2 + 2 * m + GAP);
      const place = b.next(b.from, 0) + 2 * reach;
      const o = vadd(f.o, vscale(f.z, place));
      const base = b.carrier;
      const g = { teeth: z, module: b.exact('module'), coneAngle: 45, width };
      const left = b.shaft('Side shaft', o, vscale(f.z, -1), f.x, base);
      const right = b.shaft('Side shaft', o, f.z, f.x, base);
      const pin = b.member('Differential planet', 'shaft', o, f.x, f.z);
      b.joint('revolute', b.from, pin);
      const gl = b.element('bevel-gear', left, 'Side wheel', g),
        gr = b.element('bevel-gear', right, 'Side wheel', g),
        gp = b.element('bevel-gear', pin, 'Planet wheel', g);
      b.couple('bevel-pair', 'Differential, one side', { a: gl, b: gp });
      b.couple('bevel-pair', 'Differential, other side', { a: gr, b: gp });
      b.output = right;
    },
  },
  {
    kind: 'rolling',
    label: 'Rolling wheel',
    does: 'turn to travel without teeth',
    ratio: 'travel',
    fields: [
      exactField('diameter', 'Rolling diameter', { unit: 'mm', symbol: 'd', initial: 100, above: 0, max: 1e4 }),
      numberField('length', 'Length of the track', { unit: 'mm', initial: 600, above: 0, max: 1e6 }),
      { ...WIDTH, label: 'Width', initial: 20 },
      ANGLE,
    ],
    forRatio: (travel: number): Record<string, number> => ({ diameter: Number((travel / Math.PI).toPrecision(10)) }),
    build(b: StageBuilder): void {
      const f = b.frameOf(b.from),
        w = b.n('width'),
        r = b.n('diameter') / 2;
      const z = b.next(b.from, w);
      const [d, along] = perpendicular(f, b);
      const o = vadd(vadd(f.o, vscale(f.z, z)), vscale(d, r));
      const out = b.slide('Track slide', o, along, d);
      const own = b.frameOf(out);
      const local = (v: Vec3): Vec3 => tidy([dot(own.x, v), dot(own.y, v), dot(own.z, v)]);
      const wheel = b.element('wheel', b.from, 'Wheel', { diameter: b.exact('diameter'), width: w, at: [0, 0, z] });
      const track = b.element('track', out, 'Track', {
        length: b.n('length'),
        width: w + 4,
        height: Math.max(8, Math.round(0.1 * r)),
        at: [0, 0, 0],
        axis: local(cross(along, vscale(d, -1))),
        up: local(along),
      });
      b.couple('rolling', 'Rolling contact', { a: wheel, b: track });
      b.output = out;
    },
  },
  {
    kind: 'proportional',
    label: 'Proportional motion',
    does: 'any motion to any motion, by a typed pair',
    fields: [
      exactField('amountA', 'This much of the driver', { initial: 1, above: 0, max: 1e6, help: 'Turns, or mm of a slide.' }),
      exactField('amountB', 'moves it by', { initial: 1, above: 0, max: 1e6, help: 'Turns, or mm of a slide.' }),
      choiceField('moves', 'What is moved', ['dial', 'slide'], { initial: 'dial' }),
      flagField('reversed', 'In the opposite sense', { initial: false }),
      ANGLE,
    ],
    build(b: StageBuilder): void {
      const f = b.frameOf(b.from);
      const j = b.design.joints.find((x) => x.child === b.from)!;
      const [d, side] = perpendicular(f, b);
      const z = b.next(b.from, 4);
      const o = vadd(vadd(f.o, vscale(f.z, z)), vscale(d, 140));
      let out: Id;
      if (b.text('moves') === 'slide') {
        out = b.slide('Indicator slide', o, side, d, FRAME);
        b.element('block', out, 'Indicator', { length: 30, depth: 12, height: 40 });
      } else {
        out = b.shaft('Pointer shaft', o, f.z, f.x, FRAME);
        b.element('pointer', out, 'Pointer', { length: 45 });
        b.element('dial', FRAME, 'Dial', { diameter: 110, divisions: 12, at: tidy(o), axis: tidy(f.z), up: tidy(f.x) });
      }
      const own = b.design.joints.find((x) => x.child === out)!;
      b.couple('proportional', 'Proportional motion', {
        a: j.id,
        amountA: b.exact('amountA'),
        b: own.id,
        amountB: b.exact('amountB'),
        ...(b.values['reversed'] === true ? { reversed: true } : {}),
      });
      b.output = out;
    },
  },
  {
    kind: 'one-way',
    label: 'One-way clutch',
    does: 'turn to turn, in one sense only',
    fields: [
      choiceField('grips', 'Takes along', ['forward', 'back'], { initial: 'forward' }),
      numberField('diameter', 'Diameter', { unit: 'mm', initial: 40, above: 0, max: 1e4 }),
    ],
    build(b: StageBuilder): void {
      const f = b.frameOf(b.from);
      const d = b.n('diameter');
      const z = b.next(b.from, 20);
      const out = b.shaft('Overrunning shaft', vadd(f.o, vscale(f.z, z + 10 + GAP)), f.z, f.x);
      b.element('rod', b.from, 'Clutch hub', { diameter: d, length: 20, at: [0, 0, z] });
      b.element('rod', out, 'Clutch ring', { diameter: d, length: 20, at: [0, 0, 10] });
      const a = b.design.joints.find((x) => x.child === b.from)!,
        c = b.design.joints.find((x) => x.child === out)!;
      b.couple('one-way-clutch', 'One-way clutch', { a: a.id, b: c.id, grips: b.text('grips') });
      b.output = out;
    },
  },
  {
    kind: 'ratchet',
    label: 'Ratchet and pawl',
    does: 'holds against turning back',
    fields: [
      teeth('z', 'Teeth', 24, 6),
      numberField('diameter', 'Outside diameter', { unit: 'mm', initial: 90, above: 0, max: 1e4 }),
      { ...WIDTH, label: 'Width', initial: 10 },
      wholeField('pawls', 'Pawls, evenly staggered', { initial: 1, min: 1, max: 6 }),
      choiceField('free', 'Lets it turn', ['forward', 'back'], { initial: 'forward' }),
    ],
    build(b: StageBuilder): void {
      const f = b.frameOf(b.from);
      const w = b.n('width'),
        R = b.n('diameter') / 2;
      const z = b.next(b.from, w);
      const wheel = b.element('ratchet-wheel', b.from, 'Ratchet wheel', {
        teeth: b.n('z'),
        diameter: 2 * R,
        width: w,
        free: b.text('free'),
        at: [0, 0, z],
      });
      const sense = b.text('free') === 'back' ? -1 : 1;
      const o = vadd(vadd(f.o, vscale(f.z, z)), vadd(vscale(f.y, 1.25 * R), vscale(f.x, sense * 0.7 * R)));
      const nose = vadd(vscale(f.x, -sense * 0.75), vscale(f.y, -0.25));
      const carrier = b.carrier;
      const own = b.frameOf(carrier);
      const local = (v: Vec3): Vec3 => tidy([dot(own.x, v), dot(own.y, v), dot(own.z, v)]);
      const p = b.element('pawl', carrier, 'Pawl', {
        length: Math.round(0.85 * R),
        width: w,
        at: tidy(toLocalPoint(own, o)),
        axis: local(f.z),
        up: local(unit(nose)),
      });
      b.couple('ratchet', 'Ratchet and pawl', { a: wheel, b: p, ...(b.n('pawls') > 1 ? { pawls: b.n('pawls') } : {}) });
    },
  },
  {
    kind: 'cam',
    label: 'Cam and follower',
    does: 'turn to a stated motion',
    fields: [
      numberField('base', 'Base circle diameter', { unit: 'mm', initial: 80, above: 0, max: 1e4 }),
      numberField('lift', 'Lift', { unit: 'mm', initial: 15, above: 0, max: 1e3 }),
      numberField('rise', 'Angle of the rise', { unit: 'deg', initial: 120, min: 20, max: 170 }),
      choiceField('law', 'Law', ['cycloidal', 'harmonic', 'modified sine', 'modified trapezoid', '3-4-5', '4-5-6-7'], { initial: 'modified sine' }),
      numberField('roller', 'Roller diameter', { unit: 'mm', initial: 20, above: 0, max: 500 }),
      { ...WIDTH, label: 'Width', initial: 14 },
      ANGLE,
    ],
    build(b: StageBuilder): void {
      const f = b.frameOf(b.from);
      const w = b.n('width');
      const z = b.next(b.from, w);
      const [d] = perpendicular(f, b);
      const law = b.text('law'),
        rise = b.n('rise'),
        rest = (360 - 2 * rise) / 2;
      const segments = [
        { angle: rise, rise: b.n('lift'), law },
        { angle: rest, rise: 0, law: 'dwell' },
        { angle: rise, rise: -b.n('lift'), law },
        { angle: rest, rise: 0, law: 'dwell' },
      ];
      // Turned so that the rise begins under the follower.
      const cam = b.element('cam', b.from, 'Cam', {
        base: b.n('base'),
        roller: b.n('roller'),
        segments,
        phase: b.n('angle'),
        width: w,
        at: [0, 0, z],
      });
      const data = camOf(b.design.elements[b.design.elements.length - 1]);
      if (typeof data === 'string') return;
      const t = touch(data.shape, 0, 0).trace;
      const out = b.slide('Follower slide', vadd(vadd(f.o, vscale(f.z, z)), vscale(d, t[0])), d, f.z);
      const own = b.frameOf(out);
      const local = (v: Vec3): Vec3 => tidy([dot(own.x, v), dot(own.y, v), dot(own.z, v)]);
      const fo = b.element('follower', out, 'Follower', {
        form: 'roller',
        size: b.n('roller'),
        width: w,
        stem: Math.round(b.n('base')),
        axis: local(f.z),
        up: local(cross(d, f.z)),
      });
      b.couple('cam-contact', 'Cam contact', { a: cam, b: fo });
      b.output = out;
    },
  },
];

/** Axis and up of a frame as another states them. */
const placeOn = (own: Frame, f: Frame): { axis: Vec3; up: Vec3 } => {
  const local = (v: Vec3): Vec3 => tidy([dot(own.x, v), dot(own.y, v), dot(own.z, v)]);
  return { axis: local(f.z), up: local(f.x) };
};

export const stageKind = (kind: string): StageKind | undefined => STAGE_KINDS.find((k) => k.kind === kind);

/** The values of a request with what is left open filled in. */
export function stageValues(kind: StageKind, given: Values = {}): Values {
  return { ...Object.fromEntries(kind.fields.map((f) => [f.key, f.initial ?? 0])), ...given };
}

/** What is wrong with the sizes asked for, with the field; beyond what each field says of itself. */
export function stageProblem(kind: StageKind, values: Values): { field: string; message: string; choices?: Record<string, number>[] } | undefined {
  const v = (k: string): number => num(values[k] as number);
  if (kind.kind === 'planetary') {
    const sun = v('sun'),
      planet = v('planet'),
      n = v('planets'),
      ring = sun + 2 * planet;
    const near = choicesNear(sun, ring, n).map((c) => ({ sun: c.sun, planet: c.planet }));
    if ((sun + ring) % n) {
      return {
        field: 'sun',
        message: `${n} even planets need (sun + ring) divisible by ${n}; ${sun} + ${ring} = ${sun + ring} is not`,
        choices: near,
      };
    }
    if (n > 1 && mostPlanets(sun, planet) < n) {
      return {
        field: 'planets',
        message: `at most ${mostPlanets(sun, planet)} planets of ${planet} teeth stand beside each other round ${sun}`,
        choices: near,
      };
    }
  }
  if (kind.kind === 'internal' && v('z2') - v('z1') < 10) return { field: 'z2', message: 'a ring needs at least ten teeth more than its pinion' };
  if (kind.kind === 'cam' && v('base') < v('lift')) return { field: 'base', message: 'the base circle should be larger than the lift' };
  return undefined;
}

/** Members at which a stage of this kind can begin: those that turn about their own axis (any that move, for a proportional motion). */
export function canBegin(design: Design, kind: string, member: Id): boolean {
  const j = design.joints.find((x) => x.child === member);
  if (!j) return false;
  return kind === 'proportional' ? j.type !== 'fixed' : j.type === 'revolute' || j.type === 'cylindrical';
}

/** The same without fields that are undefined. */
const withoutGaps = (x: Record<string, unknown>): Record<string, unknown> => Object.fromEntries(Object.entries(x).filter(([, v]) => v !== undefined));

/** An input shaft on the frame with a source on it: the beginning of an empty design. */
export function withInputShaft(design: Design, source?: { type: string; name: string; fields?: Record<string, unknown> }): StageMade {
  const b = new StageBuilder(design, FRAME, {});
  const m = b.member('Input shaft', 'shaft', [0, 0, 0], [0, 1, 0], [1, 0, 0]);
  const j = b.joint('revolute', FRAME, m);
  let d = b.design;
  if (source) {
    const id = b.id('source');
    d = {
      ...d,
      sources: [...d.sources, withoutGaps({ id, name: source.name, type: source.type, joint: j, speed: 60, ...source.fields }) as unknown as Source],
    };
  }
  return { design: d, made: b.made, output: m };
}

/**
 * Puts a stage into the train: members, joints, elements, placements and couplings, meshed and with tooth in space. Wanted outputs that name no joint
 * yet take the stage's output where it fits. Throws nothing; a stage that cannot begin at the member is not made.
 */
export function insertStage(design: Design, request: StageRequest): StageMade | undefined {
  const kind = stageKind(request.kind);
  if (!kind) return undefined;
  let start = design;
  let from = request.from;
  let made: Id[] = [];
  if (from === undefined) {
    const input = withInputShaft(design);
    start = input.design;
    from = input.output;
    made = input.made;
  }
  if (!canBegin(start, kind.kind, from)) return undefined;
  const b = new StageBuilder(start, from, stageValues(kind, request.values));
  kind.build(b);
  const meshes = new Set(b.made.filter((id) => b.design.couplings.some((c) => c.id === id)));
  let out = setPhases(b.design, meshes).design;
  const joint = out.joints.find((j) => j.child === b.output);
  const slides = joint?.type === 'prismatic';
  const SLIDING = new Set(['linear-speed', 'travel', 'force']),
    TURNING = new Set(['speed', 'angle', 'torque']);
  if (joint && b.output !== from) {
    out = {
      ...out,
      wanted: out.wanted.map((w) =>
        w['joint'] === undefined && w['source'] === undefined && (slides ? SLIDING : TURNING).has(w.type) ? { ...w, joint: joint.id } : w,
      ),
    };
  }
  const id = b.id('group');
  const items = b.made.filter((x) => x !== id);
  out = { ...out, groups: [...(out.groups ?? []), { id, name: b.name(kind.label), items }] };
  return { design: out, made: [...made, ...items], output: b.output, coupling: b.coupling };
}
