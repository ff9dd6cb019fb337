import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { type Design, type KeptRun, compareDesigns, mergeDesigns, readDesign } from '../document/index';
import { compile, poseOf } from '../kinematics/index';
import { lineAt } from '../math/index';
import { Runner, driveLoad, dutiesOf, run } from '../motion/index';
import { removeItems, withRun, withRunChanged, withSheet, withSheetNamed } from '../edits/index';
import { placeAt, planRun, startsOf } from './index';

const demo = (name: string): Design => JSON.parse(readFileSync(new URL(`../../demo/${name}.json`, import.meta.url), 'utf8')) as Design;
const kept = (run: Partial<KeptRun> = {}): KeptRun => ({ id: 'r', name: 'Run', ...run });

describe('kept runs', () => {
  it('lasts one turn, or the whole way, of the first source at its nominal speed', () => {
    const d = demo('paddle-winding-gear');
    const { speed } = d.sources[0];
    expect(planRun(d, kept({ until: 'turn' })).options.duration).toBeCloseTo(60 / Math.abs(speed!), 12);
    const p = planRun(d, kept({ until: 'stop to stop', frames: 31 }));
    expect(p.said).toEqual([]);
    const r = run(p.compiled, p.options, p.start);
    const j = p.compiled.structure.firstOf.get('j-paddle')!;
    const paddle = d.joints.find((x) => x.id === 'j-paddle')!;
    const ends = [r.q[j], r.q[(r.frames - 1) * r.coordinates + j]].map((x) => x * 1e3).sort((a, b) => a - b);
    expect(ends[0]).toBeCloseTo(Number(paddle.lower), 6);
    expect(ends[1]).toBeCloseTo(Number(paddle.upper), 6);
  });

  it('runs for the duration and says so where there is no turn and no stop to end at', () => {
    const d = demo('swing-footbridge');
    const open = { ...d, joints: d.joints.map((j) => ({ ...j, lower: undefined, upper: undefined, lowerFaces: undefined, upperFaces: undefined })) };
    const p = planRun(open as Design, kept({ until: 'stop to stop', duration: 7 }));
    expect(p.options.duration).toBe(7);
    expect(p.said).toEqual([expect.stringMatching(/has no (upper|lower) stop/)]);
    expect(planRun({ ...d, sources: [] }, kept({ until: 'turn' })).said).toEqual(['it has no source to lead it']);
  });

  it('carries the trolley through its curve: each wheel rolls the length of its own rail, and the differential halves the torque', () => {
    const d = demo('towpath-trolley');
    const p = planRun(d, d.runs![0]);
    const r = run(p.compiled, p.options, p.start);
    expect(r.frames).toBe(p.options.frames);
    const last = (j: string): number => r.q[(r.frames - 1) * r.coordinates + p.compiled.structure.firstOf.get(j)!] / (2 * Math.PI);
    // A quarter of a turn at 6500 and 5500 mm, over π·320 mm; the outer axle turns the other way, for it looks the other way.
    expect(last('j-car')).toBeCloseTo(0.25, 9);
    expect(Math.abs(last('j-outer'))).toBeCloseTo(6500 / 4 / 160, 9);
    expect(Math.abs(last('j-inner'))).toBeCloseTo(5500 / 4 / 160, 9);
    expect(last('j-cage')).toBeCloseTo((last('j-outer') - last('j-inner')) / 2, 9);
    // Work of the motor: drag over the way of the middle, losses of pair
    // and differential apart, and the trolley stands still at both ends.
    const f = { ...d, couplings: d.couplings.map((c) => ({ ...c, efficiency: 1 })) } as Design;
    const q = planRun(f, f.runs![0]);
    const free = run(q.compiled, { ...q.options, frames: 1501 }, q.start);
    const motor = q.compiled.structure.firstOf.get('j-motor')!;
    let work = 0;
    for (let k = 1; k < free.frames; k++) {
      const turned = free.q[k * free.coordinates + motor] - free.q[(k - 1) * free.coordinates + motor];
      work += (turned * (free.input[k] + free.input[k - 1])) / 2;
    }
    const due = 350 * 6 * (Math.PI / 2);
    expect(Math.abs(work / due - 1)).toBeLessThan(1e-3);
  });

  it('begins where it is stated, exactly where the train was; a place where it cannot stand is said', () => {
    const d = demo('inspection-lift');
    const pose = poseOf(compile(d));
    pose.solve([compile(d).sources[0].coordinate], [2 * Math.PI * 3]);
    const p = planRun(d, kept({ starts: startsOf(pose) }));
    expect(p.said).toEqual([]);
    p.start.forEach((x, i) => expect(x).toBeCloseTo(pose.u[i], 9));
    const wrong = planRun(d, kept({ starts: startsOf(pose).map((s) => ({ ...s, at: s.at + 7 })) }));
    expect(wrong.said).toEqual(['it cannot begin where it was stated, and begins at home']);
    // A joint that is there no more is passed over.
    expect(planRun(d, kept({ starts: [{ joint: 'gone', at: 1 }] })).said).toEqual([]);
  });

  it('ends at rest: a damped weight on a spring, long before the time is over, within a thousandth of m·g/k', () => {
    const d = {
      ...demo('paddle-winding-gear'),
      members: [{ id: 'w', name: 'Weight', kind: 'slide', mass: 2, at: [0, 0, 0], axis: [0, 0, 1] }],
      joints: [{ id: 'j', type: 'prismatic', parent: 'frame', child: 'w' }],
      elements: [],
      couplings: [],
      sources: [],
      wanted: [],
      settings: { gravity: [0, 0, -9.81] },
      loads: [{ id: 's', name: 'Spring', type: 'joint-spring', joint: 'j', rate: 1, damping: 0.02 }],
    } as unknown as Design;
    const read = readDesign(d);
    expect(read.problems).toBeUndefined();
    const p = planRun(read.design!, kept({ until: 'rest', duration: 100, frames: 2001 }));
    const r = new Runner(p.compiled, p.options, p.start);
    while (r.step());
    const { result } = r;
    expect(result.events.at(-1)).toMatchObject({ kind: 'comes-to-rest' });
    // ζ = c / (2 √(k·m)) = 20 / (2 √(1000·2)) = 0.22; ω₀ = √(k/m) = 22 1/s: a thousandth is left after ln(1000) / (ζ·ω₀) = 1.4 s.
    expect(result.time[result.frames - 1]).toBeGreaterThan(1);
    expect(result.time[result.frames - 1]).toBeLessThan(2);
    const sag = (2 * 9.81) / 1000;
    expect(Math.abs(result.q[result.frames - 1] + sag)).toBeLessThan(2e-3 * sag);
  });

  it('takes its load case, and lets go of its sources', () => {
    const d = { ...demo('paddle-winding-gear') };
    const [load] = d.loads;
    d.cases = [{ id: 'still', name: 'Without water', loads: [{ load: load.id, factor: 0 }] }];
    const least = (r: Partial<KeptRun>): number => {
      const p = planRun(d, kept({ until: 'turn', frames: 5, ...r }));
      return Math.abs(run(p.compiled, p.options, p.start).input[2]);
    };
    expect(least({ case: 'still' })).toBeLessThan(0.8 * least({}));
    expect(planRun(d, kept({ letGo: true })).compiled.sources).toEqual([]);
    expect(planRun(d, kept({ until: 'rest' })).options.untilRest).toBe(true);
  });

  it('is kept in the document under a name of its own, changed, merged, compared, and loses what is deleted', () => {
    const d = demo('paddle-winding-gear');
    const one = withRun({ ...d, cases: [{ id: 'c', name: 'Case' }], runs: [] }, { name: 'Raise', case: 'c', letGo: undefined });
    const two = withRun(one.design, { name: 'Raise', starts: [{ joint: 'j-paddle', at: 5 }] });
    expect(two.design.runs!.map((r) => r.name)).toEqual(['Raise', 'Raise 2']);
    expect('letGo' in two.design.runs![0]).toBe(false);
    expect(readDesign(two.design).problems).toBeUndefined();
    expect(withRunChanged(two.design, two.id, { name: 'Fall', starts: undefined }).runs![1]).toEqual({ id: two.id, name: 'Fall' });
    expect(removeItems(two.design, ['c']).runs![0]).toEqual({ id: one.id, name: 'Raise' });
    expect(removeItems(two.design, ['paddle']).runs![1].starts).toEqual([]);
    expect(removeItems(two.design, [one.id, two.id]).runs).toBeUndefined();
    const mine = withRunChanged(two.design, one.id, { duration: 4 }),
      theirs = withRunChanged(two.design, two.id, { frames: 11 });
    const merged = mergeDesigns(two.design, mine, theirs);
    expect(merged.clashes).toEqual([]);
    expect(merged.design.runs!.map((r) => [r.duration, r.frames])).toEqual([
      [4, undefined],
      [undefined, 11],
    ]);
    expect(compareDesigns(one.design, two.design)).toContainEqual({ change: 'changed', what: 'Runs', detail: '1 → 2' });
    expect(readDesign({ ...d, runs: [{ id: 'r', name: 'R', frames: 1 }] }).problems![0].path).toBe('runs[0].frames');
    // More places than any design needs are refused before they are looked at one by one.
    const starts = Array.from({ length: 2000 }, () => ({ joint: 'j-paddle', at: 0 }));
    const flood = Array.from({ length: 200 }, (_, k) => ({ id: `r${k}`, name: `R${k}`, starts }));
    expect(readDesign({ ...d, runs: flood }).problems![0].message).toMatch(/points and references/);
  });

  it('keeps load sheets by what they are of: they go with it, and stand where they stood', () => {
    const d = demo('paddle-winding-gear');
    const r = withRun(d, { name: 'Raise' });
    const one = withSheet(r.design, { name: 'Pinion shaft', member: 'pinion', run: r.id, time: 1.5 });
    const pose = poseOf(compile(d));
    const source = pose.compiled.sources[0].coordinate;
    pose.solve([source], [3]);
    const two = withSheet(one.design, { name: 'Pinion shaft', member: 'paddle', starts: startsOf(pose), case: undefined });
    expect(two.design.sheets!.map((x) => x.name)).toEqual(['Pinion shaft', 'Pinion shaft 2']);
    expect(readDesign(two.design).problems).toBeUndefined();
    expect(readDesign({ ...d, sheets: [{ id: 's', name: 'S' }] }).problems![0].path).toBe('sheets[0].member');
    expect(withSheetNamed(two.design, one.id, 'At the worst').sheets![0].name).toBe('At the worst');
    expect(removeItems(two.design, [r.id]).sheets!.map((x) => x.id)).toEqual([two.id]);
    expect(removeItems(two.design, ['paddle']).sheets!.map((x) => x.id)).toEqual([one.id]);
    expect(removeItems(two.design, [one.id, two.id]).sheets).toBeUndefined();
    const again = poseOf(compile(d));
    expect(placeAt(again, two.design.sheets![1].starts)).toBe(true);
    again.q.forEach((x, i) => expect(x).toBeCloseTo(pose.q[i], 9));
    const merged = mergeDesigns(one.design, withSheetNamed(one.design, one.id, 'Mine'), two.design);
    expect([merged.clashes, merged.design.sheets!.map((x) => x.name)]).toEqual([[], ['Mine', 'Pinion shaft 2']]);
  });

  it('follows what a drive recorded, from its first instant on; the drive’s load is the effort less J·a and ½ J′·v²', () => {
    const d = demo('paddle-winding-gear');
    const recorded = [0, 1, 2, 3, 4].map((time) => ({ time, value: 20 * time + 3 * time * time }));
    const p = planRun(d, kept({ duration: 4, frames: 81, recorded }));
    const r = run(p.compiled, p.options, p.start);
    const c = p.compiled.sources[0].coordinate;
    recorded.forEach(({ time, value }) => {
      const f = [...r.time.subarray(0, r.frames)].findIndex((t) => Math.abs(t - time) < 1e-9);
      expect(r.q[f * r.coordinates + c] * (180 / Math.PI)).toBeCloseTo(value, 6);
    });
    expect(r.v[c]).toBeGreaterThan(0.3);
    const l = driveLoad(p.compiled, r)!;
    const turn = planRun(d, kept({ until: 'turn', frames: 361 }));
    const even = driveLoad(turn.compiled, run(turn.compiled, turn.options, turn.start))!;
    const [duty] = dutiesOf(p.compiled, r);
    expect(l.inertia[40]).toBeCloseTo(duty.inertia!.greatest, 9);
    for (const f of [10, 40, 70]) {
      const at = f * r.coordinates + c;
      expect(l.effort[f] + l.inertia[f] * r.a[at] + (l.slope[f] * r.v[at] ** 2) / 2).toBeCloseTo(r.input[f], 9);
      // At one place the train asks for the same at whatever speed, its
      // crank's own weight going round: the load is that of an even turn.
      const place = r.q[f * r.coordinates + c];
      expect(l.effort[f] / lineAt(even.place, even.effort, place)).toBeCloseTo(1, 4);
    }
    expect(driveLoad(p.compiled, r, 1)).toBeUndefined();
  });
});
