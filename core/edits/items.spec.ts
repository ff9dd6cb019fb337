import { readFileSync, readdirSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { analyse } from '../checks/index';
import { Design, emptyDesign, readDesign } from '../document/index';
import { gearOf } from '../elements/index';
import { compile } from '../kinematics/index';
import { copyItems, fastenElement, fastenMember, pasteItems, freeName, removeItems, renameMember, reorder, unfastenMember } from './index';
import { ISO_54, broughtAbout, curesFor, insertStage, measuresFor, offersFor, withInputShaft } from '../sizing/index';
import { Builder } from '../testing/designs';

const demos = new URL('../../demo/', import.meta.url);
const read = (f: string): Design => JSON.parse(readFileSync(new URL(f, demos), 'utf8'));
const two = (): Design => {
  let s = withInputShaft(emptyDesign('New'), { type: 'motor', name: 'Motor' });
  for (const kind of ['spur', 'rack']) s = insertStage(s.design, { kind, from: s.output })!;
  return s.design;
};

describe('taking items out', () => {
  it('takes along what cannot stand without them, and leaves a document that passes', () => {
    const d = two();
    const shaft = d.members[1].id;
    const out = removeItems(d, [shaft]);
    expect(out.members).toHaveLength(2);
    expect(out.elements.every((e) => e.member !== shaft)).toBe(true);
    expect(out.couplings).toEqual([]);
    expect(readDesign(out).problems).toBeUndefined();
    expect(analyse(out).findings.filter((f) => /missing/.test(f.code))).toEqual([]);
  });
  it.each(readdirSync(demos).filter((f) => f.endsWith('.json')))('leaves nothing hanging, whichever item of %s goes', (f) => {
    const d = read(f);
    for (const x of [...d.members, ...d.joints, ...d.elements, ...d.couplings, ...d.sources]) {
      const out = removeItems(d, [x.id]);
      expect(readDesign(out).problems).toBeUndefined();
      expect(compile(out).findings.filter((y) => /-missing|coupling-needs|without-joint/.test(y.code))).toEqual([]);
    }
  });
  it('keeps a belt over the wheels that are left', () => {
    const d = read('screw-gate.json');
    expect(removeItems(d, ['bp1']).couplings.find((c) => c.id === 'c-belt')?.wheels).toEqual(['bp0', 'bp2']);
  });
});

describe('copying a stage', () => {
  it('makes another one under new ids and names, on the same drive, that works', () => {
    const d = two();
    const rack = d.groups!.at(-1)!;
    const p = pasteItems(d, copyItems(d, [rack.id]), [0, 120, 0]);
    expect(readDesign(p.design).problems).toBeUndefined();
    expect(p.design.members).toHaveLength(d.members.length + 1);
    expect(new Set(p.design.members.map((m) => m.name)).size).toBe(p.design.members.length);
    const a = analyse(p.design);
    expect(a.freedoms).toBe(1);
    expect(a.ratios.filter((r) => r.exact.includes('π'))).toHaveLength(2);
    expect(a.findings.filter((x) => x.severity !== 'note')).toEqual([]);
  });
});

describe('fastening', () => {
  it('moves an element to another member without moving it in the world', () => {
    const d = two();
    const e = d.elements[1];
    const before = compile(d).elementFrames.get(e.id)!;
    const after = compile(fastenElement(d, e.id, d.members[0].id)).elementFrames.get(e.id)!;
    for (const k of ['o', 'x', 'y', 'z'] as const) after[k].forEach((v, i) => expect(v).toBeCloseTo(before[k][i], 9));
  });
  it('makes two members one, and lets them go again', () => {
    const d = two();
    const [a, b] = d.members.map((m) => m.id);
    const one = fastenMember(d, b, a);
    expect(compile(one).structure.bodyOf.get(a)).toBe(compile(one).structure.bodyOf.get(b));
    const apart = unfastenMember(one, b);
    expect(compile(apart).structure.bodyOf.get(a)).not.toBe(compile(apart).structure.bodyOf.get(b));
  });
  it('orders a list by one place', () => {
    const l = ['a', 'b', 'c'].map((id) => ({ id }));
    expect(reorder(l, 'c', -1).map((x) => x.id)).toEqual(['a', 'c', 'b']);
    expect(reorder(l, 'a', -1).map((x) => x.id)).toEqual(['a', 'b', 'c']);
  });
});

describe('cures', () => {
  const cured = (d: Design, code: string): void => {
    const f = analyse(d).findings.find((x) => x.code === code)!;
    expect(f, code).toBeDefined();
    const cures = curesFor(d, f);
    expect(cures.length, code).toBeGreaterThan(0);
    for (const c of cures) {
      const out = c.apply(d);
      expect(readDesign(out).problems).toBeUndefined();
      expect(
        analyse(out).findings.filter((x) => x.code === code && x.severity === f.severity),
        `${code}: ${c.label}`,
      ).toEqual([]);
    }
  };
  const change = (d: Design, i: number, more: object): Design => ({ ...d, elements: d.elements.map((e, k) => (k === i ? { ...e, ...more } : e)) });
  it('take a finding away, whichever is chosen', () => {
    const d = two();
    cured(change(d, 0, { module: 3 }), 'module-differs');
    cured(change(d, 0, { pressureAngle: 25 }), 'pressure-angle-differs');
    cured(change(d, 0, { teeth: 24 }), 'tight-mesh');
    cured(change(d, 0, { phase: 4 }), 'phase-off');
    cured(change(d, 0, { helix: 10 }), 'helix-differs');
    cured({ ...d, joints: d.joints.slice(1) }, 'member-not-carried');
    cured({ ...d, sources: [] }, 'freedom-undriven');
    const home = { ...d, joints: d.joints.map((j, i) => (i ? j : { ...j, lower: 0, upper: 90, home: 120 })) };
    cured(home, 'home-outside-stops');
    cured({ ...d, sources: [...d.sources, { ...d.sources[0], id: 'again', joint: d.joints[1].id }] }, 'two-sources-one-freedom');
  });
  it('bring a belt into line, cones to their angles, planets to counts that assemble, and supports to rest', () => {
    const begun = withInputShaft(emptyDesign('New'), { type: 'motor', name: 'Motor' });
    const belt = insertStage(begun.design, { kind: 'v-belt', from: begun.output })!.design;
    cured(change(belt, 0, { at: [0, 0, 7] }), 'belt-out-of-line');
    const bevel = insertStage(begun.design, { kind: 'bevel', from: begun.output })!.design;
    cured(change(bevel, 0, { teeth: 25 }), 'cone-angle');
    const planets = insertStage(begun.design, { kind: 'planetary', from: begun.output, values: { sun: 25 } })!.design;
    cured(planets, 'planets-do-not-assemble');
    // Planets of other counts ask for another ring: sun + 2·planet.
    const good = insertStage(begun.design, { kind: 'planetary', from: begun.output })!.design;
    const more = { ...good, elements: good.elements.map((e) => (e.name.startsWith('Planet wheel') ? { ...e, teeth: 33 } : e)) };
    const tight = analyse(more).findings.find((f) => f.severity === 'fault')!;
    const ring = curesFor(more, tight)[0];
    expect(ring.label).toMatch(/Ring.* 90 teeth/);
    expect(
      analyse(ring.apply(more))
        .findings.filter((f) => f.severity !== 'note')
        .map((f) => f.message),
    ).toEqual([]);
    const b = new Builder().weightless();
    const arm = b.shaft([0, 0, 0]),
      sun = b.shaft([0, 0, 0]),
      wheel = b.shaft([30, 0, 0], arm.member);
    b.mesh(b.gear(sun.member, 20), b.gear(wheel.member, 40, 1, { phase: 4.5 }));
    b.motor(sun.joint);
    cured(b.design, 'support-left-free');
  });
  it('belong to what an edit brought about', () => {
    const d = two();
    const before = analyse(d).findings,
      after = analyse(change(d, 0, { module: 3 })).findings;
    expect(broughtAbout(before, before)).toEqual([]);
    expect(broughtAbout(before, after).map((f) => f.code)).toContain('module-differs');
  });
});

describe('catalogue and measuring', () => {
  it('offers the modules of ISO 54 and diametral pitches, and what suits belts, chains and screws', () => {
    // ISO 54:1996, series I: preferred numbers, each about a quarter more than the last (from memory).
    ISO_54.slice(2).forEach((m, i, l) => i && expect(m / l[i - 1]).toBeLessThan(1.35));
    // An inch pitch is a fraction, and stays one.
    expect(offersFor('gear', 'module').find((o) => o.label.startsWith('12 1/in'))!.value).toBe('25.4/12');
    expect(
      offersFor('gear', 'module')
        .filter((o) => o.label.endsWith('series II'))
        .map((o) => o.value),
    ).toEqual(expect.arrayContaining([1.125, 22, 45]));
    expect(offersFor('screw', 'pitch', { form: 'metric', diameter: 12 }).map((o) => o.value)).toEqual([1.75]);
    expect(offersFor('screw', 'pitch', { form: 'square', diameter: 12 })).toEqual([]);
    expect(offersFor('pulley', 'pitch', { form: 'sprocket' }).map((o) => o.value)).toContain(76.2);
    for (const o of offersFor('pulley', 'diameter', { form: 'flat' })) expect(o.label).toMatch(/^[\d.]+ mm$/);
    expect(offersFor('pulley', 'pitch', { form: 'sprocket' }).map((o) => o.value)).toContain(12.7);
    expect(offersFor('pulley', 'pitch', { form: 'toothed' }).map((o) => o.value)).toContain(9.525);
    expect(offersFor('screw', 'pitch', { diameter: 40 }).map((o) => o.value)).toEqual([7]);
    expect(offersFor('rod', 'length')).toEqual([]);
  });
  it('finds sizes from what was measured', () => {
    const m = (type: string, key: string, of: string, given: Record<string, number>): number =>
      measuresFor(type, key)
        .find((x) => x.key === of)!
        .value(given)!;
    expect(m('gear', 'module', 'outside', { da: 80, z: 38 })).toBe(2);
    // Span over 3 teeth of 20 at module 1: 7.6604 mm, as in handbooks.
    expect(m('gear', 'module', 'span', { w: 7.6604, k: 3, z: 20 })).toBeCloseTo(1, 4);
    expect(m('gear', 'module', 'centres', { a: 80, z1: 20, z2: 60 })).toBe(2);
    expect(m('wheel', 'diameter', 'pitch-diameter', { p: 12.566, z: 18 })).toBeCloseTo(72, 2);
    expect(m('pulley', 'diameter', 'turns', { other: 100, n1: 5, n2: 2 })).toBe(250);
    expect(m('screw', 'pitch', 'travel', { s: 60, n: 12, starts: 1 })).toBe(5);
    expect(m('screw', 'pitch', 'turns-per-travel', { n: 8, s: 25.4, starts: 2 })).toBeCloseTo(25.4 / 16, 12);
    expect(m('gear', 'module', 'inside', { da: 116, z: 60 })).toBe(2);
    expect(m('bevel-gear', 'coneAngle', 'counts', { z: 20, other: 40, sigma: 90 })).toBeCloseTo((Math.atan(0.5) * 180) / Math.PI, 12);
    expect(
      m('bevel-gear', 'module', 'cone', { da: 3 * (20 + 2 * Math.cos(Math.atan(0.5))), z: 20, delta: (Math.atan(0.5) * 180) / Math.PI }),
    ).toBeCloseTo(3, 12);
    expect(m('worm', 'module', 'lead', { lead: 4 * Math.PI, starts: 2 })).toBeCloseTo(2, 12);
    // Over the tips of a helical, shifted gear as the engine draws it.
    const g = gearOf({ id: 'g', name: 'G', type: 'gear', member: 'm', ...{ teeth: 23, module: 3, helix: 18, shift: 0.35 } });
    expect(m('gear', 'module', 'helical', { da: 2 * g.tipRadius, z: 23, beta: 18, x: 0.35 })).toBeCloseTo(3, 12);
  });
});

describe('names', () => {
  it('are unique, and what is called after a member goes with it', () => {
    const d = two();
    const [shaft] = d.members.slice(1);
    expect(freeName(d, 'Nothing like it')).toBe('Nothing like it');
    expect(freeName(d, shaft.name)).not.toBe(shaft.name);
    const joint = d.joints.find((j) => j.child === shaft.id)!;
    expect(joint.name).toBe(`${shaft.name} bearing`);
    const renamed = renameMember(d, shaft.id, 'Lay shaft');
    expect(renamed.joints.find((j) => j.id === joint.id)!.name).toBe('Lay shaft bearing');
    expect(renamed.members.find((m) => m.id === shaft.id)!.name).toBe('Lay shaft');
    // Nothing else is called anything else.
    expect(renamed.joints.filter((j) => j.id !== joint.id)).toEqual(d.joints.filter((j) => j.id !== joint.id));
    expect(renameMember(d, shaft.id, shaft.name)).toBe(d);
  });
});
