import type { DrivingSource } from '../document/kinds';
import type { ScrewJoint } from '../joints/index';
import { Design, Joint, Member, emptyDesign } from '../fields/types';
import { Vec3 } from '../math/index';

/** An item with whatever its kind states, for a list that holds all kinds. */
export const item = <T extends object>(stated: T): T => stated;
/** States more of an item that stands in a design. */
export const state = (of: object, more: object): void => void Object.assign(of, more);

/** Builds small designs for tests in a few words: shafts along z, all in one plane unless said otherwise. */
export class Builder {
  readonly design: Design = emptyDesign('test');
  private n = 0;

  private id(prefix: string): string {
    return `${prefix}${++this.n}`;
  }
  member(at: Vec3, more: Partial<Member> = {}): string {
    const id = more.id ?? this.id('m');
    this.design.members.push({ name: id, kind: 'shaft', at, ...more, id });
    return id;
  }
  joint(type: string, parent: string, child: string, more: Partial<Joint & ScrewJoint> = {}): string {
    const id = more.id ?? this.id('j');
    this.design.joints.push({ type, parent, child, ...more, id });
    return id;
  }
  /** A shaft on a carrying member, turning about its z axis. */
  shaft(at: Vec3, parent = 'frame', more: Partial<Member> = {}): { member: string; joint: string } {
    const member = this.member(at, more);
    return { member, joint: this.joint('revolute', parent, member) };
  }
  slide(at: Vec3, axis: Vec3, parent = 'frame', more: Partial<Member> = {}): { member: string; joint: string } {
    const member = this.member(at, { kind: 'slide', axis, ...more });
    return { member, joint: this.joint('prismatic', parent, member) };
  }
  element(type: string, member: string, fields: Record<string, unknown>): string {
    const id = this.id('e');
    this.design.elements.push({ id, name: id, type, member, ...fields });
    return id;
  }
  gear(member: string, teeth: number, module = 1, more: Record<string, unknown> = {}): string {
    return this.element('gear', member, { teeth, module, width: 10 * module, ...more });
  }
  couple(type: string, fields: Record<string, unknown>): string {
    const id = this.id('c');
    this.design.couplings.push({ id, type, ...fields });
    return id;
  }
  mesh(a: string, b: string, more: Record<string, unknown> = {}): string {
    return this.couple('gear-pair', { a, b, efficiency: 1, ...more });
  }
  motor(joint: string, speed = 60, more: Partial<DrivingSource> = {}): string {
    const id = this.id('s');
    this.design.sources.push({ id, name: id, type: 'motor', joint, speed, ...more });
    return id;
  }
  load(type: string, fields: Record<string, unknown>): string {
    const id = this.id('l');
    this.design.loads.push({ id, name: id, type, ...fields });
    return id;
  }
  weightless(): this {
    this.design.settings = { gravity: [0, 0, 0] };
    return this;
  }
}

/**
 * A row of external pairs, each wheel of a pair on its own shaft, pinion and
 * wheel fast on every middle shaft. Teeth as [driver, driven] per stage.
 */
export function row(stages: readonly (readonly [number, number])[], module = 1): Builder {
  const b = new Builder().weightless();
  let x = 0;
  let shaft = b.shaft([0, 0, 0]);
  b.motor(shaft.joint);
  stages.forEach(([z1, z2], k) => {
    const pinion = b.gear(shaft.member, z1, module, { at: [0, 0, 20 * module * k] });
    x += (module * (z1 + z2)) / 2;
    shaft = b.shaft([x, 0, 0]);
    const wheel = b.gear(shaft.member, z2, module, { at: [0, 0, 20 * module * k], phase: z2 % 2 === 0 ? 180 / z2 : 0 });
    b.mesh(pinion, wheel);
  });
  return b;
}
