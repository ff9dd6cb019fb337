import Ajv2020 from 'ajv/dist/2020';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { analyse } from '../checks/index';
import { anyDesign } from '../testing/random-design';
import { type Design, ITEM_LISTS, designJsonSchema, emptyDesign, fieldsOfItem, readDesign, withoutUnstated } from './index';

type Loose = Record<(typeof ITEM_LISTS)[number], Record<string, unknown>[]>;

/** Optional fields of a design, each as the list, the item's place and the key. */
const optional = (d: Design): [(typeof ITEM_LISTS)[number], number, string][] =>
  ITEM_LISTS.flatMap((list) =>
    (d as unknown as Loose)[list].flatMap((item, i) =>
      fieldsOfItem(list, item as never)
        .filter((f) => !f.required)
        .map((f): [(typeof ITEM_LISTS)[number], number, string] => [list, i, f.key]),
    ),
  );

describe('a null, an empty string or a blank in an optional field', () => {
  it('states nothing: the design reads and works out as if it were not there', () => {
    fc.assert(
      fc.property(
        anyDesign,
        fc.array(fc.tuple(fc.nat(), fc.constantFrom(null, '', '  ', '\t')), { minLength: 3, maxLength: 25 }),
        (design, picks) => {
          const [open, without] = [structuredClone(design), structuredClone(design)] as unknown as [Loose, Loose];
          const fields = optional(design);
          for (const [n, blank] of picks) {
            const [list, i, key] = fields[n % fields.length];
            open[list][i][key] = blank;
            delete without[list][i][key];
          }
          const read = readDesign(open);
          expect(read.problems).toEqual(readDesign(without).problems);
          if (read.problems) return;
          expect(read.design).toEqual(without);
          const a = analyse(open as unknown as Design),
            b = analyse(without as unknown as Design);
          expect(a.findings).toEqual(b.findings);
          expect(a.ledger.lines).toEqual(b.ledger.lines);
        },
      ),
      { numRuns: 120 },
    );
  });

  it('leaves a design alone that states all it has', () => {
    fc.assert(
      fc.property(anyDesign, (d) => {
        expect(withoutUnstated(d)).toBe(d);
      }),
      { numRuns: 20 },
    );
  });
});

describe('the published schema and the reader', () => {
  const check = new Ajv2020({ strict: false, logger: false, discriminator: true }).compile(designJsonSchema());
  const odd = fc.oneof(
    fc.constantFrom<unknown>(
      null,
      '',
      ' ',
      0,
      -1,
      1,
      2.5,
      1e9,
      1.1e9,
      -1e10,
      'abc',
      'a b',
      'j0:1',
      'e0:+z',
      'left',
      true,
      false,
      [],
      {},
      '1/2',
      '12.5',
      'x'.repeat(3000),
    ),
    fc.constantFrom<unknown>(
      [0, 0, 0],
      [1, 2, 3],
      [1, 2],
      [1e-10, 0, 0],
      [2e9, 0, 0],
      ['a', 0, 0],
      [null, 0, 0],
      ['e0', 'e1'],
      ['e 0'],
      [{}],
      [{ time: 1 }],
      'frame',
      4,
      20,
    ),
  );

  it('say alike of every document whether it can be read', () => {
    fc.assert(
      fc.property(anyDesign, fc.array(fc.tuple(fc.nat(), fc.nat(), odd), { maxLength: 3 }), (design, changes) => {
        const d = structuredClone(design) as unknown as Loose & Record<string, unknown>;
        for (const [where, which, value] of changes) {
          const list = ITEM_LISTS[where % ITEM_LISTS.length];
          const item = d[list][where % d[list].length];
          const keys = [...new Set([...fieldsOfItem(list, item as never).map((f) => f.key), ...Object.keys(item), 'extra'])].filter(
            (k) => k !== 'id',
          );
          item[keys[which % keys.length]] = value;
        }
        const reads = readDesign(d).problems === undefined;
        // A fraction in quotes is held to its limits by the reader alone: JSON Schema has no words for that.
        const passes = check(d);
        if (passes && !reads) expect(readDesign(d).problems!.filter((p) => !/must be (at (least|most)|more|less)/.test(p.message))).toEqual([]);
        else {
          expect({ passes, problems: readDesign(d).problems, errors: passes ? undefined : check.errors?.slice(0, 3) }).toMatchObject({
            passes: reads,
          });
        }
      }),
      { numRuns: 1500 },
    );
  });
});

describe('names and exact numbers as schema and reader have them', () => {
  const named = (name: string) => ({ ...emptyDesign('x'), members: [{ id: 'm', name, kind: 'shaft' }] });
  it('a name is one line: NUL, tab and line break are refused, everything printed is taken', () => {
    for (const bad of ['a\u0000b', 'a\nb', 'a\tb', '\u007f']) expect(readDesign(named(bad)).problems?.[0].message).toMatch(/one line/);
    expect(readDesign(named('Wälle Nr. 2 ⌀40 — 木')).problems).toBeUndefined();
  });
  it('blanks and exponents of an exact number are read alike by both', () => {
    const check = new Ajv2020({ strict: false, logger: false, discriminator: true }).compile(designJsonSchema());
    for (const lead of ['25.4/12', ' 25.4 / 12 ', '1E-2', '+3e1', '.5', '5.', '1/0', 'x', '', '1e', '2 3', '1/2/3', '\u00a05']) {
      const d = {
        ...emptyDesign('x'),
        members: [{ id: 'm', name: 'm', kind: 'shaft' }],
        joints: [{ id: 'j', type: 'revolute', parent: 'frame', child: 'm', home: lead }],
      };
      const read = !readDesign(d).problems;
      // That nothing may be divided by zero no pattern says.
      if (lead !== '1/0') expect([lead, check(d)]).toEqual([lead, read]);
      else expect(read).toBe(false);
    }
  });
});
