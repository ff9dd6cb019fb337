import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { analyse } from '../../checks/index';
import { type Design, ITEM_LISTS, emptyDesign, fieldProblem, readDesign } from '../../document/index';
import type { Field } from '../../fields/fields';
import { elementKind, extentOf } from '../../elements/index';
import { type Vec3, cross, dot, frameOf, norm, toWorldPoint, vsub } from '../../math/index';
import { removeItems } from '../../edits/items';
import {
  STAGE_KINDS,
  type StageKind,
  type Values,
  canBegin,
  insertStage,
  reachRatio,
  stageKind,
  stageProblem,
  stageValues,
  withInputShaft,
} from './index';

const idsOf = (d: Design): string[] => ITEM_LISTS.flatMap((k) => (d[k] as { id: string }[]).map((x) => x.id));
const begin = (): Design => withInputShaft(emptyDesign('Begun'), { type: 'motor', name: 'Motor' }).design;

/** Sizes about those that are proposed: counts a few more or less, lengths half to twice, any choice. */
function around(f: Field): fc.Arbitrary<number | string | boolean> {
  const initial = f.initial as number | string | boolean;
  if (f.kind === 'choice') return fc.constantFrom(...f.choices!);
  if (f.kind === 'flag') return fc.boolean();
  if (typeof initial !== 'number') return fc.constant(initial);
  const within = (x: number): number => Math.min(f.max ?? Infinity, Math.max(f.min ?? -Infinity, x));
  if (f.kind === 'whole') return fc.integer({ min: -3, max: 12 }).map((n) => within(initial + n));
  if (f.key === 'angle') return fc.integer({ min: -180, max: 180 });
  return fc.integer({ min: 5, max: 20 }).map((n) => within(Number(((initial * n) / 10).toPrecision(6))));
}
const valuesOf = (kind: StageKind): fc.Arbitrary<Values> => fc.record(Object.fromEntries(kind.fields.map((f) => [f.key, around(f)])));

describe('a stage whose drive travels along', () => {
  it.each([
    ['rolling', 'wheel', (Math.PI * 100) / 60],
    ['rack', 'pinion', (Math.PI * 2 * 20) / 60],
  ])('%s: the whole drive rides on the carriage, moves by its way per turn, and stays where it was when the stage goes', (kind, moves, perTurn) => {
    // A motor pinion, a wheel on the next shaft, and there the wheel or pinion that rolls.
    const begun = begin();
    const geared = insertStage(begun, { kind: 'spur', from: begun.members[0].id, values: { z1: 20, z2: 40 } })!;
    const made = insertStage(geared.design, { kind, from: geared.output, values: { moves } })!;
    const w = analyse(made.design);
    expect(w.findings.filter((f) => f.severity === 'fault')).toEqual([]);
    expect(w.freedoms).toBe(1);
    const rides = made.design.joints.filter((j) => j.parent === made.output).map((j) => j.child);
    expect(rides.sort()).toEqual(
      begun.members
        .map((m) => m.id)
        .concat(geared.output)
        .sort(),
    );
    // 60 rev/min of the motor, half of it at the second shaft.
    expect(Math.abs(w.ledger.lines.find((l) => l.member === made.output)!.speed)).toBeCloseTo((perTurn * 60) / 2, 9);
    const out = removeItems(made.design, made.made);
    expect(out.joints).toEqual(geared.design.joints);
  });
});

describe('every kind of stage', () => {
  it('has a name of its own, and sizes whose proposals are within their own bounds', () => {
    expect(new Set(STAGE_KINDS.map((k) => k.kind)).size).toBe(STAGE_KINDS.length);
    expect(new Set(STAGE_KINDS.map((k) => k.label)).size).toBe(STAGE_KINDS.length);
    for (const k of STAGE_KINDS) {
      expect(stageProblem(k, stageValues(k)), k.kind).toBeUndefined();
      for (const f of k.fields) {
        if (typeof f.initial !== 'number') continue;
        expect([k.kind, f.key, f.initial >= (f.min ?? -Infinity), f.initial <= (f.max ?? Infinity)]).toEqual([k.kind, f.key, true, true]);
      }
    }
  });

  it.each(STAGE_KINDS.map((k) => [k.kind, k] as const))('%s: as proposed goes in without trouble and moves', (_, kind) => {
    const d = begin();
    const made = insertStage(d, { kind: kind.kind, from: d.members[0].id })!;
    const w = analyse(made.design);
    expect(w.findings.filter((f) => f.severity === 'fault')).toEqual([]);
    expect(w.freedoms).toBeGreaterThan(0);
  });

  it.each(STAGE_KINDS.map((k) => [k.kind, k] as const))(
    '%s: with any sizes that it takes is a sound document, new beside what was there, and goes out again',
    (_, kind) => {
      fc.assert(
        fc.property(valuesOf(kind), (values) => {
          if (stageProblem(kind, values)) return;
          const d = begin();
          const made = insertStage(d, { kind: kind.kind, from: d.members[0].id, values })!;
          expect(readDesign(structuredClone(made.design)).problems).toBeUndefined();
          const ids = idsOf(made.design);
          expect(new Set(ids).size).toBe(ids.length);
          expect(ids).toEqual(expect.arrayContaining(idsOf(d)));
          expect(made.made.filter((x) => idsOf(d).includes(x))).toEqual([]);
          if (made.output !== 'frame') expect(made.design.members.map((m) => m.id)).toContain(made.output);
          if (made.coupling) expect(made.design.couplings.map((c) => c.id)).toContain(made.coupling);
          expect(made.design.groups!.at(-1)!.items.every((x) => ids.includes(x))).toBe(true);
          const out = removeItems(made.design, made.made);
          expect(idsOf(out).sort()).toEqual(idsOf(d).sort());
        }),
        { numRuns: 40 },
      );
    },
  );

  it.each(STAGE_KINDS.filter((k) => k.forRatio).map((k) => [k.kind, k] as const))(
    '%s: what it says that it gives is what the train does, within its fields’ bounds; what it cannot reach has its reason',
    (_, kind) => {
      fc.assert(
        fc.property(fc.double({ min: -4, max: 4, noNaN: true }), (power) => {
          const asked = kind.ratio === 'travel' ? 20 * Math.exp(power) : Math.exp(power);
          const { sizes, gives, off, why } = reachRatio(kind, asked, stageValues(kind))!;
          const values = stageValues(kind, sizes);
          for (const f of kind.fields) expect(fieldProblem(f, values[f.key]), `${kind.kind} ${f.key} ${asked}`).toBeUndefined();
          expect(stageProblem(kind, values), `${kind.kind} ${asked}`).toBeUndefined();
          const d = begin();
          const made = insertStage(d, { kind: kind.kind, from: d.members[0].id, values })!;
          const w = analyse(made.design);
          const to = w.compiled.structure.coordinates.find((c) => c.joint.child === made.output)!.joint.id;
          const line = w.ratios.find((r) => r.to === to)!;
          const real = Math.abs(kind.ratio === 'travel' ? line.decimal : 1 / line.decimal);
          expect(gives / real).toBeCloseTo(1, 9);
          expect(off).toBeCloseTo(real / asked - 1, 9);
          expect(why === undefined).toBe(Math.abs(off) <= 0.01);
        }),
        { numRuns: 25 },
      );
    },
  );

  it('a planetary set is found for any ratio from 1.1 to 14, whichever is held', () => {
    const kind = stageKind('planetary')!;
    const roles = new Set<unknown>();
    for (const asked of [1.1, 1.25, 1.5, 1.8, 2, 2.3, 3, 4.5, 5, 7, 9.5, 11, 13, 14, 1 / 1.2, 1 / 4]) {
      const { sizes, off } = reachRatio(kind, asked, stageValues(kind))!;
      expect([asked, Math.abs(off) < 2e-3]).toEqual([asked, true]);
      roles.add(sizes['held']);
    }
    expect(roles.size).toBeGreaterThan(1);
  });

  it('takes what its elements take: every size at its bounds gives a sound document or is refused beside its field', () => {
    for (const kind of STAGE_KINDS) {
      for (const f of kind.fields) {
        if (f.kind !== 'whole' && f.kind !== 'number' && f.kind !== 'exact') continue;
        for (const end of [f.min ?? (f.above === undefined ? undefined : f.above + 1e-3), f.max]) {
          if (end === undefined) continue;
          const values = stageValues(kind, { [f.key]: end });
          if (stageProblem(kind, values)) continue;
          const d = begin();
          const made = insertStage(d, { kind: kind.kind, from: d.members[0].id, values })!;
          expect([kind.kind, f.key, end, readDesign(structuredClone(made.design)).problems]).toEqual([kind.kind, f.key, end, undefined]);
        }
      }
    }
  });
});

describe('a planetary set', () => {
  it('takes any of sun, ring and carrier held and any other driven: the ratio is Willis’', () => {
    const [zs, zr] = [24, 84];
    const due: Record<string, number> = {
      'ring sun': 1 + zr / zs,
      'ring carrier': 1 / (1 + zr / zs),
      'sun ring': 1 + zs / zr,
      'sun carrier': 1 / (1 + zs / zr),
      'carrier sun': -zr / zs,
      'carrier ring': -zs / zr,
    };
    for (const [roles, ratio] of Object.entries(due)) {
      const [held, input] = roles.split(' ');
      const d = begin();
      const made = insertStage(d, { kind: 'planetary', from: d.members[0].id, values: { held, input } })!;
      const w = analyse(made.design);
      expect(w.findings.filter((f) => f.severity !== 'note')).toEqual([]);
      const to = w.compiled.structure.coordinates.find((c) => c.joint.child === made.output)!.joint.id;
      expect(1 / w.ratios.find((r) => r.to === to)!.decimal).toBeCloseTo(ratio, 12);
    }
  });
  it('what is held gives way to what is driven, and the other way round', () => {
    const kind = stageKind('planetary')!;
    expect(stageValues(kind, { held: 'sun' })).toMatchObject({ held: 'sun', input: 'ring' });
    expect(stageValues(kind, { input: 'ring' })).toMatchObject({ held: 'sun', input: 'ring' });
    expect(stageProblem(kind, stageValues(kind, { held: 'sun', input: 'sun' }))).toMatchObject({ field: 'input' });
  });
});

describe('a stage behind another', () => {
  /** Least and greatest place along an axis of what a stage has made about it. */
  const reach = (w: ReturnType<typeof analyse>, made: readonly string[], o: Vec3, z: Vec3): [number, number] => {
    const ends = w.compiled.design.elements
      .filter((e) => made.includes(e.id))
      .flatMap((e) => {
        const box = extentOf(elementKind(e.type)!, e)!;
        const f = w.compiled.elementFrames.get(e.id)!;
        return [0, 1].flatMap((x) => [0, 1].flatMap((y) => [0, 1].map((k) => dot(vsub(toWorldPoint(f, [box[x][0], box[y][1], box[k][2]]), o), z))));
      });
    return [Math.min(...ends), Math.max(...ends)];
  };
  const coaxial = ['spur', 'helical', 'internal', 'v-belt', 'toothed-belt', 'chain', 'planetary', 'rack', 'rolling'];
  it('never stands inside it: behind a planetary set as behind a pair, on a tilted shaft, and behind a carrier', () => {
    fc.assert(
      fc.property(
        fc.constantFrom('planetary', 'spur', 'internal', 'chain'),
        fc.constantFrom(...coaxial),
        fc.constantFrom('ring', 'sun', 'carrier'),
        fc.constantFrom<Vec3>([0, 0, 1], [0.6, 0, 0.8], [0.36, 0.48, -0.8]),
        (one, two, held, axis) => {
          const d = begin();
          d.members[0].axis = axis;
          d.members[0].up = undefined;
          const input = held === 'sun' ? 'ring' : 'sun';
          const first = insertStage(d, { kind: one, from: d.members[0].id, values: one === 'planetary' ? { held, input } : {} })!;
          const second = insertStage(first.design, { kind: two, from: first.output })!;
          const w = analyse(second.design);
          const f = frameOf(second.design.members.find((m) => m.id === first.output)!.at ?? [0, 0, 0], axis);
          const onAxis = first.made.filter((id) => {
            const e = w.compiled.elementFrames.get(id);
            return e && (one === 'planetary' || norm(cross(vsub(e.o, f.o), f.z)) < 1e-6);
          });
          expect(reach(w, second.made, f.o, f.z)[0]).toBeGreaterThanOrEqual(reach(w, onAxis, f.o, f.z)[1] - 1e-6);
        },
      ),
      { numRuns: 60 },
    );
  });
});

describe('sizes that do not go together', () => {
  const problem = (kind: string, values: Values) => stageProblem(stageKind(kind)!, stageValues(stageKind(kind)!, values));
  it('are refused beside the field, with ones that do where there are such', () => {
    expect(problem('worm', { starts: 11, quotient: 6 })).toMatchObject({ field: 'starts', choices: [{ starts: 10 }] });
    expect(problem('worm', { starts: 10, quotient: 6 })).toBeUndefined();
    // 20 : 40 lets the larger cone be 90° at acos(−1/2), which is 120°.
    expect(problem('bevel', { corner: 119.9 })).toBeUndefined();
    expect(problem('bevel', { corner: 120 })).toMatchObject({ field: 'corner' });
    expect(problem('planetary', { sun: 25, planet: 30, planets: 3 })).toMatchObject({ field: 'sun' });
    expect(problem('planetary', { sun: 12, planet: 60, planets: 4 })?.field).toBe('planets');
    expect(problem('internal', { z1: 40, z2: 45 })).toMatchObject({ field: 'z2' });
    expect(problem('cam', { base: 5, lift: 20 })).toMatchObject({ field: 'base' });
  });
});

describe('where a stage can begin', () => {
  it('at what turns about its own axis; a proportional motion at anything that moves', () => {
    const d = begin();
    const rack = insertStage(d, { kind: 'rack', from: d.members[0].id })!;
    expect(canBegin(rack.design, 'spur', rack.output)).toBe(false);
    expect(canBegin(rack.design, 'proportional', rack.output)).toBe(true);
    expect(insertStage(rack.design, { kind: 'spur', from: rack.output })).toBeUndefined();
    expect(canBegin(d, 'spur', 'nobody')).toBe(false);
    expect(stageKind('no such')).toBeUndefined();
    expect(insertStage(d, { kind: 'no such' })).toBeUndefined();
  });

  it('is called as its coupling, the next one of its kind with the next number', () => {
    const begun = withInputShaft(emptyDesign('Pairs'), { type: 'crank', name: 'Crank' });
    const one = insertStage(begun.design, { kind: 'spur', from: begun.output })!;
    const { design } = insertStage(one.design, { kind: 'spur', from: one.output })!;
    expect(design.groups!.map((g) => g.name)).toEqual(['Spur pair', 'Spur pair 2']);
    expect(design.couplings.map((c) => c.name)).toEqual(['Spur pair', 'Spur pair 2']);
  });

  it.each(['ring', 'sun', 'carrier'] as const)('has a plate with a pin through each planet wheel, whatever is held: %s', (held) => {
    const begun = withInputShaft(emptyDesign('Set'), { type: 'crank', name: 'Crank' });
    const { design } = insertStage(begun.design, {
      kind: 'planetary',
      from: begun.output,
      values: { held, input: held === 'sun' ? 'ring' : 'sun' },
    })!;
    const w = analyse(design);
    const pins = design.elements.filter((e) => e.name.startsWith('Planet pin'));
    const wheels = design.elements.filter((e) => e.name.startsWith('Planet wheel'));
    expect([pins.length, wheels.length]).toEqual([3, 3]);
    const at = (id: string): Vec3 => w.compiled.elementFrames.get(id)!.o;
    const axis = w.compiled.elementFrames.get(pins[0].id)!.z;
    pins.forEach((pin, k) => expect(norm(cross(vsub(at(pin.id), at(wheels[k].id)), axis))).toBeLessThan(1e-9));
    const carrier = design.joints.find((j) => j.child === wheels[0].member)!.parent;
    expect(new Set([...pins, ...design.elements.filter((e) => e.name === 'Carrier plate')].map((e) => e.member))).toEqual(new Set([carrier]));
    expect(w.findings.filter((f) => f.severity !== 'note')).toEqual([]);
  });
});
