import { COUPLING_KINDS, type CouplingKind } from '../couplings/index';
import { statedBy } from '../fields/fields';
import type { Coupling, Design, Element, Id, Joint } from '../fields/types';
import { freedomsOf } from '../joints/index';
import { dot } from '../math/index';
import { freeName, freshId, idsOf } from '../edits/items';
import { elementFrame } from '../edits/frames';

/** A coupling that can be put between what is picked. */
export interface CouplingOffer {
  kind: CouplingKind;
  /** The fields that say what it joins, each end where the kind takes it. */
  ends: Readonly<Record<string, unknown>>;
  /** What it joins, in the order of its ends. */
  joins: readonly Id[];
}

/** Cosine beyond which two axes count as parallel. */
const PARALLEL = 1 - 1e-6;

/** Picked elements in their order, and picked joints; of a picked member the joint that carries it. */
function endsOf(d: Design, picked: readonly Id[]): { elements: Element[]; joints: Joint[] } {
  const elements = picked.flatMap((id) => d.elements.find((e) => e.id === id) ?? []);
  const joints = picked.flatMap(
    (id) => (d.joints.find((j) => j.id === id) ?? (d.members.some((m) => m.id === id) && d.joints.find((j) => j.child === id))) || [],
  );
  return { elements, joints: joints.filter((j) => j.type !== 'fixed') };
}

function offerOf(kind: CouplingKind, d: Design, elements: readonly Element[], joints: readonly Joint[]): CouplingOffer | undefined {
  const { takes, axes } = kind;
  const pair = (a: Element | Joint, b: Element | Joint): CouplingOffer => ({ kind, ends: { a: a.id, b: b.id }, joins: [a.id, b.id] });
  if (takes === 'joints') {
    if (elements.length || joints.length !== 2 || joints[0] === joints[1]) return undefined;
    const offer = pair(joints[0], joints[1]);
    // A typed pair says 1 : 1 until it is stated.
    return kind.fields.some((f) => f.key === 'amountA') ? { ...offer, ends: { ...offer.ends, amountA: 1, amountB: 1 } } : offer;
  }
  if ('wheels' in takes) {
    const fit = elements.length >= 2 && elements.every((e) => e.type === takes.wheels && (statedBy(e)['form'] === 'sprocket') === takes.sprockets);
    const ids = elements.map((e) => e.id);
    return fit ? { kind, ends: { wheels: ids }, joins: ids } : undefined;
  }
  const [first, second] = takes;
  if (second === 'slide') {
    const [e, j] = [elements[0], joints[0]];
    return elements.length === 1 && joints.length === 1 && first.includes(e.type) && freedomsOf(j)[0]?.motion === 'slide' ? pair(e, j) : undefined;
  }
  if (elements.length !== 2 || elements[0].member === elements[1].member) return undefined;
  const parallel = Math.abs(dot(elementFrame(d, elements[0]).z, elementFrame(d, elements[1]).z)) > PARALLEL;
  if (axes && parallel !== (axes === 'parallel')) return undefined;
  for (const [a, b] of [elements, [...elements].reverse()]) if (first.includes(a.type) && second.includes(b.type)) return pair(a, b);
  return undefined;
}

/** The couplings that fit between what is picked (elements, joints, members), in the order of the kinds. */
export function couplingsBetween(d: Design, picked: readonly Id[]): CouplingOffer[] {
  const { elements, joints } = endsOf(d, picked);
  return COUPLING_KINDS.flatMap((kind) => offerOf(kind, d, elements, joints) ?? []);
}

/** Puts an offered coupling in, called after what it joins. */
export function withCoupling(d: Design, { kind, ends, joins }: CouplingOffer): { design: Design; id: Id } {
  const id = freshId(idsOf(d), 'coupling');
  const nameOf = (x: Id): string => [...d.elements, ...d.joints].find((y) => y.id === x)?.name ?? x;
  const called = joins.length === 2 ? `${kind.label}: ${nameOf(joins[0])} to ${nameOf(joins[1])}`.slice(0, 110) : kind.label;
  return { design: { ...d, couplings: [...d.couplings, { id, name: freeName(d, called), type: kind.type, ...ends } as Coupling] }, id };
}
