import { Forces, givesTorque } from '../forces/index';
import { type Compiled, poseOf } from '../kinematics/index';
import { coordinatesAt, framesAround } from './between';
import type { RunMode, RunResult } from './recorder';

/** The forces at an instant of a run, and what held and led the train there. */
export interface RunForces {
  readonly mode: RunMode;
  readonly forces: Forces;
}

function inMode(compiled: Compiled, mode: RunMode): RunForces {
  const pose = poseOf(compiled);
  const k = pose.kinematics;
  for (const r of k.grips) if (k.rows[r].grip!.touches) pose.touch(r, !mode.flying.includes(r));
  return { mode, forces: new Forces(pose, { driven: mode.led, gripping: mode.gripping }) };
}

/**
 * The forces at a recorded instant, inertia counted, on a pose of their own;
 * `had` of the same run is used again where the same things hold and lead.
 */
export function forcesAt(compiled: Compiled, r: RunResult, frame: number, had?: RunForces): RunForces {
  return between(compiled, r, frame, frame, 0, had);
}

/**
 * The forces at any time of a run, s: between two instants by places as `coordinatesAt` gives them and by the
 * line between their speeds and accelerations; where something happens between them, those of the nearer.
 */
export function forcesAtTime(compiled: Compiled, r: RunResult, time: number, had?: RunForces): RunForces {
  const { frame, next, part } = framesAround(r, time);
  const happens = r.mode[frame] !== r.mode[next] || r.events.some((e) => e.time > r.time[frame] && e.time < r.time[next]);
  if (happens || part === 0) return forcesAt(compiled, r, part < 0.5 ? frame : next, had);
  return between(compiled, r, frame, next, part, had);
}

function between(compiled: Compiled, r: RunResult, frame: number, next: number, part: number, had?: RunForces): RunForces {
  const n = r.coordinates;
  const mode = r.modes[r.mode[frame]];
  const made = had?.mode === mode ? had : inMode(compiled, mode);
  const { forces } = made;
  const { pose } = forces;
  pose.gripsStand = mode.gripsStand;
  coordinatesAt(r, r.time[frame] + part * (r.time[next] - r.time[frame]), pose.q);
  pose.replace();
  for (let i = 0; i < n; i++) {
    const [a, b] = [frame * n + i, next * n + i];
    forces.velocity[i] = r.v[a] + part * (r.v[b] - r.v[a]);
    forces.acceleration[i] = r.a[a] + part * (r.a[b] - r.a[a]);
  }
  forces.frictionSense.set(mode.friction);
  forces.tendency = mode.tendency && Float64Array.from(mode.tendency);
  compiled.sources.forEach(({ source, coordinate }, k) => {
    if (!givesTorque(source) || mode.led.includes(coordinate)) return;
    const [a, b] = [r.input[frame * r.sources + k], r.input[next * r.sources + k]];
    forces.given[coordinate] = a + part * (b - a);
  });
  forces.evaluate({ inertia: true });
  return made;
}
