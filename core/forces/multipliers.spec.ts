import fc from 'fast-check';
import { Matrix, SingularValueDecomposition } from 'ml-matrix';
import { describe, expect, it } from 'vitest';
import { analyse } from '../checks/index';
import type { Design } from '../document/index';
import { Builder, row, item } from '../testing/designs';
import { Forces } from './forces';
import { Multipliers } from './multipliers';

interface System {
  count: number;
  at: Int32Array[];
  value: Float64Array[];
  torn: number[];
  lambda: number[];
}

/** Columns with one to three entries, as couplings and inputs have; some are torn out, and some of those have let go. */
const anySystem: fc.Arbitrary<System> = fc.integer({ min: 1, max: 12 }).chain((count) =>
  fc
    .array(
      fc.record({
        at: fc.uniqueArray(fc.nat(count - 1), { minLength: 1, maxLength: 3 }),
        value: fc.tuple(...[1, 2, 3].map(() => fc.integer({ min: -9, max: 9 }).filter((x) => x !== 0))),
        torn: fc.boolean(),
        off: fc.boolean(),
        lambda: fc.integer({ min: -20, max: 20 }),
      }),
      { minLength: 1, maxLength: count + 2 },
    )
    .map((list) => ({
      count,
      at: list.map((c) => Int32Array.from(c.at)),
      value: list.map((c) => Float64Array.from(c.at, (_, k) => (c.torn && c.off ? 0 : c.value[k]))),
      torn: list.flatMap((c, k) => (c.torn ? [k] : [])),
      lambda: list.map((c) => c.lambda),
    })),
);
const matrixOf = ({ count, at, value }: System): Matrix => {
  const a = Matrix.zeros(count, at.length);
  at.forEach((col, k) => col.forEach((i, j) => a.set(i, k, a.get(i, k) + value[k][j])));
  return a;
};

describe('the multipliers', () => {
  it('meet every set of equations that can be met; where that is in one way only they are that one, and least in norm where something is torn', () => {
    fc.assert(
      fc.property(anySystem, (s) => {
        const a = matrixOf(s);
        const need = a.mmul(Matrix.columnVector(s.lambda)).to1DArray();
        const out = { remainder: NaN, indeterminate: NaN };
        const lambda = new Float64Array(s.at.length);
        const m = new Multipliers(s.count, { at: s.at, value: s.value }, s.torn);
        m.solve(Float64Array.from(need), lambda, out);
        const met = a.mmul(Matrix.columnVector([...lambda])).to1DArray();
        met.forEach((x, i) => expect(x).toBeCloseTo(need[i], 6));
        expect(out.remainder).toBeLessThan(1e-7);
        const svd = new SingularValueDecomposition(a, { autoTranspose: true });
        const live = s.value.filter((v) => v.some((x) => x !== 0)).length;
        expect(out.indeterminate).toBe(live - svd.rank);
        // The pseudo-inverse gives the solution of least norm: an independent way (singular values) to the same.
        const least = svd.inverse().mmul(Matrix.columnVector(need)).to1DArray();
        const everything = s.torn.some((k) => s.value[k].some((x) => x !== 0));
        if (live === svd.rank || everything) least.forEach((x, k) => expect(lambda[k]).toBeCloseTo(x, 6));
        // Asked again, the answer is the same: nothing is left from the time before.
        const again = new Float64Array(s.at.length);
        m.solve(Float64Array.from(need), again, out);
        expect([...again]).toEqual([...lambda]);
      }),
      { numRuns: 600 },
    );
  });

  it('know a torn unknown for one that the others can stand in for, where only rounding is left of it', () => {
    const at = [Int32Array.of(3, 0), Int32Array.of(0, 2), Int32Array.of(2, 3)];
    const value = [Float64Array.of(6, -4), Float64Array.of(-7, 9), Float64Array.of(-6, 7)];
    const out = { remainder: 0, indeterminate: 0 };
    const lambda = new Float64Array(3);
    new Multipliers(4, { at, value }, [2]).solve(Float64Array.of(-4, 0, 0, 6), lambda, out);
    expect(out.indeterminate).toBe(1);
    expect(6 * lambda[0] + 7 * lambda[2]).toBeCloseTo(6, 12);
    expect(Math.max(...lambda.map(Math.abs))).toBeLessThan(1);
  });

  it('follow columns that change: what has let go comes back', () => {
    const value = [Float64Array.of(1, -2), Float64Array.of(1), Float64Array.of(3)];
    const m = new Multipliers(2, { at: [Int32Array.of(0, 1), Int32Array.of(0), Int32Array.of(1)], value }, [2]);
    const lambda = new Float64Array(3);
    const out = { remainder: 0, indeterminate: 0 };
    const need = Float64Array.of(5, 4);
    value[2][0] = 0;
    m.solve(need, lambda, out);
    expect([...lambda]).toEqual([-2, 7, 0]);
    expect(out.indeterminate).toBe(0);
    value[2][0] = 3;
    m.solve(need, lambda, out);
    expect(out.indeterminate).toBe(1);
    expect(lambda[0] + lambda[1]).toBeCloseTo(5, 12);
    expect(-2 * lambda[0] + 3 * lambda[2]).toBeCloseTo(4, 12);
    value[2][0] = 0;
    m.solve(need, lambda, out);
    expect([...lambda]).toEqual([-2, 7, 0]);
  });
});

describe('what lets go', () => {
  /** A row of pairs with a load at its end, and a pawl on one shaft that the motor turns the free way round. */
  const loaded = (pawlOn?: number): Design => {
    const b = row([
      [19, 23],
      [23, 31],
      [17, 40],
    ]);
    const { design } = b;
    design.loads.push(item({ id: 'load', name: 'Load', type: 'joint-load', joint: design.joints[3].id, value: 12 }));
    if (pawlOn !== undefined) {
      const m = design.members[pawlOn];
      design.elements.push(
        item({
          id: 'ratchet',
          name: 'Ratchet wheel',
          type: 'ratchet-wheel',
          member: m.id,
          teeth: 24,
          diameter: 20,
          width: 5,
          // It passes in the sense in which the shaft turns: every other one turns back.
          free: pawlOn % 2 ? 'back' : 'forward',
          at: [0, 0, -40] as const,
        }),
        item({ id: 'pawl', name: 'Pawl', type: 'pawl', member: 'frame', length: 20, at: [m.at![0], 14, -40] as const }),
      );
      design.couplings.push({ id: 'hold', type: 'ratchet', a: 'ratchet', b: 'pawl' });
    }
    return design;
  };

  it('changes no force of a train while a source leads it, wherever it sits', () => {
    const plain = analyse(loaded());
    for (const shaft of [0, 1, 2, 3]) {
      const held = analyse(loaded(shaft));
      expect(held.findings.filter((f) => f.severity === 'fault')).toEqual([]);
      plain.forces.state.couplings.forEach((c, k) => {
        expect(held.forces.state.couplings[k].tangential).toBeCloseTo(c.tangential, 9);
        expect(held.forces.state.couplings[k].loss).toBeCloseTo(c.loss, 9);
      });
      expect(held.forces.state.input[0]).toBeCloseTo(plain.forces.state.input[0], 9);
    }
  });

  it('carries all of the load when the source lets go, and the train before it nothing', () => {
    const w = analyse(loaded(2));
    const f = new Forces(w.pose, { driven: [] });
    f.evaluate({ losses: false });
    const pawl = f.state.couplings[3].port[0];
    // 12 N·m at the end, through 17 : 40, whichever way it pushes: the pawl has it, or the holding where it would have to pull.
    const atShaft = (12 * 17) / 40;
    const [held] = f.state.input;
    const before = (held * 23 * 31) / (19 * 23);
    expect(Math.abs(pawl) + Math.abs(before)).toBeCloseTo(atShaft, 4);
  });
});

describe('freedoms that nothing drives', () => {
  const loose = (count: number): Design => {
    const b = new Builder();
    for (let k = 0; k < count; k++) b.shaft([100 * k, 0, 0]);
    b.motor(b.design.joints[0].id);
    return b.design;
  };
  it('are held one by one: each by a coordinate of its own', () => {
    const w = analyse(loose(12));
    expect([...w.forces.state.inputCoordinate]).toEqual(Array.from({ length: 12 }, (_, k) => k));
    expect(w.freedoms).toBe(12);
    expect(w.undriven).toHaveLength(11);
    expect(w.forces.state.indeterminate).toBe(0);
  });
  it('that move together are held at the coordinate that moves most, and none is held twice', () => {
    // Two trains that nothing drives beside one that is driven: in each the fast end is held.
    const design = row([[20, 60]]).design;
    const other = row([[15, 45]]).design;
    const moved = JSON.parse(JSON.stringify(other).replaceAll(/"(m|j|g|c|e)(\d+)"/g, '"x$1$2"')) as Design;
    for (const key of ['members', 'joints', 'elements', 'couplings'] as const) (design[key] as unknown[]).push(...(moved[key] as unknown[]));
    const w = analyse(design);
    expect(w.freedoms).toBe(2);
    const held = [...w.forces.state.inputCoordinate];
    expect(new Set(held).size).toBe(2);
    const fast = w.compiled.structure.coordinates.find((c) => c.joint.id === moved.joints[0].id)!.index;
    expect(held[1]).toBe(fast);
  });
});
