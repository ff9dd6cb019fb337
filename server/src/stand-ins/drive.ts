import type { DriveOrder, DriveReadings } from '@unirota/contract/stand-ins';

/** How often the drive's control looks at its motor, s. */
const STEP = 1e-3;
/** Bandwidth of the control of speed, rad/s, and how much slower its integral part is. */
const BANDWIDTH = 2 * Math.PI * 10;
const SLOWER = 4;
/** The most readings of one order. */
const MOST = 2000;

/** A value at a place of a series that is sorted by it; held beyond its ends. */
function at(xs: readonly number[], ys: readonly number[], x: number, from: number): { value: number; slope: number; index: number } {
  let i = Math.min(from, xs.length - 2);
  while (i > 0 && xs[i] > x) i--;
  while (i < xs.length - 2 && xs[i + 1] <= x) i++;
  const width = xs[i + 1] - xs[i];
  const share = width > 0 ? Math.max(0, Math.min(1, (x - xs[i]) / width)) : 0;
  const rise = ys[i + 1] - ys[i];
  return { value: ys[i] + share * rise, slope: share > 0 && share < 1 ? rise / width : 0, index: i };
}

/** The load by place, of one sense of motion: the instants of the order that move so, sorted by place. */
function loadOf({ place, speed, effort, load }: DriveOrder, sense: 1 | -1): { place: number[]; effort: number[]; inertia: number[] } {
  const own = place.map((_, i) => i).filter((i) => speed[i] * sense > 0);
  const used = (own.length > 1 ? own : place.map((_, i) => i)).sort((a, b) => place[a] - place[b]);
  return { place: used.map((i) => place[i]), effort: used.map((i) => effort[i]), inertia: used.map((i) => load[i]) };
}

/**
 * The stand-in for a motor drive: a speed is set, a proportional and integral control of speed asks
 * for a current within its limit, the motor's torque is in proportion to the current and moves its own
 * inertia and the train's load. Gives the readings of the time from the last call until `until`, s.
 */
export class StandInDrive {
  readonly duration: number;
  private readonly loads: Record<1 | -1, ReturnType<typeof loadOf>>;
  private readonly every: number;
  private time: number;
  private place: number;
  private speed: number;
  private integral: number;
  private current = 0;
  private sense: 1 | -1 = 1;
  private next: number;
  private readonly from: number;
  private readonly seen = { set: 0, 1: 0, [-1]: 0 };

  constructor(private readonly order: DriveOrder) {
    const { time, place, speed, effort, load } = order;
    this.duration = time[time.length - 1] - time[0];
    this.loads = { 1: loadOf(order, 1), [-1]: loadOf(order, -1) };
    this.every = Math.max(5, Math.ceil(this.duration / STEP / MOST)) * STEP;
    this.time = time[0];
    this.next = time[0];
    this.from = place[0];
    this.place = place[0];
    this.speed = speed[0];
    // It stands holding its load, or runs as it is asked to.
    this.integral = Math.max(-order.limit, Math.min(order.limit, effort[0] / order.constant));
    this.stiffness = (order.inertia + load.reduce((s, x) => s + x, 0) / load.length) * BANDWIDTH;
  }
  /** N·m by rad/s of what it lags behind. */
  private readonly stiffness: number;

  until(until: number): DriveReadings {
    const { order } = this;
    const out: DriveReadings = { time: [], counts: [], speed: [], effort: [], current: [] };
    const end = Math.min(until, this.duration) + order.time[0];
    while (this.time <= end + STEP / 2) {
      const set = at(order.time, order.speed, this.time, this.seen.set);
      this.seen.set = set.index;
      const lag = set.value - this.speed;
      const asked = this.integral + (this.stiffness * lag) / order.constant;
      this.current = Math.max(-order.limit, Math.min(order.limit, asked));
      // At its limit the integral part waits.
      if (asked === this.current) this.integral += (((this.stiffness * BANDWIDTH) / SLOWER) * lag * STEP) / order.constant;
      if (this.time >= this.next - STEP / 2) {
        out.time.push(Number((this.time - order.time[0]).toFixed(6)));
        out.counts.push(this.counts());
        out.speed.push(this.speed);
        out.effort.push(this.current * order.constant);
        out.current.push(this.current);
        this.next += this.every;
      }
      this.move(set.value);
    }
    return out;
  }

  private counts(): number {
    return Math.floor(((this.place - this.from) / this.unit()) * this.order.counts + 1e-9);
  }
  /** What the encoder counts by: the order says turns in rad; a linear motor's metres are as they are. */
  private unit(): number {
    return this.order.slide ? 1 : 2 * Math.PI;
  }

  private move(set: number): void {
    if (Math.abs(this.speed) > 1e-9) this.sense = this.speed > 0 ? 1 : -1;
    else if (set !== 0) this.sense = set > 0 ? 1 : -1;
    const table = this.loads[this.sense];
    const effort = at(table.place, table.effort, this.place, this.seen[this.sense]);
    this.seen[this.sense] = effort.index;
    const { value: load, slope } = at(table.place, table.inertia, this.place, effort.index);
    const before = this.speed;
    // What changes its inertia with the place takes ½ J′·v² besides.
    const given = this.current * this.order.constant - effort.value - (slope * before * before) / 2;
    this.speed += (given / (this.order.inertia + load)) * STEP;
    this.place += ((before + this.speed) / 2) * STEP;
    this.time += STEP;
  }
}
