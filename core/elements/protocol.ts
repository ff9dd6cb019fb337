import { type ElementProblem, problem } from '../findings/index';
import type { Element } from '../fields/types';
import type { Field } from '../fields/fields';
import type { Vec3 } from '../math/index';
import type { MassProperties, Solid } from '../solids/index';
import type { Simplified } from './simplified';

/** A value worked out from given ones, with the formula that the data sheet shows on demand. */
export interface Derived {
  key: string;
  label: string;
  symbol?: string;
  value: number | string;
  unit?: string;
  formula?: string;
}

/**
 * A thread along z: its outside radius and that of the pitch cylinder, its ends,
 * and by how much one of its helices goes on in a turn (right hand positive), mm.
 */
export interface Thread {
  outside: number;
  pitch: number;
  from: number;
  to: number;
  lead: number;
  starts: number;
}

/** One kind of element. Everything is in the element's own frame: z is its axis, mm and rad. */
export interface ElementKind<E extends Element = Element> {
  readonly type: string;
  readonly label: string;
  readonly fields: readonly Field[];
  /** It comes with a file: nobody adds one by its sizes. */
  readonly imported?: boolean;
  /** What it is made of; the outline that is drawn and weighed. */
  shape(e: E): Solid[];
  /** Where it has teeth, threads or marks: its body without them, to the root or core. What strength is judged by. */
  plain?(e: E): Solid[];
  /** Where it has teeth or a thread: how drawings show it without them. */
  simplified?(e: E): Simplified;
  /** Where it has a thread: what a helix on it looks like. */
  thread?(e: E): Thread;
  /** Where its body is not made here: its mass in its own frame, kg and mm (undefined: not known), and how far it reaches. */
  weight?(e: E): MassProperties | undefined;
  extent?(e: E): readonly [Vec3, Vec3] | undefined;
  /** Its body with its thread modelled; undefined where that cannot be. */
  threaded?(e: E): Solid[] | undefined;
  derived?(e: E): Derived[];
  problems?(e: E): ElementProblem[];
  /**
   * What is stated otherwise of its picture in a mirror: in its own frame y is turned round, so that what turned forward
   * turns back and a right hand is a left one. Nothing where it is symmetrical; a sentence where there is no such element.
   */
  mirrored?(e: E): Partial<E> | string;
  /** Its picture is turned by half a turn about z besides, since it is symmetrical in x and not in y. */
  readonly turnedInMirror?: boolean;
}

/** The other hand. */
export const otherHand = (hand: 'right' | 'left' | undefined): 'right' | 'left' => (hand === 'left' ? 'right' : 'left');

/** The problem that a hole leaves nothing of a body: both as diameters, mm. */
export const holeProblem = (what: string, size: number, most: number, field = 'bore'): ElementProblem[] =>
  size > 0 && size >= most ? [problem('bore-too-large/body', { what, size, most: Number(most.toFixed(2)) }, field)] : [];

export const DENSITY_STEEL = 7850;
export type { ElementProblem };
