import { describe, expect, it } from 'vitest';
import { analyse } from '../checks/index';
import { emptyDesign, readDesign, unitSettings } from '../document/index';
import type { Bearing } from '../joints/index';
import type { Design } from '../fields/types';
import { item } from '../testing/designs';
import { INCH } from '../units/index';
import { insertStage, newBearing, withInputShaft } from './index';

const train = (d: Design): { d: Design; joint: string } => {
  const start = withInputShaft(d, { type: 'motor', name: 'Motor' });
  const made = insertStage(start.design, { kind: 'spur', from: start.output })!;
  return { d: made.design, joint: made.design.joints.find((j) => j.child === start.output)!.id };
};
/** A joint with so many bearings, each put in as the page does. */
function withBearings(d: Design, joint: string, count: number): { d: Design; rows: Bearing[] } {
  const rows: Bearing[] = [];
  let out = d;
  for (let k = 0; k < count; k++) {
    rows.push(newBearing(out, joint, rows)!);
    out = { ...out, joints: out.joints.map((j) => (j.id === joint ? item({ ...j, bearings: [...rows] }) : j)) };
  }
  return { d: out, rows };
}

describe('a new bearing', () => {
  it.each([1, 2, 3, 5])('makes a design that is in order, apart from what stands already: %i of them', (n) => {
    const { d, joint } = train(emptyDesign('Hoist'));
    const made = withBearings(d, joint, n);
    expect(readDesign(made.d).problems).toBeUndefined();
    expect(analyse(made.d).findings.filter((f) => f.severity === 'fault')).toEqual([]);
    expect(made.rows.filter((r) => r.thrust === 'takes')).toHaveLength(1);
    // Each at a place of its own, none in another.
    const places = made.rows.map((r) => r.at).sort((a, b) => a - b);
    places.slice(1).forEach((z, k) => expect(z - places[k]).toBeGreaterThan(made.rows[0].width));
  });
  it('stands before and behind the wheels, on the diameter of the shaft', () => {
    const { d, joint } = train(emptyDesign('Hoist'));
    const child = d.joints.find((j) => j.id === joint)!.child;
    const bar = item({ id: 'bar', name: 'Bar', type: 'rod', member: child, diameter: 30, length: 200 });
    const { rows } = withBearings({ ...d, elements: [...d.elements, bar] }, joint, 2);
    expect(rows[0].inner).toBe(30);
    expect(rows[0].outer).toBeGreaterThan(30);
    const wheel = d.elements.find((e) => e.member === child)!;
    const z = wheel.at?.[2] ?? 0;
    expect(Math.min(rows[0].at, rows[1].at)).toBeLessThan(z);
    expect(Math.max(rows[0].at, rows[1].at)).toBeGreaterThan(z);
  });
  it('has inch sizes in an inch design, and is none where there is no joint', () => {
    const { d, joint } = train({ ...emptyDesign('Hoist'), settings: unitSettings(INCH) });
    const b = newBearing(d, joint, [])!;
    for (const mm of [b.inner, b.outer, b.width]) expect(((mm / 25.4) * 16) % 1).toBeCloseTo(0, 9);
    expect(newBearing(d, 'nothing', [])).toBeUndefined();
  });
});
