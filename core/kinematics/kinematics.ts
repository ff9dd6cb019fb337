import { type Binding, MM, TURN, bindPort, bindRow } from '../couplings/index';
import type { Id } from '../fields/types';
import { ONE, piRatio, toNumber } from '../math/index';
import { closureRows } from './closures';
import type { Compiled, JointEnds, Kinematics, Limit } from './compiled';
import { coefficient } from './eliminate';
import { stopsOf } from './stops';
import { type Coordinate, type Structure, leadInMetresPerRad } from './structure';
import { TURNS, SLIDES, SCREWS } from './motions';

/** How far a pose is beyond a limit, rad or m; negative within. */
export function beyond(l: Limit, q: Float64Array): number {
  let s = -l.at;
  for (let k = 0; k < l.coordinate.length; k++) s += l.value[k] * q[l.coordinate[k]];
  return l.which === 'upper' ? s : -s;
}

/** How fast rates lead towards a limit. */
export function towards(l: Limit, rates: Float64Array): number {
  let s = 0;
  for (let k = 0; k < l.coordinate.length; k++) s += l.value[k] * rates[l.coordinate[k]];
  return l.which === 'upper' ? s : -s;
}

/** Binds a compiled design to flat arrays. */
export function kinematicsOf(compiled: Compiled): Kinematics {
  const { structure, reduction, rows } = compiled;
  const n = structure.coordinates.length;
  const bodies = structure.bodies;
  const scale = new Float64Array(n),
    lead = new Float64Array(n),
    motion = new Uint8Array(n),
    sign = new Float64Array(n),
    axis = new Float64Array(3 * n),
    point = new Float64Array(3 * n);
  const parentOf = new Int32Array(bodies),
    bodyCoordinate = new Int32Array(bodies).fill(-1);
  structure.coordinates.forEach((c: Coordinate, i) => {
    scale[i] = c.motion === 'slide' ? MM : TURN;
    motion[i] = c.motion === 'turn' ? TURNS : c.motion === 'slide' ? SLIDES : SCREWS;
    lead[i] = leadInMetresPerRad(c);
    sign[i] = c.sign;
    for (let k = 0; k < 3; k++) {
      axis[3 * i + k] = c.axis[k] * c.sign;
      point[3 * i + k] = c.point[k] * MM;
    }
    parentOf[c.body] = c.parent;
    bodyCoordinate[c.body] = i;
  });

  const movable = reduction.free.filter((f) => f < n);
  const freeColumn = new Int32Array(n).fill(-1);
  movable.forEach((f, k) => (freeColumn[f] = k));
  const start = new Int32Array(n + 1);
  const constant = new Float64Array(n);
  const columns: number[] = [],
    values: number[] = [];
  for (let i = 0; i < n; i++) {
    for (const j of reduction.sums[i].keys()) {
      const c = coefficient(reduction, i, j) * scale[i];
      if (j >= n) constant[i] += c;
      else {
        columns.push(freeColumn[j]);
        values.push(c / scale[j]);
      }
    }
    start[i + 1] = columns.length;
  }

  const ends = endsOf(structure);
  const endOf = new Int32Array(n);
  ends.forEach((e, k) => e.chain.forEach((i) => (endOf[i] = k)));
  const closures = structure.closures.map((c) => closureRows(c, { parentOf, bodyCoordinate, motion, axis }));
  const entries: number[] = [],
    entryStart = [0];
  const enter = (coordinates: Iterable<number>): void => {
    entries.push(...coordinates);
    entryStart.push(entries.length);
  };
  const bending = new Set<number>();
  for (const c of closures) {
    for (const i of c.chain) bending.add(i);
    for (let k = 0; k < c.rows; k++) enter(c.chain);
  }
  const closureRowCount = entryStart.length - 1;

  const mixed = new Set(reduction.mixed);
  const binding = { bodyOf: (m: Id) => structure.bodyOf.get(m)!, scale };
  const bound = compiled.couplings.map(({ coupling, model }, k) => bindRow(coupling.id, model, binding, mixed.has(k)));
  const constraintOf = new Int32Array(rows.length).fill(-1);
  const gripOf = new Int32Array(rows.length).fill(-1);
  // Rows that mix powers of π first, as the elimination lists them, then those that no elimination can take.
  const numeric = [...reduction.mixed, ...bound.flatMap((r, k) => (r.numeric && !mixed.has(k) ? [k] : []))];
  const grips: number[] = [];
  for (const k of numeric) {
    const r = bound[k];
    constraintOf[k] = entryStart.length - 1;
    enter(r.coordinate);
    if (!mixed.has(k) && (!r.grip || r.grip.touches)) for (const i of r.coordinate) bending.add(i);
    if (r.grip) {
      gripOf[k] = grips.length;
      grips.push(k);
    }
  }
  const constraintRows = entryStart.length - 1;

  return {
    compiled,
    count: n,
    bodies,
    freeCount: movable.length,
    scale,
    motion,
    lead,
    sign,
    axis,
    point,
    parentOf,
    bodyCoordinate,
    start,
    column: Int32Array.from(columns),
    value: Float64Array.from(values),
    constant,
    ends,
    endOf,
    closures,
    closureRowCount,
    rows: bound,
    constraintOf,
    numeric: Int32Array.from(numeric),
    grips: Int32Array.from(grips),
    gripOf,
    constraintRows,
    entryStart: Int32Array.from(entryStart),
    entry: Int32Array.from(entries),
    linear: constraintRows === 0,
    bending: Int32Array.from(bending),
    limits: [...stopLimits(compiled, scale), ...engagementLimits(compiled, binding)],
  };
}

/** What each joint joins. */
function endsOf({ coordinates, firstOf, closures }: Structure): JointEnds[] {
  const closing = new Map(closures.map((c) => [c.joint.id, c.child]));
  return [...firstOf].flatMap(([joint, first]): JointEnds[] => {
    const chain: Coordinate[] = [];
    for (let i = first; coordinates[i]?.joint.id === joint; i++) chain.push(coordinates[i]);
    chain.sort((a, b) => a.body - b.body);
    if (!chain.length) return [];
    return [
      {
        joint,
        first,
        parent: chain[0].parent,
        child: closing.get(joint) ?? chain[chain.length - 1].body,
        chain: chain.map((c) => c.index),
        turns: chain.filter((c) => c.motion !== 'slide').map((c) => c.index),
      },
    ];
  });
}

function stopLimits(compiled: Compiled, scale: Float64Array): Limit[] {
  return compiled.structure.coordinates.flatMap((c) => {
    const { lower, upper } = stopsOf(c);
    return (['lower', 'upper'] as const).flatMap((which): Limit[] => {
      const at = which === 'lower' ? lower : upper;
      return at
        ? [
            {
              kind: 'stop',
              id: c.joint.id,
              what: c.order ? c.label : undefined,
              which,
              coordinate: Int32Array.of(c.index),
              value: Float64Array.of(1),
              at: toNumber(at) * scale[c.index],
              restitution: c.joint.restitution ?? 0,
            },
          ]
        : [];
    });
  });
}

/** Where couplings leave engagement, as limits of a motion. */
function engagementLimits(compiled: Compiled, binding: Binding): Limit[] {
  return compiled.couplings.flatMap(({ coupling, model }) =>
    (model.engagements ?? []).flatMap((e) => {
      const p = bindPort({ ...e.motion, coefficient: piRatio(ONE) }, binding, false, []);
      const value = p.value.map((v) => v / p.share);
      const unit = p.slide ? MM : TURN;
      const limit = (which: 'lower' | 'upper', at: number): Limit => ({
        kind: 'engagement',
        id: coupling.id,
        which,
        coordinate: p.coordinate,
        value,
        at: at * unit,
        what: e.what,
        restitution: 0,
      });
      return [limit('lower', e.from), limit('upper', e.to)];
    }),
  );
}
