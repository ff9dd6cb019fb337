import { ComponentHarness, type ModifierKeys, TestKey } from '@angular/cdk/testing';
import { TestbedHarnessEnvironment } from '@angular/cdk/testing/testbed';
import { TestBed } from '@angular/core/testing';
import { MatButtonHarness } from '@angular/material/button/testing';
import { withItem } from '@unirota/core';
import { describe, expect, it } from 'vitest';
import { crankPairRack, openDesign } from '../../testing/opened';
import { TrainMap } from './train-map';

/** Something of the map that is pressed like a button. */
class PressedHarness extends ComponentHarness {
  static readonly hostSelector = 'g[data-id]';
  async label(): Promise<string> {
    return (await (await this.host()).getAttribute('aria-label')) ?? '';
  }
  async texts(): Promise<string[]> {
    return Promise.all((await this.locatorForAll('text')()).map((t) => t.text()));
  }
  async selected(): Promise<boolean> {
    return (await this.host()).hasClass('selected');
  }
  async click(held: ModifierKeys = {}): Promise<void> {
    await (await this.host()).click('center', held);
  }
  async press(key: TestKey | ' '): Promise<void> {
    await (await this.host()).sendKeys(key);
  }
}

async function shown(design = crankPairRack()) {
  const services = openDesign(design);
  const fixture = TestBed.createComponent(TrainMap);
  const loader = TestbedHarnessEnvironment.loader(fixture);
  const all = () => loader.getAllHarnesses(PressedHarness);
  const find = async (words: RegExp): Promise<PressedHarness> => {
    for (const p of await all()) if (words.test(await p.label())) return p;
    throw new Error(`nothing in the map is called ${words}`);
  };
  return { ...services, fixture, loader, all, find };
}

describe('the train map', () => {
  it('shows the members with their speeds, the couplings with what they turn into what', async () => {
    const { find, motion } = await shown();
    expect((await (await find(/^Input shaft/)).texts()).join(' ')).toMatch(/60 rev\/min/);
    // 18/54 of 60 rev/min, the other way round.
    const line = motion.ledger().lines[1];
    expect(line.speed).toBeCloseTo(-20, 12);
    expect((await (await find(/18\/54|−1\/3/)).texts()).join(' ')).toMatch(/18 : 54/);
  });

  it('a press selects, by the pointer as by Enter and Space; with Ctrl besides', async () => {
    const { find, chosen, doc } = await shown();
    const shaft = await find(/Input shaft/);
    await shaft.click();
    expect(chosen.selection()).toEqual({ kind: 'member', id: doc.design().members[0].id });
    expect(await shaft.selected()).toBe(true);
    const pair = await find(/18\/54|−1\/3/);
    await pair.press(TestKey.ENTER);
    expect(chosen.selection()?.kind).toBe('coupling');
    expect(await shaft.selected()).toBe(false);
    await shaft.press(' ');
    expect(chosen.selected().map((s) => s.kind)).toEqual(['member']);
    await pair.click({ control: true });
    expect(
      chosen
        .selected()
        .map((s) => s.kind)
        .sort(),
    ).toEqual(['coupling', 'member']);
  });

  it('follows an edit: another count of teeth, another ratio', async () => {
    const { find, doc } = await shown();
    const pinion = doc.design().elements.find((e) => (e as { teeth?: number }).teeth === 18)!;
    expect(doc.edit('Teeth', (d) => withItem(d, pinion.id, { teeth: 27 }))).toBeUndefined();
    expect((await (await find(/27\/54|−1\/2/)).texts()).join(' ')).toMatch(/27 : 54/);
  });

  it('grows and shrinks by its buttons', async () => {
    const { loader, fixture } = await shown();
    const svg = () => (fixture.nativeElement as HTMLElement).querySelector('svg[aria-label="Train map"]')!.getBoundingClientRect().width;
    await fixture.whenStable();
    const before = svg();
    const larger = await loader.getHarness(MatButtonHarness.with({ selector: '[aria-label*="arger"]' }));
    await larger.click();
    expect(svg() / before).toBeCloseTo(1.25, 6);
  });

  it('marks what a finding is about', async () => {
    const { all, doc } = await shown();
    const pinion = doc.design().elements.find((e) => (e as { teeth?: number }).teeth === 18)!;
    doc.edit('Module', (d) => withItem(d, pinion.id, { module: 9 }));
    const marked = await Promise.all((await all()).map(async (p) => ((await (await p.host()).hasClass('fault')) ? p.label() : '')));
    expect(marked.filter(Boolean).length).toBeGreaterThan(0);
  });
});
