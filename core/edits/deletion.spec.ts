import { readFileSync, readdirSync } from 'node:fs';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { ITEM_LISTS } from '../document/index';
import type { Design } from '../fields/types';
import { deletionEffects } from './deletion';
import { removeItems } from './items';

const folder = new URL('../../demo/', import.meta.url);
const DEMOS = readdirSync(folder)
  .filter((f) => f.endsWith('.json'))
  .map((f) => JSON.parse(readFileSync(new URL(f, folder), 'utf8')) as Design);
const demo = (name: string): Design => DEMOS.find((d) => d.name === name)!;

describe('what deleting brings about', () => {
  it('of a shaft: its wheels, meshes and joint go along', () => {
    const d = demo('Paddle winding gear');
    const { along, loose } = deletionEffects(d, ['pinionshaft']);
    const words = along.map((x) => x.word);
    expect(words).toEqual(expect.arrayContaining(['joint', 'element', 'coupling']));
    expect(along.every((x) => x.id !== 'pinionshaft')).toBe(true);
    expect(loose).toEqual([]);
  });
  it('of a joint: its member is left loose', () => {
    const d = demo('Paddle winding gear');
    expect(deletionEffects(d, ['j-paddle']).loose.map((x) => x.id)).toEqual(['paddle']);
  });
  it('of a band’s wheel: the band goes on round the others, or goes along where there are no two', () => {
    const d = demo('Weed rake');
    const band = d.couplings.find((c) => c.type === 'belt')!;
    const third = { ...d, elements: [...d.elements, { ...d.elements.find((e) => e.id === band.wheels![0])!, id: 'third' }] };
    const over = { ...third, couplings: third.couplings.map((c) => (c.id === band.id ? { ...c, wheels: [...band.wheels!, 'third'] } : c)) };
    expect(deletionEffects(over, ['third'])).toMatchObject({ along: [], losing: [{ id: band.id }] });
    expect(deletionEffects(d, [band.wheels![0]]).along.map((x) => x.id)).toContain(band.id);
  });
  it('of a load or a member: load cases lose it, load sheets of it go along', () => {
    const d = demo('Paddle winding gear');
    const kept: Design = {
      ...d,
      cases: [{ id: 'c', name: 'Lifting', loads: [{ load: d.loads[0].id, factor: 2 }] }],
      sheets: [{ id: 's', name: 'Paddle at rest', member: 'paddle' }],
    };
    expect(deletionEffects(kept, [d.loads[0].id])).toMatchObject({ along: [], losing: [{ id: 'c', word: 'load case' }] });
    expect(deletionEffects(kept, ['paddle']).along).toContainEqual({ id: 's', name: 'Paddle at rest', word: 'load sheet' });
  });
  it('is all that goes beside what was asked for, of any item of any demo', () => {
    fc.assert(
      fc.property(fc.constantFrom(...DEMOS), fc.array(fc.nat(), { minLength: 1, maxLength: 3 }), (d, picks) => {
        const all = ITEM_LISTS.flatMap((l) => d[l].map((x) => x.id)),
          kept = new Set([...(d.sheets ?? []), ...(d.drawings ?? [])].map((x) => x.id));
        const ids = picks.map((n) => all[n % all.length]);
        const after = new Set(ITEM_LISTS.flatMap((l) => removeItems(d, ids)[l].map((x) => x.id)));
        const gone = all.filter((id) => !after.has(id));
        expect([...new Set([...ids, ...deletionEffects(d, ids).along.map((x) => x.id)])].filter((id) => !kept.has(id)).sort()).toEqual(gone.sort());
      }),
    );
  });
});
