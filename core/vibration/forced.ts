import type { DrivingSource } from '../document/kinds';
import { num } from '../elements/index';
import type { Id } from '../fields/types';
import type { Ledger } from '../forces/index';
import type { Compiled } from '../kinematics/index';
import type { Excitation } from './campbell';
import type { SpringTrain } from './model';
import type { Part } from './modes';

/** What forces vibration on a train: the transmission error of a mesh, mm, or the ripple of a source's torque, N·m. Amplitudes. */
export interface Forcing {
  readonly item: Id;
  readonly name: string;
  readonly kind: 'transmission error' | 'ripple';
  readonly amplitude: number;
  /** Hz at nominal speed. */
  readonly frequency: number;
}
/** What something that gives carries beside its steady load: amplitudes over speed, of all forcings at their worst together. */
export interface Response {
  readonly item: Id;
  readonly name: string;
  readonly unit: 'N' | 'N·m';
  readonly amplitudes: readonly number[];
  readonly nominal: number;
  readonly most: number;
  /** At which speed, as a part of the nominal one, and by which forcing most of it. */
  readonly at: number;
  readonly by: number;
  /** Of teeth: what they carry steadily at nominal speed, N. Where the amplitude is more, they part. */
  readonly steady?: number;
}
/** Forced vibration of a train, damped. */
export interface Forced {
  readonly forcings: readonly Forcing[];
  /** Parts of the nominal speed. */
  readonly speeds: readonly number[];
  readonly responses: readonly Response[];
}

/** Speeds from and up to these parts of the nominal one are looked at, in such steps: below, a train passes as it starts. */
const FROM = 0.1,
  UP_TO = 2,
  STEP = 0.01;
const MM = 1e-3;
/** Couplings whose teeth part, where the amplitude is more than they carry. */
const TEETH = new Set(['gear-pair', 'rack-mesh', 'sector-mesh', 'bevel-pair']);

/** What is stated to force vibration on a design. Sources that are held cannot. */
export function forcingsOf(compiled: Compiled, ledger: Ledger, excitations: readonly Excitation[], held: boolean): Forcing[] {
  return excitations.flatMap(({ item, name, kind, frequency }): Forcing[] => {
    if (kind === 'mesh') {
      const c = compiled.couplings.find((x) => x.coupling.id === item)?.coupling as { transmissionError?: number } | undefined;
      const amplitude = num(c?.transmissionError);
      return amplitude > 0 ? [{ item, name, kind: 'transmission error', amplitude, frequency }] : [];
    }
    if (kind !== 'ripple' || held) return [];
    const s = compiled.sources.find((x) => x.source.id === item)?.source as DrivingSource | undefined;
    const amplitude = num(s?.ripple) * Math.abs(ledger.sources.find((x) => x.source === item)?.load ?? NaN);
    return amplitude > 0 ? [{ item, name, kind, amplitude, frequency }] : [];
  });
}

/**
 * Forced vibration by the motions that go by themselves, each with the loss factor η = 2ζ (structural damping: K·(1 + iη)):
 * x = Σ φ·(φᵀ·f)/(k·(1 + iη) − ω²·m). Parts without mass follow at once; loose motions stretch nothing. `damping`: ζ.
 */
export function forcedOf(train: SpringTrain, parts: readonly Part[], forcings: readonly Forcing[], ledger: Ledger, damping: number): Forced {
  const stretching = parts.filter((p) => p.kind !== 'loose');
  const { springs, driven, pose } = train;
  const dot = (a: Float64Array, b: Float64Array): number => a.reduce((s, v, i) => s + v * b[i], 0);
  const along = springs.map((s) => stretching.map((p) => dot(s.gradient, p.shape)));
  const eta = 2 * damping;
  const speeds = speedsOf(stretching, forcings, damping);
  const sources = pose.compiled.sources.map((s) => s.source.id);
  const terms = forcings.map((forcing) => {
    const mesh = forcing.kind === 'transmission error' ? springs.findIndex((s) => s.item === forcing.item) : -1;
    const source = sources.indexOf(forcing.item);
    // Displacements go in over the spring of the mesh, which is damped; torques by themselves.
    const force =
      mesh >= 0
        ? along[mesh].map((a) => a * springs[mesh].stiffness * forcing.amplitude * MM)
        : source >= 0
          ? stretching.map((p) => forcing.amplitude * dot(driven[source], p.shape))
          : undefined;
    return { forcing, mesh, force };
  });
  const amplitude = (s: number, { forcing, mesh, force }: (typeof terms)[number], speed: number): number => {
    if (!force) return 0;
    const square = (2 * Math.PI * forcing.frequency * speed) ** 2;
    let [re, im] = [0, 0];
    for (const [r, p] of stretching.entries()) {
      const [a, b] = [p.stiffness - square * p.mass, eta * p.stiffness];
      const over = (along[s][r] * force[r]) / (a * a + b * b);
      re += over * a;
      im -= over * b;
    }
    // (1 + iη)·x of a displacement, less the displacement itself in its own spring.
    if (mesh >= 0) [re, im] = [re - eta * im - (mesh === s ? forcing.amplitude * MM : 0), im + eta * re];
    return springs[s].stiffness * Math.hypot(1, eta) * Math.hypot(re, im);
  };
  const together = (s: number, speed: number): number => terms.reduce((sum, x) => sum + amplitude(s, x, speed), 0);
  const toothed = new Set(pose.compiled.couplings.filter((x) => TEETH.has(x.coupling.type)).map((x) => x.coupling.id));
  return {
    forcings,
    speeds,
    responses: springs.map((spring, s): Response => {
      const amplitudes = speeds.map((speed) => together(s, speed));
      const top = amplitudes.reduce((most, x, k) => (x > amplitudes[most] ? k : most), 0);
      const each = terms.map((x) => amplitude(s, x, speeds[top]));
      const line = toothed.has(spring.item) ? ledger.couplings.find((x) => x.coupling === spring.item) : undefined;
      return {
        item: spring.item,
        name: spring.name,
        unit: spring.unit,
        amplitudes,
        nominal: together(s, 1),
        most: amplitudes[top],
        at: speeds[top],
        by: each.reduce((most, x, k) => (x > each[most] ? k : most), 0),
        ...(line && { steady: Math.abs(line.tangential) }),
      };
    }),
  };
}

/** Speeds at even steps, and at every resonance with its flanks, so that none is missed between two steps. */
function speedsOf(parts: readonly Part[], forcings: readonly Forcing[], damping: number): number[] {
  const even = Array.from({ length: Math.round((UP_TO - FROM) / STEP) + 1 }, (_, k) => FROM + k * STEP);
  const peaks = parts.flatMap((p) =>
    p.kind === 'mode'
      ? forcings.flatMap((x) => {
          const at = Math.sqrt(p.stiffness / p.mass) / (2 * Math.PI) / x.frequency;
          return [at * (1 - damping), at, at * (1 + damping)];
        })
      : [],
  );
  return [...even, ...peaks.filter((x) => x >= FROM && x <= UP_TO)].sort((a, b) => a - b);
}
