import { TestbedHarnessEnvironment } from '@angular/cdk/testing/testbed';
import { TestBed } from '@angular/core/testing';
import { MatExpansionPanelHarness } from '@angular/material/expansion/testing';
import { MatFormFieldHarness } from '@angular/material/form-field/testing';
import { MatInputHarness } from '@angular/material/input/testing';
import { withItem } from '@unirota/core';
import { describe, expect, it } from 'vitest';
import { crankPairRack, openDesign } from '../../testing/opened';
import { QuantityHarness } from '../../testing/quantity.harness';
import { DataSheet } from './data-sheet';

async function shown() {
  const services = openDesign(crankPairRack());
  const fixture = TestBed.createComponent(DataSheet);
  const loader = TestbedHarnessEnvironment.loader(fixture);
  const { doc, chosen } = services;
  const element = (fields: object): string =>
    doc.design().elements.find((e) => Object.entries(fields).every(([k, v]) => (e as unknown as Record<string, unknown>)[k] === v))!.id;
  const field = async (label: string): Promise<{ form: MatFormFieldHarness; box: QuantityHarness }> => {
    for (const form of await loader.getAllHarnesses(MatFormFieldHarness)) {
      const box = await form.getControl(QuantityHarness).catch(() => null);
      if (box && (await box.label()) === label) return { form, box };
    }
    throw new Error(`the data sheet has no field ${label}`);
  };
  const text = (): string => (fixture.nativeElement as HTMLElement).textContent;
  return { ...services, fixture, loader, element, field, text, chosen, doc };
}
const teethOf = (s: Awaited<ReturnType<typeof shown>>, id: string): unknown =>
  (s.doc.design().elements.find((e) => e.id === id) as { teeth?: number }).teeth;

describe('the data sheet', () => {
  it('shows the fields of what is selected, with what follows from them', async () => {
    const s = await shown();
    const pinion = s.element({ teeth: 18 });
    s.chosen.select('element', pinion);
    const { box } = await s.field('Teeth');
    expect(await box.text()).toBe('18');
    // m z: 2 mm × 18, or what the stage begins with.
    const { module } = s.doc.design().elements.find((e) => e.id === pinion) as { module?: number };
    await expect.poll(s.text).toContain(`${Number(module) * 18}`);
    expect(s.text()).toContain('Element · Gear');
  });

  it('takes a value as one step of the history, under the name of its field', async () => {
    const s = await shown();
    const pinion = s.element({ teeth: 18 });
    s.chosen.select('element', pinion);
    await (await s.field('Teeth')).box.enter('27');
    expect(teethOf(s, pinion)).toBe(27);
    expect(s.doc.history().done).toHaveLength(1);
    s.doc.undo();
    expect(teethOf(s, pinion)).toBe(18);
    expect(await (await s.field('Teeth')).box.text()).toBe('18');
  });

  it('says beside the field what is wrong; the design stays as it is', async () => {
    const s = await shown();
    const pinion = s.element({ teeth: 18 });
    s.chosen.select('element', pinion);
    const { form, box } = await s.field('Teeth');
    await box.enter('17.5');
    expect(await form.getTextErrors()).toEqual(['Teeth must be a whole number']);
    expect(await box.text()).toBe('17.5');
    expect(teethOf(s, pinion)).toBe(18);
    expect(s.doc.history().done).toHaveLength(0);
  });

  it('renames, and refuses no name', async () => {
    const s = await shown();
    const pinion = s.element({ teeth: 18 });
    s.chosen.select('element', pinion);
    const name = await s.loader.getHarness(MatInputHarness);
    await name.setValue('Crank pinion');
    await (await name.host()).dispatchEvent('change');
    expect(s.doc.design().elements.find((e) => e.id === pinion)!.name).toBe('Crank pinion');
    await name.setValue('');
    await (await name.host()).dispatchEvent('change');
    expect(s.doc.design().elements.find((e) => e.id === pinion)!.name).toBe('Crank pinion');
  });

  it('folds away what is seldom stated', async () => {
    const s = await shown();
    s.chosen.select('member', s.doc.design().members[0].id);
    const further = await s.loader.getHarness(MatExpansionPanelHarness.with({ selector: '.further' }));
    expect(await further.isExpanded()).toBe(false);
    await further.toggle();
    expect(await further.isExpanded()).toBe(true);
  });

  it('of a joint has the stops of its own freedoms, each in the unit of that freedom', async () => {
    const s = await shown();
    const [joint] = s.doc.design().joints;
    s.chosen.select('joint', joint.id);
    await expect.poll(s.text).toContain('Lower stop');
    expect(s.text()).not.toContain('second freedom');
    expect(await (await (await s.field('Lower stop')).form.host()).text()).toContain('deg');
    // One that turns and slides: its second freedom is a way.
    expect(s.doc.edit('Kind', (d) => withItem(d, joint.id, { type: 'cylindrical' }))).toBeUndefined();
    await expect.poll(s.text).toContain('Lower stop of the second freedom');
    expect(s.text()).not.toContain('third freedom');
    expect(await (await (await s.field('Lower stop of the second freedom')).form.host()).text()).toContain('mm');
    // One that leaves nothing free has no stop.
    expect(s.doc.edit('Kind', (d) => withItem(d, joint.id, { type: 'fixed' }))).toBeUndefined();
    await expect.poll(s.text).not.toContain('Lower stop');
  });

  it('of several wheels that are selected, one value goes to all that are alike', async () => {
    const s = await shown();
    const [a, b] = [s.element({ teeth: 18 }), s.element({ teeth: 54 })];
    s.chosen.select('element', a);
    s.chosen.select('element', b, true);
    await expect.poll(s.text).toContain('and 1 more selected: what is changed here goes to 2 of them');
    await (await s.field('Face width')).box.enter('23');
    for (const id of [a, b]) expect((s.doc.design().elements.find((e) => e.id === id) as { width?: number }).width).toBe(23);
  });

  it('follows the design, and says what an edit has brought about', async () => {
    const s = await shown();
    const coupling = s.doc.design().couplings[0].id;
    s.chosen.select('coupling', coupling);
    await expect.poll(s.text).toContain('Centre distance a72mm');
    s.doc.edit('Teeth', (d) => withItem(d, s.element({ teeth: 54 }), { teeth: 55 }));
    await expect.poll(s.text).toContain('the axes are 72 mm apart and need 73 mm');
  });
});
