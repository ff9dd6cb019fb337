import { TestKey } from '@angular/cdk/testing';
import { TestbedHarnessEnvironment } from '@angular/cdk/testing/testbed';
import { ChangeDetectionStrategy, Component, inject, signal } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import { type FormControl, ReactiveFormsModule } from '@angular/forms';
import { MatFormFieldHarness } from '@angular/material/form-field/testing';
import type { Field } from '@unirota/core/document';
import { INCH, Units } from '@unirota/core/units';
import { describe, expect, it } from 'vitest';
import { QuantityHarness } from '../testing/quantity.harness';
import { UnitsService } from '../state/units.service';
import { type Committed, QuantityField, quantityControl } from './quantity-field';

const BORE: Field = { key: 'bore', label: 'Bore', kind: 'number', unit: 'mm', above: 0, max: 1000 };
const TEETH: Field = { key: 'teeth', label: 'Teeth', kind: 'whole', required: true, min: 3, max: 1000 };

@Component({
  imports: [QuantityField],
  template: `<uni-quantity-field
    [field]="field()"
    [value]="value()"
    [typed]="typed()"
    [disabled]="off()"
    [refusal]="refusal()"
    (committed)="take($event)"
  />`,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
class Host {
  readonly field = signal<Field>(BORE);
  readonly value = signal<number | string | undefined>(20);
  readonly typed = signal<string | undefined>(undefined);
  readonly off = signal(false);
  readonly refusal = signal<string | undefined>(undefined);
  readonly units = inject(UnitsService).now;
  readonly taken: Committed[] = [];
  take(c: Committed): void {
    this.taken.push(c);
    this.value.set(c.value);
  }
}
async function shown(): Promise<{ host: Host; form: MatFormFieldHarness; field: QuantityHarness }> {
  const fixture = TestBed.createComponent(Host);
  const form = await TestbedHarnessEnvironment.loader(fixture).getHarness(MatFormFieldHarness);
  return { host: fixture.componentInstance, form, field: (await form.getControl(QuantityHarness))! };
}

describe('the field of a quantity', () => {
  it('shows the value with its unit, and takes another when it is left', async () => {
    const { host, form, field } = await shown();
    expect(await field.text()).toBe('20');
    expect(await (await form.host()).text()).toContain('mm');
    await field.enter('25');
    expect(host.taken).toEqual([{ value: 25, typed: undefined }]);
  });

  it('reads units and arithmetic, and keeps what was typed', async () => {
    const { host, form, field } = await shown();
    await field.enter('3/4 in + 1');
    expect(host.taken.at(-1)).toBeUndefined();
    await field.enter('3/4 in');
    expect(host.taken.at(-1)).toEqual({ value: 19.05, typed: '3/4 in' });
    host.typed.set('3/4 in');
    expect(await field.text()).toBe('3/4 in');
    // Not “3/4 in mm”; but arithmetic and powers of ten name no unit.
    expect(await (await form.host()).text()).not.toContain('mm');
    for (const plain of ['1e-3', '2*pi', '25.4/12']) {
      await field.type(plain);
      expect(await (await form.host()).text()).toContain('mm');
    }
    await field.type('2 cm + 1');
    expect(await (await form.host()).text()).toContain('mm');
  });

  it('says beside the field what is wrong, loses nothing, and takes it once it is right', async () => {
    const { host, form, field } = await shown();
    await field.enter('−4');
    expect(await form.getTextErrors()).toEqual(['Bore (mm) must be more than 0']);
    expect(await field.text()).toBe('−4');
    expect(host.taken).toEqual([]);
    await field.enter('4');
    expect(await form.hasErrors()).toBe(false);
    expect(host.taken).toEqual([{ value: 4, typed: undefined }]);
  });

  it('Escape gives back what was there; a value that arrives meanwhile does not overwrite what is typed', async () => {
    const { host, field } = await shown();
    await field.type('33');
    host.value.set(21);
    expect(await field.text()).toBe('33');
    await field.press(TestKey.ESCAPE);
    expect(await field.text()).toBe('21');
    expect(host.taken).toEqual([]);
  });

  it('arrow keys count teeth, and step the last place of a length', async () => {
    const { host, field } = await shown();
    host.value.set(20.25);
    expect(await field.text()).toBe('20.25');
    await field.press(TestKey.UP_ARROW);
    expect(host.taken.at(-1)?.value).toBe(20.26);
    host.field.set(TEETH);
    host.value.set(18);
    expect(await field.text()).toBe('18');
    await field.press(TestKey.DOWN_ARROW);
    expect(host.taken.at(-1)?.value).toBe(17);
  });

  it('asks for what must be stated, and refuses what a count cannot be', async () => {
    const { host, form, field } = await shown();
    host.field.set(TEETH);
    host.value.set(18);
    await field.enter('');
    expect(await form.getTextErrors()).toEqual(['Teeth is missing: state it']);
    await field.enter('17.5');
    expect(await form.getTextErrors()).toEqual(['Teeth must be a whole number']);
    expect(host.taken).toEqual([]);
  });

  it('shows and reads inches where the design has them; the document keeps mm', async () => {
    const { host, form, field } = await shown();
    host.units.set(new Units(INCH));
    host.value.set(25.4);
    expect(await field.text()).toBe('1');
    expect(await (await form.host()).text()).toContain('in');
    await field.enter('2');
    expect(host.taken.at(-1)?.value).toBeCloseTo(50.8, 9);
  });

  it('says what the design refuses, and can be shut', async () => {
    const { host, form, field } = await shown();
    host.refusal.set('The bore is larger than the root circle');
    expect(await form.getTextErrors()).toEqual(['The bore is larger than the root circle']);
    host.off.set(true);
    expect(await form.isDisabled()).toBe(true);
    expect(await field.isDisabled()).toBe(true);
  });
});

@Component({
  imports: [QuantityField, ReactiveFormsModule],
  template: `<uni-quantity-field [field]="field" [control]="control" />`,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
class InForm {
  readonly field = BORE;
  readonly control: FormControl<number | undefined> = quantityControl(12);
}

describe('the field of a quantity in a form', () => {
  it('a form with a wrong quantity is not ready, and is again once it is right', async () => {
    const fixture = TestBed.createComponent(InForm);
    const form = await TestbedHarnessEnvironment.loader(fixture).getHarness(MatFormFieldHarness);
    const field = (await form.getControl(QuantityHarness))!;
    const { control } = fixture.componentInstance;
    await field.enter('2000');
    expect(await form.getTextErrors()).toEqual(['Bore (mm) must be at most 1000']);
    expect(control.valid).toBe(false);
    expect(control.value).toBe(12);
    await field.enter('15');
    expect([control.valid, control.value]).toEqual([true, 15]);
  });
});
