import { expect } from 'vitest';
import { analyse } from '../checks/index';
import type { Design } from '../document/index';
import { compile, coordinateOf, exactRatio } from '../kinematics/index';
import { piToText } from '../math/index';
import { type Builder, state } from './designs';

/** Sentences of the faults of a design. */
export const faults = (d: Design): string[] =>
  analyse(d)
    .findings.filter((f) => f.severity === 'fault')
    .map((f) => f.message);
/** The exact ratio of a joint to another, as text. */
export const ratio = (d: Design, of: string, to: string): string => {
  const c = compile(d);
  return piToText(exactRatio(c.reduction, coordinateOf(c.structure, of)!.index, coordinateOf(c.structure, to)!.index)!);
};

/**
 * Row and geometry are written down apart: the row from counts and signs, the contact force from
 * the pitch point and the tooth normal. Without losses the reaction along a freedom that nothing
 * drives can only vanish if both agree, so this catches every wrong sign and every wrong arm.
 */
export function contactsDoTheWorkOfTheRow(b: Builder): void {
  b.design.couplings.forEach((c) => {
    if (c.type === 'worm-drive' || c.type === 'screw-drive') state(c, { friction: 0 });
    else state(c, { efficiency: 1 });
  });
  b.weightless();
  const last = b.design.joints.at(-1)!;
  b.load('joint-load', { joint: last.id, value: 17 });
  const a = analyse(b.design);
  expect(a.findings.filter((f) => f.severity === 'fault').map((f) => f.message)).toEqual([]);
  const r = a.forces.reactions();
  const size = Math.max(...r.map(Math.abs));
  a.compiled.structure.coordinates.forEach((c, i) => {
    const along = c.motion === 'slide' ? [0, 1, 2] : [3, 4, 5];
    const axis = [0, 1, 2].map((k) => a.pose.axisNow[3 * i + k]);
    const got = along.reduce((s, k, n) => s + r[6 * i + k] * axis[n], 0);
    const slot = [...a.forces.state.inputCoordinate].indexOf(i);
    expect(Math.abs(got - (slot < 0 ? 0 : a.forces.state.input[slot]))).toBeLessThan(1e-9 * size);
  });
  expect(Math.abs(a.ledger.input - a.ledger.output)).toBeLessThan(1e-9 * Math.abs(a.ledger.input));
}
