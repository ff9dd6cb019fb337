import { afterAll, describe, expect, it } from 'vitest';
import { readDesign } from '../document/index';
import { statedBy } from '../fields/fields';
import { ELSEWHERE, KINDS, LISTS, type List, NAMES_OTHERS, PROPERTIES, othersOf, sound, typeOf, violations, withField } from '../testing/changes';
import { RIGS } from '../testing/rigs/index';
import { analyse } from './analyse';

/**
 * The laws of mechanics over every kind of member, joint, element, coupling, source and load, with every field away from
 * its initial value. Each rig is sound; one field of one item is changed at a time, and what comes of it must obey every
 * law. What was reached is counted, and an empty cell fails.
 */
const reached = new Map<string, Map<string, number>>();
const cell = (key: string): Map<string, number> => {
  const had = reached.get(key) ?? new Map<string, number>();
  reached.set(key, had);
  return had;
};
const count = (key: string, how: 'stated' | 'changed'): void => void cell(key).set(how, (cell(key).get(how) ?? 0) + 1);
const keyOf = (list: List, type: string, field: string): string => `${list}/${type}.${field}`;

/** How often each property could be asked of a design with each kind. */
const asked = new Map<string, Map<string, number>>();
function askedOf(kind: string, property: string): void {
  const by = asked.get(kind) ?? new Map<string, number>();
  asked.set(kind, by.set(property, (by.get(property) ?? 0) + 1));
}
/** Properties that cannot be asked of any design with a kind, and why. */
const NEVER: Readonly<Record<string, readonly string[]>> = {
  // Behind a clutch a second freedom is left, which no source leads.
  'couplings/one-way-clutch': ['drive load'],
  // A run under a torque begins at rest, not at the speed that the torque reaches.
  'sources/torque': ['run'],
  'sources/power': ['run'],
  'sources/torque-line': ['run'],
};

/** How many rigs show one field of one kind. */
const ENOUGH = 2;

describe('laws of mechanics over every kind and field', () => {
  it.each(RIGS.map((r) => [r.name, r] as const))('%s', (name, rig) => {
    const d = rig.make();
    expect(readDesign(d).problems).toBeUndefined();
    expect(analyse(d).findings.filter((f) => f.severity === 'fault')).toEqual([]);
    const wrong = violations('as it is', d, (property) => {
      for (const list of LISTS) for (const type of new Set(d[list].map((x) => typeOf(list, x)))) askedOf(`${list}/${type}`, property);
    });
    for (const list of LISTS) {
      for (const item of d[list]) {
        const type = typeOf(list, item);
        for (const f of KINDS[list].find((k) => k.type === type)?.fields ?? []) {
          const now = statedBy(item)[f.key];
          if (now !== undefined && now !== f.initial) count(keyOf(list, type, f.key), 'stated');
        }
      }
    }
    for (const list of LISTS) {
      const seen = new Set<string>();
      for (const [at, item] of d[list].entries()) {
        const type = typeOf(list, item);
        const kind = KINDS[list].find((k) => k.type === type);
        for (const f of kind?.fields ?? []) {
          const key = keyOf(list, type, f.key);
          if (NAMES_OTHERS.has(f.kind) || f.key in ELSEWHERE || seen.has(key) || (cell(key).get('changed') ?? 0) >= ENOUGH) continue;
          if (f.when && !f.when(item) && f.key !== 'home2' && f.key !== 'home3') continue;
          const now = statedBy(item)[f.key];
          const other = othersOf(f, now)
            .map((v) => sound(withField(d, list, at, f.key, v)))
            .find((x) => x !== undefined);
          if (!other) continue;
          seen.add(key);
          const found = violations(key, other, (property) => askedOf(`${list}/${type}`, property));
          wrong.push(...found);
          count(key, 'changed');
        }
      }
    }
    // The first of each property says most.
    const firsts = new Map(wrong.reverse().map((w) => [w.split(': ')[1], w]));
    expect([...firsts.values()]).toEqual([]);
  });

  afterAll(() => {
    const kinds = new Map<string, string[]>();
    for (const [key, by] of [...reached].sort(([a], [b]) => (a < b ? -1 : 1))) {
      const [kind, field] = key.split('.');
      kinds.set(kind, [...(kinds.get(kind) ?? []), `${field} ${by.get('stated') ?? 0}+${by.get('changed') ?? 0}`]);
    }
    const names = Object.keys(PROPERTIES);
    const times = (kind: string): string => names.map((p) => asked.get(kind)?.get(p) ?? 0).join(' ');
    const lines = [...kinds].map(([kind, fields]) => `${kind}: ${fields.join(', ')}; asked ${times(kind)}`);
    console.log(
      `Laws over kinds and fields: away from its initial value as rigs state it + changed by itself.\nAsked of each kind so many times: ${names.join(', ')}.\n${lines.join('\n')}`,
    );
  });

  it('leaves no cell empty', () => {
    const due = LISTS.flatMap((list) =>
      KINDS[list].flatMap((k) =>
        (k.fields ?? []).filter((f) => !NAMES_OTHERS.has(f.kind) && !(f.key in ELSEWHERE)).map((f) => keyOf(list, k.type, f.key)),
      ),
    );
    expect(due.filter((key) => !reached.get(key)?.size)).toEqual([]);
    const kinds = [...new Set(due.map((key) => key.split('.')[0]))];
    const unasked = kinds.flatMap((kind) =>
      Object.keys(PROPERTIES)
        .filter((p) => !asked.get(kind)?.get(p) && !NEVER[kind]?.includes(p))
        .map((p) => `${kind}: ${p}`),
    );
    expect(unasked).toEqual([]);
  });
});
