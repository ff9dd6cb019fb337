import { Directive, input } from '@angular/core';

/**
 * The accessible name of a control, of words and values: `i18n-uniName uniName="Delete {{ r.name }}"`.
 * A text with values can be translated as the input of a directive, not as an attribute of the browser's.
 */
@Directive({ selector: '[uniName]', host: { '[attr.aria-label]': 'uniName()' } })
export class Named {
  readonly uniName = input.required<string>();
}
