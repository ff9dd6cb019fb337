import type { Design, Id } from '../../fields/types';
import { spur } from './spur';
import { helical } from './helical';
import { internal } from './internal';
import { bevel } from './bevel';
import { worm } from './worm';
import { rack } from './rack';
import { vBelt } from './v-belt';
import { flatBelt } from './flat-belt';
import { toothedBelt } from './toothed-belt';
import { chain } from './chain';
import { drum } from './drum';
import { screw } from './screw';
import { planetary } from './planetary';
import { differential } from './differential';
import { rolling } from './rolling';
import { proportional } from './proportional';
import { oneWay } from './one-way';
import { ratchet } from './ratchet';
import { cam } from './cam';
import { beginsWith } from '../../edits/inch';
import type { StageKind, StageProblem } from './protocol';
import type { Values } from './values';

/** Every kind of stage that can be put into a train. */
export const STAGE_KINDS: readonly StageKind[] = [
  spur,
  helical,
  internal,
  bevel,
  worm,
  rack,
  vBelt,
  flatBelt,
  toothedBelt,
  chain,
  screw,
  drum,
  planetary,
  differential,
  rolling,
  proportional,
  oneWay,
  ratchet,
  cam,
];

/** A kind of stage by its name. */
export const stageKind = (kind: string): StageKind | undefined => STAGE_KINDS.find((k) => k.kind === kind);

/** The values of a request with what is left open filled in; with inch sizes in an inch design. */
export function stageValues(kind: StageKind, given: Values = {}, inch = false): Values {
  const all = { ...Object.fromEntries(kind.fields.map((f) => [f.key, beginsWith(f, inch) ?? 0])), ...given };
  // What was left open follows what was stated.
  const stated = Object.keys(given);
  if (!kind.follow || Object.keys(all).length === stated.length) return all;
  return stated.reduce<Values>((v, key, k) => ({ ...kind.follow!(v, key, stated.slice(0, k).reverse()), ...given }), all);
}

/**
 * What a kind of stage can do for a ratio: the sizes, the ratio that they give, by how much it is off (a part of the asked one),
 * and why where it is far off.
 */
export interface Reached {
  sizes: Values;
  gives: number;
  off: number;
  why?: string;
}

/** From this part on a ratio counts as missed, not as rounded to whole teeth. */
const FAR_OFF = 0.01;

/** The nearest that a kind of stage comes to a ratio; undefined where the kind has none. `values` are the sizes as they stand. */
export function reachRatio(kind: StageKind, asked: number, values: Values): Reached | undefined {
  if (!kind.forRatio || !kind.gives || !(asked > 0)) return undefined;
  const sizes = kind.forRatio(asked, values);
  const gives = kind.gives({ ...values, ...sizes });
  const off = gives / asked - 1;
  return { sizes, gives, off, why: Math.abs(off) > FAR_OFF ? kind.bounds : undefined };
}

/** What is wrong with the sizes asked for, with the field; beyond what each field says of itself. */
export const stageProblem = (kind: StageKind, values: Values): StageProblem | undefined => kind.problem?.(values);

/** Members at which a stage of this kind can begin: those that turn about their own axis, or any that move. */
export function canBegin(design: Design, kind: string, member: Id): boolean {
  const j = design.joints.find((x) => x.child === member);
  if (!j) return false;
  return stageKind(kind)?.begins ? j.type !== 'fixed' : j.type === 'revolute' || j.type === 'cylindrical';
}
