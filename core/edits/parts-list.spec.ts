import { describe, expect, it } from 'vitest';
import { mechanicsMark } from '../document/index';
import { shapeKey } from '../elements/index';
import { row } from '../testing/designs';
import { withPartsList } from './index';

describe('a parts list', () => {
  const design = row([[18, 54]]).design;
  const [first, second] = design.elements;

  it('gives names, materials, costs and notes to the parts that its ids name, and takes away what is empty', () => {
    const r = withPartsList(design, [
      { where: 'Parts, row 2', id: first.id, name: ' Pinion ', material: '42CrMo4', cost: '12,50', note: 'ground' },
      { where: 'Parts, row 3', id: second.id, cost: 30 },
    ]);
    expect(r).toMatchObject({ changed: 2, problems: [] });
    expect(r.design.elements[0]).toMatchObject({ name: 'Pinion', material: '42CrMo4', cost: 12.5, note: 'ground' });
    const again = withPartsList(r.design, [{ where: 'Parts, row 2', id: first.id, material: '', note: 'ground' }]);
    expect(again.design.elements[0]).not.toHaveProperty('material');
    expect(again.design.elements[0].cost).toBe(12.5);
    expect(withPartsList(r.design, [{ where: 'x', id: first.id, name: 'Pinion' }]).changed).toBe(0);
  });

  it('says what is wrong, line by line, and leaves it as it was', () => {
    const r = withPartsList(design, [
      { where: 'Parts, row 2', id: first.id, name: '', cost: 'dear', note: 'x'.repeat(301) },
      { where: 'Parts, row 3', id: 'nobody' },
      { where: 'Parts, row 4', id: first.id, name: 'Again' },
      { where: 'Parts, row 5', id: second.id, cost: -1 },
    ]);
    expect(r.changed).toBe(0);
    expect(r.design.elements).toEqual(design.elements);
    expect(r.problems.sort()).toEqual([
      'Parts, row 2: Cost must be a number.',
      'Parts, row 2: Name must be one line of 1 to 120 characters.',
      'Parts, row 2: Note must be a text of at most 300 characters.',
      'Parts, row 3: the design has no part or member with the id “nobody”.',
      'Parts, row 4: its id stands in a line before; this line is left out.',
      'Parts, row 5: Cost must be at least 0.',
    ]);
  });

  it('changes neither shape nor motion nor forces', () => {
    const { design: d } = withPartsList(design, [{ where: 'x', id: first.id, material: 'C45', cost: 3, note: 'n' }]);
    expect(shapeKey(d.elements[0])).toBe(shapeKey(first));
    expect(mechanicsMark(d)).toBe(mechanicsMark(design));
  });
});
