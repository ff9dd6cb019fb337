import type { Id } from '../fields/types';
import { shaftDiagram } from '../forces/index';
import type { Compiled } from '../kinematics/index';
import { lineAt } from '../math/index';
import { type RunForces, forcesAt } from './forces-at';
import type { RunResult } from './recorder';

/** The largest by size along a shaft over a run, at each place, and the largest of all with its place and time. */
export interface ShaftEnvelope {
  /** mm */
  readonly at: Float64Array;
  /** N·m, N·m, N, mm */
  readonly bending: Float64Array;
  readonly torsion: Float64Array;
  readonly shear: Float64Array;
  readonly deflection?: Float64Array;
  readonly worst: { bending: Worst; torsion: Worst };
}
interface Worst {
  value: number;
  /** mm, s */
  at: number;
  time: number;
}

const STATIONS = 161;
/** As many instants of a run are looked at, evenly. */
const INSTANTS = 301;

/** Looks along a shaft at the instants of a run, inertia counted. Undefined where the member is none. */
export function shaftEnvelope(compiled: Compiled, r: RunResult, member: Id): ShaftEnvelope | undefined {
  let had: RunForces | undefined;
  let out: { -readonly [K in keyof ShaftEnvelope]: ShaftEnvelope[K] } | undefined;
  const frames = Math.min(r.frames, INSTANTS);
  for (let k = 0; k < frames; k++) {
    const f = frames > 1 ? Math.round((k * (r.frames - 1)) / (frames - 1)) : 0;
    had = forcesAt(compiled, r, f, had);
    const d = shaftDiagram(had.forces, member, true);
    if (!d || d.at.length < 2) return undefined;
    const none = (): Worst => ({ value: 0, at: d.at[0], time: r.time[0] });
    out ??= {
      at: Float64Array.from({ length: STATIONS }, (_, i) => d.at[0] + ((d.at[d.at.length - 1] - d.at[0]) * i) / (STATIONS - 1)),
      bending: new Float64Array(STATIONS),
      torsion: new Float64Array(STATIONS),
      shear: new Float64Array(STATIONS),
      deflection: d.deflection && new Float64Array(STATIONS),
      worst: { bending: none(), torsion: none() },
    };
    for (let i = 0; i < STATIONS; i++) {
      const z = out.at[i];
      const across = (v: readonly [Float64Array, Float64Array]): number => Math.hypot(lineAt(d.at, v[0], z), lineAt(d.at, v[1], z));
      out.bending[i] = Math.max(out.bending[i], across(d.bending));
      out.shear[i] = Math.max(out.shear[i], across(d.shear));
      const t = lineAt(d.at, d.torsion, z);
      if (Math.abs(t) > Math.abs(out.torsion[i])) out.torsion[i] = t;
      if (out.deflection && d.deflection) out.deflection[i] = Math.max(out.deflection[i], across(d.deflection));
    }
    for (let i = 0; i < d.at.length; i++) {
      const { bending, torsion } = out.worst;
      if (d.resultant[i] > bending.value * (1 + 1e-12)) Object.assign(bending, { value: d.resultant[i], at: d.at[i], time: r.time[f] });
      if (Math.abs(d.torsion[i]) > Math.abs(torsion.value) * (1 + 1e-12)) {
        Object.assign(torsion, { value: d.torsion[i], at: d.at[i], time: r.time[f] });
      }
    }
  }
  return out;
}
