import fc from 'fast-check';
import { COUPLING_KINDS } from '../couplings/index';
import { Design, Field, JOINT_STOPS, LOAD_KINDS, SOURCE_KINDS, WANTED_KINDS, emptyDesign } from '../document/index';
import { ELEMENT_KINDS } from '../elements/index';
import { mostOf } from '../fields/fields';
import { JOINT_KINDS } from '../joints/index';

/** Any value that the schema lets through for a field: sizes from hardly anything to far too much. */
function valueOf(f: Field, refs: (to: string) => fc.Arbitrary<string>): fc.Arbitrary<unknown> {
  const lo = f.above ?? f.min ?? -1e6,
    hi = f.below ?? f.max ?? 1e6;
  const inside = (x: number): number => Math.min(f.below !== undefined ? hi - 1e-3 : hi, Math.max(f.above !== undefined ? lo + 1e-6 : lo, x));
  const number = fc
    .oneof(fc.constantFrom(0, 1, 2, 5, 10, 20, 45, 90, lo, hi), fc.double({ min: lo, max: hi, noNaN: true }))
    .map((x) => Number(inside(x).toPrecision(6)));
  switch (f.kind) {
    case 'exact':
    case 'number':
      return number;
    case 'whole':
      return fc
        .oneof(fc.constantFrom(12, 20, 40), fc.integer({ min: f.min ?? 1, max: Math.min(f.max ?? 400, 400) }))
        .map((x) => Math.round(inside(x)));
    case 'choice':
      return fc.constantFrom(...f.choices!);
    case 'flag':
      return fc.boolean();
    case 'text':
      return f.pattern ? fc.stringMatching(f.pattern) : fc.string({ maxLength: Math.min(20, mostOf(f) - 1) }).map((x) => `x${x}`);
    case 'vector':
      return ((part) => fc.tuple(part, part, part))(fc.integer({ min: Math.max(-50, f.min ?? -50), max: 50 }));
    case 'ref':
      return refs(f.to!);
    case 'refs':
      return fc.array(refs(f.to!), { minLength: f.least ?? 0, maxLength: 4 });
    case 'table':
      return fc.array(fc.record(Object.fromEntries(f.columns!.map((c) => [c.key, valueOf(c, refs)]))), { minLength: f.least ?? 0, maxLength: 5 });
  }
}

const direction = fc.constantFrom<[number, number, number]>([0, 0, 1], [0, 0, -1], [1, 0, 0], [0, 1, 0], [1, 1, 0], [3, -2, 5]);
const point = fc.tuple(fc.constantFrom(0, 0, 30, 50, -20), fc.constantFrom(0, 0, 40, 10), fc.constantFrom(0, 0, 20));

/**
 * Documents that pass the schema and are wrong in every other way
 * they can: any member on any other, any element in any coupling.
 */
export const anyDesign: fc.Arbitrary<Design> = fc.integer({ min: 1, max: 5 }).chain((n) => {
  const members = Array.from({ length: n }, (_, i) => `m${i}`);
  const some = (ids: string[]): fc.Arbitrary<string> => fc.constantFrom(...ids, 'nowhere');
  const joints = Array.from({ length: n + 1 }, (_, i) => `j${i}`),
    elements = Array.from({ length: 6 }, (_, i) => `e${i}`);
  const refs = (to: string): fc.Arbitrary<string> =>
    to === 'member'
      ? some(members)
      : to === 'element'
        ? some(elements)
        : to === 'source'
          ? some(['s0', 's1'])
          : to === 'coordinate'
            ? some([...joints, 'j0:1', 'j1:2'])
            : some(joints);
  const item = (
    kinds: readonly { type: string; fields?: readonly Field[] }[],
    common: Record<string, fc.Arbitrary<unknown>>,
    also: readonly Field[] = [],
  ) =>
    fc.constantFrom(...kinds).chain((k) => {
      const fields = [...(k.fields ?? []), ...also];
      const required = [...Object.keys(common), 'type', ...fields.filter((f) => f.required).map((f) => f.key)];
      return fc.record(
        { ...common, type: fc.constant(k.type), ...Object.fromEntries(fields.map((f) => [f.key, valueOf(f, refs)])) },
        { requiredKeys: required as never },
      );
    });
  const list = (ids: string[], make: (id: string) => fc.Arbitrary<unknown>): fc.Arbitrary<unknown[]> =>
    fc.tuple(...ids.map(make)) as fc.Arbitrary<unknown[]>;
  const named = (id: string) => ({ id: fc.constant(id), name: fc.constant(id) });
  return fc
    .record({
      members: list(members, (id) => fc.record({ ...named(id), kind: fc.constant('body'), at: point, axis: direction })),
      joints: list(joints, (id) =>
        item(
          JOINT_KINDS,
          { id: fc.constant(id), parent: fc.constantFrom('frame', 'frame', ...members), child: fc.constantFrom(...members) },
          JOINT_STOPS,
        ),
      ),
      elements: list(elements, (id) =>
        item(ELEMENT_KINDS, { ...named(id), member: fc.constantFrom('frame', ...members), at: point, axis: direction }),
      ),
      couplings: list(['c0', 'c1', 'c2'], (id) => item(COUPLING_KINDS, { id: fc.constant(id) })),
      sources: list(['s0', 's1'], (id) => item(SOURCE_KINDS, named(id))),
      loads: list(['l0', 'l1'], (id) => item(LOAD_KINDS, named(id))),
      wanted: list(['w0', 'w1'], (id) => item(WANTED_KINDS, named(id))),
    })
    .map((parts) => ({ ...emptyDesign('any'), ...parts }) as unknown as Design);
});
