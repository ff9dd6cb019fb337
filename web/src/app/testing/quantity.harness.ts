import { MatFormFieldControlHarness } from '@angular/material/form-field/testing/control';
import { TestKey } from '@angular/cdk/testing';

/** What a person does with the field of a quantity: reads it, types in it, leaves it. */
export class QuantityHarness extends MatFormFieldControlHarness {
  static readonly hostSelector = 'uni-quantity';
  private readonly box = this.locatorFor('input');

  async text(): Promise<string> {
    return (await this.box()).getProperty<string>('value');
  }
  /** What it is called. */
  async label(): Promise<string> {
    return (await (await this.box()).getAttribute('aria-label')) ?? '';
  }
  async isDisabled(): Promise<boolean> {
    return (await this.box()).getProperty<boolean>('disabled');
  }
  /** Types in place of what is there, without leaving the field. */
  async type(text: string): Promise<void> {
    const box = await this.box();
    await box.focus();
    await box.setInputValue(text);
    await box.dispatchEvent('input');
  }
  async press(key: TestKey): Promise<void> {
    await (await this.box()).sendKeys(key);
  }
  /** Types and leaves: what is right is taken. */
  async enter(text: string): Promise<void> {
    await this.type(text);
    await (await this.box()).dispatchEvent('change');
    await (await this.box()).blur();
  }
}
