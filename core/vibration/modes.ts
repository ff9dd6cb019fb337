import type { Id } from '../fields/types';
import { type Matrix, backward, cholesky, forward, solveRows, symmetricEigen, zeros } from '../math/index';
import type { SpringTrain } from './model';

/** A natural mode of a train. */
export interface Mode {
  /** Hz */
  readonly frequency: number;
  /** Amplitudes of all unknowns, rad and m, the largest turn 1 rad (or, where nothing turns, the largest travel 1 m). */
  readonly shape: Float64Array;
  /** Where its energy is while it is all in springs, largest first; parts of 1. */
  readonly energy: readonly { readonly item: Id; readonly name: string; readonly part: number }[];
}
/** Natural frequencies of a train, lowest first; how many motions are left without springs; why there are none. */
export interface Modes {
  readonly modes: readonly Mode[];
  readonly loose: number;
  readonly trouble?: string;
}

const times = (a: Matrix, x: Float64Array): Float64Array => Float64Array.from(a, (row) => row.reduce((s, v, i) => s + v * x[i], 0));
const dotOf = (a: Float64Array, b: Float64Array): number => a.reduce((s, v, i) => s + v * b[i], 0);

/** What moves at all: K and M over a basis of what the rigid rows leave. */
function reduced({ rigid, springs, mass, unknowns }: SpringTrain): { basis: Matrix; K: Matrix; M: Matrix } {
  const { basis } = solveRows(rigid, unknowns);
  const n = basis.length;
  const [K, M] = [zeros(n), zeros(n)];
  for (const s of springs) {
    const along = basis.map((b) => dotOf(s.gradient, b));
    for (let i = 0; i < n; i++) if (along[i] !== 0) for (let j = 0; j < n; j++) K[i][j] += s.stiffness * along[i] * along[j];
  }
  const moved = basis.map((b) => times(mass, b));
  for (let i = 0; i < n; i++) for (let j = 0; j < n; j++) M[i][j] = dotOf(basis[j], moved[i]);
  return { basis, K, M };
}

/** Modes this much faster than the slowest are those of what has hardly any mass. */
const WITHOUT_MASS = 1e-13;
/** Shift of the stiffness, of the mean over the mass: what is free then has a frequency too, and counts as loose. */
const SHIFT = 1e-3;
/** Part of the shift below which a stiffness is that of a loose motion. */
const LOOSE = 1e-9;

/**
 * A motion that goes by itself, undisturbed by the others: its stiffness and mass for amplitudes of all unknowns. Loose ones
 * have no stiffness, fast ones no mass.
 */
export interface Part {
  readonly kind: 'mode' | 'loose' | 'without mass';
  readonly stiffness: number;
  readonly mass: number;
  readonly shape: Float64Array;
}

/**
 * A train taken apart into motions that go by themselves, undamped: K·φ = ω²·M·φ, by M·φ = μ·(K + s·M)·φ with μ = 1/(ω² + s),
 * which also takes parts without mass (they have no frequency) and loose ones (ω = 0). Or why it cannot be.
 */
export function partsOf(train: SpringTrain): { readonly parts: readonly Part[]; readonly trouble?: string; readonly loose?: number } {
  const { basis, K, M } = reduced(train);
  const n = basis.length;
  if (n === 0) return { parts: [] };
  const trace = (a: Matrix): number => a.reduce((s, row, i) => s + row[i], 0);
  if (!(trace(M) > 0)) return { parts: [], trouble: 'nothing that moves has a mass' };
  if (!(trace(K) > 0)) {
    return { parts: [], loose: n, trouble: 'nothing in the train gives: state round bars on shafts, or the stiffness of bands' };
  }
  // Unknowns of very different sizes (a slide in m, a shaft in rad) alike.
  const scale = Float64Array.from(K, (row, i) => 1 / Math.sqrt(Math.max(row[i], 1e-30) + M[i][i]));
  const scaled = (a: Matrix): Matrix => a.map((row, i) => row.map((v, j) => v * scale[i] * scale[j]));
  const [k, m] = [scaled(K), scaled(M)];
  const shift = (SHIFT * trace(k)) / trace(m);
  const L = cholesky(k.map((row, i) => row.map((v, j) => v + shift * m[i][j])));
  if (!L) return { parts: [], trouble: 'a part has neither mass nor spring: it has no frequency' };
  const C = zeros(n);
  for (let j = 0; j < n; j++) {
    const column = forward(
      L,
      Float64Array.from(m, (row) => row[j]),
    );
    for (let i = 0; i < n; i++) C[j][i] = column[i];
  }
  const D = zeros(n);
  for (let j = 0; j < n; j++) {
    const column = forward(
      L,
      Float64Array.from(C, (row) => row[j]),
    );
    for (let i = 0; i < n; i++) D[i][j] = column[i];
  }
  for (let i = 0; i < n; i++) for (let j = 0; j < i; j++) D[i][j] = D[j][i] = (D[i][j] + D[j][i]) / 2;
  const { values, vectors } = symmetricEigen(D);
  const parts = Array.from(values, (mu, x): Part => {
    const y = backward(L, Float64Array.from(vectors[x]));
    for (let i = 0; i < n; i++) y[i] *= scale[i];
    // Rayleigh's quotient is more exact than 1/μ − s where ω² is small beside s.
    const [stiffness, mass] = [dotOf(y, times(K, y)), dotOf(y, times(M, y))];
    const shape = new Float64Array(train.unknowns);
    basis.forEach((b, i) => b.forEach((v, u) => (shape[u] += y[i] * v)));
    if (mu <= WITHOUT_MASS * values[n - 1]) return { kind: 'without mass', stiffness, mass: 0, shape };
    return stiffness <= LOOSE * shift * mass ? { kind: 'loose', stiffness: 0, mass, shape } : { kind: 'mode', stiffness, mass, shape };
  });
  return { parts };
}

/** Natural frequencies and modes of a train, undamped. */
export function modesOf(train: SpringTrain, taken = partsOf(train)): Modes {
  const { parts, trouble, loose = parts.filter((p) => p.kind === 'loose').length } = taken;
  const modes = parts.flatMap(({ kind, stiffness, mass, shape }): Mode[] =>
    kind === 'mode' ? [{ frequency: Math.sqrt(stiffness / mass) / (2 * Math.PI), shape: normed(shape, train), energy: energyOf(shape, train) }] : [],
  );
  return { modes: modes.sort((a, b) => a.frequency - b.frequency), loose, ...(trouble !== undefined && { trouble }) };
}

/** The amplitude of every place: of a shaft's station its own turn, that of the shaft and its twist. */
export function amplitudes(train: SpringTrain, shape: Float64Array): Float64Array {
  const out = Float64Array.from(shape);
  const { pose } = train;
  const { structure } = pose.compiled;
  for (const s of train.stations) if (s.unknown >= 0) out[s.unknown] += shape[pose.kinematics.bodyCoordinate[structure.bodyOf.get(s.member)!]];
  return out;
}

function normed(shape: Float64Array, train: SpringTrain): Float64Array {
  const at = amplitudes(train, shape);
  const { coordinates } = train.pose.compiled.structure;
  const slides = (u: number): boolean => u < coordinates.length && coordinates[u].motion === 'slide';
  const largest = (of: (u: number) => boolean): number => at.reduce((m, v, u) => (of(u) && Math.abs(v) > Math.abs(m) ? v : m), 0);
  const turn = largest((u) => !slides(u));
  const most = turn !== 0 ? turn : largest(slides);
  return most === 0 ? shape : shape.map((v) => v / most);
}

function energyOf(shape: Float64Array, { springs }: SpringTrain): Mode['energy'] {
  const each = springs.map((s) => ({ item: s.item, name: s.name, part: s.stiffness * dotOf(s.gradient, shape) ** 2 }));
  const all = each.reduce((s, e) => s + e.part, 0);
  return each.map((e) => ({ ...e, part: e.part / all })).sort((a, b) => b.part - a.part);
}

/**
 * How far each unknown gives under a force or torque on each, the rigid rows being held: x = N·(Nᵀ·K·N)⁻¹·Nᵀ·f. Undefined where
 * something is loose.
 */
export function complianceOf(train: SpringTrain): ((f: Float64Array) => Float64Array) | undefined {
  const { basis, K } = reduced(train);
  if (!basis.length) return () => new Float64Array(train.unknowns);
  const scale = Float64Array.from(K, (row, i) => 1 / Math.sqrt(Math.max(row[i], 1e-300)));
  const L = cholesky(K.map((row, i) => row.map((v, j) => v * scale[i] * scale[j])));
  if (!L) return undefined;
  return (f) => {
    const y = backward(
      L,
      forward(
        L,
        Float64Array.from(basis, (b, i) => scale[i] * dotOf(b, f)),
      ),
    );
    const x = new Float64Array(train.unknowns);
    basis.forEach((b, i) => b.forEach((v, u) => (x[u] += scale[i] * y[i] * v)));
    return x;
  };
}
