import { num } from '../elements/index';
import type { Id } from '../fields/types';
import { type Pose, coordinateOf } from '../kinematics/index';
import { solveRows } from '../math/index';
import { CYLINDRICAL } from '../rating/index';
import { rowsOf } from './rows';

/** Play of one coupling, seen at an output: deg or mm, all of it, both ways together; between its limits. */
export interface PlayPart {
  readonly item: Id;
  readonly name: string;
  readonly least: number;
  readonly part: number;
  readonly from: string;
}
/** How far an output can be moved to and fro while the sources stand still. */
export interface LostMotion {
  /** The joint coordinate, and whether it slides (mm) or turns (deg). */
  readonly joint: Id;
  readonly slide: boolean;
  /**
   * All plays at their least and at their greatest; and what is likely: their middles, and the root of the squares of their half
   * ranges.
   */
  readonly least: number;
  readonly worst: number;
  readonly statistical: number;
  readonly parts: readonly PlayPart[];
}

/** Parts less than this, mm or deg, are rounding. */
const ROUNDING = 1e-12;

interface Play {
  readonly least: number;
  readonly most: number;
  readonly port: 0 | 1;
  readonly unit: 'mm' | 'deg';
  readonly from: string;
}

/** Play of a coupling along the way of one of its ports, mm or deg; and what it is from. */
function playOf(pose: Pose, at: number): Play | undefined {
  const { coupling: c, model } = pose.compiled.couplings[at];
  const value = (key: string): number | undefined => {
    const v = model.derived?.find((d) => d.key === key)?.value;
    return v === undefined ? undefined : Number(v);
  };
  if (CYLINDRICAL.has(c.type)) {
    const most = value('backlashAMost');
    if (most !== undefined) {
      return { least: Math.max(0, num(value('backlashALeast'))), most: Math.max(0, most), port: 0, unit: 'deg', from: 'backlash by its limits' };
    }
    const turn = value('backlashA');
    return turn === undefined || turn < 0 ? undefined : { least: turn, most: turn, port: 0, unit: 'deg', from: 'backlash as drawn' };
  }
  const { play } = c as { play?: number };
  if (play === undefined) return undefined;
  const slide = model.ports[1] && 'motion' in model.ports[1] && model.ports[1].motion === 'slide';
  return { least: play, most: play, port: 1, unit: slide ? 'mm' : 'deg', from: 'as stated' };
}

/**
 * Lost motion at joints, at a pose, with coordinates held (those of sources): every coupling may stand off by its play, and
 * each moves the output by its own part. Of couplings side by side, as of planets, one path counts. Says why at outputs
 * that can move freely while what is held stands still, and of all where the backlash of a mesh is not known.
 */
export function lostMotion(pose: Pose, held: readonly number[], outputs: readonly Id[]): (LostMotion | { joint: Id; why: string })[] {
  const { compiled } = pose;
  const n = pose.kinematics.count;
  const fixed = held.map((h) => {
    const g = new Float64Array(n);
    g[h] = 1;
    return g;
  });
  // Rows that follow from others work beside them: what has no play holds first.
  const played = rowsOf(pose).map((row) => ({ row, play: row.at < 0 ? undefined : playOf(pose, row.at) }));
  const unknown = played.find(({ play }) => play && !Number.isFinite(play.most));
  if (unknown) {
    const { coupling: c } = compiled.couplings[unknown.row.at];
    return outputs.map((joint) => ({ joint, why: `the backlash of “${c.name ?? c.id}” is not known: its teeth do not run together` }));
  }
  const rows = played.sort((a, b) => Number(num(a.play?.most) > 0) - Number(num(b.play?.most) > 0));
  const solved = solveRows([...fixed, ...rows.map((r) => r.row.gradient)], n);
  // Each play: the motion in which its own row alone gives.
  const plays = solved.kept.flatMap((at, k) => {
    if (at < fixed.length) return [];
    const { row, play } = rows[at - fixed.length];
    const whole = play && row.own[play.port]?.whole;
    if (!play || !whole || !(play.most > 0)) return [];
    return [{ row, play, k, gives: Math.abs(whole) * (play.unit === 'deg' ? Math.PI / 180 : 1e-3) }];
  });
  return outputs.flatMap((joint): (LostMotion | { joint: Id; why: string })[] => {
    const c = coordinateOf(compiled.structure, joint);
    if (!c) return [];
    if (solved.basis.some((b) => Math.abs(b[c.index]) > 1e-9)) return [{ joint, why: 'it can move while the sources stand still' }];
    const slide = c.motion === 'slide';
    const at = solved.pivot.indexOf(c.index);
    const parts = plays
      .map(({ row, play, k, gives }): PlayPart => {
        const { coupling } = compiled.couplings[row.at];
        const moves = at < 0 ? 0 : Math.abs(solved.inverse[at][k]) * gives * (slide ? 1e3 : 180 / Math.PI);
        return { item: coupling.id, name: coupling.name ?? coupling.id, least: moves * play.least, part: moves * play.most, from: play.from };
      })
      .filter((p) => p.part > ROUNDING)
      .sort((a, b) => b.part - a.part);
    const worst = parts.reduce((s, p) => s + p.part, 0);
    const least = parts.reduce((s, p) => s + p.least, 0);
    return [{ joint, slide, least, worst, statistical: (least + worst) / 2 + Math.hypot(...parts.map((p) => (p.part - p.least) / 2)), parts }];
  });
}
