import type { Id } from '../fields/types';
import { type Limit, type Pose, beyond, mapStops, slidesAt } from '../kinematics/index';
import type { Interval } from '../kinematics/index';

/** The stop that holds a movement; or the pawl, or one-way coupling, that does (then `joint` is its id). */
export interface Held {
  joint: Id;
  which: 'lower' | 'upper' | 'pawl';
  /** What ends there, where a coupling (whose id `joint` is) would leave engagement. */
  leaves?: string;
  /** Where the geometry holds: a dead centre, or a place out of reach; `joint` is the joint that moves quickest there. */
  dead?: 'dead-point' | 'unreachable';
  /** Value of that joint's own coordinate there, turns or mm. */
  own?: number;
}

/** A limit that holds, found at a pose: not mapped from the train. */
interface Limited extends Held {
  limit?: Limit;
}

/** What became of a movement asked for. */
export interface Moved {
  /** Value that the coordinate has now, rad or m. */
  value: number;
  held?: Held;
  /** Set where the pose cannot be reached for another reason. */
  blocked?: 'unreachable' | 'dead-point';
}

/** How far before a dead centre the joints are looked at to say which moves quickest, rad or m. */
const BEFORE_DEAD = 1e-4;
/**
 * Steps of the search for stops through loops, how many of them make a way
 * that counts as open, and into how many a known way is divided at most.
 */
const SEARCH = { turn: 1 / 12, mm: 5, steps: 1500, known: 200 };
/** Newton steps allowed for one movement, and for a whole search: so that nothing hangs, whatever the mechanism. */
const BUDGET = { move: 6000, search: 30_000 };

/** Moves a mechanism by hand: one coordinate leads, everything coupled follows, stops hold and are named. */
export class Hand {
  private readonly intervals = new Map<number, Interval>();
  private one = new Int32Array(1);
  private to = new Float64Array(1);
  /** Coordinates that stand where they are while another is led: sources that the hand does not hold. */
  private standing: readonly number[] = [];

  private readonly limits: readonly Limit[];

  constructor(readonly pose: Pose) {
    this.limits = pose.kinematics.limits;
  }

  /** Says which coordinates stand still while the hand leads others. Stops found before through loops are looked for again. */
  hold(coordinates: readonly number[]): void {
    this.standing = coordinates.slice(0, 12);
    this.one = new Int32Array(1 + this.standing.length);
    this.to = new Float64Array(1 + this.standing.length);
    this.intervals.clear();
  }

  /**
   * The interval that all stops leave to a coordinate, in turns or mm:
   * exact for pure trains, found by a bounded search through loops.
   */
  interval(coordinate: number): Interval {
    let i = this.intervals.get(coordinate);
    if (!i) {
      i = mapStops(this.pose.compiled, coordinate);
      this.intervals.set(coordinate, i);
      if (!this.pose.kinematics.linear) this.search(coordinate, i);
    }
    return i;
  }

  /**
   * Walks both ways from the present pose until a stop holds or the way is long enough to count as open; the pose is
   * restored.
   */
  private search(coordinate: number, found: Interval): void {
    const m = this.pose;
    const k = m.kinematics.scale[coordinate];
    const before = Float64Array.from(m.u);
    const latches = Float64Array.from(m.limit);
    const from = m.q[coordinate];
    const step = (slidesAt(m.kinematics, coordinate) ? SEARCH.mm : SEARCH.turn) * k;
    let budget = BUDGET.search;
    for (const [side, sense] of [
      ['upper', 1],
      ['lower', -1],
    ] as const) {
      // What ends the way straight through the train may be met later than a stop, or a dead centre, of the loops.
      const end = found[side];
      const pace = end ? Math.max(step, Math.abs(end.at * k - from) / SEARCH.known) : step;
      let at = from;
      for (let n = 0; n < SEARCH.steps && budget > 0; n++) {
        const r = this.lead(coordinate, at + sense * pace, Math.min(budget, BUDGET.move));
        budget -= this.spent;
        const limit = (r.held as Limited | undefined)?.limit;
        if (limit) {
          found[side] = {
            joint: limit.id,
            which: limit.which,
            own: limit.at / m.kinematics.scale[limit.coordinate[0]],
            at: r.value / k,
            leaves: limit.kind === 'engagement' ? limit.what : undefined,
          };
        }
        const { held } = r;
        if (held?.dead) {
          found[side] = {
            joint: held.joint,
            which: held.which === 'lower' ? 'lower' : 'upper',
            own: held.own ?? 0,
            at: r.value / k,
            dead: held.dead,
          };
        }
        if (r.held || r.blocked) break;
        at = r.value;
      }
      m.setFree(before);
      m.limit.set(latches);
    }
  }

  /** Leads coordinate to a value (rad or m), as far as stops, pawls and geometry let it. */
  move(coordinate: number, value: number): Moved {
    const r = this.lead(coordinate, value, BUDGET.move);
    this.pose.latch();
    return r;
  }

  /** Newton steps that the last movement took. */
  private spent = 0;

  private lead(coordinate: number, value: number, budget: number): Moved {
    const m = this.pose;
    // The interval may have to be searched first, which counts its own steps.
    this.interval(coordinate);
    m.iterationsLeft = budget;
    const r = this.within(coordinate, value);
    this.spent = budget - m.iterationsLeft;
    m.iterationsLeft = Infinity;
    return r;
  }

  private within(coordinate: number, value: number): Moved {
    const m = this.pose;
    const k = m.kinematics.scale[coordinate];
    const { lower, upper } = this.interval(coordinate);
    let goal = value,
      held: Held | undefined;
    if (upper && goal > upper.at * k) {
      goal = upper.at * k;
      held = upper;
    }
    if (lower && goal < lower.at * k) {
      goal = lower.at * k;
      held = lower;
    }
    const from = m.q[coordinate];
    const state = this.step(coordinate, goal);
    const pawl = state === 'ok' ? undefined : m.gripping[0];
    if (m.kinematics.linear && this.standing.length === 0 && m.kinematics.freeCount <= 1) return { value: m.q[coordinate], held };
    const over = state === 'ok' ? this.violated() : undefined;
    if (state === 'ok' && !over) return { value: m.q[coordinate], held, ...(held?.dead && { blocked: held.dead }) };
    // Halve the way to the first stop or dead point; bounded.
    this.step(coordinate, from);
    let good = from,
      bad = goal,
      hit = over;
    for (let i = 0; i < 40 && Math.abs(bad - good) > 1e-9; i++) {
      const mid = (good + bad) / 2;
      const s = this.step(coordinate, mid);
      const v = s === 'ok' ? this.violated() : undefined;
      if (s === 'ok' && !v) good = mid;
      else {
        bad = mid;
        hit = v ?? hit;
        this.step(coordinate, good);
      }
    }
    this.step(coordinate, good);
    if (!hit && pawl) return { value: m.q[coordinate], held: { joint: pawl, which: 'pawl' } };
    if (hit) return { value: m.q[coordinate], held: hit };
    // What stops for want of steps has not met its end.
    if (m.iterationsLeft <= 0) return { value: m.q[coordinate], blocked: 'unreachable' };
    return this.dead(coordinate, good, Math.sign(goal - from));
  }

  /**
   * Names the end of a way that no stop makes: by the joint whose coordinate
   * runs away there. Links in line make its speed grow without bound.
   */
  private dead(coordinate: number, at: number, sense: number): Moved {
    const m = this.pose;
    const there = Float64Array.from(m.q),
      u = Float64Array.from(m.u);
    const near = this.step(coordinate, at - sense * BEFORE_DEAD) === 'ok';
    let quickest = -1,
      most = 0;
    for (let i = 0; near && i < m.kinematics.count; i++) {
      // A millimetre of travel counts as half a degree: both are about as much to see.
      const by = Math.abs(m.q[i] - there[i]) * (slidesAt(m.kinematics, i) ? 10 : 1);
      if (i !== coordinate && by > most) {
        most = by;
        quickest = i;
      }
    }
    const down = quickest >= 0 && there[quickest] < m.q[quickest];
    m.setFree(u);
    const blocked = most > 3 * BEFORE_DEAD ? 'dead-point' : 'unreachable';
    if (quickest < 0) return { value: m.q[coordinate], blocked };
    const c = m.compiled.structure.coordinates[quickest];
    return {
      value: m.q[coordinate],
      blocked,
      held: { joint: c.joint.id, which: down ? 'lower' : 'upper', dead: blocked, own: there[quickest] / m.kinematics.scale[quickest] },
    };
  }

  /** Moves one coordinate alone for a look, the couplings let go. Call back(): the pose before is restored. */
  peek(coordinate: number, value: number): void {
    this.pose.q[coordinate] = value;
    this.pose.replace();
  }
  /** Puts the bodies back where the coordinates have them, after a look. */
  back(): void {
    this.pose.refresh();
  }

  private step(coordinate: number, value: number): 'ok' | 'unreachable' | 'dead-point' {
    const q = this.pose.q;
    this.one[0] = coordinate;
    this.to[0] = value;
    let n = 1;
    for (const i of this.standing) {
      if (i === coordinate) continue;
      this.one[n] = i;
      this.to[n++] = q[i];
    }
    const r = this.pose.solve(this.one, this.to, n);
    // What stands may be tied to what is led: then it gives way.
    return r === 'ok' || n === 1 ? r : this.pose.solve(this.one, this.to, 1);
  }

  private violated(): Limited | undefined {
    const l = this.limits.find((x) => beyond(x, this.pose.q) > 1e-9);
    return l && { joint: l.id, which: l.which, leaves: l.kind === 'engagement' ? l.what : undefined, limit: l };
  }
}
