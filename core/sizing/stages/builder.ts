import { unusedName } from '../../document/names';
import { elementKind, extentOf, num } from '../../elements/index';
import { type Coupling, type Design, FRAME, type Id, type Joint, type Member } from '../../fields/types';
import { type Frame, type Vec3, cross, dot, localFrame, sameLine, toLocalPoint, toWorldPoint, vadd, vscale, within } from '../../math/index';
import { freshId, idsOf } from '../../edits/items';
import { coupledMembers, elementFrame, memberFrame, tidy } from '../../edits/frames';
import { usualInch } from '../../units/index';
import { isInch } from '../../edits/inch';
import { neat } from './sizes';
import type { Values } from './values';

/** Between what stands beside each other on a shaft, mm. */
export const GAP = 6;

/** Puts items into a design and remembers what is new. */
export class StageBuilder {
  readonly made: Id[] = [];
  output: Id = FRAME;
  coupling?: Id;
  private readonly ids: Set<Id>;
  readonly number: number;
  /** Whether the design is in inches: what follows from other sizes is rounded so. */
  private readonly inch: boolean;

  constructor(
    public design: Design,
    readonly from: Id,
    readonly values: Values,
    private readonly vacate: ReadonlySet<Id> = new Set(),
    /** How much farther along the axis than room on it asks for, mm. */
    private readonly farther = 0,
    /** What was typed for a size, by its key. */
    private readonly typed: Readonly<Record<string, string>> = {},
  ) {
    this.ids = idsOf(design);
    this.inch = isInch(design);
    this.number = 1 + design.couplings.length;
    this.output = from;
  }

  n(key: string): number {
    return num(this.exact(key));
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
    return unusedName(base, names);
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
    // What was asked for is within its bounds; what follows from it, such as
    // a wheel a little wider than its partner, stays within them as well.
    const within = Object.fromEntries(
      Object.entries(fields).map(([key, v]) => {
        const most = elementKind(type)?.fields.find((f) => f.key === key)?.max;
        return [key, typeof v === 'number' && most !== undefined ? Math.min(most, v) : v];
      }),
    );
    this.design = { ...this.design, elements: [...this.design.elements, { id, name: this.name(name), type, member, ...within }] };
    this.keepTyped(id, within);
    return id;
  }
  /** A size that an element takes as it was typed keeps its text. */
  private keepTyped(id: Id, fields: Readonly<Record<string, unknown>>): void {
    const texts = Object.entries(this.typed).filter(([key]) => fields[key] !== undefined && fields[key] === this.values[key]);
    if (!texts.length) return;
    const kept = Object.fromEntries(texts.map(([key, text]) => [`${id}.${key}`, text]));
    this.design = { ...this.design, typed: { ...this.design.typed, ...kept } };
  }
  couple(type: string, name: string, fields: Record<string, unknown>): Id {
    const id = this.id('tie');
    this.coupling ??= id;
    this.design = { ...this.design, couplings: [...this.design.couplings, { id, name: this.name(name), type, ...fields } as Coupling] };
    return id;
  }
  load(type: string, name: string, fields: Record<string, unknown>): Id {
    const id = this.id('load');
    this.design = { ...this.design, loads: [...this.design.loads, { id, name: this.name(name), type, ...fields }] };
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

  /**
   * A carriage that travels along a direction and takes along the member at which the stage begins, with all of the train on the
   * same carrier that it is coupled with: what was fast on the carrier rides on the carriage.
   */
  carriage(name: string, o: Vec3, axis: Vec3, up: Vec3): { carriage: Id; under: Id } {
    const under = this.carrier;
    const riding = this.coupledOn(under);
    const carriage = this.slide(name, o, axis, up, under);
    this.design = {
      ...this.design,
      joints: this.design.joints.map((j) => (j.parent === under && riding.has(j.child) ? { ...j, parent: carriage } : j)),
    };
    return { carriage, under };
  }
  /** The members that a carrier carries and that couplings join with the member at which the stage begins, with itself. */
  private coupledOn(carrier: Id): Set<Id> {
    const ties = [...coupledMembers(this.design).values()];
    const out = new Set([this.from]);
    for (let grew = true; grew;) {
      grew = false;
      for (const members of ties) {
        if (!members.some((m) => out.has(m))) continue;
        for (const m of members) if (m !== carrier && !out.has(m)) grew = !!out.add(m);
      }
    }
    return out;
  }

  jointOf(member: Id): Id | undefined {
    return this.design.joints.find((j) => j.child === member)?.id;
  }
  /** What carries the member at which the stage begins. */
  get carrier(): Id {
    return this.design.joints.find((j) => j.child === this.from)?.parent ?? FRAME;
  }
  frameOf(member: Id): Frame {
    return memberFrame(this.design, member);
  }
  /** Place along the member's axis beyond everything that is on it, for something of the given width: its middle. mm */
  next(member: Id, width: number): number {
    let end = -Infinity;
    const own = this.frameOf(member);
    const about = this.about(member);
    for (const e of this.design.elements) {
      if (e.type === 'rod' || this.vacate.has(e.id)) continue;
      const f = elementFrame(this.design, e);
      // What turns about this axis stands in the way whoever carries it: a ring that is held, planets on a carrier.
      if (!about.has(e.member) && !sameLine(own.o, own.z, f.o, f.z, 1e-3, 1e-6)) continue;
      const box = extentOf(elementKind(e.type)!, e);
      if (!box) continue;
      for (const x of [box[0][0], box[1][0]]) {
        for (const y of [box[0][1], box[1][1]]) {
          for (const z of [box[0][2], box[1][2]]) end = Math.max(end, toLocalPoint(own, toWorldPoint(f, [x, y, z]))[2]);
        }
      }
    }
    return (Number.isFinite(end) ? this.whole(end + GAP + width / 2) : 0) + this.farther;
  }
  /** A place in whole millimetres, or sixteenths of an inch. */
  private whole(mm: number): number {
    return this.inch ? Number((Math.ceil((mm * 16) / 25.4) * (25.4 / 16)).toPrecision(12)) : Math.round(mm);
  }
  /**
   * A size that follows from others, without odd decimals: whole
   * millimetres, two figures below ten; usual inches in an inch design.
   */
  neat(mm: number): number {
    return this.inch ? usualInch(mm) : neat(mm);
  }
  /** The members on a member's axis, without the frame, and those that they carry. */
  private about(member: Id): Set<Id> {
    const own = this.frameOf(member);
    const turning = this.design.joints.filter((j) => {
      const f = within(this.frameOf(j.child), localFrame(j));
      return sameLine(own.o, own.z, f.o, f.z, 1e-3, 1e-6);
    });
    const out = new Set([member, ...turning.map((j) => j.child)]);
    for (const j of this.design.joints) if (out.has(j.parent)) out.add(j.child);
    return out;
  }
  /** Direction across the axis in which the next shaft lies: as asked, or away from what is there. */
  direction(f: Frame): Vec3 {
    const a = (this.n('angle') * Math.PI) / 180;
    return vadd(vscale(f.x, Math.cos(a)), vscale(f.y, Math.sin(a)));
  }
}

/** The direction in which the next thing lies, and the one across it and the axis. */
export const perpendicular = (f: Frame, b: StageBuilder): [Vec3, Vec3] => {
  const d = b.direction(f);
  return [d, cross(f.z, d)];
};

/** Axis and up of a frame as another states them. */
export const placeOn = (own: Frame, f: Frame): { axis: Vec3; up: Vec3 } => {
  const local = (v: Vec3): Vec3 => tidy([dot(own.x, v), dot(own.y, v), dot(own.z, v)]);
  return { axis: local(f.z), up: local(f.x) };
};
