import { firstFound } from '../../math/index';
import type { Design } from '../../fields/types';
import { insertStage } from './insert';
import { type Reached, reachRatio, stageKind, stageValues } from './kinds';
import type { StageKind, StageMade, StageRequest } from './protocol';
import { size } from './sizes';
import type { Values } from './values';

/** How a ratio is shared among stages in a row: evenly, or with the least inertia at the input. */
export type Sharing = 'even' | 'least inertia';

/** Most stages that a ratio is split over at once. */
export const MOST_STAGES = 4;

/** The inertia at the input of stages in a row over that of one pinion: pinions alike, solid wheels as wide as they. */
export function inertiaOf(ratios: readonly number[]): number {
  let before = 1,
    sum = 0;
  for (const i of ratios) {
    // The pinion, and its wheel with inertia i⁴ seen through the ratio of its own stage.
    sum += (1 + i * i) / (before * before);
    before *= i;
  }
  return sum;
}

/**
 * The ratio of each of `count` stages in a row that together give `total` (turns in for one out).
 * Least inertia: pinions alike and solid wheels, where each ratio follows from the one before it, i₂²
 * = (i₁⁴ − 1)/2. Derived here from `inertiaOf` by dJ/di = 0; the condition for two stages is common in
 * books on servo drives. A train that speeds up is shared evenly, as its inertia lies at the output.
 */
export function splitRatio(total: number, count: number, sharing: Sharing): number[] {
  if (sharing === 'even' || total <= 1 || count === 1) return Array.from({ length: count }, () => total ** (1 / count));
  const from = (first: number): number[] => {
    const out = [first];
    while (out.length < count) out.push(Math.sqrt(Math.max(0, (out[out.length - 1] ** 4 - 1) / 2)));
    return out;
  };
  const product = (list: readonly number[]): number => list.reduce((p, i) => p * i, 1);
  const even = total ** (1 / count);
  // All of them grow with the first.
  const enough = (i: number): true | undefined => (product(from(i)) >= total ? true : undefined);
  const first = firstFound(1, Math.max(even, 2) ** 2, 0, true, enough).at;
  const shares = from(first);
  return shares.some((i) => i < 1) ? splitRatio(total, count, 'even') : shares;
}

/**
 * Stages in a row for a ratio: the sizes of each, what they give
 * together, and by how much that is off (a part of the asked one).
 */
export interface SplitStages {
  sizes: Values[];
  gives: number;
  off: number;
}

/** By how much the first ratios are varied so that whole teeth come nearest to the ratio of all. */
const VARIED = 0.04;
const STEPS = 24;

/**
 * Sizes for `count` stages of a kind in a row that come nearest
 * to a ratio; undefined where the kind has none, or cannot do it.
 */
export function splitStages(kind: StageKind, asked: number, count: number, sharing: Sharing, values: Values): SplitStages | undefined {
  if (kind.ratio !== 'turns' || !kind.forRatio || !kind.gives || !(asked > 0)) return undefined;
  const shares = splitRatio(asked, count, sharing);
  const known = new Map<number, Reached | undefined>();
  const reach = (ratio: number): Reached | undefined => {
    if (!known.has(ratio)) known.set(ratio, reachRatio(kind, ratio, values));
    return known.get(ratio);
  };
  let best: SplitStages | undefined;
  for (let k = 0; k <= 2 * STEPS; k++) {
    // Nearest to the shares first: they are left only for a ratio that is met better.
    const by = 1 + (k % 2 ? -1 : 1) * Math.ceil(k / 2) * (VARIED / STEPS);
    const tried = row(reach, asked, [shares[0] * by, ...shares.slice(1)], values);
    if (tried && (!best || Math.abs(tried.off) < Math.abs(best.off) - 1e-9)) best = tried;
    if (best && Math.abs(best.off) < 1e-9) break;
  }
  return best;
}

function row(reach: (ratio: number) => Reached | undefined, asked: number, shares: readonly number[], values: Values): SplitStages | undefined {
  const sizes: Values[] = [];
  let left = asked;
  for (const [k, share] of shares.entries()) {
    const reached = reach(k === shares.length - 1 ? left : share);
    if (!reached || reached.why) return undefined;
    sizes.push({ ...values, ...reached.sizes });
    left /= reached.gives;
  }
  const gives = asked / left;
  return { sizes, gives, off: gives / asked - 1 };
}

/** Puts stages of one kind into the train one behind the other, the first where the request says. */
export function insertStages(design: Design, request: StageRequest, sizes: readonly Values[]): StageMade | undefined {
  let all: StageMade | undefined;
  for (const values of sizes) {
    const made = insertStage(all?.design ?? design, { ...request, from: all?.output ?? request.from, values });
    if (!made) return undefined;
    all = {
      ...made,
      made: [...(all?.made ?? []), ...made.made],
      moved: [...new Set([...(all?.moved ?? []), ...(made.moved ?? [])])],
      coupling: all?.coupling ?? made.coupling,
    };
  }
  return all;
}

/** What is unusual about the sizes of a stage, though they can be made; undefined where nothing is. */
export interface UnusualStage {
  /** The ratio of the stage, above one. */
  ratio: number;
  usual: number;
  /** The most teeth on a wheel of it, where it has teeth. */
  teeth?: number;
  /** Stages that would do it within what is usual. */
  stages: number;
}

/** Whether a stage does more than one of its kind usually does, and how many would do it. */
export function unusualStage(kind: string, values: Values): UnusualStage | undefined {
  const k = stageKind(kind);
  const gives = k?.gives?.(stageValues(k, values));
  if (!k?.usual || !gives) return undefined;
  const ratio = Math.max(gives, 1 / gives);
  if (ratio <= k.usual * (1 + 1e-9)) return undefined;
  const teeth = Math.max(size(values, 'z1'), size(values, 'z2'));
  return { ratio, usual: k.usual, teeth: teeth || undefined, stages: Math.ceil(Math.log(ratio) / Math.log(k.usual) - 1e-9) };
}
