import { readFileSync, readdirSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { analyse } from '../checks/index';
import { type Design, emptyDesign, readDesign } from '../document/index';
import { type Gear, gearOf } from '../elements/index';
import { compile } from '../kinematics/index';
import { insertStage, withInputShaft } from '../sizing/index';
import { OUTSIDE, connectionsOf, fittedTo, numbersOf, pieceOf, sameTargets, targetsOf, withNewerPiece, withPiece } from './index';

const demos = new URL('../../demo/', import.meta.url);
const read = (f: string): Design => {
  const r = readDesign(JSON.parse(readFileSync(new URL(f, demos), 'utf8')));
  if (r.problems) throw new Error(f);
  return r.design;
};
const started = (kinds: readonly string[], values: Record<string, string | number> = {}): Design => {
  let s = withInputShaft(emptyDesign('New'), { type: 'motor', name: 'Motor' });
  for (const kind of kinds) s = insertStage(s.design, { kind, from: s.output, values })!;
  return s.design;
};
const same = sameTargets;
const faults = (d: Design): string[] =>
  analyse(d)
    .findings.filter((f) => f.severity === 'fault')
    .map((f) => f.code);

describe('a piece', () => {
  const d = started(['spur']);
  const wheelShaft = d.members[1];
  const piece = pieceOf(d, [wheelShaft.id], 'Wheel')!;

  it('is a valid design of its own, with what it was connected to outside of its group', () => {
    expect(readDesign(JSON.parse(JSON.stringify(piece))).problems).toBeUndefined();
    const pinion = d.elements.find((e) => e.member === d.members[0].id)!;
    expect(connectionsOf(piece)).toEqual([{ id: pinion.id, list: 'elements', name: pinion.name, of: expect.any(String) as string }]);
    expect(piece.groups!.find((g) => g.id === OUTSIDE)!.items).toContain(pinion.id);
    expect(pieceOf(d, [], 'Nothing')).toBeUndefined();
  });

  it('copied beside itself meshes with the same wheel again, and turns as fast', () => {
    const r = withPiece(d, piece, { to: same(d, piece) });
    expect(readDesign(r.design).problems).toBeUndefined();
    const a = analyse(r.design);
    expect(a.freedoms).toBe(1);
    const speeds = a.ledger.lines.filter((l) => l.member !== d.members[0].id).map((l) => l.speed);
    expect(speeds).toHaveLength(2);
    expect(speeds[0]).toBe(speeds[1]);
    // It went round the wheel that both mesh with: at its working distance, teeth in spaces.
    expect(a.findings.filter((f) => f.severity !== 'note')).toEqual([]);
    const at = (k: number) => r.design.members[k].at ?? [0, 0, 0];
    expect(Math.hypot(at(2)[0] - at(0)[0], at(2)[1] - at(0)[1])).toBeCloseTo(Math.hypot(at(1)[0] - at(0)[0], at(1)[1] - at(0)[1]), 9);
    expect(new Set(r.design.members.map((m) => m.name)).size).toBe(r.design.members.length);
  });

  it('put into another design takes the module of the wheel that it meshes with there, and stands at its working distance', () => {
    // Somewhere else, turned, with another module and other teeth.
    let other = started(['spur'], { module: 4 });
    other = { ...other, members: other.members.map((m) => ({ ...m, at: [(m.at?.[0] ?? 0) + 500, 40, -70] })) };
    const [c] = connectionsOf(piece);
    const target = targetsOf(other, piece, c).at(-1)!;
    const to = new Map([[c.id, target.id]]);
    const fitted = fittedTo(other, piece, to);
    expect(fitted.said.join()).toMatch(/takes module of/);
    const r = withPiece(other, fitted.piece, { to });
    expect(readDesign(r.design).problems).toBeUndefined();
    const made = r.design.elements.filter((e) => r.made.includes(e.id) && e.type === 'gear')[0] as Gear;
    expect(gearOf(made).module).toBe(4);
    expect(faults(r.design)).toEqual(faults(other));
    const a = analyse(r.design);
    expect(a.freedoms).toBe(1);
    // Exactly z / z of the two that mesh now.
    const z = gearOf(r.design.elements.find((e) => e.id === target.id) as Gear).teeth / gearOf(made).teeth;
    const speed = (member: string): number => a.ledger.lines.find((l) => l.member === member)!.speed;
    const host = r.design.elements.find((e) => e.id === target.id)!.member;
    expect(speed(made.member)).toBeCloseTo(-z * speed(host), 9);
  });

  it('without its connection comes without its mesh', () => {
    const r = withPiece(emptyDesign('Other'), piece, { to: new Map() });
    expect(r.design.couplings).toEqual([]);
    expect(r.design.members).toHaveLength(1);
    // A name that is free is kept.
    expect(r.design.members[0].name).toBe(wheelShaft.name);
    expect(readDesign(r.design).problems).toBeUndefined();
  });

  it('has its numbers open to change', () => {
    expect(numbersOf(piece).flatMap((n) => n.fields.map((f) => f.key))).toEqual(expect.arrayContaining(['teeth', 'module', 'width']));
  });
});

describe('pieces of every demo', () => {
  it.each(readdirSync(demos).filter((f) => f.endsWith('.json')))(
    '%s: each member, back into it and into an empty design, leaves nothing hanging',
    (f) => {
      const d = read(f);
      for (const m of d.members) {
        const piece = pieceOf(d, [m.id], m.name)!;
        expect(readDesign(JSON.parse(JSON.stringify(piece))).problems, m.name).toBeUndefined();
        for (const [into, to] of [
          [d, same(d, piece)],
          [emptyDesign('Empty'), new Map<string, string>()],
        ] as const) {
          const r = withPiece(into, piece, { to, group: m.name });
          expect(readDesign(r.design).problems, m.name).toBeUndefined();
          expect(compile(r.design).findings.filter((y) => /-missing|coupling-needs|without-joint/.test(y.code))).toEqual(
            compile(into).findings.filter((y) => /-missing|coupling-needs|without-joint/.test(y.code)),
          );
          expect(r.design.members).toHaveLength(into.members.length + 1);
        }
      }
    },
  );
});

describe('a piece from the shelf', () => {
  const d = started(['spur']);
  const piece = pieceOf(d, [d.members[1].id], 'Wheel')!;
  const origin = { design: '00000000-0000-4000-8000-000000000001', revision: 3 };
  const put = withPiece(d, piece, { to: same(d, piece), origin, group: 'Wheel' });
  const group = put.design.groups!.at(-1)!;
  const wheel = piece.elements.find((e) => !piece.groups!.find((g) => g.id === OUTSIDE)!.items.includes(e.id) && e.type === 'gear')!;

  it('knows where it came from, item by item', () => {
    expect(group).toMatchObject({ origin: origin.design, originRevision: 3 });
    expect(group.originItems!.map((x) => x.of)).toContain(wheel.id);
    expect(readDesign(put.design).problems).toBeUndefined();
  });

  it('takes a newer state over: numbers change, names and places stay, what is new comes, what went goes', () => {
    const outside = piece.groups!.find((g) => g.id === OUTSIDE)!.items;
    const dropped = piece.elements.find((e) => !outside.includes(e.id) && e.id !== wheel.id);
    const newer: Design = {
      ...piece,
      elements: [
        ...piece.elements.filter((e) => e.id !== dropped?.id).map((e) => (e.id === wheel.id ? { ...e, teeth: 61, name: 'Renamed' } : e)),
        { id: 'hub', name: 'Hub', type: 'rod', member: wheel.member, diameter: 40, length: 30 } as Design['elements'][number],
      ],
    };
    const mine = group.originItems!.find((x) => x.of === wheel.id)!.item;
    const before = put.design.elements.find((e) => e.id === mine)!;
    const out = withNewerPiece(put.design, group.id, newer, 5);
    expect(readDesign(out).problems).toBeUndefined();
    const after = out.elements.find((e) => e.id === mine) as Gear;
    expect(after).toMatchObject({ teeth: 61, name: before.name, member: before.member });
    expect(out.members.map((m) => m.at)).toEqual(put.design.members.map((m) => m.at));
    expect(out.elements.filter((e) => e.name.startsWith('Hub'))).toHaveLength(1);
    expect(out.groups!.at(-1)).toMatchObject({ originRevision: 5 });
    if (dropped) expect(out.elements.some((e) => e.id === group.originItems!.find((x) => x.of === dropped.id)!.item)).toBe(false);
    // The mesh is the one that it was.
    expect(out.couplings).toHaveLength(put.design.couplings.length);
    // Once more it brings nothing about.
    expect(withNewerPiece(out, group.id, newer, 5)).toEqual(out);
  });
});
