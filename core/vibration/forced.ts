import type { DrivingSource } from '../document/kinds';
import { num } from '../elements/index';
import type { Id } from '../fields/types';
import type { Ledger } from '../forces/index';
import type { Excitation } from './campbell';
import type { Assumption, SpringTrain } from './model';
import type { Part } from './modes';

/** What forces vibration on a train: the transmission error of a mesh, mm, or the ripple of a torque, N·m. Amplitudes. */
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
  /** Of teeth: what they carry steadily at nominal speed, at the same rim, N. Where the amplitude is more, they part. */
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

/** What is stated to force vibration on a train: sources that are held cannot; and what of it is left out, with the reason. */
export function forcingsOf(
  { springs, pose: { compiled } }: SpringTrain,
  ledger: Ledger,
  excitations: readonly Excitation[],
  held: boolean,
): { readonly forcings: readonly Forcing[]; readonly left: readonly Assumption[] } {
  const [forcings, left]: [Forcing[], Assumption[]] = [[], []];
  for (const { item, name, kind, frequency } of excitations) {
    if (kind === 'mesh') {
      const c = compiled.couplings.find((x) => x.coupling.id === item)?.coupling as { transmissionError?: number } | undefined;
      const amplitude = num(c?.transmissionError);
      if (!(amplitude > 0)) continue;
      if (springs.some((s) => s.item === item)) forcings.push({ item, name, kind: 'transmission error', amplitude, frequency });
      else left.push({ item, name, why: 'its transmission error is left out, for it counts as rigid' });
    } else if (kind === 'ripple' && !held) {
      const s = compiled.sources.find((x) => x.source.id === item)?.source as DrivingSource | undefined;
      const amplitude = num(s?.ripple) * Math.abs(ledger.sources.find((x) => x.source === item)?.load ?? NaN);
      if (amplitude > 0) forcings.push({ item, name, kind, amplitude, frequency });
      else left.push({ item, name, why: 'its ripple is left out: it gives no torque, or its torque is not known' });
    }
  }
  return { forcings, left };
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
  const size = Math.hypot(1, eta);
  const speeds = speedsOf(stretching, forcings, damping);
  const terms = forcings.map(({ item, kind, amplitude, frequency }) => {
    // Displacements go in over the spring of the mesh, which is damped; torques by themselves.
    const own = kind === 'ripple' ? -1 : springs.findIndex((s) => s.item === item);
    const by = own < 0 ? driven[pose.compiled.sources.findIndex((s) => s.source.id === item)] : springs[own].gradient;
    const displaced = own < 0 ? 0 : amplitude * MM;
    const strength = own < 0 ? amplitude : springs[own].stiffness * displaced;
    return { own, displaced, frequency, force: stretching.map((p) => strength * dot(by, p.shape)) };
  });
  const amplitude = (s: number, { own, displaced, frequency, force }: (typeof terms)[number], speed: number): number => {
    const square = (2 * Math.PI * frequency * speed) ** 2;
    let [re, im] = [0, 0];
    for (let r = 0; r < stretching.length; r++) {
      const p = stretching[r];
      const [a, b] = [p.stiffness - square * p.mass, eta * p.stiffness];
      const over = (along[s][r] * force[r]) / (a * a + b * b);
      re += over * a;
      im -= over * b;
    }
    // (1 + iη)·x of a displacement, less the displacement itself in its own spring.
    if (own >= 0) [re, im] = [re - eta * im - (own === s ? displaced : 0), im + eta * re];
    return springs[s].stiffness * size * Math.hypot(re, im);
  };
  const together = (s: number, speed: number): number => terms.reduce((sum, x) => sum + amplitude(s, x, speed), 0);
  return {
    forcings,
    speeds,
    responses: springs.map((spring, s): Response => {
      const amplitudes = speeds.map((speed) => together(s, speed));
      const top = amplitudes.reduce((most, x, k) => (x > amplitudes[most] ? k : most), 0);
      const each = terms.map((x) => amplitude(s, x, speeds[top]));
      const torque = spring.rim === undefined ? undefined : ledger.couplings.find((x) => x.coupling === spring.item)?.loads[0];
      return {
        item: spring.item,
        name: spring.name,
        unit: spring.unit,
        amplitudes,
        nominal: together(s, 1),
        most: amplitudes[top],
        at: speeds[top],
        by: each.reduce((most, x, k) => (x > each[most] ? k : most), 0),
        ...(torque !== undefined && { steady: Math.abs(torque) / spring.rim! }),
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
