import { ComponentHarness, TestKey } from '@angular/cdk/testing';
import { TestbedHarnessEnvironment } from '@angular/cdk/testing/testbed';
import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import { MatDialog, type MatDialogRef } from '@angular/material/dialog';
import { MatDialogHarness } from '@angular/material/dialog/testing';
import { MatInputHarness } from '@angular/material/input/testing';
import { describe, expect, it } from 'vitest';
import { FindDialog, type Searchable } from './find-dialog';

class FoundHarness extends ComponentHarness {
  static readonly hostSelector = '[role=option]';
  async text(): Promise<string> {
    return (await this.host()).text();
  }
  async chosen(): Promise<boolean> {
    return (await (await this.host()).getAttribute('aria-selected')) === 'true';
  }
  async click(): Promise<void> {
    await (await this.host()).click();
  }
}

const named = (name: string, what = 'action'): Searchable => ({ name, what, act: () => undefined });
const ALL = [
  named('Insert stage'),
  named('Undo', 'Ctrl+Z'),
  named('Input shaft', 'member'),
  named('Crank pinion', 'element'),
  named('Teeth of Crank pinion', 'field'),
  ...Array.from({ length: 30 }, (_, k) => named(`Shaft ${k + 1}`, 'member')),
];

@Component({ template: '', changeDetection: ChangeDetectionStrategy.OnPush })
class Host {
  private readonly dialog = inject(MatDialog);
  open(typedBefore = ''): MatDialogRef<FindDialog, Searchable> {
    return this.dialog.open<FindDialog, unknown, Searchable>(FindDialog, { data: { all: ALL, ready: () => typedBefore } });
  }
}
async function opened(typedBefore?: string) {
  const fixture = TestBed.createComponent(Host);
  const ref = fixture.componentInstance.open(typedBefore);
  let result: Searchable | undefined;
  ref.afterClosed().subscribe((f) => (result = f));
  const loader = TestbedHarnessEnvironment.documentRootLoader(fixture);
  const dialog = await loader.getHarness(MatDialogHarness);
  const input = await dialog.getHarness(MatInputHarness);
  return {
    input,
    open: async () => (await loader.getAllHarnesses(MatDialogHarness)).length,
    rows: () => dialog.getAllHarnesses(FoundHarness),
    found: async () => Promise.all((await dialog.getAllHarnesses(FoundHarness)).map((r) => r.text())),
    press: async (...keys: TestKey[]) => (await input.host()).sendKeys(...keys),
    result: () => result?.name,
  };
}

describe('the search for commands', () => {
  it('takes what is typed at once, and shows twelve at most', async () => {
    const s = await opened();
    expect(await s.input.isFocused()).toBe(true);
    expect(await s.found()).toHaveLength(12);
  });

  it('finds an item or a field by a part of its name, the best first', async () => {
    const s = await opened();
    await s.input.setValue('crank pin');
    expect(await s.found()).toEqual(['Crank pinion element', 'Teeth of Crank pinion field']);
  });

  it('Enter does the chosen one; arrow keys choose, round the ends as well', async () => {
    const s = await opened();
    await s.input.setValue('crank pin');
    await s.press(TestKey.UP_ARROW);
    expect(await Promise.all((await s.rows()).map((r) => r.chosen()))).toEqual([false, true]);
    await s.press(TestKey.DOWN_ARROW, TestKey.DOWN_ARROW);
    expect(await Promise.all((await s.rows()).map((r) => r.chosen()))).toEqual([false, true]);
    await s.press(TestKey.ENTER);
    await expect.poll(s.open).toBe(0);
    expect(s.result()).toBe('Teeth of Crank pinion');
  });

  it('a click does it, Escape leaves without', async () => {
    const clicked = await opened();
    await clicked.input.setValue('undo');
    await (await clicked.rows())[0].click();
    await expect.poll(clicked.open).toBe(0);
    await expect.poll(clicked.result).toBe('Undo');
    const left = await opened();
    await left.press(TestKey.ESCAPE);
    await expect.poll(left.open).toBe(0);
    expect(left.result()).toBeUndefined();
  });

  it('says so where nothing is called that, and Enter then does nothing', async () => {
    const s = await opened();
    await s.input.setValue('xyzzy');
    expect(await s.found()).toEqual(['Nothing here is called that.']);
    await s.press(TestKey.ENTER);
    expect(await s.open()).toBe(1);
  });

  it('keeps what was typed before it was open', async () => {
    const s = await opened('und');
    await expect.poll(() => s.input.getValue()).toBe('und');
    expect(await s.found()).toContain('Undo Ctrl+Z');
  });
});
