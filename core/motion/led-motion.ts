import { along } from '../couplings/index';
import { type Limit, beyond, slidesAt } from '../kinematics/index';
import { firstFound } from '../math/index';
import { atLimit, happening } from './events';
import type { Running } from './running';
import type { Train } from './train';

/** What keeps a led train from going on. */
type Bar = Limit | 'pawl' | 'unreachable' | 'dead-point';

/**
 * How far anything may go between two looks, rad or m: what a changing
 * profile leads, what loops close, and the motion of a pawl or a cam.
 */
const FINEST = { led: 0.1, slide: 1e-3, cam: 0.01 };
/** Part of a tooth that a pawl may pass between two looks. */
const OF_TOOTH = 1 / 16;
/** Looks over a whole run, at least and at most. */
const FEWEST_LOOKS = 500;
const MOST_LOOKS = 200_000;

/** Whether anything may happen between two frames that the second would not show. */
const mustLook = ({ pose, limits, mode }: Train): boolean =>
  mode.stuck.size > 0 || pose.kinematics.grips.length > 0 || pose.kinematics.closures.length > 0 || limits.length > 0;

/** Time after which to look again: so that what is led, pawls and cams go no farther than they may. s */
function nextLook(run: Running): number {
  const { train } = run;
  const { pose, forces } = train;
  const k = pose.kinematics;
  // A profile may begin slowly: nothing is known of it from one moment at rest.
  let dt = run.duration / FEWEST_LOOKS;
  const within = (reach: number, speed: number, acceleration: number): void => {
    if (speed !== 0) dt = Math.min(dt, reach / Math.abs(speed));
    if (acceleration !== 0) dt = Math.min(dt, Math.sqrt((2 * reach) / Math.abs(acceleration)));
    // Where it turns back is looked at: a pawl may just come over a tooth there.
    if (speed * acceleration < 0) dt = Math.min(dt, -speed / acceleration);
  };
  const reach = (c: number): number => (slidesAt(k, c) ? FINEST.slide : FINEST.led);
  for (let n = 0; n < train.led.length; n++) if (!train.steady[n]) within(reach(train.led[n]), train.speeds[n], train.pushes[n]);
  // What goes on at one speed may turn many times between two looks; the loops and cams that it moves may not go far.
  for (let n = 0; n < k.bending.length; n++) within(reach(k.bending[n]), forces.velocity[k.bending[n]], 0);
  for (const r of k.grips) {
    const { grip, ports } = k.rows[r];
    if (!grip || grip.lifted) continue;
    if (grip.touches) within(FINEST.cam, along(ports[0], forces.velocity), 0);
    else if (grip.pitch > 0) {
      let way = 0;
      for (const p of ports) for (let x = 0; x < p.coordinate.length; x++) way += Math.abs(p.value[x] * forces.velocity[p.coordinate[x]]);
      within(grip.pitch * OF_TOOTH, way, 0);
    }
  }
  return Math.max(dt, run.duration / MOST_LOOKS);
}

/**
 * The whole way is led: to the next frame, or to the next place at which
 * to look, unless a stop, a pawl, a follower or a dead point comes first.
 */
export function leadOn(run: Running, frame: number): void {
  const { train } = run;
  const { pose, forces } = train;
  const next = mustLook(train) ? Math.min(frame, run.t + nextLook(run)) : frame;
  const u0 = Float64Array.from(pose.u),
    limits = Float64Array.from(pose.limit),
    on = Uint8Array.from(pose.on);
  const width = 1e-12 * Math.max(1, next);
  run.spent++;
  const back = (): void => {
    pose.limit.set(limits);
    pose.setFree(u0);
  };
  const barred = (t: number): { bar: Bar } | undefined => {
    back();
    if (!train.moveTo(t, train.y)) return { bar: pose.gripping.length ? 'pawl' : train.lastState === 'dead-point' ? 'dead-point' : 'unreachable' };
    const l = train.limits.find((x) => beyond(x, pose.q) > 1e-9);
    return l && { bar: l };
  };
  const bar = barred(next);
  if (bar) {
    if (run.stalled) {
      // Still pushed against what holds: it stays.
      pose.setFree(run.stalled);
      forces.velocity.fill(0);
      run.t = next;
      return;
    }
    const { before, found } = firstFound(run.t, next, width, bar, barred);
    barred(before);
    train.settle(before, train.y, run.inertia);
    pose.latch();
    return stopAt(run, found.bar, before, next);
  }
  if (run.stalled) {
    const { at } = firstFound(run.t, next, width, true, (mid) => barred(mid) === undefined || undefined);
    back();
    train.settle(at, train.y, run.inertia);
    pose.latch();
    run.stalled = undefined;
    run.t = at;
    return run.say('stop-left', '', 'the train moves away from what held it');
  }
  const settle = (t: number): void => {
    back();
    train.settle(t, train.y, run.inertia);
  };
  // Where nothing can happen but a stop or the end of a way, the forces on the way between two instants are of no interest.
  const quiet = !pose.kinematics.grips.length && !train.mode.stops.size && !train.mode.stuck.size && !train.mode.sliding.size;
  if (!quiet || next >= frame) train.settle(next, train.y, run.inertia);
  const atEnd = quiet ? undefined : happening(train, next, run.inertia);
  if (atEnd) {
    const { before, at, found } = firstFound(run.t, next, width, atEnd, (mid) => {
      settle(mid);
      return happening(train, mid, run.inertia);
    });
    // The rates with which it comes there: a jump has them changed already.
    settle(before);
    const rates = Float64Array.from(forces.velocity);
    settle(at);
    run.t = at;
    pose.latch();
    return run.happen(found, rates);
  }
  if (changed(pose.on, on)) {
    const { at } = firstFound(run.t, next, width, true, (mid) => {
      settle(mid);
      return changed(pose.on, on) || undefined;
    });
    settle(at);
    run.t = at;
    sayGrips(run, on);
  } else run.t = next;
  pose.latch();
  if (run.branch && pose.branch && pose.branch !== run.branch) {
    run.say('branch-change', '', 'a dead point was passed: the mechanism goes on assembled the other way');
  }
  if (pose.branch) run.branch = pose.branch;
}

const changed = (a: Uint8Array, b: Uint8Array): boolean => a.some((x, k) => x !== b[k]);

/** Says which pawls and clutches took hold or let go since the pattern of before. */
function sayGrips(run: Running, before: Uint8Array): void {
  const { pose, nameOf } = run.train;
  const k = pose.kinematics;
  k.grips.forEach((r, g) => {
    const { grip, coupling } = k.rows[r];
    if (!grip || pose.on[g] === before[g]) return;
    const event = pose.on[g] ? grip.holds : grip.lets;
    run.say(event.kind, coupling, event.say(nameOf(coupling)));
  });
}

/** Says what bars the way; a stop or a pawl holds the whole train, anything else ends the run. */
function stopAt(run: Running, bar: Bar, at: number, next: number): void {
  const { train } = run;
  const { pose, forces } = train;
  if (bar === 'unreachable' || bar === 'dead-point') {
    run.t = at;
    return run.end(
      bar,
      '',
      bar === 'dead-point'
        ? 'the mechanism comes to a dead point, where what is led cannot move it on'
        : 'the mechanism comes to a place that its parts do not reach beyond',
    );
  }
  if (bar === 'pawl') {
    const id = pose.gripping[0] ?? '';
    run.say('pawl-grips', id, `${train.nameOf(id)} holds`, at);
  } else {
    const met = atLimit(train, bar);
    if (met.ends) {
      run.t = at;
      return run.end(met.kind, met.id, met.message);
    }
    run.say(met.kind, met.id, met.message, at);
  }
  run.stalled = Float64Array.from(pose.u);
  forces.velocity.fill(0);
  run.t = next;
}
