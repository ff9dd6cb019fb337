import fc from 'fast-check';
import { expect, it } from 'vitest';
import { statedBy } from '../fields/fields';
import { ELSEWHERE, KINDS, LISTS, NAMES_OTHERS, othersOf, sound, typeOf, violations, withField } from '../testing/changes';
import { RIGS } from '../testing/rigs/index';

/** A field of an item of a design, with one of the values that it may have. */
interface Change {
  readonly at: number;
  readonly which: number;
}
const change = fc.record<Change>({ at: fc.nat(), which: fc.nat() });

/**
 * The laws over designs of which two or three fields were changed at once: fields of any items, whatever they have to do
 * with each other.
 */
it('mechanics holds for pairs of changed fields', { timeout: 600_000 }, () => {
  const tried = new Set<string>();
  fc.assert(
    fc.property(fc.nat({ max: RIGS.length - 1 }), fc.array(change, { minLength: 2, maxLength: 3 }), (rig, changes) => {
      let d = RIGS[rig].make();
      const made: string[] = [];
      for (const { at, which } of changes) {
        const open = LISTS.flatMap((list) =>
          d[list].flatMap((item: object, k) =>
            (KINDS[list].find((x) => x.type === typeOf(list, item))?.fields ?? [])
              .filter((f) => !NAMES_OTHERS.has(f.kind) && !(f.key in ELSEWHERE) && (!f.when || f.when(item)))
              .map((f) => ({ list, k, f, type: typeOf(list, item), now: statedBy(item)[f.key] })),
          ),
        );
        const { list, k, f, type, now } = open[at % open.length];
        const values = othersOf(f, now);
        if (!values.length) continue;
        const value = values[which % values.length];
        const next = sound(withField(d, list, k, f.key, value));
        if (!next) continue;
        d = next;
        made.push(`${list}[${k}] ${type}.${f.key} = ${JSON.stringify(value)}`);
      }
      if (made.length < 2) return;
      made.forEach((m) => tried.add(m.slice(0, m.indexOf(' ='))));
      expect(violations(`${RIGS[rig].name} with ${made.join(', ')}`, d)).toEqual([]);
    }),
    { numRuns: 60 },
  );
  console.log(`Pairs of changed fields: ${tried.size} fields of items in all`);
});
