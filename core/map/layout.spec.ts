import { readFileSync, readdirSync } from 'node:fs';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { type Design, emptyDesign } from '../document/index';
import { compile } from '../kinematics/index';
import { STAGE_KINDS, canBegin, insertStage, withInputShaft } from '../sizing/index';
import { row } from '../testing/designs';
import { type Cell, type MapLayout, mapLayout, occupied } from './layout';

const demos = new URL('../../demo/', import.meta.url);
const DEMOS = readdirSync(demos).filter((f) => f.endsWith('.json'));
const demo = (f: string): Design => JSON.parse(readFileSync(new URL(f, demos), 'utf8')) as Design;
const mapOf = (d: Design, open?: ReadonlySet<string>): MapLayout => mapLayout(compile(d), open);

const meet = (a: Cell, b: Cell): boolean => a.x < b.x + b.width && b.x < a.x + a.width && a.y < b.y + b.height && b.y < a.y + a.height;

/** Texts that stand on something, and lines that lie on each other. */
function touching(m: MapLayout): string[] {
  const { texts, lines } = occupied(m);
  const out: string[] = [];
  texts.forEach((t, k) => {
    for (const u of texts.slice(k + 1)) if (meet(t, u)) out.push(`texts of ${t.of} and ${u.of}`);
    for (const l of lines) if (meet(t, l)) out.push(`text of ${t.of} and line of ${l.of}`);
    if (t.x < 0 || t.x + t.width > m.width || t.y < 0 || t.y + t.height > m.height) out.push(`text of ${t.of} leaves the map`);
  });
  m.members.forEach((a, k) => {
    for (const b of m.members.slice(k + 1)) {
      if (a.y === b.y && Math.min(a.x1, b.x1) - Math.max(a.x0, b.x0) > 1) out.push(`lines of ${a.id} and ${b.id}`);
    }
  });
  return out;
}

/** Stages one after the other, at any member that can take one. */
const anyTrain = fc.array(fc.tuple(fc.nat(100), fc.nat(100)), { minLength: 1, maxLength: 7 }).map((picks) => {
  let design = withInputShaft(emptyDesign('any'), { type: 'motor', name: 'Motor' }).design;
  for (const [which, where] of picks) {
    const kind = STAGE_KINDS[which % STAGE_KINDS.length].kind;
    const takes = design.members.filter((m) => canBegin(design, kind, m.id));
    if (takes.length) design = insertStage(design, { kind, from: takes[where % takes.length].id })?.design ?? design;
  }
  return design;
});

describe('the train map', () => {
  it('runs from the source at the left to the output at the right, a column for each coupling', () => {
    const m = mapOf(
      row([
        [20, 40],
        [20, 40],
        [20, 40],
      ]).design,
    );
    expect(m.members.map((s) => s.x0)).toEqual([...m.members.map((s) => s.x0)].sort((a, b) => a - b));
    expect(m.couplings).toHaveLength(3);
    expect(m.members[0].source).toBeDefined();
    for (const c of m.couplings) expect((c.meet - c.touches[0].y) * (c.meet - c.touches[1].y)).toBeLessThan(0);
    // Two heights do for a row of pairs.
    expect(new Set(m.members.map((s) => s.y)).size).toBe(2);
    expect(m.couplings.map((c) => c.stated)).toEqual(['20 : 40', '20 : 40', '20 : 40']);
  });

  it('stacks branches and gives every coupling of a loop its own symbol', () => {
    const b = row([[20, 40]]);
    const [m1, m2] = b.design.members;
    const far = b.shaft([-30, 0, 0]);
    b.mesh(b.gear(m1.id, 20, 1, { at: [0, 0, 40] }), b.gear(far.member, 40, 1, { at: [0, 0, 40] }));
    b.mesh(b.gear(m1.id, 20, 1, { at: [0, 0, 60] }), b.gear(m2.id, 40, 1, { at: [0, 0, 60] }));
    const m = mapOf(b.design);
    expect(new Set(m.members.map((s) => s.y)).size).toBe(3);
    expect(m.couplings).toHaveLength(3);
    expect(touching(m)).toEqual([]);
  });

  it('shows members that nothing couples too', () => {
    const b = row([[20, 40]]);
    b.shaft([99, 0, 0]);
    expect(mapOf(b.design).members).toHaveLength(3);
  });

  it('draws equal planets once, with sun, carrier and held ring as one set', () => {
    const begun = withInputShaft(emptyDesign('x'), { type: 'motor', name: 'Motor' });
    const made = insertStage(begun.design, { kind: 'planetary', from: begun.output })!;
    const m = mapOf(made.design);
    expect(m.couplings).toHaveLength(1);
    const [set] = m.couplings;
    expect(set.set!.verticals.some((v) => v.held && v.ring)).toBe(true);
    const planet = m.members.find((x) => x.alike.length)!;
    expect(planet.alike).toHaveLength(2);
    // Sun and carrier on one line, the planet above it.
    const [sun, carrier] = m.members.filter((x) => x !== planet);
    expect(carrier.y).toBe(sun.y);
    expect(planet.y).toBeLessThan(sun.y);
  });

  it('puts what loops of joints tie into a box, which opens in place', () => {
    const d = demo('inspection-lift.json');
    const shut = mapOf(d);
    const box = shut.couplings.find((c) => c.box)!;
    expect(shut.members.length).toBeLessThan(d.members.length);
    const opened = mapOf(d, new Set(shut.couplings.filter((c) => c.box).map((c) => c.id)));
    expect(opened.members).toHaveLength(d.members.length);
    expect(box.box!.members.length).toBeGreaterThan(2);
  });

  it('has a bearing only where the frame carries a member', () => {
    const b = row([[20, 40]]);
    const arm = b.design.members[1].id;
    const onArm = b.shaft([90, 0, 0], arm);
    expect(mapOf(b.design).members.find((x) => x.id === onArm.member)!.bearing).toBeUndefined();
    expect(mapOf(b.design).members.find((x) => x.id === arm)!.bearing).toBeDefined();
  });
});

describe('no text of the map stands on anything', () => {
  it.each(DEMOS)('%s', (f) => {
    const d = demo(f);
    const m = mapOf(d);
    expect(touching(m)).toEqual([]);
    const drawn = new Set([...m.members.flatMap((x) => [x.id, ...x.alike]), ...m.couplings.flatMap((c) => c.box?.members.map((x) => x.id) ?? [])]);
    for (const x of d.members) expect(drawn).toContain(x.id);
    expect(new Set(m.couplings.map((c) => c.key)).size).toBe(m.couplings.length);
    for (const s of d.sources) expect(m.members.some((x) => x.source?.id === s.id)).toBe(true);
  });

  it('of a hundred trains of any stages', () => {
    fc.assert(
      fc.property(anyTrain, (d) => {
        expect(touching(mapOf(d))).toEqual([]);
      }),
      { numRuns: 100 },
    );
  });
});
