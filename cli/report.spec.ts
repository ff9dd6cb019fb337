import { readFileSync, readdirSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { Design, emptyDesign } from '../core/document/index';
import { report } from './report';

const demos = new URL('../demo/', import.meta.url);
const read = (f: string): Design => JSON.parse(readFileSync(new URL(f, demos), 'utf8')) as Design;
/** The parts of a report that are looked at here. */
interface Report {
  name: string;
  reactions: { joint: string; on: string; force: number[]; moment: number[] }[];
  couplings: { coupling: string; type: string; overlap: number | null; derived: Record<string, unknown> }[];
  loadSheets: { members: { member: string; sumForce: number[]; sumMoment: number[]; lines: { kind: string; force: number[] }[] }[] };
  run: { worst: { key: string; value: number; time: number }[]; events: unknown[]; frames: number };
  stroke: { from: number; to: number; worst: { input: number }; advantage: { joint: string; least: number; most: number }[] } | null;
  holding: { by: string }[];
  findings: { severity: string }[];
}
const of = (d: Design): Report =>
  report({ ...d, settings: { ...d.settings, duration: Math.min(4, d.settings?.duration ?? 1), frames: 21 } }) as unknown as Report;

describe('the report of a design', () => {
  it.each(readdirSync(demos).filter((f) => f.endsWith('.json')))('%s: is whole, balanced and without a stop', (f) => {
    const d = read(f);
    const r = of(d);
    expect(r.findings.filter((x) => x.severity === 'stop')).toEqual([]);
    // Every joint that moves has a reaction; every flat mesh an overlap of nothing.
    expect(r.reactions.map((x) => x.joint)).toEqual(d.joints.filter((j) => j.type !== 'fixed').map((j) => j.id));
    for (const c of r.couplings) {
      if (c.type === 'gear-pair' || c.type === 'rack-mesh') expect(c.overlap! < 0.1, c.coupling).toBe(true);
      else expect(c.overlap).toBeNull();
    }
    for (const s of r.loadSheets.members) {
      const most = Math.max(1, ...s.lines.flatMap((l) => l.force.map(Math.abs)));
      for (const v of [...s.sumForce, ...s.sumMoment]) expect(Math.abs(v) / most, `${s.member}`).toBeLessThan(1e-8);
    }
    expect(r.run.frames).toBe(21);
    expect(r.run.worst.length).toBeGreaterThan(5 * d.joints.length);
    expect(r.holding).toHaveLength(d.sources.length);
    expect(Math.abs(r.stroke!.worst.input)).toBeGreaterThan(0);
    for (const a of r.stroke!.advantage) expect(a.most).toBeGreaterThanOrEqual(a.least);
  });

  it('of a rack lift: the advantage is constant, 2π/(π m z) for a turn in radians', () => {
    const r = of(read('paddle-winding-gear.json'));
    const paddle = r.stroke!.advantage.find((a) => a.joint === 'j-paddle')!;
    // One radian of the crank moves 17π·1 mm/2π: 8.5 mm.
    expect(paddle.least).toBeCloseTo(1 / 0.0085, 6);
    expect(paddle.most).toBeCloseTo(paddle.least, 9);
    expect(r.holding[0].by).toBe('pawl');
  });

  it('of an empty design says that nothing drives it, and throws nothing', () => {
    const r = of(emptyDesign('Nothing'));
    expect(r.stroke).toBeNull();
    expect(r.findings.map((f) => f.severity)).toEqual(['note']);
  });
});
