import { num } from '../elements/index';
import type { Id } from '../fields/types';
import { type Pose, coordinateOf } from '../kinematics/index';
import { nullSpace } from '../math/index';
import { type TrainRow, rowsOf } from './rows';

/** Play of one coupling, seen at an output: deg or mm, all of it, both ways together. */
export interface PlayPart {
  readonly item: Id;
  readonly name: string;
  readonly part: number;
  readonly from: string;
}
/** How far an output can be moved to and fro while the sources stand still. */
export interface LostMotion {
  /** The joint coordinate, and whether it slides (mm) or turns (deg). */
  readonly joint: Id;
  readonly slide: boolean;
  /** All plays against each other, and as their root sum of squares. */
  readonly worst: number;
  readonly statistical: number;
  readonly parts: readonly PlayPart[];
}

/** Play of a coupling along the way of its second port, mm or deg; and what it is from. */
function playOf(pose: Pose, at: number): { play: number; port: 0 | 1; unit: 'mm' | 'deg'; radius?: number; from: string } | undefined {
  const { coupling: c, model } = pose.compiled.couplings[at];
  const value = (key: string): number | undefined => {
    const v = model.derived?.find((d) => d.key === key)?.value;
    return v === undefined ? undefined : Number(v);
  };
  if (c.type === 'gear-pair') {
    const turn = value('backlashA');
    return turn === undefined || turn < 0 ? undefined : { play: turn, port: 0, unit: 'deg', from: 'backlash of the teeth' };
  }
  if (c.type === 'rack-mesh') {
    const turn = value('backlashA');
    return turn === undefined || turn < 0 ? undefined : { play: turn, port: 0, unit: 'deg', from: 'backlash of the teeth' };
  }
  const { play } = c as { play?: number };
  if (play === undefined) return undefined;
  const slide = model.ports[1] && 'motion' in model.ports[1] && model.ports[1].motion === 'slide';
  return { play, port: 1, unit: slide ? 'mm' : 'deg', from: 'as stated' };
}

/**
 * Lost motion at joints, at a pose, with coordinates held (those of sources): every coupling may stand off by its play, and each
 * moves the output by its own part: by the worst all together, by chance the root of their squares. Of couplings side by side, as
 * of planets, one path counts. Undefined at outputs that can
 * move freely while what is held stands still.
 */
export function lostMotion(pose: Pose, held: readonly number[], outputs: readonly Id[]): (LostMotion | { joint: Id; why: string })[] {
  const { compiled } = pose;
  const n = pose.kinematics.count;
  const playIn = (r: TrainRow): number => (r.at < 0 ? 0 : num(playOf(pose, r.at)?.play));
  // Rows that follow from others work beside them: what has no play holds first.
  const rows = independent(
    rowsOf(pose).sort((a, b) => Number(playIn(a) > 0) - Number(playIn(b) > 0)),
    n,
  );
  const fixed = held.map((h) => {
    const g = new Float64Array(n);
    g[h] = 1;
    return g;
  });
  // Each play: the motion while all rows but its own stand.
  const plays = rows.flatMap((row, k) => {
    const play = row.at < 0 ? undefined : playOf(pose, row.at);
    if (!play || play.play === 0) return [];
    const own = row.own[play.port];
    if (!own?.whole) return [];
    const others = [...fixed, ...rows.filter((_, i) => i !== k).map((r) => r.gradient)];
    return [{ row, play, own, others }];
  });
  const standing = nullSpace([...fixed, ...rows.map((r) => r.gradient)], n).basis;
  return outputs.flatMap((joint): (LostMotion | { joint: Id; why: string })[] => {
    const c = coordinateOf(compiled.structure, joint);
    if (!c) return [];
    if (standing.some((b) => Math.abs(b[c.index]) > 1e-9)) return [{ joint, why: 'it can move while the sources stand still' }];
    const slide = c.motion === 'slide';
    const parts = plays.map(({ row, play, own, others }): PlayPart => {
      const { coupling } = compiled.couplings[row.at];
      const name = coupling.name ?? coupling.id;
      const { basis } = nullSpace(others, n);
      // One motion is left that the row held: by how much the row gives in it, and the output moves.
      let give = 0,
        moves = 0;
      for (const b of basis) {
        const by = b.reduce((s, v, i) => s + v * row.gradient[i], 0);
        if (Math.abs(by) > Math.abs(give)) [give, moves] = [by, b[c.index]];
      }
      const inRow = own.whole * play.play * (play.unit === 'deg' ? Math.PI / 180 : 1e-3);
      const part = give === 0 ? 0 : Math.abs((moves * inRow) / give) * (slide ? 1e3 : 180 / Math.PI);
      return { item: coupling.id, name, part, from: play.from };
    });
    const some = parts.filter((p) => p.part > 0).sort((a, b) => b.part - a.part);
    return [
      {
        joint,
        slide,
        worst: some.reduce((s, p) => s + p.part, 0),
        statistical: Math.hypot(...some.map((p) => p.part)),
        parts: some,
      },
    ];
  });
}
/** Rows none of which follows from those before it. */
function independent(rows: readonly TrainRow[], n: number): TrainRow[] {
  const kept: TrainRow[] = [];
  let rank = 0;
  for (const r of rows) {
    const next = nullSpace([...kept.map((x) => x.gradient), r.gradient], n).rank;
    if (next > rank) kept.push(r);
    rank = next;
  }
  return kept;
}

/** Whether a design states or computes any play. */
export const hasPlay = (pose: Pose): boolean => rowsOf(pose).some((r) => r.at >= 0 && num(playOf(pose, r.at)?.play) > 0);
