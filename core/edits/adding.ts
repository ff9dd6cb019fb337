import { elementKind } from '../elements/index';
import { type Design, type Element, FRAME, type Id, type Joint, type Load } from '../fields/types';
import type { DrivingSource, WantedOutput } from '../document/index';
import { beginningSizes, isInch } from './inch';
import { FIRST_LEAD, freeName, freshId, idsOf, reorder, withoutGaps } from './items';
import { withItem } from './values';

/** A design with something added, and the id of that. */
export interface Added {
  readonly design: Design;
  readonly id: Id;
}

/** Sizes in mm (deg, teeth) with which an element begins where its fields have none of their own. */
const SIZES: Readonly<Record<string, number>> = {
  teeth: 24,
  module: 2,
  width: 20,
  length: 60,
  diameter: 40,
  pitch: 5,
  radius: 150,
  height: 20,
  depth: 20,
  outside: 60,
  bore: 24,
  base: 60,
  size: 16,
  eye: 24,
  thickness: 8,
  coneAngle: 45,
};
/** Where a kind begins otherwise: a worm is slender, a pulley states its diameter. */
const OF_KIND: Readonly<Record<string, Readonly<Record<string, number>>>> = { worm: { diameter: 20 }, pulley: { diameter: 40 } };

/**
 * Adds an element of a kind with its first sizes to a member, in inch
 * sizes where the design is in inches. Undefined for an unknown kind.
 */
export function withElement(design: Design, type: string, member: Id): Added | undefined {
  const kind = elementKind(type);
  if (!kind) return undefined;
  const required = kind.fields.filter((f) => f.required).map((f) => [f.key, SIZES[f.key] ?? f.initial ?? 10]);
  const fields = beginningSizes(kind.fields, { ...Object.fromEntries(required), ...OF_KIND[type] }, isInch(design));
  const id = freshId(idsOf(design), 'part');
  const element = { id, name: freeName(design, kind.label), type: kind.type, member, ...fields } as Element;
  return { design: { ...design, elements: [...design.elements, element] }, id };
}

/** Elements of a member in another order: one of them a place up or down among its own. */
export function withElementMoved(design: Design, element: Id, step: 1 | -1): Design {
  const member = design.elements.find((e) => e.id === element)?.member;
  const own = design.elements.filter((e) => e.member === member);
  const moved = reorder(own, element, step);
  if (moved === own) return design;
  let k = 0;
  return { ...design, elements: design.elements.map((e) => (e.member === member ? moved[k++] : e)) };
}

/** Adds a joint between two members, named after the child. */
export function withJoint(design: Design, type: string, child: Id, parent: Id = FRAME): Added {
  const id = freshId(idsOf(design), 'joint');
  const name = `${design.members.find((m) => m.id === child)?.name ?? child} joint`;
  const joint = { id, name, type, parent, child, ...(type === 'screw' ? { lead: FIRST_LEAD } : {}) } as Joint;
  return { design: { ...design, joints: [...design.joints, joint] }, id };
}

/** Adds a source at a joint; a speed begins at 60 rev/min or 10 mm/s where the fields state nothing else. */
export function withSource(
  design: Design,
  type: string,
  name: string,
  joint: Id,
  slides: boolean,
  fields: Readonly<Record<string, unknown>> = {},
): Added {
  const id = freshId(idsOf(design), 'source');
  const source = withoutGaps({ id, name, type, joint, speed: slides ? 10 : 60, ...fields }) as DrivingSource;
  return { design: { ...design, sources: [...design.sources, source] }, id };
}

/** Adds a wanted output of 0 until it is stated, of a joint or a source. */
export function withWanted(design: Design, type: string, name: string, of: Pick<Partial<WantedOutput>, 'joint' | 'source'>): Added {
  const id = freshId(idsOf(design), 'wanted');
  const wanted = { id, name, type, ...of, value: 0, tolerance: 0 } as WantedOutput;
  return { design: { ...design, wanted: [...design.wanted, wanted] }, id };
}

/** Adds a load. */
export const withLoad = (design: Design, load: Load): Design => ({ ...design, loads: [...design.loads, load] });

/** A pawl or one-way clutch that lets go. */
export const withCouplingLifted = (design: Design, coupling: Id): Design => withItem(design, coupling, { lifted: true });
