import { ChangeDetectionStrategy, Component, effect, inject, input, signal } from '@angular/core';
import { DomSanitizer, type SafeHtml } from '@angular/platform-browser';
import { toTex } from './formula-text';

/**
 * A formula, set as in a book; and, where they are known, with its numbers put
 * in. The setter of formulas is loaded with the first one that is asked for.
 */
@Component({
  selector: 'uni-formula',
  template: `
    @if (shown(); as html) {
      <span [innerHTML]="html"></span>
    } @else {
      {{ text() }}
    }
  `,
  styles: `
    :host {
      display: block;
      overflow-x: auto;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class Formula {
  readonly text = input.required<string>();
  /** The right side with numbers, as it is set, and what comes of it. */
  readonly numbers = input<string | undefined>();
  readonly result = input('');
  private readonly sanitizer = inject(DomSanitizer);
  protected readonly shown = signal<SafeHtml | undefined>(undefined);

  constructor() {
    effect(() => {
      const [text, numbers, result] = [this.text(), this.numbers(), this.result()];
      void import('katex').then(({ default: katex }) => {
        const set = (tex: string): string => katex.renderToString(tex, { output: 'mathml', throwOnError: false, strict: false });
        const second = numbers ? set(`\\phantom{=}= ${numbers} = ${result.replace('−', '-').replaceAll('\u202f', '\\,')}`) : '';
        // What is set comes from our own formulas and numbers.
        this.shown.set(this.sanitizer.bypassSecurityTrustHtml(`${set(toTex(text))}${second ? `<br />${second}` : ''}`));
      });
    });
  }
}
